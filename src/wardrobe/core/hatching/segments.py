"""Stretches of stroke between junctions: their points in order, their size and direction."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.skeleton import NODE, SEGMENT
from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]
Floats = NDArray[np.float64]

_ALONG = 0.7  # line widths before and after a point that tell its direction
_TIP = 1.3  # line widths that tell the direction of an end


@dataclass(frozen=True)
class Segments:
    """Segments of strokes, numbered from 1; row 0 of each table is unused.

    Attributes
    ----------
    numbers, nodes : ndarray of int32, shape (height, width)
        Which segment, and which junction, a pixel of the skeleton belongs to; 0 for none.
    points : ndarray of int32, shape (n, 2)
        y, x of all segments, each in order.
    start : ndarray of int64, shape (count + 2,)
        Segment s has the points from ``start[s]`` to ``start[s + 1]``.
    ends : ndarray of int32, shape (count + 1, 2)
        The junction at either end; 0 where it is free.
    loop : ndarray of bool, shape (count + 1,)
        A ring without junctions.
    """

    numbers: Int
    nodes: Int
    points: Int
    start: NDArray[np.int64]
    ends: Int
    loop: NDArray[np.bool_]

    @property
    def count(self) -> int:
        """Number of segments."""
        return len(self.ends) - 1

    @property
    def first(self) -> Int:
        """y, x of the first point of each segment from 1."""
        return self.points[self.start[1:-1]]

    @property
    def tips(self) -> Int:
        """y, x of both ends of each segment; shape (count + 1, 2, 2)."""
        out = np.zeros((self.count + 1, 2, 2), np.int32)
        out[1:] = np.stack([self.first, self.points[self.start[2:] - 1]], axis=1)
        return out

    @property
    def middle(self) -> Int:
        """y, x of the middle point of each segment from 1."""
        return self.points[(self.start[1:-1] + self.start[2:]) // 2]


@dataclass(frozen=True)
class Sizes:
    """What segments measure; tables as in :class:`Segments`.

    Attributes
    ----------
    width, length, chord : ndarray of float64, shape (count + 1,)
        Px.
    spread : ndarray of float64, shape (count + 1,)
        Upper quartile of the width against the lower.
    turn : ndarray of float64, shape (count + 1,), -1..1
        Cosine of the angle between the two ends.
    tangents : ndarray of float64, shape (count + 1, 2, 2)
        Unit x, y from either end into the segment.
    direction : ndarray of float32, shape (height, width, 2)
        Unit x, y along the stroke on its segments.
    """

    width: Floats
    length: Floats
    chord: Floats
    spread: Floats
    turn: Floats
    tangents: Floats
    direction: Real


def trace_segments(roles: Byte) -> Segments:
    """Follow the segments of a skeleton from end to end."""
    _, nodes = cv2.connectedComponents((roles == NODE).astype(np.uint8), connectivity=8)
    count, numbers = cv2.connectedComponents((roles == SEGMENT).astype(np.uint8), connectivity=8)
    points, start, ends, loop = _trace(numbers, nodes, count - 1)
    return Segments(numbers, nodes, points, start, ends, loop.astype(bool))


def measure_segments(segments: Segments, depth: Real, line_width: float) -> Sizes:
    """Measure segments; ``depth`` is the distance to paper, px."""
    direction = np.zeros((*depth.shape, 2), np.float32)
    shape, tangents = _measure(segments.points, segments.start, depth, segments.count,
                               max(2, round(_ALONG * line_width)), max(3, int(_TIP * line_width)),
                               direction)
    width, length, chord, spread, turn = shape.T
    return Sizes(width, length, chord, spread, turn, tangents, direction)


@kernel
def _trace(numbers: Int, nodes: Int, count: int) -> tuple[Int, NDArray[np.int64], Int, Byte]:
    height, width = numbers.shape
    total = 0
    first = np.full((count + 1, 2), -1, np.int32)
    for y in range(height):
        for x in range(width):
            s = numbers[y, x]
            if s:
                total += 1
                near = 0
                for v in range(max(0, y - 1), min(height, y + 2)):
                    for u in range(max(0, x - 1), min(width, x + 2)):
                        near += numbers[v, u] == s
                if first[s, 0] < 0 or near <= 2:
                    first[s, 0], first[s, 1] = y, x
    points = np.empty((total, 2), np.int32)
    start = np.zeros(count + 2, np.int64)
    ends = np.zeros((count + 1, 2), np.int32)
    loop = np.zeros(count + 1, np.uint8)
    seen = np.zeros((height, width), np.uint8)
    n = 0
    for s in range(1, count + 1):
        start[s] = n
        y, x = first[s, 0], first[s, 1]
        while True:
            points[n, 0], points[n, 1] = y, x
            seen[y, x] = 1
            n += 1
            after_y, after_x, best = -1, -1, 9
            for v in range(max(0, y - 1), min(height, y + 2)):
                for u in range(max(0, x - 1), min(width, x + 2)):
                    if numbers[v, u] == s and not seen[v, u]:
                        d = abs(v - y) + abs(u - x)
                        if d < best:
                            best, after_y, after_x = d, v, u
            if after_y < 0:
                break
            y, x = after_y, after_x
        start[s + 1] = n
        a, b = start[s], n - 1
        for k in range(2):
            y, x = points[a if k == 0 else b]
            for v in range(max(0, y - 1), min(height, y + 2)):
                for u in range(max(0, x - 1), min(width, x + 2)):
                    if nodes[v, u] and (k == 0 or b - a > 2 or nodes[v, u] != ends[s, 0]):
                        ends[s, k] = nodes[v, u]
        if b - a > 6 and ends[s, 0] == 0 and ends[s, 1] == 0 \
                and max(abs(points[a, 0] - points[b, 0]), abs(points[a, 1] - points[b, 1])) <= 2:
            loop[s] = 1
    return points[:n], start, ends, loop


@kernel
def _measure(points: Int, start: NDArray[np.int64], depth: Real, count: int, along: int, tip: int,
             direction: Real) -> tuple[Floats, Floats]:
    out = np.zeros((count + 1, 5), np.float64)
    tangents = np.zeros((count + 1, 2, 2), np.float64)
    for s in range(1, count + 1):
        a, b = start[s], start[s + 1]
        n = b - a
        half = np.empty(n)
        length = 1.0
        for i in range(n):
            half[i] = depth[points[a + i, 0], points[a + i, 1]]
            if i:
                length += np.hypot(points[a + i, 0] - points[a + i - 1, 0],
                                   points[a + i, 1] - points[a + i - 1, 1])
            low, high = max(0, i - along), min(n - 1, i + along)
            dy = float(points[a + high, 0] - points[a + low, 0])
            dx = float(points[a + high, 1] - points[a + low, 1])
            d = np.hypot(dx, dy)
            if d > 0:
                direction[points[a + i, 0], points[a + i, 1], 0] = dx / d
                direction[points[a + i, 0], points[a + i, 1], 1] = dy / d
        half.sort()
        out[s, 0] = max(1.0, 2 * half[n // 4] - 0.5)
        out[s, 1] = length
        out[s, 2] = np.hypot(points[b - 1, 0] - points[a, 0], points[b - 1, 1] - points[a, 1])
        out[s, 3] = half[(3 * n) // 4] / max(0.5, half[n // 4])
        e = min(n - 1, tip)
        for j in range(2):
            here = points[a] if j == 0 else points[b - 1]
            there = points[a + e] if j == 0 else points[b - 1 - e]
            dy, dx = float(there[0] - here[0]), float(there[1] - here[1])
            d = np.hypot(dx, dy)
            if d > 0:
                tangents[s, j, 0], tangents[s, j, 1] = dx / d, dy / d
        out[s, 4] = -(tangents[s, 0, 0] * tangents[s, 1, 0]
                      + tangents[s, 0, 1] * tangents[s, 1, 1])
    return out, tangents
