"""Strokes of an answer as a mask."""

from collections.abc import Sequence
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.masks.touch import draw_touch


class Stroke(Protocol):
    """An outline that is filled, or a pen's stroke with a width at every point; px."""

    @property
    def points(self) -> Sequence[Sequence[float]]: ...

    @property
    def widths(self) -> Sequence[float]: ...


def drawn_mask(strokes: Sequence[tuple[Stroke, bool]], shape: tuple[int, int],
               ) -> NDArray[np.bool_]:
    """What strokes come to, one after the other.

    Parameters
    ----------
    strokes : sequence of (Stroke, bool)
        And whether each takes away.
    shape : (int, int)
        Height and width.
    """
    mask = np.zeros(shape, np.uint8)
    for stroke, erases in strokes:
        touch = draw_touch("shade", "put in", None, np.array(stroke.points, float),
                           np.array(stroke.widths, float), shape)
        if touch is not None:
            there = mask[touch.box]
            mask[touch.box] = np.minimum(there, 255 - touch.cover) if erases \
                else np.maximum(there, touch.cover)
    return mask > 127
