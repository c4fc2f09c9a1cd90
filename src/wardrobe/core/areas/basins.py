"""Kernels of the basin graph: free pixels climb away from the ink, basins meet at saddles."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]


@kernel
def climb(distance: Real) -> tuple[Int, Real]:
    """Label every free pixel with the number of the peak that it climbs to.

    Parameters
    ----------
    distance : ndarray of float32, shape (height, width)
        Distance to ink; 0 on ink.

    Returns
    -------
    basins : ndarray of int32, shape (height * width,)
        From 0 in reading order of the peaks; -1 on ink.
    peaks : ndarray of float32, shape (count,)
        Distance at each peak.
    """
    height, width = distance.shape
    up = np.empty(height * width, np.int32)
    count = 0
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
            count += target == index
    peaks = np.empty(count, np.float32)
    flat = distance.ravel()
    count = 0
    for index in range(up.size):
        if up[index] == index:
            peaks[count] = flat[index]
            up[index] = -2 - count  # numbers of peaks are told from pixels by their sign
            count += 1
    for index in range(up.size):
        if up[index] < 0:
            continue
        root = index
        while up[root] >= 0:
            root = up[root]
        name = up[root]
        step = index
        while up[step] >= 0:
            after = up[step]
            up[step] = name
            step = after
    for index in range(up.size):
        if up[index] < -1:
            up[index] = -2 - up[index]
    return up, peaks


@kernel
def contacts(distance: Real, basins: Int) -> tuple[Int, Int, Real]:
    """All pixel contacts between different basins: both basins and the smaller distance."""
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
                a = basins[y * width + x]
                if a < 0:
                    continue
                for right in range(2):
                    v, u = y + 1 - right, x + right
                    if v >= height or u >= width:
                        continue
                    b = basins[v * width + u]
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
def merge(peaks: Real, first: Int, second: Int, level: Real, order: NDArray[np.int64],
          ratio: float, open_width: float, joined: Int) -> Int:
    """Join basins over their saddles, widest first (Kruskal).

    Two trees join when the saddle is at least ``ratio`` of the lower peak, or wider than
    ``open_width`` pixels: then it is a passage, not a gap. The basins in each row of ``joined``
    are one from the start.

    Returns
    -------
    ndarray of int32, shape (len(peaks),)
        Area of each basin, from 1 in reading order of the basins.
    """
    parent = np.arange(len(peaks)).astype(np.int32)
    for k in range(len(joined)):
        a, b = find(parent, joined[k, 0]), find(parent, joined[k, 1])
        if peaks[a] < peaks[b]:
            a, b = b, a
        parent[b] = a
    for k in order:
        a, b = find(parent, first[k]), find(parent, second[k])
        if a == b:
            continue
        lower = min(peaks[a], peaks[b])
        if level[k] >= ratio * lower or 2 * level[k] > open_width:
            if peaks[a] < peaks[b]:
                a, b = b, a
            parent[b] = a
    areas = np.zeros(len(peaks), np.int32)
    count = 0
    for k in range(len(peaks)):
        root = find(parent, k)
        if areas[root] == 0:
            count += 1
            areas[root] = count
        areas[k] = areas[root]
    return areas


@kernel
def look_up(basins: Int, table: Int, labels: Int, pixels: NDArray[np.int64]) -> None:
    """Write each pixel's entry of a table (0 on ink), and count them."""
    for index in range(basins.size):
        basin = basins[index]
        label = table[basin] if basin >= 0 else 0
        labels[index] = label
        pixels[label] += 1
