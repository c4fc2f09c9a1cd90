"""Leak level: how much ink a fill has to cross to get from one place to another."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]


_OPEN = 40  # costs below this are free pixels, by how narrow the way is
_FAINT = 8  # coverage that does not stop anything
_ROOMY = 100.0  # half width from which a way is as easy as can be, px


@dataclass(frozen=True)
class Leak:
    """Where and at which ink coverage a fill gets across.

    Attributes
    ----------
    level : float, 0..1
        The largest coverage on the easiest way; 0 if nothing is in the way.
    x, y : float
        The place of that coverage, or of the narrowest place of an open way; picture pixels.
    width : float
        Width of the open way at its narrowest, px; 0 if ink is in the way.
    """

    level: float
    x: float
    y: float
    width: float


def leak_level(coverage: Byte, start: NDArray[np.bool_], goal: tuple[int, int]) -> Leak:
    """The easiest way for a fill, by the most ink that it has to cross (a minimax path).

    Among ways without ink the widest is the easiest, so that its narrowest place is the gap.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    start : ndarray of bool, same shape
        Where the fill begins.
    goal : (int, int)
        x, y.

    Returns
    -------
    Leak

    References
    ----------
    R. B. Dial, "Shortest-path forest with topological ordering", Communications of the ACM 12,
    1969: a queue with one bucket for each of the 256 levels.
    """
    distance = cv2.distanceTransform((coverage < 128).astype(np.uint8), cv2.DIST_L2, 5)
    narrow = (_OPEN - 1) * (1 - np.minimum(distance / _ROOMY, 1) ** 0.5)
    inked = _OPEN + coverage * ((255 - _OPEN) / 255)
    cost = np.rint(np.where(coverage > _FAINT, inked, narrow)).astype(np.uint8)
    _, x, y = _flood(cost, start, goal[0], goal[1])
    crossed = int(coverage[y, x])
    if crossed <= _FAINT:
        return Leak(0.0, x + 0.5, y + 0.5, 2 * float(distance[y, x]) - 1)
    return Leak(crossed / 255, x + 0.5, y + 0.5, 0.0)


@kernel
def _flood(coverage: Byte, start: NDArray[np.bool_], gx: int, gy: int) -> tuple[int, int, int]:
    height, width = coverage.shape
    size = height * width
    flat = coverage.ravel()
    came = np.full(size, -2, np.int32)  # -2 not seen, -1 start
    after = np.full(size, -1, np.int32)  # buckets as linked lists
    head = np.full(256, -1, np.int32)
    goal = gy * width + gx
    begin = start.ravel()
    for i in range(size):
        if begin[i]:
            came[i] = -1
            after[i] = head[0]
            head[0] = i
    level = 0
    while level < 256:
        i = head[level]
        if i < 0:
            level += 1
            continue
        head[level] = after[i]
        if i == goal:
            break
        y, x = i // width, i % width
        for step in range(4):
            v = y + (step == 0) - (step == 1)
            u = x + (step == 2) - (step == 3)
            if v < 0 or u < 0 or v >= height or u >= width:
                continue
            j = v * width + u
            if came[j] != -2:
                continue
            came[j] = i
            k = max(level, int(flat[j]))
            after[j] = head[k]
            head[k] = j
    # Back along the way: the place of the most ink.
    worst, place, i = -1, goal, goal
    while i >= 0 and came[i] != -2:
        if came[i] != -1 and flat[i] > worst:
            worst, place = int(flat[i]), i
        i = came[i]
    return max(worst, 0), place % width, place // width
