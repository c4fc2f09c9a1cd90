"""Closings: lines that bound areas without being printed."""

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.distance import distance_to

Byte = NDArray[np.uint8]
Point = tuple[float, float]

_REACH = 0.45  # of the chord: how far each end goes on along its own direction


def closing_curve(one: Point, two: Point, leave: Point, arrive: Point) -> list[Point]:
    """Join two ends along their tangents.

    Parameters
    ----------
    one, two : (float, float)
        x, y of both banks, px.
    leave, arrive : (float, float)
        Unit vectors in which the strokes would go on; (0, 0) on the side of a line.

    Returns
    -------
    list of (x, y)
        A cubic Bezier curve, a point every 2 px or so; straight where a stroke points away.
    """
    a, b = np.array(one, float), np.array(two, float)
    chord = b - a
    length = float(np.hypot(*chord))
    if length < 2:
        return [one, two]
    reach = []
    for tangent, towards in ((np.array(leave, float), chord), (np.array(arrive, float), -chord)):
        ahead = float(tangent @ towards) / length
        reach.append(tangent * length * _REACH if ahead > 0.3 else towards / 3)
    t = np.linspace(0, 1, max(3, int(length / 2)))[:, None]
    curve = ((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * (a + reach[0])
             + 3 * (1 - t) * t**2 * (b + reach[1]) + t**3 * b)
    return [(float(x), float(y)) for x, y in curve]


def draw_barriers(free: Byte, closings: Sequence[Sequence[Point]]) -> None:
    """Set the pixels under closings to 0: one pixel wide, which stops fills in rows and columns."""
    for points in closings:
        cv2.polylines(free, [curve_pixels(points)], False, 0, 1)


def ink_closings(coverage: Byte, closings: Sequence[Sequence[Point]], width: float) -> Byte:
    """The lines with closings drawn in, as wide as the lines are."""
    if not closings:
        return coverage
    inked = coverage.copy()
    height, width_px = coverage.shape
    for points in closings:
        path = curve_pixels(points)
        low = np.maximum(path.min(axis=(0, 1)) - int(width) - 2, 0)
        high = np.minimum(path.max(axis=(0, 1)) + int(width) + 3, [width_px, height])
        away = np.ones((high[1] - low[1], high[0] - low[0]), np.uint8)
        cv2.polylines(away, [path - low.astype(np.int32)], False, 0, 1)
        distance = distance_to(away == 0)
        stroke = np.rint(255 * np.clip((width + 1) / 2 - distance, 0, 1)).astype(np.uint8)
        part = inked[low[1]:high[1], low[0]:high[0]]
        np.maximum(part, stroke, out=part)
    return inked


def curve_pixels(points: Sequence[Point]) -> NDArray[np.int32]:
    """Points as OpenCV draws them: shape (n, 1, 2), int32."""
    return np.floor(np.array(points, np.float64)).astype(np.int32).reshape(-1, 1, 2)
