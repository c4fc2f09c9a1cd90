"""What of one cut comes again in another: whose areas are, and what changed hands."""

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas

Labels = NDArray[np.uint16]
Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Box = tuple[int, int, int, int]
Point = tuple[float, float]

_HALF = 128  # coverage
_DEEP = 0.75  # line widths that a place reaches from its border to be one of its own
_BORDERED = 0.6  # share of a border that is drawn, below which it was taken away on purpose


@dataclass(frozen=True)
class Change:
    """A connected place that has another owner than before.

    Attributes
    ----------
    box : (x, y, width, height)
        Picture px.
    place : (x, y)
        Its innermost point.
    pixels : int
    before, after : int
        The owners.
    """

    box: Box
    place: tuple[int, int]
    pixels: int
    before: int
    after: int


def owners_before(areas: Areas, before: Labels) -> NDArray[np.int64]:
    """Who had most of each area.

    Parameters
    ----------
    areas : Areas
        The new cut.
    before : ndarray of uint16, shape of the picture
        Owner of every pixel in the old one.

    Returns
    -------
    ndarray of int64, shape (areas + 1,)
        Pixels that are free of ink count, or all where an area has none.
    """
    owners = int(before.max()) + 1
    votes = np.zeros((areas.count + 1, owners), np.int64)
    for row in range(0, before.shape[0], 256):  # strips: the keys of all pixels take much room
        some = slice(row, row + 256)
        keys = areas.labels[some].astype(np.int64) * owners + before[some]
        weights = np.where(areas.core[some], 2.0**20, 1.0)
        votes += np.bincount(keys.ravel(), weights.ravel(), votes.size).astype(np.int64).reshape(
            votes.shape)
    return votes.argmax(axis=1)


def fallen_together(areas: Areas, before: Labels, ink: Byte) -> list[list[Point]]:
    """Places of different owners that are one area now, though most of their border is drawn:
    a line was left open.

    Parameters
    ----------
    areas : Areas
        The new cut.
    before : ndarray of uint16, shape of the picture
        Owner of every pixel in the old one.
    ink : ndarray of uint8, same shape
        Coverage of the new drawing.

    Returns
    -------
    list of lists of (x, y)
        For each such area the innermost places of all that was apart in it, the largest first.
    """
    owners = int(before.max()) + 1
    free = np.where(areas.core, areas.labels, 0)
    votes = np.bincount((free.astype(np.int64) * owners + before).ravel(),
                        minlength=(areas.count + 1) * owners).reshape(-1, owners)
    least = 3 * areas.line_width**2
    found = []
    for area in (np.flatnonzero((votes[1:] >= least).sum(axis=1) > 1) + 1).tolist():
        x, y, w, h = cv2.boundingRect((free == area).astype(np.uint8))
        around = math.ceil(2 * areas.line_width)
        rows = slice(max(0, y - around), y + h + around)
        columns = slice(max(0, x - around), x + w + around)
        mine, owned = free[rows, columns] == area, before[rows, columns]
        drawn = _widened(ink[rows, columns] >= _HALF, areas.line_width)
        lobes = [lobe for owner in np.flatnonzero(votes[area] >= least).tolist()
                 for lobe in _lobes(mine, owned == owner, drawn, areas.line_width, least)]
        # The largest is what the others are open to, however little of its border is left.
        lobes.sort(key=lambda lobe: -lobe.pixels)
        apart = [lobe for k, lobe in enumerate(lobes) if k == 0 or lobe.bordered >= _BORDERED]
        if len(apart) > 1:
            found.append([(columns.start + lobe.x + 0.5, rows.start + lobe.y + 0.5)
                          for lobe in apart])
    return found


@dataclass(frozen=True)
class _Lobe:
    """What one owner had of an area, in one piece; ``bordered`` is the share of its border, as
    it was, that is drawn."""

    x: int
    y: int
    pixels: int
    bordered: float


