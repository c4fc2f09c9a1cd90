"""Lines that may be missing from an outline, and what each would cost."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.ends import LineEnds
from wardrobe.core.ground.rays import BEYOND, nearest_ahead, ray, sees
from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Floats = NDArray[np.float64]
Point = tuple[float, float]

# What a px of each kind of closure costs, as fitted to drawings by five hands.
_FACING, _ABREAST, _OTHER = 0.03, 0.05, 0.08
_ONWARD, _NEAREST = 0.06, 0.06
_HEM, _LOWEST_HEM = 0.04, 0.015
_TO_EDGE = 0.02
BASE = 0.005

# How far each reaches: shares of the drawing's diagonal, and line widths.
_REACH_PAIR, _REACH_ABREAST, _REACH_SIDE = 0.75, 1.0, 0.35
_REACH_EDGE = 4.0
_MOST_ENDS = 80
_LONGER = 0.15  # dearer by this for each time a closure is longer than its end's shortest
_DEAREST = 6.0

_DOWN = 0.3  # cosine to straight down from which an end runs down
_SLOPE = 0.3  # of a base
_NARROWEST_BASE = 6.0  # line widths
_ENDS_ALONG_BASE = 5  # where more lines end along it, it is hair or grass
_BESIDE_BASE, _LOWEST = 0.1, 0.08  # shares of the diagonal


@dataclass(frozen=True)
class Candidates:
    """Closures that an outline may lack.

    Attributes
    ----------
    chords : ndarray of float64, shape (n, 4)
        x, y of one end, and of the other; pixel numbers.
    cost : ndarray of float64, shape (n,)
        Of a px.
    base : ndarray of float64, shape (4,), or None
        The chord, one of the others too, on which a figure that stops in mid-air stands.
    """

    chords: Floats
    cost: Floats
    base: Floats | None

    def __len__(self) -> int:
        return len(self.cost)


def candidates(ink: Byte, ends: LineEnds, line_width: float, diagonal: float) -> Candidates:
    """Find the closures that an outline may lack.

    Ends that face each other are the likeliest, then those that run side by side, as cuffs do;
    an end may go straight on, to the nearest ink ahead, level across to other ink, or to the edge
    of the picture; and the outermost ends that run down with nothing below them may stand on a
    base.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink.
    ends : LineEnds
    line_width, diagonal : float
        Px; the diagonal is that of the ink's box.
    """
    if not len(ends):
        return Candidates(np.zeros((0, 4)), np.zeros(0), None)
    base = _base(ink, ends, line_width, diagonal)
    if len(ends) > _MOST_ENDS:  # those farthest out
        ys, xs = np.nonzero(ink[::4, ::4])
        off = np.hypot(*(ends.tips - (4 * xs.mean(), 4 * ys.mean())).T)
        ends = ends.take(np.argsort(-off, kind="stable")[:_MOST_ENDS])
    rows: list[tuple[float, float, float, float, float]] = []
    rows += _between_ends(ink, ends, line_width, diagonal)
    for tip, way in zip(ends.tips, ends.ways, strict=True):
        rows += _from_end(ink, tip, way, line_width, diagonal)
    if base is not None:
        rows.append((base[0], base[1], base[2], base[3], BASE))
    table = np.array(rows, np.float64).reshape(-1, 5)
    return Candidates(np.ascontiguousarray(table[:, :4]), table[:, 4].copy(), base)


def _between_ends(ink: Byte, ends: LineEnds, line_width: float,
                  diagonal: float) -> list[tuple[float, float, float, float, float]]:
    pairs = _pairs(ink, ends.tips, ends.ways, line_width, _REACH_ABREAST * diagonal,
                   _REACH_PAIR * diagonal)
    # An end that has a near partner is not likely to close far away.
    least = np.full(len(ends), np.inf)
    for i, j, length, kind in pairs:
        if kind != 2:
            least[int(i)] = min(least[int(i)], length)
            least[int(j)] = min(least[int(j)], length)
    rows = []
    for i, j, length, kind in pairs:
        one, two = int(i), int(j)
        times = length / max(min(least[one], least[two], length), 2 * line_width)
        cost = (_FACING, _ABREAST, _OTHER)[int(kind)] * min(1 + _LONGER * (times - 1), _DEAREST)
        rows.append((*ends.tips[one].tolist(), *ends.tips[two].tolist(), cost))
    return rows


def _from_end(ink: Byte, tip: Floats, way: Floats, line_width: float,
              diagonal: float) -> list[tuple[float, float, float, float, float]]:
    """Closures from one end to what is not an end."""
    (x, y), (dx, dy) = tip.tolist(), way.tolist()
    reach = _REACH_SIDE * diagonal
    rows = []
    t = ray(ink, x, y, dx, dy, 2.5, reach)
    if t > 0:
        rows.append((x, y, x + dx * t, y + dy * t, _ONWARD))
    u, v, _ = nearest_ahead(ink, x, y, dx, dy, 2.5, reach)
    if u >= 0:
        rows.append((x, y, u, v, _NEAREST))
    t = ray(ink, x, y, dx, dy, 2.5, _REACH_EDGE * line_width)
    if t <= BEYOND:
        t = BEYOND - t
        rows.append((x, y, x + dx * t, y + dy * t, _TO_EDGE))
    low = bool(dy > _DOWN and y > _lowest(ink) - _LOWEST * diagonal
               and _nothing_below(ink, x, y, line_width))
    for sign in (1.0, -1.0):  # across to other ink, as a hem runs: level, where the end runs down
        ax, ay = (sign, 0.0) if abs(dy) > 0.5 else (-sign * dy, sign * dx)
        t = ray(ink, x, y, ax, ay, 0.6 * line_width + 2, reach)
        if t > 0:
            rows.append((x, y, x + ax * t, y + ay * t, _LOWEST_HEM if low else _HEM))
    return rows


def _lowest(ink: Byte) -> int:
    return int(np.flatnonzero(ink.any(axis=1))[-1])


def _nothing_below(ink: Byte, x: float, y: float, line_width: float) -> bool:
    return not ink[min(len(ink), int(y + line_width + 1)):, round(x)].any()


def _base(ink: Byte, ends: LineEnds, line_width: float, diagonal: float) -> Floats | None:
    """The chord between the leftmost and the rightmost end that run down with nothing below."""
    down = [tip for tip, way in zip(ends.tips, ends.ways, strict=True)
            if way[1] > _DOWN and tip[1] < len(ink) - 3
            and _nothing_below(ink, tip[0], tip[1], line_width)]
    if len(down) < 2:
        return None
    left, right = min(down, key=lambda t: float(t[0])), max(down, key=lambda t: float(t[0]))
    across = right - left
    if across[0] < _NARROWEST_BASE * line_width or abs(across[1]) > _SLOPE * across[0]:
        return None
    across = across / np.hypot(*across)
    off = np.abs((np.array(down) - left) @ (-across[1], across[0]))
    if (off < _BESIDE_BASE * diagonal).sum() > _ENDS_ALONG_BASE:
        return None
    return np.concatenate([left, right])


@kernel
def _pairs(ink: Byte, tips: Floats, ways: Floats, line_width: float, reach_abreast: float,
           reach_pair: float) -> Floats:
    """Pairs of ends that see each other: rows of i, j, length, kind (0 facing, 1 abreast, 2)."""
    count, found = len(tips), 0
    out = np.empty((count * (count - 1) // 2 + 1, 4), np.float64)
    for i in range(count):
        for j in range(i + 1, count):
            cx, cy = tips[j, 0] - tips[i, 0], tips[j, 1] - tips[i, 1]
            length = np.hypot(cx, cy)
            if length < 1 or length > reach_abreast:
                continue
            cx, cy = cx / length, cy / length
            # Along the chord, and to its side, for each of the two.
            a = ways[i, 0] * cx + ways[i, 1] * cy
            b = -(ways[j, 0] * cx + ways[j, 1] * cy)
            s = -ways[i, 0] * cy + ways[i, 1] * cx
            t = -ways[j, 0] * cy + ways[j, 1] * cx
            if a > 0.5 and b > 0.5:
                kind = 0
            elif s * t > 0 and min(abs(s), abs(t)) > 0.35 and min(a, b) > -0.93:
                kind = 1
            elif min(a, b) > -0.3 and a + b > 0.2:
                kind = 2
            else:
                continue
            if kind != 1 and length > reach_pair:
                continue
            if not sees(ink, tips[i, 0], tips[i, 1], tips[j, 0], tips[j, 1],
                        min(line_width + 1.0, 0.35 * length)):
                continue
            out[found, 0], out[found, 1], out[found, 2], out[found, 3] = i, j, length, kind
            found += 1
    return out[:found]
