"""Spots that are drawn by hand, as a plane."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.layers.origin import Origin
from wardrobe.core.masks.touch import draw_touch

Byte = NDArray[np.uint8]


class Spot(NamedTuple):
    """An outline, or a pen's stroke with a width at every point, in picture pixels."""

    points: tuple[tuple[float, float], ...]
    widths: tuple[float, ...] = ()
    erases: bool = False


def spots_plane(spots: Sequence[Spot], origin: Origin, shape: tuple[int, int]) -> Byte:
    """Where spots are, those that erase taken out in their turn; shape ``shape``, 0..255."""
    plane = np.zeros(shape, np.uint8)
    for spot in spots:
        drawn = draw_touch("", "put in", None,
                           np.array(spot.points) * origin.scale - (origin.x, origin.y),
                           np.array(spot.widths) * origin.scale, shape)
        if drawn is not None:
            here = plane[drawn.box]
            here[:] = np.minimum(here, 255 - drawn.cover) if spot.erases else \
                np.maximum(here, drawn.cover)
    return plane
