"""The canvas that checks look at: what the flats cover, and where the figure is."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.stack.check.finding import Mask
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.core.stack.roles import Placed

FAINT = 8  # alpha up to which a pixel counts as not painted
EDGE = 2  # px along edges in which anti-aliasing is expected

Where = tuple[slice, slice]


@dataclass(frozen=True, eq=False)
class Canvas:
    """What the flats cover, and the figure: the silhouette, or the flats and what they enclose.

    Attributes
    ----------
    shape : (int, int)
    flats, figure, lines : ndarray of bool, shape (height, width)
    inked : ndarray of bool
        Where there is any trace of a line.
    """

    shape: tuple[int, int]
    flats: Mask
    figure: Mask
    lines: Mask
    inked: Mask

    @classmethod
    def of(cls, stack: Stack, layers: list[Placed]) -> "Canvas":
        """Look at the layers that are shown."""
        shape = stack.height, stack.width
        seen = {role: np.zeros(shape, bool) for role in ("flat", "silhouette", "lines")}
        inked = np.zeros(shape, bool)
        for placed in layers:
            if placed.role in seen and placed.shown:
                where, alpha = alpha_on(placed, shape)
                seen[placed.role][where] |= alpha > 127
                if placed.role == "lines":
                    inked[where] |= alpha > 0
        flats, silhouette = seen["flat"], seen["silhouette"]
        figure = silhouette if silhouette.any() else \
            np.asarray(ndimage.binary_fill_holes(flats), bool)
        return cls(shape, flats, figure, seen["lines"], inked)


def where_on(layer: Layer, shape: tuple[int, int]) -> tuple[Where, NDArray[np.uint8]]:
    """Where a layer lies on the canvas, and its alpha there; what lies beside it is cut off."""
    height, width = layer.shape
    left, top = min(max(0, layer.x), shape[1]), min(max(0, layer.y), shape[0])
    right = max(left, min(shape[1], layer.x + width))
    bottom = max(top, min(shape[0], layer.y + height))
    return ((slice(top, bottom), slice(left, right)),
            layer.alpha[top - layer.y:bottom - layer.y, left - layer.x:right - layer.x])


def alpha_on(placed: Placed, shape: tuple[int, int]) -> tuple[Where, NDArray[np.uint8]]:
    """The same, as far as the masks of its groups let it show."""
    where, alpha = where_on(placed.layer, shape)
    for mask in placed.masks:
        kept = np.zeros(shape, np.uint8)
        there, cover = where_on(mask, shape)
        kept[there] = cover
        alpha = np.minimum(alpha, kept[where])
    return where, alpha
