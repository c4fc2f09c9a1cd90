"""Fold lines: strokes inside an area, along which cloth dips."""

import cv2
import numpy as np
from numpy.typing import NDArray

Int = NDArray[np.int32]
Real = NDArray[np.float32]


def border_distance(labels: Int) -> Real:
    """Distance of every pixel to the nearest pixel of another label, in pixels."""
    border = np.zeros(labels.shape, bool)
    across, down = labels[:, 1:] != labels[:, :-1], labels[1:] != labels[:-1]
    border[:, 1:] |= across
    border[:, :-1] |= across
    border[1:] |= down
    border[:-1] |= down
    return cv2.distanceTransform((~border).astype(np.uint8), cv2.DIST_L2, 5)


def fold_strokes(labels: Int, ink: Real, line_width: float) -> NDArray[np.bool_]:
    """Find the strokes that run inside a form.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
        Forms; 0 is the ground.
    ink : ndarray of float32, same shape, range 0..1
    line_width : float

    Returns
    -------
    ndarray of bool, same shape
        Pixels of strokes at least 4 line widths long that keep clear of the form's border.
    """
    clear = border_distance(labels) > max(1.5, 0.9 * line_width)
    inner = ((ink > 0.55) & clear & (labels > 0)).astype(np.uint8)
    _, pieces, stats, _ = cv2.connectedComponentsWithStats(inner, connectivity=8)
    extent = np.hypot(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT])
    slender = stats[:, cv2.CC_STAT_AREA] < 0.35 * extent**2 + 4
    keep = (extent >= max(4 * line_width, 8)) & slender
    keep[0] = False
    return keep[pieces]
