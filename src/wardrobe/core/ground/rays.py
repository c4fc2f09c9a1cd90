"""Kernels that look along straight lines through a drawing."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Floats = NDArray[np.float64]

NOTHING, BEYOND = -1.0, -2.0


@kernel
def ray(ink: Byte, x: float, y: float, dx: float, dy: float, skip: float, most: float) -> float:
    """Length of a ray up to the first ink after ``skip`` px.

    NOTHING if there is none within ``most`` px; BEYOND less the length if it leaves the picture.
    """
    height, width = ink.shape
    t = skip
    while t <= most:
        u, v = int(np.floor(x + dx * t + 0.5)), int(np.floor(y + dy * t + 0.5))
        if u < 0 or v < 0 or u >= width or v >= height:
            return BEYOND - t
        if ink[v, u]:
            return t
        t += 0.5
    return NOTHING


@kernel
def nearest_ahead(ink: Byte, x: float, y: float, dx: float, dy: float, skip: float,
                  most: float) -> tuple[float, float, float]:
    """Nearest ink within 75 degrees of a direction: x, y, and how far; x is -1 if there is none."""
    best, bx, by = 1e9, -1.0, -1.0
    for k in range(-10, 11):
        turn = k * 0.13
        ex = dx * np.cos(turn) - dy * np.sin(turn)
        ey = dx * np.sin(turn) + dy * np.cos(turn)
        t = ray(ink, x, y, ex, ey, skip, min(most, best))
        if 0 < t < best:
            best, bx, by = t, x + ex * t, y + ey * t
    return bx, by, best


@kernel
def sees(ink: Byte, x0: float, y0: float, x1: float, y1: float, skip: float) -> bool:
    """Whether no ink lies between two places, but for the first and last ``skip`` px."""
    length = np.hypot(x1 - x0, y1 - y0)
    count = int(np.ceil(length * 1.5)) + 1
    height, width = ink.shape
    for i in range(count + 1):
        t = i / count * length
        if t < skip or t > length - skip:
            continue
        x = int(np.floor(x0 + (x1 - x0) * i / count + 0.5))
        y = int(np.floor(y0 + (y1 - y0) * i / count + 0.5))
        if x < 0 or y < 0 or x >= width or y >= height or ink[y, x]:
            return False
    return True


@kernel
def enclosure(ink: Byte, steps: NDArray[np.int64]) -> NDArray[np.float32]:
    """Share of directions in which a ray from each pixel meets ink.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
    steps : ndarray of int64, shape (directions, 4)
        dx, dy of each direction's step, and of the pixel that a long step passes by.

    Returns
    -------
    ndarray of float32, same shape, 0..1
    """
    height, width = ink.shape
    total = np.zeros((height, width), np.float32)
    hit = np.zeros((height, width), np.uint8)
    for k in range(steps.shape[0]):
        dx, dy, mx, my = steps[k, 0], steps[k, 1], steps[k, 2], steps[k, 3]
        # In the order in which what a step leads to is known already.
        y0, y1, ys = (0, height, 1) if dy <= 0 else (height - 1, -1, -1)
        x0, x1, xs = (0, width, 1) if dx < 0 else (width - 1, -1, -1)
        for y in range(y0, y1, ys):
            for x in range(x0, x1, xs):
                v, u = y + dy, x + dx
                met = 0
                if 0 <= v < height and 0 <= u < width:
                    met = 1 if ink[v, u] or hit[v, u] or ink[y + my, x + mx] else 0
                hit[y, x] = met
                total[y, x] += met
    return total / steps.shape[0]


def sixteen_ways() -> NDArray[np.int64]:
    """Steps of 16 directions about 22 degrees apart."""
    ways = []
    for dx, dy in ((1, 0), (2, 1), (1, 1), (1, 2), (0, 1), (-1, 2), (-1, 1), (-2, 1)):
        for sign in (1, -1):
            mx = sign * (int(dx / 2) if abs(dx) == 2 else 0 if abs(dy) == 2 else dx)
            my = sign * (int(dy / 2) if abs(dy) == 2 else 0 if abs(dx) == 2 else dy)
            ways.append((sign * dx, sign * dy, mx, my))
    return np.array(ways, np.int64)
