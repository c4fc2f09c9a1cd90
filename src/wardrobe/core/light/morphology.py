"""Kernels that treat every form of a label map on its own, all in one pass over the picture.

A disk is stamped around the pixels next to an edge, so the cost follows the edges' length and
not the picture's size.
"""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]


@kernel
def _stamp(out: Byte, labels: Int, label: int, y: int, x: int, radius: float, value: int) -> None:
    height, width = labels.shape
    reach = int(radius)
    for v in range(max(0, y - reach), min(height, y + reach + 1)):
        for u in range(max(0, x - reach), min(width, x + reach + 1)):
            if (v - y) ** 2 + (u - x) ** 2 <= radius * radius and labels[v, u] == label:
                out[v, u] = value


@kernel
def open_shape(mask: Byte, labels: Int, radius: float, border_is_outside: bool) -> Byte:
    """Morphological opening with a disk, form by form.

    Parameters
    ----------
    mask : ndarray of uint8, shape (height, width)
        1 inside the shape.
    labels : ndarray of int32, same shape
    radius : float
        Pixels.
    border_is_outside : bool
        Whether slivers along a form's border are removed too.
    """
    height, width = mask.shape
    eroded = mask.copy()
    for y in range(height):
        for x in range(width):
            if mask[y, x] == 0:
                continue
            label = labels[y, x]
            for k in range(4):
                v = y + (1 if k == 0 else -1 if k == 1 else 0)
                u = x + (1 if k == 2 else -1 if k == 3 else 0)
                if v < 0 or u < 0 or v >= height or u >= width:
                    continue
                if labels[v, u] != label:
                    if border_is_outside:
                        _stamp(eroded, labels, label, v, u, radius, 0)
                elif mask[v, u] == 0:
                    _stamp(eroded, labels, label, v, u, radius, 0)
    opened = eroded.copy()
    for y in range(height):
        for x in range(width):
            if eroded[y, x] == 0:
                continue
            label = labels[y, x]
            for k in range(4):
                v = y + (1 if k == 0 else -1 if k == 1 else 0)
                u = x + (1 if k == 2 else -1 if k == 3 else 0)
                if 0 <= v < height and 0 <= u < width and labels[v, u] == label \
                        and eroded[v, u] == 0:
                    _stamp(opened, labels, label, y, x, radius, 1)
                    break
    for y in range(height):
        for x in range(width):
            opened[y, x] &= mask[y, x]
    return opened


@kernel
def _root(parent: Int, k: int) -> int:
    while parent[k] != k:
        parent[k] = parent[parent[k]]
        k = parent[k]
    return k


@kernel
def drop_small(mask: Byte, labels: Int, value: int, least: Real) -> None:
    """Turn over, in place, the connected pieces of ``value`` below a size.

    Parameters
    ----------
    mask : ndarray of uint8, shape (height, width)
    labels : ndarray of int32, same shape
        Pieces do not reach over borders; 0 is left alone.
    value : int
        1 drops islands, 0 fills holes.
    least : ndarray of float32, shape (forms + 1,)
        Pixels that a piece of each form must have to stay.
    """
    height, width = mask.shape
    parent = np.arange(height * width).astype(np.int32)
    size = np.zeros(height * width, np.int32)
    for y in range(height):
        for x in range(width):
            label = labels[y, x]
            if label == 0 or mask[y, x] != value:
                continue
            k = y * width + x
            if x > 0 and labels[y, x - 1] == label and mask[y, x - 1] == value:
                parent[k] = _root(parent, k - 1)
            if y > 0 and labels[y - 1, x] == label and mask[y - 1, x] == value:
                parent[_root(parent, k)] = _root(parent, k - width)
    for y in range(height):
        for x in range(width):
            if labels[y, x] and mask[y, x] == value:
                size[_root(parent, y * width + x)] += 1
    for y in range(height):
        for x in range(width):
            label = labels[y, x]
            if label and mask[y, x] == value \
                    and size[_root(parent, y * width + x)] < least[label]:
                mask[y, x] = 1 - value


@kernel
def blur(mask: Byte, labels: Int, weights: Real, mixed: NDArray[np.bool_]) -> Real:
    """Gaussian blur inside every form, normalised by what lies in the form.

    Parameters
    ----------
    mask : ndarray of uint8, shape (height, width)
    labels : ndarray of int32, same shape
    weights : ndarray of float32, shape (2 radius + 1,)
        The kernel along one axis; it is applied to rows, then to columns.
    mixed : ndarray of bool, shape (forms + 1,)
        Forms that are neither wholly inside nor wholly outside; the others stay as they are.
    """
    height, width = mask.shape
    radius = weights.size // 2
    sums = np.zeros((height, width), np.float32)
    norms = np.zeros((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            label = labels[y, x]
            if not mixed[label]:
                continue
            total, norm = np.float32(0), np.float32(0)
            for d in range(max(-radius, -x), min(radius, width - 1 - x) + 1):
                if labels[y, x + d] == label:
                    w = weights[radius + d]
                    norm += w
                    if mask[y, x + d]:
                        total += w
            sums[y, x], norms[y, x] = total, norm
    out = np.zeros((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            label = labels[y, x]
            if not mixed[label]:
                out[y, x] = mask[y, x]
                continue
            total, norm = np.float32(0), np.float32(0)
            for d in range(max(-radius, -y), min(radius, height - 1 - y) + 1):
                if labels[y + d, x] == label:
                    w = weights[radius + d]
                    total += w * sums[y + d, x]
                    norm += w * norms[y + d, x]
            out[y, x] = total / norm
    return out
