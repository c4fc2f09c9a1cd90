"""Drawings bent onto each other: where every place of one comes from in the other."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.carry.side import FRAME
from wardrobe.core.kernel import kernel

Floats = NDArray[np.float32]

_LEVELS = ((44, 20), (88, 16))  # px of the square, and rounds
_STEP = 1.8
_SMOOTH_STEP, _SMOOTH_FIELD = 2.2, 1.0  # px


def moved(matrix: NDArray[np.float64]) -> Floats:
    """A field from a map: where each place of a square comes from, shape (FRAME, FRAME, 2)."""
    y, x = np.indices((FRAME, FRAME), np.float32)
    field = np.stack([matrix[k, 0] * x + matrix[k, 1] * y + matrix[k, 2] for k in (0, 1)], -1)
    return field.astype(np.float32)


def bend(one: Floats, other: Floats, field: Floats, weights: NDArray[np.float32]) -> Floats:
    """A field refined so that the first drawing, pulled by it, is the second.

    Parameters
    ----------
    one, other : ndarray of float32, shape (FRAME, FRAME, channels)
    field : ndarray of float32, shape (FRAME, FRAME, 2)
        Where each place of the second comes from in the first: x, y.
    weights : ndarray of float32, shape (channels,)

    References
    ----------
    J.-P. Thirion, "Image matching as a diffusion process: an analogy with Maxwell's demons",
    Medical Image Analysis 2, 1998; coarse to fine, the step and the field smoothed.
    """
    for size, rounds in _LEVELS:
        k = size / FRAME
        a, b = (np.ascontiguousarray(cv2.GaussianBlur(cv2.resize(
            c, (size, size), interpolation=cv2.INTER_AREA), (0, 0), 0.8) * weights)
            for c in (one, other))
        here = (cv2.resize(field, (size, size)) + 0.5) * k - 0.5
        first, step = here.copy(), np.empty((size, size, 2), np.float32)
        for _ in range(rounds):
            _pull(a, b, here, step)
            here = here + _STEP * cv2.GaussianBlur(step, (0, 0), _SMOOTH_STEP)
            here = first + cv2.GaussianBlur(here - first, (0, 0), _SMOOTH_FIELD)
        field = (cv2.resize(here, (FRAME, FRAME)) + 0.5) / k - 0.5
    return field.astype(np.float32)


@kernel
def _pull(a: Floats, b: Floats, field: Floats, step: Floats) -> None:
    """One step of every place towards where the first drawing is like the second."""
    height, width, channels = a.shape
    for y in range(height):
        for x in range(width):
            px = min(max(field[y, x, 0], 0.0), width - 1.001)
            py = min(max(field[y, x, 1], 0.0), height - 1.001)
            ix, iy = int(px), int(py)
            fx, fy = px - ix, py - iy
            nx = ny = steep = off = 0.0
            for k in range(channels):
                v00, v01 = a[iy, ix, k], a[iy, ix + 1, k]
                v10, v11 = a[iy + 1, ix, k], a[iy + 1, ix + 1, k]
                gx = (1 - fy) * (v01 - v00) + fy * (v11 - v10)
                gy = (1 - fx) * (v10 - v00) + fx * (v11 - v01)
                d = b[y, x, k] - ((1 - fy) * ((1 - fx) * v00 + fx * v01)
                                  + fy * ((1 - fx) * v10 + fx * v11))
                nx += d * gx
                ny += d * gy
                steep += gx * gx + gy * gy
                off += d * d
            under = steep + 0.25 * off + 0.003
            nx, ny = nx / under, ny / under
            length = np.sqrt(nx * nx + ny * ny)
            if length > 1.5:
                nx, ny = nx * 1.5 / length, ny * 1.5 / length
            step[y, x, 0] = nx
            step[y, x, 1] = ny
