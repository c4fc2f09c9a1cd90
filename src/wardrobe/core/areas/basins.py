"""Kernels of the basin graph: free pixels climb away from the ink, basins meet at saddles."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]


@kernel
def climb(distance: Real) -> Int:
    """Label every free pixel with the flat index of the peak that it climbs to.

    Parameters
    ----------
    distance : ndarray of float32, shape (height, width)
        Distance to ink; 0 on ink.

    Returns
    -------
    ndarray of int32, shape (height * width,)
        -1 on ink.
    """
    height, width = distance.shape
    up = np.empty(height * width, np.int32)
    for y in range(height):
        for x in range(width):
            here = distance[y, x]
            index = y * width + x
            if here <= 0:
                up[index] = -1
                continue
            best, target = here, index
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    v, u = y + dy, x + dx
                    if v < 0 or u < 0 or v >= height or u >= width or distance[v, u] <= best:
                        continue
                    # No squeezing between two ink pixels that touch at a corner.
                    if dy and dx and distance[v, x] <= 0 and distance[y, u] <= 0:
                        continue
                    best, target = distance[v, u], v * width + u
            up[index] = target
    for index in range(up.size):
        if up[index] < 0:
            continue
        root = index
        while up[root] != root:
            root = up[root]
        step = index
        while up[step] != root:
            after = up[step]
            up[step] = root
            step = after
    return up


@kernel
def contacts(distance: Real, peaks: Int) -> tuple[Int, Int, Real]:
    """All pixel contacts between different basins: both peaks and the smaller distance."""
    height, width = distance.shape
    count = 0
    for fill in range(2):
        if fill:
            first = np.empty(count, np.int32)
            second = np.empty(count, np.int32)
            level = np.empty(count, np.float32)
        count = 0
        for y in range(height):
            for x in range(width):
                a = peaks[y * width + x]
                if a < 0:
                    continue
                for right in range(2):
                    v, u = y + 1 - right, x + right
                    if v >= height or u >= width:
                        continue
                    b = peaks[v * width + u]
                    if b < 0 or b == a:
                        continue
                    if fill:
                        first[count], second[count] = a, b
                        level[count] = min(distance[y, x], distance[v, u])
                    count += 1
    return first, second, level


@kernel
def find(parent: Int, index: int) -> int:
    """Root of a union-find tree, halving paths on the way."""
    while parent[index] != index:
        parent[index] = parent[parent[index]]
        index = parent[index]
    return index


@kernel
def merge(distance: Real, first: Int, second: Int, level: Real, order: NDArray[np.int64],
          ratio: float, open_width: float, joined: Int) -> Int:
    """Join basins over their saddles, widest first (Kruskal).

    Two trees join when the saddle is at least ``ratio`` of the lower peak, or wider than
    ``open_width`` pixels: then it is a passage, not a gap. The peaks in each row of ``joined``
    are one from the start.

    Returns
    -------
    ndarray of int32, shape (height * width,)
        The parent array; its root names the area of a peak.
    """
    flat = distance.ravel()
    parent = np.arange(flat.size).astype(np.int32)
    for k in range(len(joined)):
        a, b = find(parent, joined[k, 0]), find(parent, joined[k, 1])
        if flat[a] < flat[b]:
            a, b = b, a
        parent[b] = a
    for k in order:
        a, b = find(parent, first[k]), find(parent, second[k])
        if a == b:
            continue
        lower = min(flat[a], flat[b])
        if level[k] >= ratio * lower or 2 * level[k] > open_width:
            if flat[a] < flat[b]:
                a, b = b, a
            parent[b] = a
    return parent


@kernel
def number(peaks: Int, parent: Int) -> tuple[Int, Int, int]:
    """Number the areas from 1 in reading order: labels, pixel counts, number of areas."""
    names = np.zeros(parent.size, np.int32)
    labels = np.zeros(peaks.size, np.int32)
    sizes = np.zeros(peaks.size + 1, np.int32)
    count = 0
    for index in range(peaks.size):
        if peaks[index] < 0:
            continue
        root = find(parent, peaks[index])
        if names[root] == 0:
            count += 1
            names[root] = count
        labels[index] = names[root]
        sizes[names[root]] += 1
    return labels, sizes[: count + 1].copy(), count
