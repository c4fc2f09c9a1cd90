"""Make raw shapes simple: few pieces, no slivers, smooth edges."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.morphology import blur, drop_small, open_shape

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

OPEN_LINE_WIDTHS = 0.5
CLOSE_LINE_WIDTHS = 0.95
BLUR_LINE_WIDTHS = 0.7
ISLAND_LINE_WIDTHS_SQUARED = 12.0


def blur_sigma(line_width: float) -> float:
    """Standard deviation of the blur that rounds a shape's edge, in grid pixels."""
    return max(1.8, BLUR_LINE_WIDTHS * line_width)


@dataclass(frozen=True)
class Simplicity:
    """Factors on how far shapes are opened and closed, and on the islands that are dropped."""

    reach: float = 1.0
    islands: float = 1.0

    @classmethod
    def of(cls, simple: float) -> "Simplicity":
        """From 0, as usual, to 1, a few large shapes."""
        return cls(1 + 2.2 * simple, 1 + 9 * simple)


def simplify(raw: Byte, labels: NDArray[np.int32], line_width: float,
             islands: float = ISLAND_LINE_WIDTHS_SQUARED, close: bool = True,
             simple: Simplicity | None = None) -> Real:
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
    close : bool
        Whether narrow inlets and holes are filled too.
    simple : Simplicity, optional

    Returns
    -------
    ndarray of float32, same shape, range 0..1
        A smooth field; the shape's edge is its 0.5 level.
    """
    simple = simple or Simplicity()
    pixels = np.bincount(labels.ravel()).astype(np.float32)
    least = np.minimum(max(9.0, simple.islands * islands * line_width**2),
                       0.3 * pixels).astype(np.float32)
    shape = open_shape(raw, labels, max(1.0, simple.reach * OPEN_LINE_WIDTHS * line_width), True)
    if close:
        # Closing the shape is opening what is left, but without eating into the form's corners.
        lit = ((labels > 0) & (shape == 0)).astype(np.uint8)
        lit = open_shape(lit, labels, max(1.0, simple.reach * CLOSE_LINE_WIDTHS * line_width),
                         False)
        shape = ((labels > 0) & (lit == 0)).astype(np.uint8)
        drop_small(shape, labels, 0, least)
    drop_small(shape, labels, 1, least)
    return blur(shape, labels, _gaussian(blur_sigma(line_width)))


def _gaussian(sigma: float) -> Real:
    radius = int(np.ceil(2.5 * sigma))
    weights = np.exp(-0.5 * (np.arange(-radius, radius + 1) / sigma) ** 2)
    return (weights / weights.sum()).astype(np.float32)
