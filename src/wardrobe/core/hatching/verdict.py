"""Which strokes bound nothing."""

from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.graph import StrokeGraph
from wardrobe.core.kernel import kernel
from wardrobe.core.trees import Trees, load_trees

Int = NDArray[np.int32]
Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

TREES = Path(__file__).with_name("verdict.npz")
LIKELY = 0.8  # from this chance on, a segment is taken for hatching
_WHOLE = 0.5  # how much of a verdict is its whole stroke's
_DOUBT, _LOOSE = 0.4, 12.0  # what dangles then, is this likely and this short (line widths)


@lru_cache(maxsize=1)
def _trees() -> list[Trees]:
    return load_trees(TREES)


def chances(graph: StrokeGraph, features: Floats) -> Floats:
    """How likely each segment is to bound nothing.

    The first look is at the segment alone, the second also at what the rest of its stroke, its
    parallels, its cells and its neighbours were thought to be.

    Parameters
    ----------
    graph : StrokeGraph
    features : ndarray of float64, shape (count + 1, len(FEATURES))

    Returns
    -------
    ndarray of float64, shape (count + 1,), 0..1
    """
    first, again = _trees()
    chance: Floats = first.chance(features) * graph.live
    chance = again.chance(np.hstack([features, company(graph, chance)])) * graph.live
    return chance


def company(graph: StrokeGraph, chance: Floats) -> Floats:
    """What a segment's own verdict was, and that of its stroke, its parallels, its cells (the
    likelier and the less likely) and its neighbours; how wide it and its stroke are against what
    was thought hatching, and how much of the drawing that is; shape (count + 1, 9)."""
    rows = graph.count + 1
    weight = graph.sizes.length * graph.live
    stroke = _mean(graph.meeting.stroke, chance, weight, rows)[graph.meeting.stroke]
    one, other = graph.around.pairs.T
    parallels = _mean(one, chance[other], np.ones(len(one)), rows)
    sides = graph.around.cells
    cell = _mean(sides.T.ravel(), np.tile(chance, 2), np.tile(weight, 2), len(graph.cell_pixels))
    node = graph.segments.ends * graph.live[:, None]
    nodes = int(node.max(initial=0)) + 1
    total = np.bincount(node.ravel(), (np.repeat(chance, 2) * (node.ravel() > 0)), nodes)
    number = np.bincount(node.ravel(), minlength=nodes)
    rest = (total[node] - chance[:, None]) / np.maximum(number[node] - 1, 1) * (node > 0)
    neighbours = rest.sum(axis=1) / np.maximum((node > 0).sum(axis=1), 1)
    usual = _weighted_median(graph.sizes.width, chance * weight)
    whole = _mean(graph.meeting.stroke, graph.sizes.width, weight, rows)[graph.meeting.stroke]
    much = np.full(rows, (chance * weight).sum() / max(1e-9, float(weight.sum())))
    return np.column_stack([chance, stroke, parallels, cell[sides].max(axis=1),
                            cell[sides].min(axis=1), neighbours, graph.sizes.width / usual,
                            whole / usual, much])


def _weighted_median(value: Floats, weight: Floats) -> float:
    order = np.argsort(value)
    total = np.cumsum(weight[order])
    return max(1.0, float(value[order[np.searchsorted(total, total[-1] / 2)]]))


def _mean(key: Int, value: Floats, weight: Floats, size: int) -> Floats:
    return np.bincount(key, value * weight, size) / np.maximum(
        np.bincount(key, weight, size), 1e-9)


def kept(graph: StrokeGraph, chance: Floats) -> Mask:
    """The segments that bound areas; what dangles without the others goes with them.

    Returns
    -------
    ndarray of bool, shape (count + 1,)
    """
    whole = _mean(graph.meeting.stroke, chance, graph.sizes.length * graph.live, graph.count + 1)
    chance = (1 - _WHOLE) * chance + _WHOLE * whole[graph.meeting.stroke]
    keep = graph.live & (chance < LIKELY)
    if not (graph.live & ~keep).any():
        return keep
    _prune(graph.segments.ends, graph.live, keep, chance, graph.sizes.length, _DOUBT,
           _LOOSE * graph.line_width)
    return keep


@kernel
def _prune(ends: Int, live: Mask, keep: Mask, chance: Floats, length: Floats, least: float,
           longest: float) -> None:
    """Take away doubtful short strokes that dangle once hatching is gone."""
    degree = np.zeros(ends.max() + 1, np.int64)
    for s in range(1, len(keep)):
        if live[s] and keep[s]:
            degree[ends[s, 0]] += 1
            degree[ends[s, 1]] += 1
    again = True
    while again:
        again = False
        for s in range(1, len(keep)):
            if live[s] and keep[s] and chance[s] > least and length[s] < longest:
                a, b = ends[s, 0], ends[s, 1]
                if (a and degree[a] == 1) or (b and degree[b] == 1) or (a == 0 and b == 0):
                    keep[s] = False
                    degree[a] -= 1
                    degree[b] -= 1
                    again = True
