"""Cut a drawing into areas."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas import basins
from wardrobe.core.areas.borders import count_labels, spread
from wardrobe.core.areas.ground import outside, see_through
from wardrobe.core.errors import NoClosedAreaError, NoLinesError
from wardrobe.core.lines.closing import Point, draw_barriers
from wardrobe.core.lines.width import line_width

Labels = NDArray[np.uint16]

MAX_AREAS = 8000
_LEVELS = 32  # a px
_TOP = np.float32(65535 / _LEVELS)  # px


@dataclass(frozen=True)
class Areas:
    """A cut drawing.

    Attributes
    ----------
    labels : ndarray of uint16, shape (height, width)
        1-based area of every pixel; ink belongs to the nearest area, so that areas meet under
        the middle of the line. Never 0.
    core : ndarray of bool, shape (height, width)
        Pixels that are free of ink.
    pixels : ndarray of int64, shape (count + 1,)
        Size of each area, ink included; index 0 is unused.
    seeds : ndarray of int32, shape (count + 1, 2)
        x, y of each area's innermost point.
    inner_radius : ndarray of float32, shape (count + 1,)
        Distance from the seed to the ink, px.
    ground : ndarray of bool, shape (count + 1,)
        Areas recognised as outside or as see-through.
    line_width : float
        Median line width, px.
    specks : int
        Number of crumbs given to their neighbours.
    """

    labels: Labels
    core: NDArray[np.bool_]
    pixels: NDArray[np.int64]
    seeds: NDArray[np.int32]
    inner_radius: NDArray[np.float32]
    ground: NDArray[np.bool_]
    line_width: float
    specks: int

    @property
    def count(self) -> int:
        """Number of areas."""
        return len(self.pixels) - 1


def segment(coverage: NDArray[np.uint8], clear: NDArray[np.bool_] | None = None, *,
            closings: Sequence[Sequence[Point]] = (), left_open: Sequence[tuple[Point, Point]] = (),
            ratio: float = 0.24, widest_gap: float = 6.0) -> Areas:
    """Cut a drawing into areas, bridging small gaps.

    Free pixels climb the distance to the ink; the basins that result meet at saddles. A saddle
    that is narrow against both basins, and not wider than ``widest_gap`` line widths, is a gap
    in a line and divides; any other is a passage and joins.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        Ink coverage; 128 and more is ink.
    clear : ndarray of bool, same shape, optional
        Where the drawing itself says that the ground is seen.
    closings : sequence of sequences of (x, y)
        Lines that divide areas though they are not printed.
    left_open : sequence of ((x, y), (x, y))
        Pairs of places that belong to one area whatever lies between.
    ratio : float, 0..1
        Saddle height, as a share of the lower basin's peak, below which basins stay apart.
    widest_gap : float
        In line widths (at least 24 px in all).

    Returns
    -------
    Areas

    Raises
    ------
    NoLinesError
        If the picture is solid ink.
    NoClosedAreaError
        If no area is closed.

    References
    ----------
    F. Meyer, "Topographic distance and watershed lines", Signal Processing 38, 1994; saddles
    are joined in descending order as in Kruskal's spanning tree.
    """
    free = (coverage < 128).astype(np.uint8)
    width = line_width(coverage)
    draw_barriers(free, closings)
    distance = cv2.distanceTransform(free, cv2.DIST_L2, 5)
    basin, peaks = basins.climb(distance)
    if len(peaks) == 0:
        raise NoLinesError("The picture is solid ink: there is nothing to colour.")
    first, second, level = basins.contacts(distance, basin)
    # Sixteen bits sort in linear time; saddles that differ by less are alike.
    order = np.argsort((_LEVELS * (_TOP - np.minimum(level, _TOP))).astype(np.uint16),
                       kind="stable")
    area_of_basin = basins.merge(peaks, first, second, level, order, ratio,
                                 max(24.0, widest_gap * width),
                                 _basins_at(basin, free, left_open))
    count = int(area_of_basin.max())
    labels, sizes = _looked_up(basin, area_of_basin, free.shape, count)
    inner, seeds = _innermost(distance, labels, count)
    speck = _specks(sizes, inner, width)
    keep = np.flatnonzero(~speck[1:]) + 1
    if len(keep) < 2:
        raise NoClosedAreaError("No closed area was found: every fill would run out into the "
                                "ground. Close the outline of the drawing and try again.")
    renumber = np.zeros(count + 1, np.int32)
    renumber[keep] = np.arange(1, len(keep) + 1)
    core_labels, _ = _looked_up(basin, renumber[area_of_basin], free.shape, len(keep))
    full = spread(core_labels).astype(np.uint16)
    pixels = count_labels(full, len(keep))
    seeds, inner = np.vstack([[[0, 0]], seeds[keep]]), np.concatenate([[0], inner[keep]])
    ground = outside(full, len(keep))
    if clear is not None:
        ground |= see_through(core_labels, clear, len(keep))
    if ground[1:].all():
        raise NoClosedAreaError("No closed area was found: every fill would run out into the "
                                "ground. Close the outline of the drawing and try again.")
    return Areas(full, free.astype(bool), pixels, seeds.astype(np.int32),
                 inner.astype(np.float32), ground, width, int(speck[1:].sum()))


def _looked_up(basin: NDArray[np.int32], table: NDArray[np.int32], shape: tuple[int, ...],
               largest: int) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """Labels by basin, 0 on ink, and how many pixels each has (none for 0)."""
    labels, pixels = np.empty(basin.size, np.int32), np.zeros(largest + 1, np.int64)
    basins.look_up(basin, table, labels, pixels)
    pixels[0] = 0
    return labels.reshape(shape), pixels


def _basins_at(basin: NDArray[np.int32], free: NDArray[np.uint8],
               pairs: Sequence[tuple[Point, Point]]) -> NDArray[np.int32]:
    """The basins that pairs of places lie in; pairs with a place on ink are left out."""
    height, width = free.shape
    at = np.array(pairs, np.float64).reshape(-1, 2, 2).astype(np.int64)
    at = np.clip(at, 0, [width - 1, height - 1])
    found = basin[at[..., 1] * width + at[..., 0]]
    return np.ascontiguousarray(found[(found >= 0).all(axis=1)])


def _innermost(distance: NDArray[np.float32], labels: NDArray[np.int32],
               count: int) -> tuple[NDArray[np.float32], NDArray[np.int32]]:
    """Largest distance in each area and where it is (x, y)."""
    flat, width = labels.ravel(), labels.shape[1]
    ridge = np.flatnonzero((distance >= cv2.dilate(distance, np.ones((3, 3), np.uint8))).ravel()
                           & (flat > 0))
    ridge = ridge[np.argsort(distance.ravel()[ridge], kind="stable")]
    where = np.zeros(count + 1, np.int64)
    where[flat[ridge]] = ridge  # ascending, so the deepest is written last
    radius = distance.ravel()[where]
    radius[0] = 0
    return radius, np.stack([where % width, where // width], axis=1).astype(np.int32)


def _specks(sizes: NDArray[np.int64], inner: NDArray[np.float32],
            width: float) -> NDArray[np.bool_]:
    """Crumbs between strokes: too small to be meant; and, on noise, all but the largest."""
    speck = (sizes < max(12.0, 1.5 * width**2)) & (inner < max(2.0, 0.6 * width))
    kept = np.flatnonzero(~speck)
    if len(kept) > MAX_AREAS:
        speck[kept[np.argsort(sizes[kept])[:-MAX_AREAS]]] = True
    speck[0] = True
    return speck

