"""Leak level: how much ink a fill has to cross to get from one place to another."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Cost = NDArray[np.uint16]


_FAINT = 8  # coverage that does not stop anything
_ROOMY = 90.0  # half width from which a way is as easy as can be, px
_FINE = 32  # levels to a px of half width
_INKED = 2900  # costs from here are ink
_BUCKETS = 4096


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
    R. C. Prim, "Shortest connection networks and some generalizations", Bell System Technical
    Journal 36, 1957; buckets as in R. B. Dial, Communications of the ACM 12, 1969.
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
    inked = np.where(coverage > _FAINT, coverage, 0).astype(np.uint16)
    x, y = goals[:, 0].astype(np.int64), goals[:, 1].astype(np.int64)
    return float(_levels(inked, start)[y, x].min()) / 255


def _cost(coverage: Byte, distance: NDArray[np.float32]) -> Cost:
    """Free pixels by how narrow the way is, inked ones above them by their coverage."""
    narrow = _FINE * (_ROOMY - np.minimum(distance, _ROOMY))
    inked = _INKED + 4.0 * coverage
    return np.rint(np.where(coverage > _FAINT, inked, narrow)).astype(np.uint16)


@kernel
def _levels(cost: Cost, start: NDArray[np.bool_]) -> Cost:
    """The largest cost on the easiest way to each pixel."""
    height, width = cost.shape
    _, at = _spread(cost.ravel(), start.ravel(), height, width, -1)
    return at.reshape(height, width)


@kernel
def _hardest(cost: Cost, distance: NDArray[np.float32], start: NDArray[np.bool_], gx: int,
             gy: int) -> tuple[int, int]:
    """Place of the largest cost on the easiest way."""
    height, width = cost.shape
    flat = cost.ravel()
    goal = gy * width + gx
    came, _ = _spread(flat, start.ravel(), height, width, goal)
    # Free ways hug walls as narrow as the passage: of equals, the middle of a channel counts.
    worst, crest, place, i = -1, False, goal, goal
    while i >= 0 and came[i] >= 0:
        here = int(flat[i])
        if here >= worst:
            middle = _is_crest(distance, i % width, i // width)
            if here > worst or (middle and not crest):
                worst, crest, place = here, middle, i
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
def _spread(flat: Cost, begin: NDArray[np.bool_], height: int, width: int,
            goal: int) -> tuple[Int, Cost]:
    """From where each pixel was reached (-1 a start, -2 not) and at which level.

    The cheapest pixel on the rim goes next (Prim): ways in the spanning tree that grows are the
    easiest over every stretch of them, not only over their hardest place.
    """
    size = height * width
    came = np.full(size, -2, np.int32)
    at = np.full(size, 65535, np.uint16)
    after = np.full(size, -1, np.int32)  # buckets as linked lists
    head = np.full(_BUCKETS, -1, np.int32)
    for i in range(size):
        if begin[i]:
            came[i] = -1
            at[i] = 0
            after[i] = head[0]
            head[0] = i
    level = 0
    while level < _BUCKETS:
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
            k = int(flat[j])
            at[j] = max(at[i], flat[j])
            after[j] = head[k]
            head[k] = j
            level = min(level, k)
    return came, at
