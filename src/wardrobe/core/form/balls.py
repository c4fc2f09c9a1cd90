"""The body that the balls inside an outline make up: exact for every body of revolution."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.geometry.distance import distance_to
from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Real = NDArray[np.float32]

# Pixels by which a larger ball is preferred: near a wall balls of all sizes are as high, and an
# error in a small one's radius tilts it more.
_LARGER = 1.0
_CROSS = np.array([[0, 1, 0], [1, 1, 1], [0, 1, 0]], np.uint8)


def ball_tilt(labels: Int, wall: NDArray[np.bool_]) -> tuple[Real, Real, Real]:
    """Tilt of the surface of the balls that fit inside each label.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
        0 is the ground.
    wall : ndarray of bool, same shape
        Pixels along a border that bounds their label's body.

    Returns
    -------
    tilt_x, tilt_y : ndarray of float32, shape (height, width)
        x and y of the unit normal, -1..1; 0 where a label has no wall.
    radius : ndarray of float32, shape (height, width)
        Of the ball whose surface is in front there, in pixels; 0 where there is none.

    References
    ----------
    H. Blum, "A transformation for extracting new descriptors of shape", 1967: an outline is the
    envelope of its inscribed disks. A ball of radius r at c is r² - |p - c|² high, squared, at p;
    the highest of all is found as by P. F. Felzenszwalb and D. P. Huttenlocher, "Distance
    transforms of sampled functions", Theory of Computing 8, 2012.
    """
    tilt_x, tilt_y, radius = (np.zeros(labels.shape, np.float32) for _ in range(3))
    for label, box in enumerate(ndimage.find_objects(labels), start=1):
        if box is None:
            continue
        inside = labels[box] == label
        walls = inside & wall[box]
        if walls.any():
            _front_balls(inside, _room(inside, walls), tilt_x[box], tilt_y[box], radius[box])
    return tilt_x, tilt_y, radius


def _room(inside: NDArray[np.bool_], walls: NDArray[np.bool_]) -> Real:
    """Distance to the border at the walls: the mean of those to the pixels on either side, which
    is steadier than either. A ball's place follows the square root of an error in it."""
    walls, inside = np.pad(walls, 1), np.pad(inside, 1)
    beyond = cv2.dilate(walls.astype(np.uint8), _CROSS) & ~inside
    return np.ascontiguousarray(0.5 * (distance_to(walls) + distance_to(beyond > 0))[1:-1, 1:-1])


@kernel
def _envelope(heights: NDArray[np.float64], count: int, at: NDArray[np.int64],
              start: NDArray[np.float64], best: NDArray[np.int64],
              top: NDArray[np.float64]) -> None:
    """Highest of the parabolas ``heights[q] - (x - q)²`` at every x, and whose it is."""
    last = -1
    for q in range(count):
        if heights[q] <= -1e8:
            continue
        begin = -1e18
        while last >= 0:
            p = at[last]
            begin = ((q * q - heights[q]) - (p * p - heights[p])) / (2.0 * (q - p))
            if begin > start[last]:
                break
            last -= 1
            begin = -1e18
        last += 1
        at[last], start[last] = q, begin
    k = 0
    for x in range(count):
        if last < 0:
            top[x], best[x] = -1e9, 0
            continue
        while k < last and start[k + 1] < x:
            k += 1
        best[x] = at[k]
        top[x] = heights[at[k]] - (x - at[k]) ** 2


@kernel
def _front_balls(inside: NDArray[np.bool_], room: Real, tilt_x: Real, tilt_y: Real,
                 radius: Real) -> None:
    height, width = inside.shape
    longest = max(height, width)
    squared, top = np.empty((height, width)), np.empty(longest)
    column = np.empty((height, width), np.int64)
    line, start = np.empty(longest), np.empty(longest)
    at, best = np.empty(longest, np.int64), np.empty(longest, np.int64)
    for y in range(height):
        for x in range(width):
            line[x] = room[y, x] * (room[y, x] + _LARGER) if inside[y, x] else -1e9
        _envelope(line, width, at, start, best, top)
        for x in range(width):
            squared[y, x], column[y, x] = top[x], best[x]
    for x in range(width):
        for y in range(height):
            line[y] = squared[y, x]
        _envelope(line, height, at, start, best, top)
        for y in range(height):
            if inside[y, x]:
                v = best[y]
                u = column[v, x]
                tilt_x[y, x], tilt_y[y, x] = (x - u) / room[v, u], (y - v) / room[v, u]
                radius[y, x] = room[v, u]
