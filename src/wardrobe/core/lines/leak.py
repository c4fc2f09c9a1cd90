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
    x, y = _hardest(_cost(coverage, distance), distance, start, goal[0], goal[1])
    crossed = int(coverage[y, x])
    if crossed <= _FAINT:
        return Leak(0.0, x + 0.5, y + 0.5, 2 * float(distance[y, x]) - 1)
    return Leak(crossed / 255, x + 0.5, y + 0.5, 0.0)


def lowest_leak(coverage: Byte, start: NDArray[np.bool_], goals: Int) -> float:
    """The least ink coverage, 0..1, at which a fill gets to any of the goals.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    start : ndarray of bool, same shape
    goals : ndarray of int, shape (n, 2)
        x, y of at least one place.
    """
    inked = np.where(coverage > _FAINT, coverage, 0).astype(np.uint8)
    x, y = goals[:, 0].astype(np.int64), goals[:, 1].astype(np.int64)
    return float(_levels(inked, start)[y, x].min()) / 255


def _cost(coverage: Byte, distance: NDArray[np.float32]) -> Byte:
    narrow = (_OPEN - 1) * (1 - np.minimum(distance / _ROOMY, 1) ** 0.5)
    inked = _OPEN + coverage * ((255 - _OPEN) / 255)
    return np.rint(np.where(coverage > _FAINT, inked, narrow)).astype(np.uint8)


@kernel
def _levels(cost: Byte, start: NDArray[np.bool_]) -> Byte:
    """The largest cost on the easiest way to each pixel."""
    height, width = cost.shape
    _, at = _spread(cost.ravel(), start.ravel(), height, width, -1)
    return at.reshape(height, width)


@kernel
def _hardest(cost: Byte, distance: NDArray[np.float32], start: NDArray[np.bool_], gx: int,
             gy: int) -> tuple[int, int]:
    """Place of the largest cost on the easiest way, among equals the narrowest."""
    height, width = cost.shape
    flat, room = cost.ravel(), distance.ravel()
    goal = gy * width + gx
    came, at = _spread(flat, start.ravel(), height, width, goal)
    # Back along the way to where the level first became what it is at the goal. Free ways hug
    # walls as narrow as the passage, so of those only the middle of a channel counts.
    place, tight, i = goal, np.inf, goal
    while i >= 0 and came[i] >= 0:
        if at[i] == at[goal]:
            if at[goal] >= _OPEN:
                place = i
            elif room[i] <= tight and _is_crest(distance, i % width, i // width):
                place, tight = i, room[i]
        i = came[i]
    return place % width, place // width


@kernel
def _is_crest(distance: NDArray[np.float32], x: int, y: int) -> bool:
    """Whether a pixel is in the middle of a channel: no neighbour pair rises through it."""
    height, width = distance.shape
    if x == 0 or y == 0 or x + 1 >= width or y + 1 >= height:
        return False
    here = distance[y, x]
    across = distance[y, x - 1] <= here and distance[y, x + 1] <= here
    down = distance[y - 1, x] <= here and distance[y + 1, x] <= here
    return across or down


@kernel
def _spread(flat: Byte, begin: NDArray[np.bool_], height: int, width: int,
            goal: int) -> tuple[Int, Byte]:
    """From where each pixel was reached (-1 a start, -2 not) and at which level."""
    size = height * width
    came = np.full(size, -2, np.int32)
    at = np.full(size, 255, np.uint8)
    after = np.full(size, -1, np.int32)  # buckets as linked lists
    head = np.full(256, -1, np.int32)
    for i in range(size):
        if begin[i]:
            came[i] = -1
            at[i] = 0
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
            at[j] = k
            after[j] = head[k]
            head[k] = j
    return came, at
