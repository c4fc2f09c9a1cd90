"""Solid blacks: ink that is much thicker than the line, and the halo that keeps it readable."""

from collections.abc import Collection
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.distance import distance_to
from wardrobe.core.lines.closing import Point

Byte = NDArray[np.uint8]

_THICK = 1.2  # half thickness, in line widths, from which ink is a solid
_LEAST = 8.0  # pixels of a solid, in squared line widths


@dataclass(frozen=True)
class Solid:
    """A solid black: its innermost point, picture pixels, and its size in pixels."""

    x: float
    y: float
    pixels: int


@dataclass(frozen=True)
class Blacks:
    """The solid blacks of a drawing.

    Attributes
    ----------
    solids : list of Solid
        Largest first.
    labels : ndarray of int32, shape (height, width)
        Number of the solid, from 1, of each of its pixels; 0 elsewhere.
    """

    solids: list[Solid]
    labels: NDArray[np.int32]

    def at(self, places: Collection[Point]) -> list[int]:
        """Numbers of the solids that places lie in, px."""
        height, width = self.labels.shape
        inside = [(x, y) for x, y in places if 0 <= x < width and 0 <= y < height]
        return sorted({int(self.labels[int(y), int(x)]) for x, y in inside} - {0})

    def without(self, numbers: Collection[int]) -> "Blacks":
        """The others, numbered anew."""
        if not numbers:
            return self
        stay = [k for k in range(1, len(self.solids) + 1) if k not in numbers]
        table = np.zeros(len(self.solids) + 1, np.int32)
        table[stay] = np.arange(1, len(stay) + 1)
        return Blacks([self.solids[k - 1] for k in stay], table[self.labels])


def solid_blacks(coverage: Byte, line_width: float) -> Blacks:
    """Find ink that is thicker than lines are.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    line_width : float
        Px.
    """
    ink = (coverage >= 128).astype(np.uint8)
    depth = cv2.distanceTransform(ink, cv2.DIST_L2, 5)
    thick = _THICK * line_width
    core = (depth >= thick).astype(np.uint8)
    if not core.any():
        return Blacks([], np.zeros(coverage.shape, np.int32))
    count, numbers, boxes, _ = cv2.connectedComponentsWithStats(core, connectivity=8)
    # Grown back from its core, a solid has its full outline but for sharp tips.
    away, nearest = cv2.distanceTransformWithLabels(1 - core, cv2.DIST_L2, 5,
                                                    labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(int(nearest.max()) + 1, np.int32)
    table[nearest[core > 0]] = numbers[core > 0]
    labels = np.where((away <= thick + 1) & (ink > 0), table[nearest], 0).astype(np.int32)
    sizes = np.bincount(labels.ravel(), minlength=count)
    keep = [k for k in np.argsort(-sizes[1:], kind="stable") + 1
            if sizes[k] >= _LEAST * line_width**2]
    renumber = np.zeros(count, np.int32)
    solids = []
    for number, k in enumerate(keep, start=1):
        renumber[k] = number
        left, top, width, height = boxes[k, :4].tolist()
        box = slice(top, top + height), slice(left, left + width)
        _, _, _, (x, y) = cv2.minMaxLoc(np.where(numbers[box] == k, depth[box], 0))
        solids.append(Solid(left + x + 0.5, top + y + 0.5, int(sizes[k])))
    return Blacks(solids, renumber[labels])


def hollow(coverage: Byte, blacks: Blacks, numbers: Collection[int], rim: float) -> Byte:
    """Coverage without the inside of solid blacks.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    blacks : Blacks
    numbers : collection of int
        Which of them.
    rim : float
        Width of the line that is left around each, px.

    Returns
    -------
    ndarray of uint8, shape (height, width)
        The rim's inner edge is smooth, one pixel wide.
    """
    if not numbers:
        return coverage
    depth = distance_to(coverage < 128)
    inside = np.isin(blacks.labels, list(numbers))
    left = np.rint(255 * np.clip(rim + 0.5 - depth, 0, 1)).astype(np.uint8)
    return np.where(inside, np.minimum(coverage, left), coverage).astype(np.uint8)


def halo(blacks: Blacks, dark: NDArray[np.bool_], width: float) -> Byte:
    """Coverage of the rim along solid blacks.

    Parameters
    ----------
    blacks : Blacks
    dark : ndarray of bool, shape (height, width)
        Where what lies beside a black is dark too.
    width : float
        Px.

    Returns
    -------
    ndarray of uint8, shape (height, width)
        A band outside the blacks where they meet something dark, and one between blacks that
        touch.
    """
    solid = blacks.labels > 0
    if not solid.any() or width <= 0:
        return np.zeros(solid.shape, np.uint8)
    away = distance_to(solid)
    beside = np.clip(width + 0.5 - away, 0, 1) * (~solid & dark)
    seam = np.zeros(solid.shape, bool)
    for one, other, here in (
            (blacks.labels[:, 1:], blacks.labels[:, :-1], seam[:, 1:]),
            (blacks.labels[1:], blacks.labels[:-1], seam[1:])):
        np.logical_or(here, (one != other) & (one > 0) & (other > 0), out=here)
    if seam.any():
        off = distance_to(seam)
        beside = np.maximum(beside, np.clip((width + 1) / 2 - off, 0, 1) * solid)
    return np.rint(255 * beside).astype(np.uint8)
