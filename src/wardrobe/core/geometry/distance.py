"""Distances in a mask."""

import cv2
import numpy as np
from numpy.typing import NDArray

_FAR = 1e9  # px; where there is nothing to be far from


def distance_to(where: NDArray[np.bool_]) -> NDArray[np.float32]:
    """Euclidean distance of every pixel to the nearest one of a mask, centre to centre.

    Parameters
    ----------
    where : ndarray of bool, shape (height, width)

    Returns
    -------
    ndarray of float32, same shape
        Pixels; 1e9 everywhere if the mask is empty.
    """
    away = cv2.distanceTransform((~where).view(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    # OpenCV's last bits vary from call to call; between centres squares of distances are whole.
    np.minimum(away, np.float32(_FAR), out=away)
    np.multiply(away, away, out=away)
    np.rint(away, out=away)
    return np.sqrt(away, out=away)
