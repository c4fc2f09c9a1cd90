"""A figure that was found at a small size, followed to the pixel at full size."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.flood import flood
from wardrobe.core.ground import edge
from wardrobe.core.lines.closing import Point, draw_barriers

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]

_STEPS = 8  # levels of the flood per pixel of distance
_STRAY = 0.002  # share of a region's pixels that may be misjudged at the small size
_FIGURE, _GROUND = 1, 2


def follow(ink: Byte, inside: Mask, outside: Mask,
           closings: list[list[Point]]) -> tuple[Mask, list[list[Point]]]:
    """Part figure and ground at full size.

    What closings leave open, because at the small size it looked closed, parts at the narrowest
    places between what is surely figure and what is surely ground.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink.
    inside, outside : ndarray of bool, of any smaller shape
        Free pixels of the figure, and of the ground, at the small size.
    closings : list of list of (x, y)
        Picture pixels.

    Returns
    -------
    mask : ndarray of bool, shape (height, width)
        The figure with its ink.
    more : list of list of (x, y)
        Closings that the full size needs besides.
    """
    free = 1 - ink
    draw_barriers(free, closings)
    count, regions = cv2.connectedComponents(free, connectivity=4)
    sure = np.zeros(inside.shape, np.uint8)
    sure[inside], sure[outside] = _FIGURE, _GROUND
    sure = cv2.resize(sure, ink.shape[::-1], interpolation=cv2.INTER_NEAREST)
    sure[free == 0] = 0
    figure = np.bincount(regions[sure == _FIGURE], minlength=count)
    ground = np.bincount(regions[sure == _GROUND], minlength=count)
    table = figure > ground
    reached = _reached(ink, regions, count)
    table[~reached] = True
    table[0] = False
    mask: Mask = table[regions]
    stray = np.maximum(4.0, _STRAY * (figure + ground))
    mixed = np.minimum(figure, ground) > stray
    mixed &= reached
    more: list[list[Point]] = []
    if mixed.any():
        parted, seam = _part(free, mixed[regions], sure)
        mask[parted > 0] = parted[parted > 0] == _FIGURE
        more = straight_pieces(seam)
    drawn = (free == 0) & (ink == 0)
    if drawn.any():
        around = ((free > 0) & ~mask).astype(np.uint8)
        mask |= drawn & (cv2.dilate(around, np.ones((3, 3), np.uint8)) == 0)
    return np.asarray(mask | (ink > 0)), more


def _reached(ink: Byte, regions: NDArray[np.int32], count: int) -> Mask:
    """Regions that a flood from the picture's edge gets to if nothing is closed."""
    reached = np.bincount(regions[edge.flood(ink)], minlength=count) > 0
    reached[0] = False
    return np.asarray(reached)


def _part(free: Byte, where: Mask, sure: Byte) -> tuple[NDArray[np.int32], Mask]:
    """Figure and ground of the regions that are both, and the pixels at which they meet."""
    framed = cv2.copyMakeBorder(free, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    distance = cv2.distanceTransform(framed, cv2.DIST_L2, 3)[1:-1, 1:-1]
    open_ = where & (sure == 0)
    beside = where & (sure > 0) & (cv2.dilate(open_.astype(np.uint8),
                                              np.ones((3, 3), np.uint8)) > 0)
    room = np.where(open_ | beside, np.clip(_STEPS * distance, 1, 65535), 0).astype(np.uint16)
    room = cv2.copyMakeBorder(room, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    labels = cv2.copyMakeBorder(np.where(beside, sure, 0).astype(np.int32), 1, 1, 1, 1,
                                cv2.BORDER_CONSTANT, value=0)
    flood(room, np.flatnonzero(labels).astype(np.int32), labels, np.empty_like(room))
    parted = np.where(where, np.maximum(labels[1:-1, 1:-1], sure), 0).astype(np.int32)
    seam = np.zeros(where.shape, bool)
    seam[:, :-1] |= parted[:, :-1] * parted[:, 1:] == _FIGURE * _GROUND
    seam[:-1] |= parted[:-1] * parted[1:] == _FIGURE * _GROUND
    return parted, seam


def straight_pieces(seam: Mask) -> list[list[Point]]:
    """Each connected piece of a parting line, as a straight line a little longer than it."""
    count, numbers, boxes, _ = cv2.connectedComponentsWithStats(seam.astype(np.uint8),
                                                                connectivity=8)
    lines: list[list[Point]] = []
    for k in range(1, count):
        x, y, width, height = boxes[k, :4].tolist()
        ys, xs = np.nonzero(numbers[y:y + height, x:x + width] == k)
        at = np.stack([xs + x, ys + y], axis=1).astype(np.float64)
        far = at[np.argmax(np.hypot(*(at - at.mean(axis=0)).T))]
        along = at[np.argmax(np.hypot(*(at - far).T))] - far
        length = float(np.hypot(*along))
        way = along / length if length else np.array([1.0, 0.0])
        one, two = far - 2 * way + 0.5, far + along + 2 * way + 0.5
        lines.append([(float(one[0]), float(one[1])), (float(two[0]), float(two[1]))])
    return lines
