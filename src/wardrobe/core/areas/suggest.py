"""Group areas into likely parts, as a proposal."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import touching
from wardrobe.core.areas.segment import Areas

Floats = NDArray[np.float64]

MAX_PARTS = 14
_THIN = 0.6  # of the line's width: lines inside a part are drawn thinner than its outline
_ENCLOSED = 0.85
_SMALL = 0.012  # share of the figure below which shapes that are alike are repeats
_FEWEST_REPEATS = 3
_ALIKE_SIZE, _ALIKE_SHAPE = 0.72, 0.16
_OFF_AXIS, _OFF_LEVEL = 0.05, 0.05  # of the figure's width and height


def group_areas(areas: Areas, smallest: float = _SMALL) -> list[NDArray[np.int64]]:
    """Areas that likely are one part.

    Areas with only a thin line between them, mirror images on both sides of the figure, and
    small shapes that repeat are one group. Large groups and repeats lead; every other joins the
    neighbour with the longest common border.

    Parameters
    ----------
    areas : Areas
    smallest : float, 0..1
        Share of the figure from which a group leads; at most MAX_PARTS lead.

    Returns
    -------
    list of ndarray of int64
        Area numbers of each group, the largest group first.
    """
    figure = np.flatnonzero(~areas.ground)[1:]
    if len(figure) == 0:
        return []
    shapes = _shapes(areas)
    parent = np.arange(areas.count + 1)
    repeats = _repeats(areas, figure, shapes)
    for one, other in [*_thinly_parted(areas), *_mirrored(areas, figure, shapes), *repeats]:
        parent[_root(parent, one)] = _root(parent, other)
    roots = np.array([_root(parent, int(a)) for a in range(areas.count + 1)])
    sizes = np.bincount(roots[figure], areas.pixels[figure], areas.count + 1)
    total = sizes.sum()
    repeated = {int(roots[a]) for pair in repeats for a in pair}
    ranked = [int(r) for r in np.argsort(-sizes, kind="stable") if sizes[r] > 0]
    leaders = [r for k, r in enumerate(ranked)
               if k == 0 or sizes[r] >= smallest * total or r in repeated][:MAX_PARTS]
    group = np.zeros(areas.count + 1, np.int64)
    for number, root in enumerate(leaders, start=1):
        group[figure[roots[figure] == root]] = number
    _join_neighbours(areas, [int(a) for r in ranked for a in figure[roots[figure] == r]], group)
    return [np.flatnonzero(group == k) for k in range(1, len(leaders) + 1)]


def _join_neighbours(areas: Areas, ranked: list[int], group: NDArray[np.int64]) -> None:
    step = max(1, max(areas.labels.shape) // 1600)
    pairs, lengths = touching(areas.labels[::step, ::step], areas.count)
    neighbours: dict[int, list[tuple[int, int]]] = {}
    for (a, b), length in zip(pairs.tolist(), lengths.tolist(), strict=True):
        neighbours.setdefault(a, []).append((length, b))
        neighbours.setdefault(b, []).append((length, a))
    waiting = [a for a in ranked if group[a] == 0]
    while waiting:
        left = []
        for area in waiting:
            joined = [(length, group[b]) for length, b in neighbours.get(area, []) if group[b]]
            if joined:
                group[area] = max(joined)[1]
            else:
                left.append(area)
        if len(left) == len(waiting):  # islands that touch only the ground
            group[left] = 1
            break
        waiting = left


def _root(parent: NDArray[np.int64], area: int) -> int:
    while parent[area] != area:
        parent[area] = parent[parent[area]]
        area = int(parent[area])
    return area


def _thinly_parted(areas: Areas) -> list[tuple[int, int]]:
    """Pairs whose common line is much thinner than lines are, over most of its length.

    What lies wholly inside another, as a button does, is a thing of its own however it is drawn.
    """
    depth = cv2.distanceTransform((~areas.core).astype(np.uint8), cv2.DIST_L2, 3)
    thick = depth > _THIN * areas.line_width / 2 + 0.5
    pairs, lengths = touching(areas.labels, areas.count)
    perimeter = np.bincount(pairs.ravel(), np.repeat(lengths, 2), areas.count + 1)
    on_thick = {tuple(pair): length for pair, length in zip(
        *(v.tolist() for v in touching(areas.labels, areas.count, thick)), strict=True)}
    return [(one, other) for (one, other), length in zip(pairs.tolist(), lengths.tolist(),
                                                         strict=True)
            if 3 * areas.line_width < length < _ENCLOSED * min(perimeter[one], perimeter[other])
            and on_thick.get((one, other), 0) < 0.3 * length
            and not areas.ground[one] and not areas.ground[other]]


def _shapes(areas: Areas) -> Floats:
    """Centre x, y, and normalised second moments xx, yy, xy of each area, shape (count + 1, 5)."""
    step = max(1, max(areas.labels.shape) // 900)
    small = areas.labels[::step, ::step]
    ys, xs = np.nonzero(small)
    names = small[ys, xs]
    count = areas.count + 1
    n = np.maximum(np.bincount(names, minlength=count), 1)
    cx, cy = (np.bincount(names, v, count) / n for v in (xs, ys))
    dx, dy = xs - cx[names], ys - cy[names]
    moments = [np.bincount(names, v, count) / n**2 for v in (dx * dx, dy * dy, dx * dy)]
    return np.stack([cx * step, cy * step, *moments], axis=1)


def _mirrored(areas: Areas, figure: NDArray[np.int64], shapes: Floats) -> list[tuple[int, int]]:
    """Pairs that mirror each other about the figure's upright middle."""
    weight = areas.pixels[figure].astype(np.float64)
    middle = float((shapes[figure, 0] * weight).sum() / weight.sum())
    height, width = areas.labels.shape
    found = []
    for k, one in enumerate(figure.tolist()):
        for other in figure[k + 1:].tolist():
            apart = abs(shapes[one, 0] - shapes[other, 0])
            if (_alike_size(areas, one, other)
                    and abs((shapes[one, 0] + shapes[other, 0]) / 2 - middle) < _OFF_AXIS * width
                    and apart > 2 * areas.line_width
                    and abs(shapes[one, 1] - shapes[other, 1]) < _OFF_LEVEL * height
                    and np.abs(shapes[one, 2:] - shapes[other, 2:] * [1, 1, -1]).max()
                    < _ALIKE_SHAPE * max(shapes[one, 2:4].max(), shapes[other, 2:4].max())):
                found.append((one, other))
    return found


def _repeats(areas: Areas, figure: NDArray[np.int64],
             shapes: Floats) -> list[tuple[int, int]]:
    """Small shapes of which there are several alike, each paired with the first of them."""
    small = figure[areas.pixels[figure] < _SMALL * areas.pixels[figure].sum()]
    found: list[tuple[int, int]] = []
    taken: set[int] = set()
    for one in small.tolist():
        if one in taken:
            continue
        alike = [o for o in small.tolist() if o not in taken and _alike_size(areas, one, o)
                 and np.abs(shapes[one, 2:] - shapes[o, 2:]).max()
                 < _ALIKE_SHAPE / 2 * shapes[one, 2:4].max()]
        if len(alike) >= _FEWEST_REPEATS:
            taken.update(alike)
            found += [(one, o) for o in alike if o != one]
    return found


def _alike_size(areas: Areas, one: int, other: int) -> bool:
    low, high = sorted((int(areas.pixels[one]), int(areas.pixels[other])))
    return low > _ALIKE_SIZE * high
