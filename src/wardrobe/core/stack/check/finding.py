"""What a check of a stack noticed."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.stack.roles import Placed

Mask = NDArray[np.bool_]
Box = tuple[int, int, int, int]


@dataclass(frozen=True)
class StackFinding:
    """Something that was noticed.

    Attributes
    ----------
    code : str
        What, for programs.
    layer : str
        Path of the layer, or "" for the whole stack.
    box : (int, int, int, int) or None
        x, y, width, height of the place.
    count : int
        Pixels, pieces or layers.
    message : str
        What, and why it matters.
    index : int or None
        Of the layer, from the bottom.
    repair : str or None
        What a safe repair would do.
    """

    code: str
    layer: str
    box: Box | None
    count: int
    message: str
    index: int | None = None
    repair: str | None = None


def about(placed: Placed, code: str, count: int, message: str,
          box: Box | None = None) -> StackFinding:
    """A finding about one layer."""
    return StackFinding(code, placed.path, box, count, message, placed.order)


def grown(mask: Mask, reach: int) -> Mask:
    """Larger by some pixels, or smaller by as many below 0; beyond the edge it goes on."""
    kernel = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))
    work = cv2.dilate if reach > 0 else cv2.erode
    return work(mask.astype(np.uint8), kernel, iterations=abs(reach)) > 0


def pieces(mask: Mask) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Connected pieces, and their sizes by number; 0 is the rest."""
    _, numbers, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    sizes = stats[:, cv2.CC_STAT_AREA].copy()
    sizes[0] = 0
    return numbers, sizes


def box_of(mask: Mask, x: int = 0, y: int = 0) -> Box:
    """The rectangle around a mask whose corner lies at x, y."""
    rows, columns = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    return (int(columns[0]) + x, int(rows[0]) + y, int(columns[-1] - columns[0]) + 1,
            int(rows[-1] - rows[0]) + 1)
