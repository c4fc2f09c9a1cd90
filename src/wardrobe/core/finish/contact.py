"""Contact shade: where one part lies close under another, along their border."""

import math

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.geometry.distance import distance_to
from wardrobe.core.parallel import each

Byte = NDArray[np.uint8]


def contact_plane(parts: NDArray[np.uint16], front: NDArray[np.floating], width: float,
                  begin: float = 0.0) -> Byte:
    """How close each place lies under what is in front of it.

    Parameters
    ----------
    parts : ndarray of uint16, shape (height, width)
        Row of each pixel; 0 is the ground.
    front : ndarray of float, shape (rows,)
        How far in front each row lies.
    width : float
        Pixels over which it fades away.
    begin : float
        Pixels from the border at which that begins: half a line covers it.

    Returns
    -------
    ndarray of uint8, shape (height, width)
        ``(1 - (d - begin) / width) ** 2`` of 255, d being the distance to the middle of the
        nearest pixel of a part in front; 0 on the ground.
    """
    plane = np.zeros(parts.shape, np.uint8)
    room = math.ceil(width + begin)
    boxes = [(row, box) for row, box in enumerate(ndimage.find_objects(parts), start=1) if box]

    def shade(item: tuple[int, tuple[slice, slice]]) -> None:
        row, box = item
        wide = tuple(slice(max(0, s.start - room), min(most, s.stop + room))
                     for s, most in zip(box, parts.shape, strict=True))
        near = parts[wide]
        above = (front > front[row])
        above[0] = False
        over = above[near]
        if not over.any():
            return
        mine = near == row
        away = distance_to(over)[mine]
        plane[wide][mine] = np.rint(255 * np.clip(1 - (away - begin) / width, 0, 1) ** 2)

    each(shade, boxes)
    return plane
