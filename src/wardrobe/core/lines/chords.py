"""Where two pieces of ink face each other across a narrow free channel."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]


@kernel
def facing(distance: Real, nearest: Int, zone: Int, most: float, opposing: float,
           ) -> tuple[Int, Int, Int, Real]:
    """Pairs of ink pixels that face each other, at least one of them on an end.

    Two neighbouring free pixels whose nearest ink lies on opposite sides are on the middle line
    of a channel; the chord between those ink pixels measures it.

    Parameters
    ----------
    distance : ndarray of float32, shape (height, width)
        Distance to ink; 0 on ink.
    nearest : ndarray of int32, shape (height, width)
        Flat index of the nearest ink pixel.
    zone : ndarray of int32, shape (height, width)
        Number of the end that an ink pixel belongs to, or 0.
    most : float
        Longest chord, px.
    opposing : float, 0..1
        Least length of a chord as a share of the two distances: 1 is straight across.

    Returns
    -------
    where, first, second : ndarray of int32, shape (n,)
        Flat indices of the free pixel and of both ink pixels; ``first`` is on an end.
    length : ndarray of float32, shape (n,)
        Length of the chord between pixel centres, px.
    """
    height, width = distance.shape
    zones = zone.ravel()
    count = 0
    where, first = np.empty(0, np.int32), np.empty(0, np.int32)
    second, length = np.empty(0, np.int32), np.empty(0, np.float32)
    for fill in range(2):
        if fill:
            where, first = np.empty(count, np.int32), np.empty(count, np.int32)
            second, length = np.empty(count, np.int32), np.empty(count, np.float32)
        count = 0
        for y in range(height):
            for x in range(width):
                here = distance[y, x]
                if here <= 0 or 2 * here > most + 1:
                    continue
                for step in range(4):
                    if step < 2:  # the neighbour to the right or below
                        v, u = y + step, x + 1 - step
                        if v >= height or u >= width or distance[v, u] <= 0:
                            continue
                        a, b = nearest[y, x], nearest[v, u]
                        across = here + distance[v, u]
                    else:  # a channel one pixel wide has no neighbour on its other side
                        if here > 1.01:
                            break
                        if step == 2:
                            if x == 0 or x + 1 >= width or distance[y, x - 1] > 0 \
                                    or distance[y, x + 1] > 0:
                                continue
                            a, b = y * width + x - 1, y * width + x + 1
                        else:
                            if y == 0 or y + 1 >= height or distance[y - 1, x] > 0 \
                                    or distance[y + 1, x] > 0:
                                continue
                            a, b = (y - 1) * width + x, (y + 1) * width + x
                        across = 2.0
                    if a == b or (zones[a] == 0 and zones[b] == 0) or zones[a] == zones[b]:
                        continue
                    chord = np.hypot(float(a // width - b // width), float(a % width - b % width))
                    if chord > most + 1 or chord < opposing * across:
                        continue
                    if fill:
                        if zones[a] == 0:
                            a, b = b, a
                        where[count], first[count] = y * width + x, a
                        second[count], length[count] = b, chord
                    count += 1
    return where, first, second, length


@kernel
def free_length(coverage: NDArray[np.uint8], x0: Real, y0: Real, x1: Real, y1: Real) -> Real:
    """Free length along chords, from the coverage under them: sub-pixel widths, px."""
    height, width = coverage.shape
    out = np.zeros(len(x0), np.float32)
    for k in range(len(x0)):
        dx, dy = x1[k] - x0[k], y1[k] - y0[k]
        length = np.hypot(dx, dy)
        if length < 1e-6:
            continue
        dx, dy = dx / length, dy / length
        steps = int(np.ceil(4 * (length + 2)))
        step = (length + 2) / steps
        total = 0.0
        for s in range(steps):
            t = (s + 0.5) * step - 1
            x = min(max(x0[k] + t * dx, 0.0), width - 1.001)
            y = min(max(y0[k] + t * dy, 0.0), height - 1.001)
            i, j = int(y), int(x)
            fy, fx = y - i, x - j
            value = ((1 - fy) * ((1 - fx) * coverage[i, j] + fx * coverage[i, j + 1])
                     + fy * ((1 - fx) * coverage[i + 1, j] + fx * coverage[i + 1, j + 1]))
            total += 1 - value / 255
        out[k] = total * step
    return out
