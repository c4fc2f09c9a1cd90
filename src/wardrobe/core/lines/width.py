"""Line width."""

import cv2
import numpy as np
from numpy.typing import NDArray


def line_width(coverage: NDArray[np.uint8]) -> float:
    """Median width of the lines.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)

    Returns
    -------
    float
        Pixels, at least 1. Twice the median of the ink's distance transform on its ridge, less
        half a pixel.
    """
    ink = (coverage >= 128).astype(np.uint8)
    # Where nothing is bare there is no distance to it.
    distance = np.minimum(cv2.distanceTransform(ink, cv2.DIST_L2, 5), max(ink.shape) / 2)
    ridge = (ink > 0) & (distance >= cv2.dilate(distance, np.ones((3, 3), np.uint8)))
    return max(1.0, 2 * float(np.median(distance[ridge])) - 0.5) if ridge.any() else 1.0
