"""Kernel: a flood from seeds that always takes the widest way first."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Room = NDArray[np.uint16]

WALL = 0  # room of a pixel that the flood does not enter


@kernel
def _append(head: Int, tail: Int, after: Int, level: int, index: int) -> None:
    """Put a pixel at the end of the queue of its level."""
    after[index] = -1
    if head[level] < 0:
        head[level] = index
    else:
        after[tail[level]] = index
    tail[level] = index


@kernel
def flood(room: Room, seeds: Int, labels: Int, width_of_way: Room) -> None:
    """Give every pixel to the seed that reaches it by the widest way, in place.

    Parameters
    ----------
    room : ndarray of uint16, shape (height, width)
        How wide it is at a pixel; WALL, which the outermost pixels must be, is not entered. A
        way is as wide as its narrowest pixel.
    seeds : ndarray of int32, shape (n,)
        Flat indices at which the flood starts.
    labels : ndarray of int32, shape (height, width)
        In and out: a seed's own number at its place, else 0.
    width_of_way : ndarray of uint16, shape (height, width)
        How wide the way to each pixel was; written.

    References
    ----------
    F. Meyer, "Color image segmentation", ICIP 1992: a watershed from markers by a hierarchical
    queue, first in, first out on each level.
    """
    stride = room.shape[1]
    flat, out, way = room.ravel(), labels.ravel(), width_of_way.ravel()
    top = 0
    for k in range(len(seeds)):
        top = max(top, int(flat[seeds[k]]))
    head = np.full(top + 1, -1, np.int32)
    tail = np.full(top + 1, -1, np.int32)
    after = np.empty(flat.size, np.int32)
    for k in range(len(seeds)):
        index, level = seeds[k], flat[seeds[k]]
        if level == WALL:
            continue
        way[index] = level
        _append(head, tail, after, level, index)
    for level in range(top, 0, -1):
        while head[level] >= 0:
            index = head[level]
            head[level] = after[index]
            name = out[index]
            for k in range(4):
                beside = index + (stride if k == 0 else -stride if k == 1 else 1 if k == 2 else -1)
                wide = flat[beside]
                if wide == WALL or out[beside]:
                    continue
                out[beside] = name
                to = min(level, int(wide))
                way[beside] = to
                _append(head, tail, after, to, beside)


@kernel
def uphill(distance: NDArray[np.float32], passable: NDArray[np.float32], index: int) -> Int:
    """Flat indices from a pixel up the steepest way to a peak, the pixel itself first.

    Pixels whose ``passable`` distance is less than their distance are not crossed.
    """
    height, width = distance.shape
    path = [np.int32(index)]
    while True:
        y, x = path[-1] // width, path[-1] % width
        best, target = distance[y, x], path[-1]
        for v in range(max(0, y - 1), min(height, y + 2)):
            for u in range(max(0, x - 1), min(width, x + 2)):
                if distance[v, u] > best and passable[v, u] == distance[v, u]:
                    best, target = distance[v, u], np.int32(v * width + u)
        if target == path[-1]:
            return np.array(path)
        path.append(target)
