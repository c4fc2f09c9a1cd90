"""Closed lines of points as cubic curves."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Points = NDArray[np.float64]

_CORNER = 50.0  # degrees within a few px from which an edge turns by a corner
_ARM = 3.0  # px over which it is looked at
_ROUNDS = 4  # of moving along a curve towards the points


def fitted(ring: Points, tolerance: float) -> Points:
    """Cubic curves along a closed line of points.

    Parameters
    ----------
    ring : ndarray of float64, shape (n, 2)
        The first point is not repeated; about one a pixel.
    tolerance : float
        px that no point may lie off its curve.

    Returns
    -------
    ndarray of float64, shape (m, 4, 2)
        Curves, each from its first point by two handles to its last, which is the first of the
        next; smooth where they join, but at corners.

    References
    ----------
    P. J. Schneider, "An algorithm for automatically fitting digitized curves", Graphics Gems,
    1990: least squares for the handles along given tangents, parameters moved by Newton's method,
    and a split where the curve is farthest off.
    """
    corners = _corners(ring)
    start = int(corners[0]) if len(corners) else 0
    line = np.concatenate([ring[start:], ring[:start + 1]])
    marks = np.zeros(len(line), np.bool_)
    marks[(corners - start) % len(ring)] = True
    marks[0] = marks[-1] = len(corners) > 0
    return _fit_all(line, marks, len(corners) == 0, tolerance)


def _corners(ring: Points) -> NDArray[np.int64]:
    """Numbers of the points at which the line turns sharply."""
    count = len(ring)
    if count < 8:
        return np.arange(count)
    step = np.linalg.norm(np.roll(ring, -1, axis=0) - ring, axis=1)
    arm = max(2, min(count // 3, round(_ARM / max(1e-6, float(step.mean())))))
    ahead, behind = np.roll(ring, -arm, axis=0) - ring, ring - np.roll(ring, arm, axis=0)
    turn = np.degrees(np.abs(np.angle(
        (ahead[:, 0] + 1j * ahead[:, 1]) * (behind[:, 0] - 1j * behind[:, 1]))))
    peak = turn.copy()
    for k in range(1, arm + 1):
        peak = np.maximum(peak, np.maximum(np.roll(turn, k), np.roll(turn, -k)))
    found = np.flatnonzero((turn >= _CORNER) & (turn == peak))
    kept: list[int] = []
    for k in found.tolist():
        if not kept or k - kept[-1] > arm:
            kept.append(k)
    return np.array(kept, np.int64)


@kernel
def _fit_all(line: Points, corner: NDArray[np.bool_], closed: bool, tolerance: float) -> Points:
    count = len(line)
    out = np.empty((count, 4, 2))
    done = 0
    # Stretches between corners; a smooth closed line is one whose ends share a tangent.
    stack = np.empty((count + 8, 2), np.int64)
    tangents = np.empty((count + 8, 4))
    top = 0
    last = count - 1
    end = last
    for k in range(last - 1, -1, -1):
        if k == 0 or corner[k]:
            stack[top, 0], stack[top, 1] = k, end
            if closed:
                t = _direction(line, 0, True, True)
                tangents[top, 0], tangents[top, 1] = t[0], t[1]
                tangents[top, 2], tangents[top, 3] = -t[0], -t[1]
            else:
                a, b = _end_tangent(line, k, end, True), _end_tangent(line, k, end, False)
                tangents[top, 0], tangents[top, 1] = a[0], a[1]
                tangents[top, 2], tangents[top, 3] = b[0], b[1]
            top += 1
            end = k
    curve = np.empty((4, 2))
    while top > 0:
        top -= 1
        i, j = stack[top, 0], stack[top, 1]
        t1 = (tangents[top, 0], tangents[top, 1])
        t2 = (tangents[top, 2], tangents[top, 3])
        off, where = _fit_one(line, i, j, t1, t2, tolerance, curve)
        if off <= tolerance or j - i < 2:
            out[done] = curve
            done += 1
            continue
        middle = max(i + 1, min(j - 1, where))
        t = _direction(line, middle, False, closed)
        # The first half is fitted first: it is put on top.
        stack[top, 0], stack[top, 1] = middle, j
        tangents[top, 0], tangents[top, 1] = t[0], t[1]
        tangents[top, 2], tangents[top, 3] = t2[0], t2[1]
        top += 1
        stack[top, 0], stack[top, 1] = i, middle
        tangents[top, 0], tangents[top, 1] = t1[0], t1[1]
        tangents[top, 2], tangents[top, 3] = -t[0], -t[1]
        top += 1
    return out[:done].copy()


@kernel
def _direction(line: Points, k: int, seam: bool, closed: bool) -> tuple[float, float]:
    """The way a smooth line goes at a point, from its neighbours."""
    count = len(line) - 1
    reach = 3
    if seam or closed:
        a, b = line[(k - reach) % count], line[(k + reach) % count]
    else:
        a, b = line[max(0, k - reach)], line[min(count, k + reach)]
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = np.sqrt(dx * dx + dy * dy)
    if length < 1e-9:
        return 1.0, 0.0
    return dx / length, dy / length


@kernel
def _end_tangent(line: Points, i: int, j: int, first: bool) -> tuple[float, float]:
    """The way a stretch leaves its first point, or its last one backwards."""
    reach = min(3, j - i)
    if first:
        dx, dy = line[i + reach, 0] - line[i, 0], line[i + reach, 1] - line[i, 1]
    else:
        dx, dy = line[j - reach, 0] - line[j, 0], line[j - reach, 1] - line[j, 1]
    length = np.sqrt(dx * dx + dy * dy)
    if length < 1e-9:
        return 1.0, 0.0
    return dx / length, dy / length


@kernel
def _fit_one(line: Points, i: int, j: int, t1: tuple[float, float], t2: tuple[float, float],
             tolerance: float, curve: Points) -> tuple[float, int]:
    """One curve for a stretch; how far off the farthest point is, and which it is."""
    n = j - i + 1
    u = np.empty(n)
    u[0] = 0.0
    for k in range(1, n):
        dx, dy = line[i + k, 0] - line[i + k - 1, 0], line[i + k, 1] - line[i + k - 1, 1]
        u[k] = u[k - 1] + np.sqrt(dx * dx + dy * dy)
    if u[n - 1] > 0:
        u /= u[n - 1]
    off, where = 0.0, i + n // 2
    for turn in range(_ROUNDS):
        _handles(line, i, j, u, t1, t2, curve)
        off, where = 0.0, i + n // 2
        for k in range(1, n - 1):
            x, y = _at(curve, u[k])
            d = (x - line[i + k, 0]) ** 2 + (y - line[i + k, 1]) ** 2
            if d > off:
                off, where = d, i + k
        off = np.sqrt(off)
        if off <= tolerance or off > 6 * tolerance or turn == _ROUNDS - 1:
            break
        for k in range(1, n - 1):
            u[k] = _nearer(curve, u[k], line[i + k, 0], line[i + k, 1])
    return off, where


@kernel
def _handles(line: Points, i: int, j: int, u: NDArray[np.float64], t1: tuple[float, float],
             t2: tuple[float, float], curve: Points) -> None:
    x0, y0, x3, y3 = line[i, 0], line[i, 1], line[j, 0], line[j, 1]
    c00 = c01 = c11 = r0 = r1 = 0.0
    for k in range(len(u)):
        s = u[k]
        b0, b1 = (1 - s) ** 3, 3 * s * (1 - s) ** 2
        b2, b3 = 3 * s * s * (1 - s), s ** 3
        a1x, a1y, a2x, a2y = t1[0] * b1, t1[1] * b1, t2[0] * b2, t2[1] * b2
        c00 += a1x * a1x + a1y * a1y
        c01 += a1x * a2x + a1y * a2y
        c11 += a2x * a2x + a2y * a2y
        dx = line[i + k, 0] - (x0 * (b0 + b1) + x3 * (b2 + b3))
        dy = line[i + k, 1] - (y0 * (b0 + b1) + y3 * (b2 + b3))
        r0 += a1x * dx + a1y * dy
        r1 += a2x * dx + a2y * dy
    span = np.sqrt((x3 - x0) ** 2 + (y3 - y0) ** 2)
    det = c00 * c11 - c01 * c01
    alpha = beta = span / 3
    if abs(det) > 1e-12:
        one, two = (r0 * c11 - r1 * c01) / det, (c00 * r1 - c01 * r0) / det
        if one > 1e-6 * span and two > 1e-6 * span and one < 4 * span + 1 and two < 4 * span + 1:
            alpha, beta = one, two
    curve[0, 0], curve[0, 1] = x0, y0
    curve[1, 0], curve[1, 1] = x0 + t1[0] * alpha, y0 + t1[1] * alpha
    curve[2, 0], curve[2, 1] = x3 + t2[0] * beta, y3 + t2[1] * beta
    curve[3, 0], curve[3, 1] = x3, y3


@kernel
def _at(curve: Points, s: float) -> tuple[float, float]:
    b0, b1 = (1 - s) ** 3, 3 * s * (1 - s) ** 2
    b2, b3 = 3 * s * s * (1 - s), s ** 3
    return (curve[0, 0] * b0 + curve[1, 0] * b1 + curve[2, 0] * b2 + curve[3, 0] * b3,
            curve[0, 1] * b0 + curve[1, 1] * b1 + curve[2, 1] * b2 + curve[3, 1] * b3)


@kernel
def _nearer(curve: Points, s: float, px: float, py: float) -> float:
    """One step of Newton's method towards the place of the curve that is nearest to a point."""
    x, y = _at(curve, s)
    d1x = d1y = d2x = d2y = 0.0
    e = 1 - s
    for c in range(2):
        p0, p1, p2, p3 = curve[0, c], curve[1, c], curve[2, c], curve[3, c]
        d1 = 3 * (e * e * (p1 - p0) + 2 * e * s * (p2 - p1) + s * s * (p3 - p2))
        d2 = 6 * (e * (p2 - 2 * p1 + p0) + s * (p3 - 2 * p2 + p1))
        if c == 0:
            d1x, d2x = d1, d2
        else:
            d1y, d2y = d1, d2
    above = (x - px) * d1x + (y - py) * d1y
    below = d1x * d1x + d1y * d1y + (x - px) * d2x + (y - py) * d2y
    if abs(below) < 1e-12:
        return s
    return min(1.0, max(0.0, s - above / below))
