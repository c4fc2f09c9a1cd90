"""The figure of a drawing, with what is open in its outline closed."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.closures import Candidates, candidates
from wardrobe.core.ground.confidence import confidence
from wardrobe.core.ground.cut import GroundCut, cut_ground
from wardrobe.core.ground.edge import cut_flush
from wardrobe.core.ground.ends import line_ends
from wardrobe.core.ground.follow import follow, straight_pieces
from wardrobe.core.ground.guess import guess
from wardrobe.core.lines.closing import Point
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]

_SMALL, _LARGE = 640, 1280  # px of the longer edge at which the cut is worked out
_THINNEST = 3.0  # px that lines have there at least, where that is possible
_INK = 96  # coverage that counts as ink there: lines must not vanish
_PLAIN = np.array([1.0, 1, 0, 0, 0, 0, 0, 1, 1, 0, 0])  # signs of what leaves no doubt
_SHARE = 0.5  # of a closure's pixels from which all of it counts as used


@dataclass(frozen=True)
class Figure:
    """What of a drawing is the thing drawn.

    Attributes
    ----------
    mask : ndarray of bool, shape (height, width)
        The figure, its ink included.
    closings : list of list of (x, y)
        Lines that close its outline, picture pixels.
    signs : ndarray of float64, shape (11,)
        What it can be judged by; see ``confidence``.
    bays : list of (float, float, float)
        x, y of places that were left to the ground though ink rings them on three sides, and how
        large each is against the figure.
    """

    mask: Mask
    closings: list[list[Point]]
    signs: NDArray[np.float64]
    bays: list[tuple[float, float, float]]

    @property
    def sure(self) -> float:
        """How likely it is right, 0..1."""
        return confidence(self.signs)

    @property
    def added(self) -> float:
        """Share of the figure that is open without the closings, 0..1."""
        return float(self.signs[5])


def find_figure(coverage: Byte) -> Figure:
    """Tell the figure from its ground.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        Ink coverage; 128 and more is ink.

    Returns
    -------
    Figure
        Worked out at 640 px or so, and followed to the pixel at full size.
    """
    height, width = coverage.shape
    whole = (coverage >= 128).astype(np.uint8)
    if not whole.any() or whole.all():
        return Figure(whole > 0, [], _PLAIN, [])
    lw = line_width(coverage)
    longer = max(height, width)
    scale = min(1.0, max(_SMALL, min(_LARGE, _THINNEST / lw * longer)) / longer)
    ink, small = whole, coverage
    if scale < 1:
        size = max(1, round(width * scale)), max(1, round(height * scale))
        small = np.asarray(cv2.resize(coverage, size, interpolation=cv2.INTER_AREA), np.uint8)
        ink = (small >= _INK).astype(np.uint8)
    ink_size = ink.shape
    left, right, below = cut_flush(ink, lw * scale)
    kept = np.s_[:ink.shape[0] - below, left:ink.shape[1] - right]
    ink = np.ascontiguousarray(ink[kept])
    ys, xs = np.nonzero(ink)
    diagonal = float(np.hypot(np.ptp(xs) + 1, np.ptp(ys) + 1))
    found = candidates(ink, line_ends(ink, lw * scale), lw * scale, diagonal)
    cut = cut_ground(ink, found, lw * scale, diagonal, guess(small[kept], ink))
    closings = [[((x + left + 0.5) / scale, (y + 0.5) / scale) for x, y in line]
                for line in _used(found, cut, ink) + _along_edge(cut, ink, below, left, right)]
    inside, outside = (np.zeros(ink_size, bool) for _ in range(2))
    inside[kept], outside[kept] = cut.figure & (ink == 0), ~cut.figure
    outside[ink_size[0] - below:] = True
    outside[:, :left], outside[:, ink_size[1] - right:] = True, True
    mask, more = follow(whole, inside, outside, closings)
    return Figure(mask, closings + more, cut.signs,
                  [((x + left + 0.5) / scale, (y + 0.5) / scale, share)
                   for x, y, share in cut.bays])


def _used(found: Candidates, cut: GroundCut, ink: Byte) -> list[list[Point]]:
    """The closures along which figure and ground part, and the seams between them."""
    left = cut.seam.copy()
    lines: list[list[Point]] = []
    for k in np.argsort(found.cost, kind="stable"):
        x0, y0, x1, y1 = found.chords[k].tolist()
        steps = int(max(abs(x1 - x0), abs(y1 - y0))) + 1
        t = np.linspace(0, 1, 2 * steps + 1)
        xs = np.clip(np.rint(x0 + t * (x1 - x0)).astype(int), 0, ink.shape[1] - 1)
        ys = np.clip(np.rint(y0 + t * (y1 - y0)).astype(int), 0, ink.shape[0] - 1)
        free = ink[ys, xs] == 0
        on = left[ys, xs]
        if not on.any():
            continue
        if on.sum() < _SHARE * free.sum():
            rows = np.flatnonzero(on)
            t = t[max(rows[0] - 4, 0):min(rows[-1] + 5, len(t))]
        reach = 1.5 / max(1.0, float(np.hypot(x1 - x0, y1 - y0)))
        first, last = float(t[0]) - reach, float(t[-1]) + reach
        lines.append([(x0 + s * (x1 - x0), y0 + s * (y1 - y0)) for s in (first, last)])
        covered = np.zeros(ink.shape, np.uint8)
        one, two = (tuple(round(v) for v in p) for p in lines[-1])
        cv2.line(covered, one, two, 1, 3)
        left &= covered == 0
    return lines + straight_pieces(left)


def _along_edge(cut: GroundCut, ink: Byte, below: int, left: int,
                right: int) -> list[list[Point]]:
    """Lines along a cut edge within the picture, where the figure is cut off by it."""
    lines: list[list[Point]] = []
    height, width = ink.shape
    for there, row, turned in ((below, height - 1, False), (left, 0, True),
                               (right, width - 1, True)):
        if not there:
            continue
        along = cut.figure[:, row] if turned else cut.figure[row]
        edges = np.diff(np.concatenate([[0], along.astype(np.int8), [0]]))
        for a, b in zip(np.flatnonzero(edges > 0), np.flatnonzero(edges < 0), strict=True):
            one, two = float(a) - 1, float(b)
            lines.append([(float(row), one), (float(row), two)] if turned
                         else [(one, float(row)), (two, float(row))])
    return lines
