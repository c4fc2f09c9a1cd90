"""Operations that treat every form of a label map on its own, all in one pass over the picture.

A disk is stamped around the pixels next to an edge, so the cost follows the edges' length and
not the picture's size.
"""

import cv2
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
            for v, u in ((y - 1, x), (y, x - 1), (y, x + 1), (y + 1, x)):
                if v < 0 or u < 0 or v >= height or u >= width:
                    continue
                if labels[v, u] == label:
                    if mask[v, u] == 0:
                        _stamp(eroded, labels, label, v, u, radius, 0)
                elif border_is_outside:
                    _stamp(eroded, labels, label, v, u, radius, 0)
    opened = eroded.copy()
    for y in range(height):
        for x in range(width):
            # Only what erosion took can come back, and only around the rim of what it left.
            if eroded[y, x] == 0 or not _at_rim(eroded, labels, y, x):
                continue
            _stamp(opened, labels, labels[y, x], y, x, radius, 1)
    for y in range(height):
        for x in range(width):
            opened[y, x] &= mask[y, x]
    return opened


@kernel
def _at_rim(mask: Byte, labels: Int, y: int, x: int) -> bool:
    """Whether a pixel of a shape touches one of the same form that is not in it."""
    height, width = mask.shape
    label = labels[y, x]
    if y > 0 and mask[y - 1, x] == 0 and labels[y - 1, x] == label:
        return True
    if x > 0 and mask[y, x - 1] == 0 and labels[y, x - 1] == label:
        return True
    if x + 1 < width and mask[y, x + 1] == 0 and labels[y, x + 1] == label:
        return True
    return y + 1 < height and mask[y + 1, x] == 0 and labels[y + 1, x] == label


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
def _rim(mask: Byte, labels: Int) -> Byte:
    """Pixels of shapes that touch what is not in the shape, inside their form."""
    rim = np.zeros(mask.shape, np.uint8)
    for y in range(mask.shape[0]):
        for x in range(mask.shape[1]):
            if mask[y, x] and labels[y, x] and _at_rim(mask, labels, y, x):
                rim[y, x] = 1
    return rim


def blur(mask: Byte, labels: Int, weights: Real) -> Real:
    """Gaussian blur inside every form, normalised by what lies in the form.

    Parameters
    ----------
    mask : ndarray of uint8, shape (height, width)
    labels : ndarray of int32, same shape
    weights : ndarray of float32, shape (2 radius + 1,)
        The kernel along one axis; it is applied to rows, then to columns.

    Returns
    -------
    ndarray of float32, same shape
    """
    reach = weights.size + 2
    # Only pixels within the radius of a rim change; their columns need sums of a few rows more.
    rim = _rim(mask, labels)
    changing = cv2.dilate(rim, np.ones((reach, reach), np.uint8))
    needed = cv2.dilate(changing, np.ones((reach, 1), np.uint8))
    blurred: Real = _blur(mask, labels, weights, changing, needed)
    return blurred


@kernel
def _blur(mask: Byte, labels: Int, weights: Real, changing: Byte, needed: Byte) -> Real:
    height, width = mask.shape
    radius = weights.size // 2
    sums = np.zeros((height, width), np.float32)
    norms = np.zeros((height, width), np.float32)
    out = np.zeros((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            out[y, x] = mask[y, x]
            if needed[y, x] == 0 or labels[y, x] == 0:
                continue
            label = labels[y, x]
            total, norm = np.float32(0), np.float32(0)
            for d in range(max(-radius, -x), min(radius, width - 1 - x) + 1):
                if labels[y, x + d] == label:
                    norm += weights[radius + d]
                    total += weights[radius + d] * mask[y, x + d]
            sums[y, x], norms[y, x] = total, norm
    for y in range(height):
        for x in range(width):
            if changing[y, x] == 0 or labels[y, x] == 0:
                continue
            label = labels[y, x]
            total, norm = np.float32(0), np.float32(0)
            for d in range(max(-radius, -y), min(radius, height - 1 - y) + 1):
                if labels[y + d, x] == label:
                    total += weights[radius + d] * sums[y + d, x]
                    norm += weights[radius + d] * norms[y + d, x]
            out[y, x] = total / norm
    return out
