"""Solid blacks as part of the form beside them."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import find_objects

from wardrobe.core.lines.blacks import Blacks

_BESIDE = 0.75  # line widths from a black within which an area lies beside it
_LEAST = 0.15  # share of its surroundings that an area holds to have it


def adopt_solids(labels: NDArray[np.uint16], core: NDArray[np.bool_], ground: NDArray[np.bool_],
                 blacks: Blacks, line_width: float) -> NDArray[np.uint16]:
    """Give solid blacks, whole, to the area of the figure that most of their border lies on.

    Shared out to the nearest area as lines are, a black at the silhouette would lose its outer
    half to the ground, and its form with it.

    Parameters
    ----------
    labels : ndarray of uint16, shape (height, width)
        Area of every pixel, from 1.
    core : ndarray of bool, same shape
        Pixels free of ink.
    ground : ndarray of bool, shape (areas + 1,)
    blacks : Blacks
    line_width : float
        Px.

    Returns
    -------
    ndarray of uint16, shape (height, width)
        Within half a line's width of its edge, a black stays with what lies beside it there.
    """
    count = len(blacks.solids)
    if count == 0:
        return labels
    out = labels.copy()
    reach = int(np.ceil(_BESIDE * line_width)) + 2
    for number, box in enumerate(_boxes(blacks.labels, count, reach), start=1):
        mine = blacks.labels[box] == number
        away = cv2.distanceTransform((~mine).astype(np.uint8), cv2.DIST_L2, 5)
        around = labels[box][core[box] & (away <= reach)]
        shares = np.bincount(around, minlength=len(ground)) / max(1, len(around))
        shares[ground] = 0
        owner = int(shares.argmax())
        if shares[owner] < _LEAST:
            continue
        depth = cv2.distanceTransform((mine | ~core[box]).astype(np.uint8), cv2.DIST_L2, 5)
        out[box][mine & (depth >= line_width / 2)] = owner
    return out


def _boxes(labels: NDArray[np.int32], count: int, more: int) -> list[tuple[slice, slice]]:
    """The rectangle around each label, with some px more."""
    return [(slice(max(0, rows.start - more), rows.stop + more),
             slice(max(0, columns.start - more), columns.stop + more))
            for rows, columns in find_objects(labels, count)]
