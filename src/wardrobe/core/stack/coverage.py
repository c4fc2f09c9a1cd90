"""Which passes have anything painted on them, part by part."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.layers.layer import Masks
from wardrobe.core.parallel import each
from wardrobe.core.passes.layers import PassLayer


@dataclass(frozen=True, eq=False)
class Coverage:
    """What is painted.

    Attributes
    ----------
    keys : tuple of str
        Shapes.
    pixels : ndarray of int, shape (rows + 1,)
        Of each part; row 0 is the background.
    some, whole : ndarray of bool, shape (rows + 1, shapes)
        Whether a shape is there at all in a part, and whether it fills it.
    """

    keys: tuple[str, ...]
    pixels: NDArray[np.int64]
    some: NDArray[np.bool_]
    whole: NDArray[np.bool_]

    @classmethod
    def of(cls, masks: Masks, rows: int) -> "Coverage":
        """Measure masks at full size.

        Parameters
        ----------
        masks : Masks
        rows : int
            Parts.
        """
        count = len(masks.keys)
        pixels = np.bincount(masks.parts.ravel(), minlength=rows + 1)[:rows + 1]
        some, whole = np.zeros((rows + 1, count), bool), np.zeros((rows + 1, count), bool)
        some[0] = True
        boxes = [(row, box) for row, box in enumerate(
            ndimage.find_objects(masks.parts, max_label=rows), start=1) if box]

        def measure(item: tuple[int, tuple[slice, slice]]) -> None:
            row, box = item
            inside = masks.parts[box] == row
            for k in range(count):
                found = masks.levels[(*box, k)][inside]
                some[row, k], whole[row, k] = found.any(), (found == 255).all()

        each(measure, boxes)
        return cls(masks.keys, pixels, some, whole)

    def painted(self, row: int, layer: PassLayer) -> bool:
        """Whether a pass has anything on it in a part."""
        if layer.tones:
            return any(self.painted(row, tone) for tone in layer.tones)
        if layer.shape is None or row == 0:
            return bool(self.pixels[row])
        k = self.keys.index(layer.shape)
        return bool(self.pixels[row]) and bool(not self.whole[row, k] if layer.outside
                                               else self.some[row, k])
