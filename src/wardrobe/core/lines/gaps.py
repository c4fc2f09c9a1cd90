"""Gaps: openings through which two areas meet though they should not."""

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.lines.base import base_pair
from wardrobe.core.lines.closing import Point, closing_curve, curve_pixels
from wardrobe.core.lines.ends import Ends, find_ends
from wardrobe.core.lines.openings import Openings, find_openings
from wardrobe.core.lines.width import line_width
from wardrobe.core.trees import Trees, load_trees

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]
Features = NDArray[np.float64]

WIDEST = 5.0  # line widths, and at least
WIDEST_PX = 26.0
LIKELY = 0.08  # chance from which a gap is listed at once
DOUBTFUL = 0.04  # and from which it is listed on demand
BASE = 0.6  # chance given to the open base of a bust
WORTH_CUTTING = 0.03
WORTH_A_CLOSURE = 0.002
WIDEST_OPENING = 0.13  # of the picture's longer edge: how far a missing line may reach

# Boosted trees, fitted by benchmarks/fit_gaps.py to the tuning halves of drawings by several
# hands, as drawn and with cuts: of the opening alone, with what closing it divides, and of an
# opening of any width alone.
TREES = Path(__file__).with_name("gaps.npz")
GEOMETRY = ("log width", "two ends", "aim", "aim of the other", "worse aim", "rank",
            "stroke width", "log ink", "same ink")
DIVISION = ("openings between both", "outside", "log area", "log room by width", "log room",
            "log wider room", "log wider room by width", "slenderness")


@lru_cache(maxsize=1)
def _trees() -> list[Trees]:
    return load_trees(TREES)


@dataclass(frozen=True)
class Gaps:
    """Gaps of a drawing, one a row.

    Attributes
    ----------
    centre : ndarray of float32, shape (n, 2)
        x, y, picture pixels.
    ends : ndarray of float32, shape (n, 2, 2)
        x, y of both banks.
    width : ndarray of float32, shape (n,)
        Px.
    chance : ndarray of float32, shape (n,)
        How likely it divides two areas that belong apart, 0..1; doubt is what is missing to 1.
    sides : ndarray of float32, shape (n, 2, 2)
        x, y of a free point on either side.
    directions : ndarray of float32, shape (n, 2, 2)
        Unit vectors in which the strokes would go on; 0, 0 on the side of a line.
    tips : ndarray of float32, shape (m, 2)
        x, y of the ends of all strokes.
    line_width : float
        Px.
    """

    centre: Real
    ends: Real
    width: Real
    chance: Real
    sides: Real
    directions: Real
    tips: Real
    line_width: float

    def __len__(self) -> int:
        return len(self.width)


def find_gaps(coverage: Byte, widest: float = WIDEST) -> Gaps:
    """Find the gaps in line art, the likeliest first.

    Every place where a stroke's end faces other ink is an opening. All openings that may be gaps
    are cut at once; what then does not divide two regions is no gap; of the rest, how likely each
    is follows from how the end aims across, how wide the opening is against the line and against
    the room on both sides, and what it divides. An end closes one gap only: of several, the
    likeliest stays.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    widest : float
        Line widths (and at least 26 px) up to which an opening may be a gap.

    Returns
    -------
    Gaps
    """
    lw = line_width(coverage)
    framed = _framed(coverage)
    reach = max(WIDEST_PX, widest * lw)
    ends, openings, distance = openings_of(framed, lw, reach)
    geometry = geometry_features(framed, ends, openings, lw)
    alone, divided, _ = _trees()
    worth = np.flatnonzero(alone.chance(geometry) > WORTH_CUTTING)
    openings, geometry = openings.take(worth), geometry[worth]
    division, divides, sides = division_features(framed, distance, openings, lw)
    likely = np.where(divides, divided.chance(np.hstack([geometry, division])), 0.0)
    kept = one_an_end(likely, openings.numbers)
    kept = kept[_divides_still(framed, openings.take(kept))]
    openings, likely, sides = openings.take(kept), likely[kept], sides[kept]
    pair = base_pair(framed, ends, lw, reach)
    if pair:
        banks = ends.tip[list(pair)][None]
        middle = banks.mean(axis=1)
        base = Openings(middle, banks, np.hypot(*(banks[:, 1] - banks[:, 0]).T),
                        np.zeros((1, 2), np.int32))  # straight across, whatever the ends' aim
        openings = openings.join(base)
        likely = np.append(likely, BASE)
        beside = middle[:, None] + np.array([[[0, -3], [0, 3]]], np.float32)
        sides = np.concatenate([sides, beside.astype(np.float32)])
    directions = ends.direction[openings.numbers].copy()
    # Without the frame, and from pixel numbers to the middles of pixels.
    return Gaps(openings.centre - 0.5, openings.banks - 0.5, openings.width,
                likely.astype(np.float32), sides - 0.5, directions, ends.tip[1:] - 0.5, lw)