def _lobes(mine: Mask, owned: Mask, drawn: Mask, width: float, least: float) -> list[_Lobe]:
    """The pieces of an owner's ground that are free of ink, and deep enough to be told."""
    _, pieces, stats, _ = cv2.connectedComponentsWithStats((mine & owned).astype(np.uint8),
                                                           connectivity=4)
    _, wholes = cv2.connectedComponents(owned.astype(np.uint8), connectivity=4)
    found = []
    for piece in (np.flatnonzero(stats[1:, cv2.CC_STAT_AREA] >= least) + 1).tolist():
        depth = cv2.distanceTransform(np.pad((pieces == piece).astype(np.uint8), 1),
                                      cv2.DIST_L2, 5)[1:-1, 1:-1]
        y, x = np.unravel_index(int(depth.argmax()), depth.shape)
        if depth[y, x] < _DEEP * width:
            continue
        whole = (wholes == wholes[y, x]).astype(np.uint8)
        border = (cv2.dilate(whole, np.ones((3, 3), np.uint8)) > whole)
        found.append(_Lobe(int(x), int(y), int(stats[piece, cv2.CC_STAT_AREA]),
                           float(drawn[border].mean()) if border.any() else 1.0))
    return found


def _widened(ink: Mask, width: float) -> Mask:
    size = 2 * max(1, round(width)) + 1
    grown: Byte = cv2.dilate(ink.astype(np.uint8),
                             cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    return grown > 0


def changes(before: Labels, after: Labels, where: NDArray[np.bool_],
            width: float) -> list[Change]:
    """Where owners differ, the largest place first.

    Parameters
    ----------
    before, after : ndarray of uint16, shape (height, width)
        Owner of every pixel.
    where : ndarray of bool, same shape
        Pixels that count, as those that are free of ink in both.
    width : float
        Places that are nowhere wider than this, px, are lines that moved a little: left out.
    """
    differ = where & (before != after)
    code = before.astype(np.int64) * 2**16 + after
    found = []
    for pair in np.unique(code[differ]).tolist():
        x, y, w, h = cv2.boundingRect((differ & (code == pair)).astype(np.uint8))
        there = (slice(y, y + h), slice(x, x + w))
        mask = (differ[there] & (code[there] == pair)).astype(np.uint8)
        depth = cv2.distanceTransform(np.pad(mask, 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
        _, runs, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
        for run in np.unique(runs[depth > width / 2]).tolist():
            left, top, wide, high, pixels = stats[run].tolist()
            part = (slice(top, top + high), slice(left, left + wide))
            deepest = np.where(runs[part] == run, depth[part], 0)
            py, px = np.unravel_index(int(deepest.argmax()), deepest.shape)
            found.append(Change((x + left, y + top, wide, high),
                                (x + left + int(px), y + top + int(py)), pixels,
                                pair >> 16, pair & 0xFFFF))
    return sorted(found, key=lambda c: -c.pixels)


def strokes_apart(ink: Byte, other: Byte, width: float) -> list[tuple[Box, int]]:
    """Boxes around the ink that is not in another drawing, and its pixels, the most first.

    Parameters
    ----------
    ink, other : ndarray of uint8, shape (height, width)
        Coverage.
    width : float
        Line width, px: ink within this of ink is the same line, drawn a little otherwise.
    """
    away = cv2.distanceTransform((other < 128).astype(np.uint8), cv2.DIST_L2, 5)
    alone = ((ink >= 128) & (away > width)).astype(np.uint8)
    reach = max(3, 2 * round(2 * width) + 1)  # what lies close together is one place
    grown = cv2.dilate(alone, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach)))
    count, places = cv2.connectedComponents(grown)
    pixels = np.bincount(places[alone > 0], minlength=count)
    places[alone == 0] = 0
    found = []
    for place in np.flatnonzero(pixels >= 2 * width**2).tolist():
        if place:
            box = cv2.boundingRect((places == place).astype(np.uint8))
            found.append((tuple(box), int(pixels[place])))
    return sorted(found, key=lambda f: -f[1])
