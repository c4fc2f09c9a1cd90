"""A pen for the demo drawings: smooth curves with a width that swells and tapers, as SVG."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Curve = NDArray[np.float64]
# A point is (x, y); a third entry of any kind makes it a corner.
Points = Sequence[tuple[float, ...]]

_SHADOW_SIDE = np.array([0.55, 0.83])  # outlines are heavier away from a light at the upper left


def smooth(points: Points, closed: bool = False, step: float = 3.0) -> list[Curve]:
    """Centripetal Catmull-Rom curves through the points, cut at corners.

    Parameters
    ----------
    points : sequence of (x, y) or (x, y, corner)
    closed : bool
    step : float
        Spacing of the points that come back.

    Returns
    -------
    list of ndarray, shape (n, 2)
        One curve between two corners.

    References
    ----------
    C. Yuksel, S. Schaefer, J. Keyser, "Parameterization and applications of Catmull-Rom
    curves", Computer-Aided Design 43, 2011.
    """
    xy = np.array([p[:2] for p in points], float)
    corner = [len(p) > 2 for p in points]
    if closed:
        turn = corner.index(True) if any(corner) else 0
        xy, corner = np.roll(xy, -turn, axis=0), corner[turn:] + corner[:turn]
        xy, corner = np.vstack([xy, xy[:1]]), [*corner, corner[0]]
    loop = closed and not any(corner)
    cuts = [0, *(k for k in range(1, len(xy) - 1) if corner[k]), len(xy) - 1]
    return [_spline(xy[a:b + 1], loop, step) for a, b in pairwise(cuts)]


def _spline(xy: Curve, loop: bool, step: float) -> Curve:
    if len(xy) == 2:
        count = max(2, int(np.hypot(*(xy[1] - xy[0])) / step))
        return xy[0] + np.linspace(0, 1, count)[:, None] * (xy[1] - xy[0])
    before = xy[-2] if loop else 2 * xy[0] - xy[1]
    after = xy[1] if loop else 2 * xy[-1] - xy[-2]
    full = np.vstack([before, xy, after])
    pieces = []
    for p0, p1, p2, p3 in zip(full, full[1:], full[2:], full[3:], strict=False):
        t = np.cumsum([0, *(max(np.hypot(*d), 1e-6) ** 0.5 for d in (p1 - p0, p2 - p1, p3 - p2))])
        count = max(3, int(np.hypot(*(p2 - p1)) / step))
        s = np.linspace(t[1], t[2], count, endpoint=False)[:, None]
        a1 = (t[1] - s) / (t[1] - t[0]) * p0 + (s - t[0]) / (t[1] - t[0]) * p1
        a2 = (t[2] - s) / (t[2] - t[1]) * p1 + (s - t[1]) / (t[2] - t[1]) * p2
        a3 = (t[3] - s) / (t[3] - t[2]) * p2 + (s - t[2]) / (t[3] - t[2]) * p3
        b1 = (t[2] - s) / (t[2] - t[0]) * a1 + (s - t[0]) / (t[2] - t[0]) * a2
        b2 = (t[3] - s) / (t[3] - t[1]) * a2 + (s - t[1]) / (t[3] - t[1]) * a3
        pieces.append((t[2] - s) / (t[2] - t[1]) * b1 + (s - t[1]) / (t[2] - t[1]) * b2)
    return np.vstack([*pieces, xy[-1:]])


class Pen:
    """Collects shapes back to front; each shape hides the lines behind it.

    Parameters
    ----------
    width, height : int
        Size of the drawing in its own units.
    line : float
        Width of a full stroke.
    top : int
        y of the drawing's upper edge.
    """

    def __init__(self, width: int, height: int, line: float = 5.4, top: int = 0) -> None:
        self.width, self.height, self.line, self.top = width, height, line, top
        self._paths: list[str] = []

    def shape(self, points: Points, line: float = 1.0) -> None:
        """A closed shape: filled with paper, outlined."""
        curves = smooth(points, closed=True)
        self._fill(np.vstack(curves), "#fff")
        for curve in curves:
            self._ink(curve, line, taper=(0.0, 0.0), closed=len(curves) == 1)

    def stroke(self, points: Points, line: float = 0.8, taper: tuple[float, float] = (0.6, 1.0),
               ) -> None:
        """An open stroke; ``taper`` thins its start and its end (0 full width, 1 to a point)."""
        for curve in smooth(points):
            self._ink(curve, line, taper, closed=False)

    def black(self, points: Points) -> None:
        """A solid black."""
        self._fill(np.vstack(smooth(points, closed=True)), "#000")

    def svg(self) -> str:
        """The drawing: black lines, shapes filled with white, nothing behind them."""
        box = f"0 {self.top} {self.width} {self.height}"
        return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}"'
                f' width="{self.width}" height="{self.height}">\n'

                + "\n".join(self._paths) + "\n</svg>\n")

    def _ink(self, curve: Curve, line: float, taper: tuple[float, float], closed: bool) -> None:
        tangent = np.gradient(curve, axis=0)
        if closed:
            tangent[0] = tangent[-1] = curve[1] - curve[-2]
        tangent /= np.maximum(np.hypot(tangent[:, 0], tangent[:, 1]), 1e-9)[:, None]
        normal = np.stack([-tangent[:, 1], tangent[:, 0]], axis=1)
        along = np.linspace(0, 1, len(curve))
        width = np.full(len(curve), self.line * line)
        if taper == (0.0, 0.0):
            area = np.sum(curve[:-1, 0] * curve[1:, 1] - curve[1:, 0] * curve[:-1, 1])
            outward = -normal if area > 0 else normal
            width *= 1 + 0.42 * (outward @ _SHADOW_SIDE)
        else:
            width *= 1 - taper[0] * np.clip(1 - along / 0.35, 0, 1) ** 1.5
            width *= 1 - taper[1] * np.clip((along - 0.35) / 0.65, 0, 1) ** 1.5
        half = np.maximum(width, 0.7)[:, None] / 2
        left, right = curve + normal * half, curve - normal * half
        if closed:
            self._paths.append(f'<path fill-rule="evenodd" d="{_d(left)}{_d(right)}"/>')
            return
        caps = [_cap(curve[i], sign * tangent[i], float(half[i, 0])) for i, sign in
                ((-1, 1), (0, -1))]
        self._paths.append(f'<path d="{_d(np.vstack([left, caps[0], right[::-1], caps[1]]))}"/>')

    def _fill(self, outline: Curve, colour: str) -> None:
        self._paths.append(f'<path fill="{colour}" d="{_d(outline)}"/>')


def _cap(end: Curve, direction: Curve, radius: float) -> Curve:
    """Half a circle around an end, from the left of the direction to its right."""
    angle = np.arctan2(direction[1], direction[0]) + np.linspace(np.pi / 2, -np.pi / 2, 7)
    return end + radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)


def _d(points: Curve) -> str:
    head, *rest = (f"{x:.1f} {y:.1f}" for x, y in points)
    return f"M{head}L{' '.join(rest)}z"