@dataclass(frozen=True)
class Closures:
    """Lines that may be missing, gap or not: what to part open areas along.

    Attributes
    ----------
    curves : list of sequences of (x, y)
        Along the strokes from bank to bank, picture pixels.
    chance : ndarray of float64, shape (n,)
        How likely a line is missing there, from the opening alone, 0..1.
    """

    curves: list[list[Point]]
    chance: Features

    def pixels(self, row: int) -> NDArray[np.int32]:
        """One curve as OpenCV draws it."""
        return curve_pixels(self.curves[row])

    def within(self, x: int, y: int, width: int, height: int) -> "Closures":
        """Those that touch a rectangle, in its own coordinates."""
        rows, curves = [], []
        for row, curve in enumerate(self.curves):
            points = np.array(curve) - (x, y)
            if (points.max(axis=0) >= 0).all() and (points.min(axis=0) < (width, height)).all():
                rows.append(row)
                curves.append([(px - x, py - y) for px, py in curve])
        return Closures(curves, self.chance[rows])

    def scaled(self, scale: float) -> "Closures":
        """The same on a picture of another size."""
        return self if scale == 1 else Closures(
            [[(x * scale, y * scale) for x, y in curve] for curve in self.curves], self.chance)


def find_closures(coverage: Byte) -> Closures:
    """Where lines may be missing: every opening in front of a stroke's end, however doubtful.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)

    Returns
    -------
    Closures
    """
    lw = line_width(coverage)
    framed = _framed(coverage)
    ends, openings, _ = openings_of(framed, lw, farthest(coverage, lw))
    likely = _trees()[2].chance(geometry_features(framed, ends, openings, lw))
    kept = np.flatnonzero(likely > WORTH_A_CLOSURE)
    banks = openings.banks[kept] - 0.5
    directions = ends.direction[openings.numbers[kept]]
    return Closures([closing_curve(*banks[k].tolist(), *directions[k].tolist())
                     for k in range(len(kept))], likely[kept])


def farthest(coverage: Byte, lw: float) -> float:
    """How far a missing line may reach, px."""
    return max(WIDEST_PX, WIDEST * lw, WIDEST_OPENING * max(coverage.shape))


def _framed(coverage: Byte) -> Byte:
    """The picture's edge closes lines that run off it."""
    return cv2.copyMakeBorder(coverage, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=255)


def openings_of(framed: Byte, lw: float, widest: float) -> tuple[Ends, Openings, Real]:
    """Ends, openings in front of them, and the distance to ink."""
    free = (framed < 128).astype(np.uint8)
    distance, labels = cv2.distanceTransformWithLabels(free, cv2.DIST_L2, 5,
                                                       labelType=cv2.DIST_LABEL_PIXEL)
    nearest = _nearest(free, labels)
    ends = find_ends(1 - free, lw)
    return ends, find_openings(framed, distance, nearest, ends, widest), distance


@kernel
def _nearest(free: Byte, labels: Int) -> Int:
    """Flat index of the nearest ink pixel, from OpenCV's labels of ink pixels."""
    height, width = free.shape
    table = np.zeros(labels.max() + 1, np.int32)
    for y in range(height):
        for x in range(width):
            if free[y, x] == 0:
                table[labels[y, x]] = y * width + x
    out = np.empty((height, width), np.int32)
    for y in range(height):
        for x in range(width):
            out[y, x] = table[labels[y, x]]
    return out


def geometry_features(framed: Byte, ends: Ends, openings: Openings, lw: float) -> Features:
    """What can be said of an opening by itself: columns as in GEOMETRY."""
    a, b = openings.numbers[:, 0], openings.numbers[:, 1]
    two = (b > 0).astype(np.float64)
    chord = openings.banks[:, 1] - openings.banks[:, 0]
    chord = chord / np.maximum(np.hypot(chord[:, 0], chord[:, 1]), 1e-6)[:, None]
    aim = np.sum(ends.direction[a] * chord, axis=1)
    other = np.where(b > 0, -np.sum(ends.direction[b] * chord, axis=1), 0.0)
    _, pieces, stats, _ = cv2.connectedComponentsWithStats((framed >= 128).astype(np.uint8),
                                                           connectivity=8)
    at = openings.banks.astype(np.int64)
    ink = pieces[at[..., 1], at[..., 0]]
    size = stats[ink, cv2.CC_STAT_AREA] / lw**2
    width = np.log(openings.width / lw + 0.1)
    return np.stack([
        width, two, aim, other, two * np.minimum(aim, other),
        np.minimum(_rank(openings), 4), ends.width[a] / lw,
        np.log(size.min(axis=1) + 0.3) if len(a) else np.zeros(0), ink[:, 0] == ink[:, 1],
    ], axis=1).astype(np.float64)


