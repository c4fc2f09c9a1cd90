"""Group areas into likely parts, as a proposal."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.kinship import Measures, kinship, measure_areas
from wardrobe.core.areas.segment import Areas

Floats = NDArray[np.float64]
Int = NDArray[np.int64]

MAX_PARTS = 14
_EVEN = 0.0  # mean log odds from which groups are one
_MOST = 160  # areas that are compared, the largest; smaller ones join a neighbour
_SMALL = 0.004  # share of the figure below which a group of one joins a neighbour
_THINLY, _FOLDED = 0.7, 0.95  # share of a border that is a thin line; what is then likely
_APART = 0.8  # log odds against areas that neither touch nor are alike
_ALIKE_SIZE, _ALIKE_SHAPE = 0.72, 0.16
_OFF_AXIS, _OFF_LEVEL = 0.05, 0.05  # of the picture's width and height
_ENCLOSED = 0.85


@dataclass(frozen=True)
class Join:
    """Why areas are together, and how they would come apart.

    Attributes
    ----------
    reason : str
        In words.
    halves : (ndarray of int64, ndarray of int64)
        The two groups that are least like one; the larger first.
    """

    reason: str
    halves: tuple[Int, Int]


def explain_groups(areas: Areas, groups: Sequence[Int]) -> list[Join | None]:
    """Why the areas of each group are together; None for a group of one.

    Parameters
    ----------
    areas : Areas
    groups : sequence of ndarray of int64
        Numbers of areas of the figure.
    """
    measures = measure_areas(areas)
    found: list[Join | None] = []
    for members in groups:
        if len(members) < 2:
            found.append(None)
            continue
        ranked = members[np.argsort(-areas.pixels[members], kind="stable")]
        compared = ranked[:_MOST]
        group = _average_linkage(_kin(areas, measures, compared), measures.share[compared],
                                 floor=np.inf, most=2)
        sides = [compared[group == g] for g in np.unique(group)]
        _adopt_rest(sides, ranked[_MOST:], measures)
        sides.sort(key=lambda side: -float(areas.pixels[side].sum()))
        found.append(Join(_reason(areas, measures, members), (sides[0], sides[1])))
    return found


def group_areas(areas: Areas) -> list[Int]:
    """Areas that likely are one part.

    Areas join by how likely two of them have one colour: the likeliest groups first, as long as
    the mean over their pairs is more likely than not. What is too small to be a part of its own
    joins the neighbour that it is likeliest one with.

    Parameters
    ----------
    areas : Areas

    Returns
    -------
    list of ndarray of int64
        Numbers of areas; the largest group first, at most MAX_PARTS.

    References
    ----------
    R. Sokal, C. Michener, "A statistical method for evaluating systematic relationships",
    University of Kansas Science Bulletin 38, 1958: average linkage.
    """
    measures = measure_areas(areas)
    figure = measures.figure
    if len(figure) == 0:
        return []
    ranked = figure[np.argsort(-areas.pixels[figure], kind="stable")]
    compared = ranked[:_MOST]
    kin = _kin(areas, measures, compared)
    group = _average_linkage(kin, measures.share[compared])
    group = _without_crumbs(group, kin, measures, compared)
    members = [compared[group == g] for g in np.unique(group)]
    _adopt_rest(members, ranked[_MOST:], measures)
    members.sort(key=lambda m: -float(measures.share[m].sum()))
    return [np.sort(m) for m in members]


def _kin(areas: Areas, measures: Measures, compared: Int) -> Floats:
    """Kinship of all pairs, as log odds."""
    one, other = np.triu_indices(len(compared), 1)
    odds = np.zeros((len(compared),) * 2)
    if len(one):
        a, b = compared[one], compared[other]
        p = np.clip(kinship(areas, measures, a, b), 0.01, 0.99)
        touch = measures.contact[a, b]
        perimeter = np.maximum(measures.contact.sum(axis=1), 1)
        # The drawings it was learned on have one width of line; others fold cloth with thin ones.
        within = touch > _ENCLOSED * np.minimum(perimeter[a], perimeter[b])
        folded = (touch > 3 * areas.line_width) & (measures.thin[a, b] > _THINLY) & ~within
        p = np.where(folded, np.maximum(p, _FOLDED), p)
        size = np.minimum(areas.pixels[a], areas.pixels[b]) / np.maximum(areas.pixels[a],
                                                                       areas.pixels[b])
        apart = (touch == 0) & (size < _ALIKE_SIZE)
        odds[one, other] = odds[other, one] = np.log(p / (1 - p)) - _APART * apart
    return odds


def _average_linkage(odds: Floats, share: Floats, floor: float = _EVEN,
                     most: int = MAX_PARTS) -> Int:
    """Group of each area: joined while the mean of the log odds is above a floor, and then until
    there are few enough."""
    count = len(share)
    group = np.arange(count)
    weight = np.sqrt(share)  # small areas count, but for less
    total, pairs = odds * np.outer(weight, weight), np.outer(weight, weight)
    alive = np.ones(count, bool)
    mean = np.where(pairs > 0, total / np.maximum(pairs, 1e-12), 0)
    np.fill_diagonal(mean, -np.inf)
    while alive.sum() > 1:
        k = int(mean.argmax())
        a, b = divmod(k, count)
        if alive.sum() <= most and mean[a, b] <= floor:
            break
        total[a] += total[b]
        total[:, a] += total[:, b]
        pairs[a] += pairs[b]
        pairs[:, a] += pairs[:, b]
        alive[b] = False
        group[group == group[b]] = group[a]
        mean[a] = total[a] / np.maximum(pairs[a], 1e-12)
        mean[a, ~alive] = -np.inf
        mean[a, a] = -np.inf
        mean[:, a] = mean[a]
        mean[b], mean[:, b] = -np.inf, -np.inf
    return group


def _without_crumbs(group: Int, odds: Floats, measures: Measures, compared: Int) -> Int:
    """A group of one that is too small to be a part joins the neighbour it is likeliest with."""
    group = group.copy()
    for k in range(len(compared) - 1, 0, -1):
        alone = (group == group[k]).sum() == 1
        if not alone or measures.share[compared[k]] >= _SMALL:
            continue
        beside = np.flatnonzero(measures.contact[compared[k], compared] > 0)
        beside = beside[beside != k]
        if len(beside):
            group[k] = group[beside[odds[k, beside].argmax()]]
    return group


def _adopt_rest(members: list[Int], rest: Int, measures: Measures) -> None:
    """Areas that were not compared go to the group with most of their border."""
    owner = np.full(len(measures.share), -1)
    for number, m in enumerate(members):
        owner[m] = number
    added: dict[int, list[int]] = {}
    for area in rest.tolist():
        border = np.bincount(owner[owner >= 0], measures.contact[area][owner >= 0], len(members))
        number = int(border.argmax()) if border.any() else 0
        owner[area] = number
        added.setdefault(number, []).append(area)
    for number, more in added.items():
        members[number] = np.concatenate([members[number], np.array(more, np.int64)])


def _reason(areas: Areas, measures: Measures, members: Int) -> str:
    """Why areas are together, by what most of them have in common."""
    if len(members) == 1:
        return ""
    one, other = (members[k] for k in np.triu_indices(len(members), 1))
    m = measures
    low = np.minimum(areas.pixels[one], areas.pixels[other])
    alike = low > _ALIKE_SIZE * np.maximum(areas.pixels[one], areas.pixels[other])
    most = np.maximum(np.maximum(m.moments[one, :2].max(axis=1), m.moments[other, :2].max(axis=1)),
                      1e-6)
    same = alike & (np.abs(m.moments[one] - m.moments[other]).max(axis=1) < _ALIKE_SHAPE * most)
    weight = m.share[m.figure]
    middle = float((m.centre[m.figure, 0] * weight).sum() / weight.sum())
    height, width = areas.labels.shape
    flipped = np.abs(m.moments[one] - m.moments[other] * [1, 1, -1]).max(axis=1)
    mirror = (alike & (flipped < _ALIKE_SHAPE * most)
              & (np.abs((m.centre[one, 0] + m.centre[other, 0]) / 2 - middle) < _OFF_AXIS * width)
              & (np.abs(m.centre[one, 1] - m.centre[other, 1]) < _OFF_LEVEL * height))
    if mirror.any() and len(members) == 2:
        return "left and right alike"
    if same.sum() >= 3:
        return f"{len(members)} shapes, alike"
    touch = m.contact[one, other]
    perimeter = np.maximum(m.contact.sum(axis=1), 1)
    within = touch > _ENCLOSED * np.minimum(perimeter[one], perimeter[other])
    thin = (touch > 0) & (m.thin[one, other] > 0.7)
    if thin.any():
        return "only thin lines between"
    if within.any():
        return "one lies within the other"
    if (touch > 0).any():
        return "side by side"
    return "near each other"
