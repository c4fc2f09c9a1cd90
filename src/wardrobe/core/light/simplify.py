"""Make raw shapes simple: few pieces, no slivers, smooth edges."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

OPEN_LINE_WIDTHS = 0.5
CLOSE_LINE_WIDTHS = 0.95
BLUR_LINE_WIDTHS = 0.7
ISLAND_LINE_WIDTHS_SQUARED = 12.0


def blur_sigma(line_width: float) -> float:
    """Standard deviation of the blur that rounds a shape's edge, in grid pixels."""
    return max(1.8, BLUR_LINE_WIDTHS * line_width)


def simplify(raw: Byte, labels: NDArray[np.int32], line_width: float,
             islands: float = ISLAND_LINE_WIDTHS_SQUARED) -> Real:
    """Simplify a shape inside every form on its own.

    Parameters
    ----------
    raw : ndarray of uint8, shape (height, width)
        1 inside the shape.
    labels : ndarray of int32, same shape
        Forms; 0 is the ground.
    line_width : float
        Pixels.
    islands : float
        Pieces and holes under this many squared line widths are dropped.

    Returns
    -------
    ndarray of float32, same shape, range 0..1
        A smooth field; the shape's edge is its 0.5 level.
    """
    field = np.zeros(raw.shape, np.float32)
    inside = np.bincount(labels.ravel(), weights=raw.ravel())
    pixels = np.bincount(labels.ravel(), minlength=len(inside))
    margin = int(3 * line_width) + 3
    for form, box in enumerate(ndimage.find_objects(labels), start=1):
        if box is None or inside[form] == 0:
            continue
        rows = slice(max(0, box[0].start - margin), box[0].stop + margin)
        columns = slice(max(0, box[1].start - margin), box[1].stop + margin)
        area = labels[rows, columns] == form
        if inside[form] == pixels[form]:
            field[rows, columns][area] = 1
            continue
        shape = raw[rows, columns] & area
        smooth = _simplify_one(shape, area.astype(np.uint8), line_width, islands)
        field[rows, columns][area] = smooth[area]
    return field


def _simplify_one(shape: Byte, area: Byte, line_width: float, islands: float) -> Real:
    least = max(9.0, islands * line_width**2)
    least = min(least, 0.3 * float(np.count_nonzero(area)))
    shape = _open(shape, max(0.8, OPEN_LINE_WIDTHS * line_width)) & area
    lit = _open(1 - shape, max(1.0, CLOSE_LINE_WIDTHS * line_width))
    shape = (1 - lit) & area
    shape = _drop_small(shape, least)
    shape = area & (1 - _drop_small(area & (1 - shape), least))
    sigma = blur_sigma(line_width)
    blurred = cv2.GaussianBlur(shape.astype(np.float32), (0, 0), sigma,
                               borderType=cv2.BORDER_REPLICATE)
    weight = cv2.GaussianBlur(area.astype(np.float32), (0, 0), sigma,
                              borderType=cv2.BORDER_REPLICATE)
    return blurred / np.maximum(weight, 1e-4)


def _open(shape: Byte, radius: float) -> Byte:
    """Morphological opening with a disk."""
    eroded = cv2.distanceTransform(shape, cv2.DIST_L2, 5) > radius
    if not eroded.any():
        return np.zeros_like(shape)
    back = cv2.distanceTransform((~eroded).astype(np.uint8), cv2.DIST_L2, 5)
    return (back <= radius).astype(np.uint8) & shape


def _drop_small(shape: Byte, least: float) -> Byte:
    count, pieces, stats, _ = cv2.connectedComponentsWithStats(shape, connectivity=4)
    if count <= 1:
        return shape
    keep = stats[:, cv2.CC_STAT_AREA] >= least
    keep[0] = False
    return keep[pieces].astype(np.uint8)