def _rank(openings: Openings) -> NDArray[np.int64]:
    """How many narrower openings the same end has (the larger count of both ends)."""
    rank = np.zeros(len(openings.width), np.int64)
    seen: dict[int, int] = {}
    for k in np.argsort(openings.width, kind="stable").tolist():
        for end in openings.numbers[k].tolist():
            if end:
                rank[k] = max(rank[k], seen.get(end, 0))
                seen[end] = seen.get(end, 0) + 1
    return rank


def division_features(framed: Byte, distance: Real, openings: Openings, lw: float,
                      ) -> tuple[Features, NDArray[np.bool_], Real]:
    """What closing all openings comes to: columns as in DIVISION after GEOMETRY.

    Also which openings divide two regions then, and a free point on either side of each.
    """
    labels = _cut(framed, openings)
    points, regions = _either_side(labels, openings)
    count = int(labels.max()) + 1
    area, room = _regions(labels, distance, count)
    border = np.concatenate([labels[1], labels[-2], labels[:, 1], labels[:, -2]])
    outside = np.bincount(border[border > 0], minlength=count) > 0.15 * border.size
    pairs, group = np.unique(np.sort(regions, axis=1), axis=0, return_inverse=True)
    between = np.bincount(group.ravel(), minlength=len(pairs))[group.ravel()]
    small, wide = room[regions].min(axis=1), room[regions].max(axis=1)
    size = area[regions].min(axis=1)
    width = np.maximum(openings.width, 1)
    features = np.stack([
        np.minimum(between, 4), outside[regions].any(axis=1), np.log(size / lw**2 + 0.3),
        np.log(small / width + 0.3), np.log(small / lw + 0.2), np.log(wide / lw + 0.2),
        np.log(wide / width + 0.2), np.log(size / np.maximum(small, 1) ** 2 + 1),
    ], axis=1).astype(np.float64) if len(width) else np.zeros((0, len(DIVISION)))
    divides = (regions[:, 0] != regions[:, 1]) & (regions > 0).all(axis=1)
    return features, divides, points


def draw_closings(free: Byte, banks: Real) -> None:
    """Set straight closings to 0; a line of one pixel stops what moves in rows and columns."""
    for (x0, y0), (x1, y1) in np.rint(banks).astype(int).tolist():
        cv2.line(free, (x0, y0), (x1, y1), 0, 1)


def cut_regions(framed: Byte, openings: Openings) -> tuple[Int, NDArray[np.int64]]:
    """Regions once all openings are closed, and those on either side of each opening."""
    labels = _cut(framed, openings)
    return labels, _either_side(labels, openings)[1]


def _cut(framed: Byte, openings: Openings) -> Int:
    free = (framed < 128).astype(np.uint8)
    draw_closings(free, openings.banks)
    labels: Int = cv2.connectedComponents(free, connectivity=4)[1]
    return labels


def _either_side(labels: Int, openings: Openings) -> tuple[Real, NDArray[np.int64]]:
    """A free point on either side of each chord's middle, and the regions there (0 none)."""
    height, width = labels.shape
    chord = openings.banks[:, 1] - openings.banks[:, 0]
    normal = np.stack([-chord[:, 1], chord[:, 0]], axis=1)
    normal /= np.maximum(np.hypot(chord[:, 0], chord[:, 1]), 1e-6)[:, None]
    middle = openings.banks.mean(axis=1)
    points = np.repeat(middle[:, None], 2, axis=1)
    regions = np.zeros((len(middle), 2), np.int64)
    for side, sign in enumerate((-1, 1)):
        for reach in (1.5, 2.5, 4.0):
            p = middle + sign * reach * normal
            x = np.clip(np.rint(p[:, 0]).astype(int), 0, width - 1)
            y = np.clip(np.rint(p[:, 1]).astype(int), 0, height - 1)
            here = (regions[:, side] == 0) & (labels[y, x] > 0)
            regions[here, side] = labels[y, x][here]
            points[here, side] = np.stack([x, y], axis=1)[here]
    return points, regions


@kernel
def _regions(labels: Int, distance: Real, count: int) -> tuple[Features, Features]:
    """Pixels and largest distance to ink of each region."""
    area, room = np.zeros(count), np.zeros(count)
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            region = labels[y, x]
            if region:
                area[region] += 1
                room[region] = max(room[region], distance[y, x])
    return area, room


def one_an_end(likely: Features, numbers: Int) -> NDArray[np.int64]:
    """Rows kept, the likeliest first: each must use an end that no likelier one uses."""
    used: set[int] = set()
    kept = []
    for k in np.argsort(-likely, kind="stable").tolist():
        if likely[k] < DOUBTFUL:
            break
        ends = {end for end in numbers[k].tolist() if end}
        if ends - used:
            kept.append(k)
            used |= ends
    return np.array(kept, np.int64)


def _divides_still(framed: Byte, openings: Openings) -> NDArray[np.bool_]:
    _, regions = cut_regions(framed, openings)
    divides: NDArray[np.bool_] = regions[:, 0] != regions[:, 1]
    return divides
