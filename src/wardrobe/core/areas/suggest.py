"""Group areas into a first set of parts, so that a new piece can be seen in colour at once."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas

MAX_PARTS = 14


def group_areas(areas: Areas, smallest: float = 0.012) -> list[NDArray[np.int64]]:
    """The large areas lead; each small one joins the neighbour with the longest common border.

    Parameters
    ----------
    areas : Areas
    smallest : float, 0..1
        Share of the figure from which an area leads a group; at most MAX_PARTS lead.

    Returns
    -------
    list of ndarray of int64
        Area numbers of each group, the largest group's leader first.
    """
    figure = np.flatnonzero(~areas.ground)[1:]
    if len(figure) == 0:
        return []
    sizes = areas.pixels.astype(np.float64)
    ranked = figure[np.argsort(-sizes[figure], kind="stable")]
    least = smallest * sizes[figure].sum()
    leaders = [a for k, a in enumerate(ranked[:MAX_PARTS]) if k == 0 or sizes[a] >= least]
    group = np.zeros(areas.count + 1, np.int64)
    group[leaders] = np.arange(1, len(leaders) + 1)

    pairs, lengths = _neighbours(areas)
    neighbours: dict[int, list[tuple[int, int]]] = {}
    for (a, b), length in zip(pairs.tolist(), lengths.tolist(), strict=True):
        neighbours.setdefault(a, []).append((length, b))
        neighbours.setdefault(b, []).append((length, a))
    waiting = [int(a) for a in ranked if group[a] == 0]
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
    return [np.flatnonzero(group == k) for k in range(1, len(leaders) + 1)]


def _neighbours(areas: Areas) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Pairs of touching areas (a < b) and the length of their common border."""
    step = max(1, max(areas.labels.shape) // 1600)
    small = areas.labels[::step, ::step].astype(np.int64)
    codes = []
    for one, other in ((small[:, 1:], small[:, :-1]), (small[1:], small[:-1])):
        meet = one != other
        low, high = np.minimum(one[meet], other[meet]), np.maximum(one[meet], other[meet])
        codes.append(low * (areas.count + 1) + high)
    pairs, counts = np.unique(np.concatenate(codes), return_counts=True)
    return np.stack(np.divmod(pairs, areas.count + 1), axis=1), counts
