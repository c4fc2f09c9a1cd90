"""Areas that boundary lines mark as the shade or the light of their part."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import touching
from wardrobe.core.areas.segment import Areas

_LEAST_BORDER = 1.5  # line widths of common border along the boundary

# What an area is told about a pass.
UNTOLD, INSIDE, BESIDE = 0, 1, 2


def marked_areas(areas: Areas, boundary: NDArray[np.uint8],
                 part_of_area: NDArray[np.uint16]) -> NDArray[np.uint8]:
    """Which areas a boundary marks: of two areas of one part that it divides, the smaller one.

    Parameters
    ----------
    areas : Areas
    boundary : ndarray of uint8, shape (height, width)
        Coverage of the boundary lines.
    part_of_area : ndarray of uint16, shape (count + 1,)

    Returns
    -------
    ndarray of uint8, shape (count + 1,)
        INSIDE for marked areas, BESIDE for the others of a part that has one, else UNTOLD.
    """
    pairs, lengths = touching(areas.labels, areas.count, boundary >= 64)
    told = np.zeros(areas.count + 1, np.uint8)
    for (one, other), length in zip(pairs.tolist(), lengths.tolist(), strict=True):
        part = part_of_area[one]
        if part == 0 or part != part_of_area[other] or length < _LEAST_BORDER * areas.line_width:
            continue
        told[one if areas.pixels[one] < areas.pixels[other] else other] = INSIDE
    parts = np.unique(part_of_area[told == INSIDE])
    told[(told == UNTOLD) & np.isin(part_of_area, parts) & (part_of_area > 0)] = BESIDE
    return told
