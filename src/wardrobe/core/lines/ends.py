"""Where strokes end, found by what an end does: a narrow stroke that stops."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]

# Half arc lengths at which the chord across a stroke is measured, in line widths.
_SCALES = (0.75, 1.1, 1.6, 2.2, 3.0, 4.2)
_WIDEST = 3.2  # a stroke wider than this many line widths is a solid


@dataclass(frozen=True)
class Ends:
    """The ends of strokes, numbered from 1; row 0 is unused.

    Attributes
    ----------
    zone : ndarray of int32, shape (height, width)
        Number of the end that a border pixel of the ink belongs to, or 0.
    tip : ndarray of float32, shape (count + 1, 2)
        x, y of the middle of the end.
    direction : ndarray of float32, shape (count + 1, 2)
        Unit vector along which the stroke would go on.
    width : ndarray of float32, shape (count + 1,)
        Width of the stroke behind the end, px.
    fade : ndarray of float32, shape (count + 1,)
        How far a tapered stroke goes on beyond its last half covered pixel, px.
    """

    zone: Int
    tip: Real
    direction: Real
    width: Real
    fade: Real

    @property
    def count(self) -> int:
        """Number of ends."""
        return len(self.width) - 1


def find_ends(ink: NDArray[np.uint8], line_width: float) -> Ends:
    """Find the ends of strokes, whatever their caps look like.

    Going equally far both ways from a border point, the two points that are reached lie across
    the stroke from each other if and only if the border turned round an end: the chord between
    them lies in ink and hardly grows with the distance. Round, square, slanted and tapered ends
    all do this; sides and corners do not.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink.
    line_width : float
        Median line width, px.

    Returns
    -------
    Ends
    """
    contours, _ = cv2.findContours(ink, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    scales = np.maximum(np.array(_SCALES) * line_width, np.arange(3, 3 + len(_SCALES)))
    contours = [c for c in contours if len(c) > 2.2 * scales[1]]
    if not contours:
        empty = np.zeros((1, 2), np.float32)
        none = np.zeros(1, np.float32)
        return Ends(np.zeros(ink.shape, np.int32), empty, empty, none, none)
    points = np.concatenate([c[:, 0, :] for c in contours]).astype(np.int32)
    starts = np.concatenate([[0], np.cumsum([len(c) for c in contours])]).astype(np.int64)
    chord, level = _chords(ink, points, starts, scales.astype(np.float64),
                           max(_WIDEST * line_width, 6.0))
    return _collect(ink.shape, points, starts, chord, level, scales.astype(np.float64))


@kernel
def _reach(arc: NDArray[np.float64], start: int, count: int, total: float, at: float) -> int:
    """Index of the contour point at an arc length (any multiple of the total away)."""
    at = at % total
    low, high = 0, count
    while high - low > 1:
        middle = (low + high) // 2
        if arc[start + middle] <= at:
            low = middle
        else:
            high = middle
    return start + low


@kernel
def _arcs(points: Int, start: int, stop: int, arc: NDArray[np.float64]) -> float:
    total = 0.0
    for i in range(start, stop):
        arc[i] = total
        j = i + 1 if i + 1 < stop else start
        total += np.hypot(float(points[j, 0] - points[i, 0]), float(points[j, 1] - points[i, 1]))
    return total


@kernel
def _chords(ink: NDArray[np.uint8], points: Int, starts: NDArray[np.int64],
            scales: NDArray[np.float64], widest: float) -> tuple[Real, NDArray[np.int8]]:
    """Chord across the stroke at each border point, and the scale at which it is an end (-1)."""
    arc = np.zeros(len(points), np.float64)
    chord = np.zeros(len(points), np.float32)
    level = np.full(len(points), -1, np.int8)
    for c in range(len(starts) - 1):
        start, stop = starts[c], starts[c + 1]
        total = _arcs(points, start, stop, arc)
        for i in range(start, stop):
            before = 0.0
            for k in range(len(scales)):
                a = scales[k]
                if 2.4 * a > total:
                    break
                f = _reach(arc, start, stop - start, total, arc[i] + a)
                b = _reach(arc, start, stop - start, total, arc[i] - a)
                dx = float(points[f, 0] - points[b, 0])
                dy = float(points[f, 1] - points[b, 1])
                length = np.hypot(dx, dy)
                growth = (length - before) / (2 * (a - scales[k - 1])) if k else 1.0
                before = length
                if growth > 0.36 or growth < -0.5 or length > 1.1 * a or length > widest:
                    continue
                inside = 0
                for s in range(1, 6):
                    x = round(points[b, 0] + dx * s / 6)
                    y = round(points[b, 1] + dy * s / 6)
                    inside += ink[y, x]
                if inside < 5:
                    continue
                chord[i] = length
                level[i] = k
                break
    return chord, level


@kernel
def _middle(points: Int, arc: NDArray[np.float64], start: int, count: int, total: float,
            at: int, reach: float) -> tuple[float, float, float]:
    """Middle and length of the chord between the points equally far both ways."""
    f = _reach(arc, start, count, total, arc[at] + reach)
    b = _reach(arc, start, count, total, arc[at] - reach)
    dx, dy = float(points[f, 0] - points[b, 0]), float(points[f, 1] - points[b, 1])
    return points[b, 0] + dx / 2, points[b, 1] + dy / 2, np.hypot(dx, dy)


@kernel
def _fade(points: Int, arc: NDArray[np.float64], start: int, count: int, total: float,
          tip: int, reach: float) -> float:
    """Where the sides of a tapered end would meet, beyond its tip; 0 for blunt ends."""
    _, _, near = _middle(points, arc, start, count, total, tip, 0.6 * reach)
    _, _, far = _middle(points, arc, start, count, total, tip, 1.5 * reach)
    narrows = (far - near) / (0.9 * reach)
    if narrows < 0.2 or narrows > 0.9:
        return 0.0
    beyond = (near + 1) / narrows - 0.6 * reach
    return min(beyond, 0.8) if 0 < beyond < 4 else 0.0


@kernel
def _collect_runs(points: Int, starts: NDArray[np.int64], chord: Real, level: NDArray[np.int8],
                  scales: NDArray[np.float64], zone: Int, tips: Real, directions: Real,
                  widths: Real, fades: Real) -> int:
    arc = np.zeros(len(points), np.float64)
    count = 0
    for c in range(len(starts) - 1):
        start, stop = starts[c], starts[c + 1]
        size = stop - start
        total = _arcs(points, start, stop, arc)
        first = -1
        for i in range(size):  # begin where no end is, so that no run is cut in two
            if level[start + i] < 0:
                first = i
                break
        if first < 0:
            continue
        i = 0
        while i < size:
            at = start + (first + i) % size
            if level[at] < 0:
                i += 1
                continue
            j = i
            least = 1e9
            while j < size and level[start + (first + j) % size] >= 0:
                least = min(least, chord[start + (first + j) % size])
                j += 1
            # The tip is the middle of the narrowest stretch.
            low, high = -1, -1
            for k in range(i, j):
                if chord[start + (first + k) % size] <= least + 1.0:
                    if low < 0:
                        low = k
                    high = k
            tip = start + (first + (low + high) // 2) % size
            a = scales[level[tip]]
            x1, y1, _ = _middle(points, arc, start, size, total, tip, a)
            x2, y2, wider = _middle(points, arc, start, size, total, tip, 1.4 * a)
            # The axis of the stroke, whichever way its cap is cut; a stub has none to speak of.
            if 2.8 * a < total and wider < 1.35 * least + 1.5:
                dx, dy = x1 - x2, y1 - y2
            else:
                dx, dy = points[tip, 0] - x1, points[tip, 1] - y1
            length = np.hypot(dx, dy)
            if length > 1:
                count += 1
                tips[count, 0], tips[count, 1] = points[tip, 0], points[tip, 1]
                directions[count, 0], directions[count, 1] = dx / length, dy / length
                widths[count] = chord[tip] + 1
                fades[count] = _fade(points, arc, start, size, total, tip, scales[0])
                for k in range(i, j):
                    p = start + (first + k) % size
                    zone[points[p, 1], points[p, 0]] = count
            i = j
    return count


def _collect(shape: tuple[int, ...], points: Int, starts: NDArray[np.int64], chord: Real,
             level: NDArray[np.int8], scales: NDArray[np.float64]) -> Ends:
    most = int(np.count_nonzero(level >= 0)) + 1
    zone = np.zeros(shape, np.int32)
    tips, directions = np.zeros((most, 2), np.float32), np.zeros((most, 2), np.float32)
    widths, fades = np.zeros(most, np.float32), np.zeros(most, np.float32)
    count = _collect_runs(points, starts, chord, level, scales, zone, tips, directions, widths,
                          fades)
    keep = slice(0, count + 1)
    return Ends(zone, tips[keep].copy(), directions[keep].copy(), widths[keep].copy(),
                fades[keep].copy())
