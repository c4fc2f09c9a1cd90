"""The minimum cut between figure and ground."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import breadth_first_order, maximum_flow

from wardrobe.core.ground.closures import Candidates
from wardrobe.core.ground.edge import ASIDE, Run, flood, runs
from wardrobe.core.ground.rays import enclosure, sixteen_ways
from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Floats = NDArray[np.float64]
Int = NDArray[np.int64]
Grid = tuple[NDArray[np.int64], ...]

_RINGED = 0.75  # share of directions with ink from which a place is ringed on three sides
_LEAST_BAY = 0.01  # of the figure
_HALF = 0.5  # enclosure from which a pixel speaks for the figure
_GAIN = 0.6  # weight of enclosure against closures
_GUESS_GAIN = 2.7  # weight of the guess against closures
_SURE_ODDS = 4.0  # log odds beyond which a guess counts no more
_GUESSED = 0.06  # a px of closures along the guess
_DOUBT = 0.6, 1.6  # how much less and more both may count
_CLOSED = 1.0  # closures are dearer by this where a flood meets no opening
_SEAM, _NARROW = 0.15, 1.6  # a px across ways narrower than this many line widths
_GRID = 256  # px of the longer edge at which enclosure is worked out
_UNITS = 1000  # of cost, for whole numbers
_MOST = 250_000_000
_WAYS = sixteen_ways()
_BESIDE = np.ones((3, 3), np.uint8)


@dataclass(frozen=True)
class GroundCut:
    """What a drawing's figure is, and by which closures.

    Attributes
    ----------
    figure, flooded : ndarray of bool, shape (height, width)
        The figure with its ink; and what a flood from the border does not reach.
    seam : ndarray of bool, same shape
        Free pixels along which figure and ground part.
    signs : ndarray of float64, shape (11,)
        What the result can be judged by; see ``confidence``.
    bays : list of (float, float, float)
        x, y of the ground's places that ink surrounds on three sides, and how large each is
        against the figure; the largest first.
    """

    figure: Mask
    flooded: Mask
    seam: Mask
    signs: Floats
    bays: list[tuple[float, float, float]]


def cut_ground(ink: Byte, candidates: Candidates, line_width: float,
               diagonal: float, odds: NDArray[np.float32]) -> GroundCut:
    """Part the figure from the ground along ink and the likeliest set of closures.

    Regions between ink and closures are figure or ground; each speaks for the figure by how much
    it looks like it, and by how much ink is around it; each px of closure between figure and
    ground costs. Where the guess goes from figure to ground a closure may run too. What a flood
    from the border does not reach is figure. The border between two places where ink meets it is
    one region with the ground: a channel to the edge is no gap.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink.
    candidates : Candidates
    line_width, diagonal : float
        Px.
    odds : ndarray of float32, shape (height, width)
        How much each place looks like the figure; see ``guess``.

    References
    ----------
    Y. Boykov, V. Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for
    energy minimization in vision", IEEE PAMI 26, 2004, for the formulation.
    """
    flooded = ~flood(ink)
    rim = (cv2.dilate(ink, _BESIDE) - ink) > 0
    closed = float((flooded & rim).sum()) / max(1, int(rim.sum()))
    price = _barriers(ink, candidates, line_width) * (1 + _CLOSED * closed)
    _along_guess(price, odds, ink)
    barrier = price > 0
    count, regions = cv2.connectedComponents(((ink == 0) & ~barrier).astype(np.uint8),
                                             connectivity=4)
    edge = runs(ink)
    enclosed, at, around = _worth(ink, regions, count, edge, candidates.base, diagonal)
    worth = _GAIN * around + _GUESS_GAIN * _looks(odds, regions, count, diagonal)
    one, two, cost = _links(regions, price, barrier, edge)
    figure, reached = _parted(count, one, two, cost, worth)
    plain = _parted(count, one, two, cost, _GAIN * around)[0]
    # A sure figure stays the same if what speaks for it counts for less or for more.
    wary, eager = (_parted(count, one, two, cost, worth * by)[0] for by in _DOUBT)
    sizes = np.bincount(regions[at].ravel(), minlength=count)
    mask = figure[regions]
    ground = (regions > 0) & ~mask
    beside_ground = cv2.dilate(ground.astype(np.uint8), _BESIDE) > 0
    mask |= (ink > 0) | (barrier & ~beside_ground)
    inside = figure[regions] & (regions > 0)
    seam = barrier & beside_ground & (cv2.dilate(inside.astype(np.uint8), _BESIDE) > 0)
    flooded |= ink > 0
    gained = figure & reached
    paid = float(cost[figure[one] != figure[two]].sum())
    added, length = mask & ~flooded, float(seam.sum())
    low = mask[at]
    ringed = ~low & (enclosed > _RINGED)
    free, size = ink == 0, max(1, int(sizes[figure].sum()))
    signs = np.array([
        closed, float((mask & rim).sum()) / max(1, int(rim.sum())), length / diagonal,
        length / max(1.0, length + float((added & rim).sum())),
        paid / max(1e-6, float(worth[gained].sum())) if gained.any() else 0.0,
        added.sum() / max(1, mask.sum()), ringed.sum() / max(1, int(low.sum())),
        sizes[wary].sum() / size, size / max(1, sizes[eager].sum()),
        sizes[plain != figure].sum() / size,
        (free & (mask != (odds > 0))).sum() / max(1, int((free & mask).sum()))])
    return GroundCut(mask, flooded, seam, signs, _bays(ringed, at, int(low.sum())))


def _bays(ringed: Mask, at: Grid, figure: int) -> list[tuple[float, float, float]]:
    count, _, boxes, middles = cv2.connectedComponentsWithStats(ringed.astype(np.uint8),
                                                                connectivity=4)
    found = []
    for k in range(1, count):
        share = boxes[k, cv2.CC_STAT_AREA] / max(1, figure)
        if share >= _LEAST_BAY:
            x, y = middles[k]
            found.append((float(at[1][0, round(x)]), float(at[0][round(y), 0]), float(share)))
    return sorted(found, key=lambda bay: -bay[2])


def _barriers(ink: Byte, candidates: Candidates, line_width: float) -> NDArray[np.float32]:
    """Price of each free pixel on a closure; the cheapest where they cross; 0 elsewhere."""
    price = np.zeros(ink.shape, np.float32)
    for k in np.argsort(-candidates.cost, kind="stable"):
        x0, y0, x1, y1 = np.rint(candidates.chords[k]).astype(int).tolist()
        # A drawn pixel is as long as the chord by the number of its pixels.
        pixels = max(abs(x0 - x1), abs(y0 - y1)) + 1
        each = float(candidates.cost[k]) * max(1.0, float(np.hypot(x0 - x1, y0 - y1)) / pixels)
        cv2.line(price, (x0, y0), (x1, y1), each, 1)
    narrow = _narrow_ways(ink, _NARROW * line_width / 2)
    price[narrow & (price == 0)] = _SEAM
    price[ink > 0] = 0
    return price


def _along_guess(price: NDArray[np.float32], odds: NDArray[np.float32], ink: Byte) -> None:
    """Let closures run where the guess goes from figure to ground."""
    likely = (odds > 0).astype(np.uint8)
    edge = (likely > cv2.erode(likely, _BESIDE)) & (ink == 0)
    price[edge] = np.where(price[edge] > 0, np.minimum(price[edge], _GUESSED), _GUESSED)


def _looks(odds: NDArray[np.float32], regions: NDArray[np.int32], count: int,
           diagonal: float) -> Floats:
    """How much each region looks like the figure."""
    each = np.clip(odds, -_SURE_ODDS, _SURE_ODDS) / (2 * _SURE_ODDS)
    looks = np.bincount(regions.ravel(), each.ravel(), count) / diagonal
    looks[0] = 0
    return np.asarray(looks, np.float64)


def _narrow_ways(ink: Byte, radius: float) -> Mask:
    """Lines across places where the free way is narrower than twice a radius."""
    away = cv2.distanceTransform(1 - ink, cv2.DIST_L2, 3)
    wide = (away > radius).astype(np.uint8)
    _, rooms = cv2.connectedComponents(wide, connectivity=4)
    _, nearest = cv2.distanceTransformWithLabels(1 - wide, cv2.DIST_L2, 3,
                                                 labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(int(nearest.max()) + 1, np.int32)
    table[nearest[wide > 0]] = rooms[wide > 0]
    room = table[nearest]
    seam = np.zeros(ink.shape, bool)
    seam[:, :-1] |= room[:, :-1] != room[:, 1:]
    seam[:-1] |= room[:-1] != room[1:]
    return np.asarray(seam & (ink == 0))


def _worth(ink: Byte, regions: NDArray[np.int32], count: int, edge: list[Run],
           base: Floats | None, diagonal: float) -> tuple[NDArray[np.float32], Grid, Floats]:
    """How enclosed the drawing is on a small grid, the pixels of that grid, and how much ink is
    around each region."""
    height, width = ink.shape
    scale = _GRID / max(height, width)
    thick_by = max(1, int(np.ceil(1 / scale)))
    thick = cv2.dilate(ink, np.ones((thick_by, thick_by), np.uint8))
    # A floor stops rays: the base of a bust, or the lower edge that cuts a figure off.
    for run in edge:
        low = run.x[run.y == height - 1]
        if run.cost < ASIDE and len(low):
            thick[max(0, height - thick_by):, low.min():low.max() + 1] = 1
    if base is not None:
        x0, y0, x1, y1 = base.astype(int).tolist()
        cv2.line(thick, (x0, y0), (x1, y1), 1, thick_by)
    size = max(1, round(width * scale)), max(1, round(height * scale))
    enclosed = enclosure(cv2.resize(thick, size, interpolation=cv2.INTER_NEAREST), _WAYS)
    at = np.ix_(np.minimum(((np.arange(size[1]) + 0.5) / scale).astype(int), height - 1),
                np.minimum(((np.arange(size[0]) + 0.5) / scale).astype(int), width - 1))
    speak = (enclosed.astype(np.float64) - _HALF) / scale**2
    worth = np.bincount(regions[at].ravel(), speak.ravel(), count).astype(np.float64)
    worth /= diagonal
    worth[0] = 0
    return enclosed, at, worth


def _links(regions: NDArray[np.int32], price: NDArray[np.float32], barrier: Mask,
           edge: list[Run]) -> tuple[Int, Int, Floats]:
    """Pairs of regions that closures part, and what each px costs; 0 is the paper beyond."""
    links = [_across(regions, price, int(barrier.sum()))]
    for run in edge:
        meets = regions[run.y, run.x].astype(np.int64)
        meets = meets[meets > 0]
        links.append((meets, np.zeros(len(meets), np.int64), np.full(len(meets), run.cost)))
    one, two, cost = (np.concatenate(v) for v in zip(*links, strict=True))
    return one, two, cost


@kernel
def _across(regions: NDArray[np.int32], price: NDArray[np.float32],
            most: int) -> tuple[Int, Int, Floats]:
    height, width = regions.shape
    one, two = np.empty(most, np.int64), np.empty(most, np.int64)
    cost = np.empty(most, np.float64)
    count = 0
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            if price[y, x] <= 0:
                continue
            first, second = 0, 0
            for v in range(y - 1, y + 2):
                for u in range(x - 1, x + 2):
                    region = regions[v, u]
                    if first == 0:
                        first = region
                    elif second == 0 and region != first:  # 0 again changes nothing
                        second = region
            if second and count < most:
                one[count], two[count], cost[count] = first, second, price[y, x]
                count += 1
    return one[:count], two[:count], cost[:count]


def _parted(count: int, one: Int, two: Int, cost: Floats,
            worth: Floats) -> tuple[Mask, Mask]:
    """Which regions are figure, and which the ground would reach if nothing were closed."""
    source, ground = count, 0
    for_figure, for_ground = np.flatnonzero(worth > 0), np.flatnonzero(worth < 0)
    rows = np.concatenate([one, two, np.full(len(for_figure), source), for_ground])
    columns = np.concatenate([two, one, for_figure, np.full(len(for_ground), ground)])
    values = np.concatenate([cost, cost, worth[for_figure], -worth[for_ground]])
    room = coo_matrix((values, (rows, columns)), (count + 1, count + 1)).tocsr()
    room.sum_duplicates()
    room.data = np.minimum(np.rint(room.data * _UNITS), _MOST).astype(np.int32)
    room = room.astype(np.int32)
    room.eliminate_zeros()
    left = room - maximum_flow(room, source, ground).flow
    left.data = np.maximum(left.data, 0)
    left.eliminate_zeros()
    figure = np.zeros(count + 1, bool)
    figure[breadth_first_order(left.tocsr(), source, return_predecessors=False)] = True
    link = coo_matrix((np.ones(2 * len(one)), (np.concatenate([one, two]),
                                               np.concatenate([two, one]))), (count, count))
    reached = np.zeros(count, bool)
    reached[breadth_first_order(link.tocsr(), ground, directed=False,
                                return_predecessors=False)] = True
    result = figure[:count] | ~reached
    result[0] = False
    return result, reached
