"""Separate pieces of a mask: how many, how small, and where."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Box = tuple[int, int, int, int]


@dataclass(frozen=True)
class Island:
    """A connected piece.

    Attributes
    ----------
    number : int
        In the map of pieces.
    pixels : int
    box : (int, int, int, int)
        x, y, width, height.
    middle : (float, float)
        Mean x, y.
    """

    number: int
    pixels: int
    box: Box
    middle: tuple[float, float]


def islands(mask: NDArray[np.bool_], connectivity: int = 8) -> tuple[list[Island],
                                                                     NDArray[np.int32]]:
    """All pieces in the order of their numbers, and the map of pieces, 0 outside."""
    count, numbers, stats, middles = cv2.connectedComponentsWithStats(
        mask.astype(np.uint8), connectivity=connectivity)
    return [Island(k, int(stats[k, cv2.CC_STAT_AREA]),
                   (int(stats[k, 0]), int(stats[k, 1]), int(stats[k, 2]), int(stats[k, 3])),
                   (float(middles[k, 0]) + 0.5, float(middles[k, 1]) + 0.5))
            for k in range(1, count)], numbers


def enclosed(ground: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """What of a ground cannot be reached from the edge of the picture."""
    numbers = cv2.connectedComponents(ground.astype(np.uint8), connectivity=4)[1]
    edge = np.unique(np.concatenate([numbers[0], numbers[-1], numbers[:, 0], numbers[:, -1]]))
    return ground & ~np.isin(numbers, edge)
