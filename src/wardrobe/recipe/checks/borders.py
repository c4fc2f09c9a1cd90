"""Parts that cannot be told from each other along their border."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.apart import colours_apart, least_told, lightness_apart
from wardrobe.core.looks.vision import VISIONS
from wardrobe.core.shades.steps import SPANS
from wardrobe.recipe.checks.finding import Desk, Found, Noticed
from wardrobe.recipe.checks.seen import (
    EDGE,
    AcrossBorders,
    across,
    box_around,
    dots,
    ids_of,
    view_of,
)
from wardrobe.recipe.document.model import Recipe, ground_rows, lineage
from wardrobe.recipe.stages.stage import Get, Stage

Float = NDArray[np.float64]

ALIKE = SPANS["shade"].faint  # two flats must differ more than a shade does from its base
CONFUSED = 4.0  # CIEDE2000 under a deficiency: close to one and the same
SAME_VALUE = 3.0  # L*
CLOSE_HUES = 14.0  # CIEDE2000: beyond it two parts are told apart by colour alone
LEAST_SHARE = 0.08  # of the border of the smaller part: less does not matter
_MERGED, _SOME = 0.35, 0.1  # of a border


@dataclass(frozen=True)
class Pair:
    """A border between two parts of the figure."""

    one: int
    other: int
    share: float
    at: NDArray[np.intp]
    bases: Float  # what most of the two is, sRGB 0..1

    def merges(self, merged: NDArray[np.bool_], bases: bool) -> bool:
        """Whether it is lost: along much of it, or along some where the bases are alike, too.
        Shade that happens to fall on one side holds two parts apart only there."""
        return bool(np.mean(merged) >= (_SOME if bases else _MERGED))


@dataclass(frozen=True, eq=False)
class Pairs(Stage[tuple[Pair, ...]]):
    """Borders that matter.

    ``kin`` are rows that belong together on purpose.
    """

    across: AcrossBorders
    count: int
    around: frozenset[int]
    kin: frozenset[frozenset[int]]

    def make(self, get: Get) -> tuple[Pair, ...]:
        borders, count = get(self.across), self.count
        lengths = np.bincount(borders.one, minlength=count) + \
            np.bincount(borders.other, minlength=count)
        codes = borders.one * count + borders.other
        order = np.argsort(codes, kind="stable")
        starts = np.flatnonzero(np.diff(codes[order], prepend=-1))
        seen, found = get(self.across.seen), []
        middles: dict[int, Float] = {}
        for at in np.split(order, starts[1:]) if len(order) else []:
            one, other = int(borders.one[at[0]]), int(borders.other[at[0]])
            share = len(at) / max(1, min(lengths[one], lengths[other]))
            if share >= LEAST_SHARE and not {one, other} & self.around \
                    and frozenset((one, other)) not in self.kin:
                for row in {one, other} - middles.keys():
                    middles[row] = np.median(seen.bare[seen.parts == row], axis=0) / 255
                found.append(Pair(one, other, share, at,
                                  np.array([middles[one], middles[other]])))
        return tuple(found)


@dataclass(frozen=True, eq=False)
class OfBorders(Stage[Found]):
    """A check of borders between parts."""

    pairs: Pairs
    ids: tuple[str, ...]
    scale: float

    def noticed(self, get: Get, pair: Pair, measured: float, weight: float, words: str,
                merged: NDArray[np.bool_]) -> Noticed:
        """What was noticed of a pair; ``merged`` are the places of it that are shown."""
        borders = get(self.pairs.across)
        at = pair.at[merged]
        x, y = borders.x[at].astype(float), borders.y[at].astype(float)
        return Noticed("border", (self.ids[pair.one], self.ids[pair.other]), round(measured, 1),
                       words, round(weight, 3), box_around(x, y, self.scale),
                       dots(x, y, self.scale))


class RunTogether(OfBorders):
    """Parts that look alike along much of their border, light and shade included."""

    def make(self, get: Get) -> Found:
        borders, found = get(self.pairs.across), []
        for pair in get(self.pairs):
            step = borders.step[pair.at]
            merged = step < ALIKE
            if pair.merges(merged, bool(colours_apart(*pair.bases) < ALIKE)):
                middle = float(np.median(step[merged]))
                found.append(self.noticed(
                    get, pair, middle,
                    pair.share * float(np.mean(merged)) * (1 - middle / ALIKE / 2),
                    f"{{0}} and {{1}} are {middle:.1f} ΔE apart along "
                    f"{100 * np.mean(merged):.0f} % of their border.", merged))
        return Found.of(found)


class SameValue(OfBorders):
    """Parts of one value and of colours that are not far apart."""

    def make(self, get: Get) -> Found:
        borders, found = get(self.pairs.across), []
        for pair in get(self.pairs):
            step, light = borders.step[pair.at], np.abs(borders.lightness[pair.at])
            merged = (light < SAME_VALUE) & (step >= ALIKE) & (step < CLOSE_HUES)
            bases = float(lightness_apart(*pair.bases)) < SAME_VALUE \
                and ALIKE <= float(colours_apart(*pair.bases)) < CLOSE_HUES
            if pair.share >= 2 * LEAST_SHARE and pair.merges(merged, bases):
                apart = float(np.median(light[merged]))
                found.append(self.noticed(
                    get, pair, apart, 0.5 * pair.share * (1 - apart / SAME_VALUE / 2),
                    f"{{0}} and {{1}} differ by {apart:.1f} L* and "
                    f"{np.median(step[merged]):.1f} ΔE along {100 * np.mean(merged):.0f} % of "
                    "their border: in grey they are one.", merged))
        return Found.of(found)


class Confused(OfBorders):
    """Parts that people with a colour-vision deficiency cannot tell apart."""

    def make(self, get: Get) -> Found:
        borders, found = get(self.pairs.across), []
        for pair in get(self.pairs):
            if pair.share < 2 * LEAST_SHARE:
                continue
            told = borders.step[pair.at] >= ALIKE
            merged = {key: told & (seen[pair.at] < CONFUSED)
                      for key, seen in borders.seen_with.items()}
            key = max(merged, key=lambda k: int(np.count_nonzero(merged[k])))
            bases = float(least_told(*pair.bases)) < CONFUSED \
                and float(colours_apart(*pair.bases)) >= ALIKE
            if pair.merges(merged[key], bases):
                middle = float(np.median(borders.seen_with[key][pair.at][merged[key]]))
                found.append(self.noticed(
                    get, pair, middle, 0.4 * pair.share,
                    f"{{0}} and {{1}} are {middle:.1f} ΔE apart for people "
                    f"{VISIONS[key].label} ({VISIONS[key].share}).", merged[key]))
        return Found.of(found)


def pairs_of(desk: Desk) -> Pairs:
    """The borders of a piece that matter."""
    return Pairs(across(desk), len(desk.recipe.parts) + 1, ground_rows(desk.recipe.parts),
                 _kin(desk.recipe))


def of_borders(kind: type[OfBorders]) -> Callable[[Desk], Stage[Found]]:
    return lambda desk: kind(pairs_of(desk), ids_of(desk.recipe), view_of(desk, EDGE).scale)


def _kin(recipe: Recipe) -> frozenset[frozenset[int]]:
    """Rows of parts that are of one colour on purpose: what belongs to another, or is called by
    the same last word."""
    rows = list(enumerate(recipe.parts, start=1))
    lines = {p.id: lineage(recipe.parts, p.id) for p in recipe.parts}
    found = set()
    for a, one in rows:
        for b, other in rows[a:]:
            same = one.name.casefold().split()[-1:] == other.name.casefold().split()[-1:] \
                and not one.name.split()[-1:][0].isdigit()
            if same or other.id in lines[one.id] or one.id in lines[other.id]:
                found.add(frozenset((a, b)))
    return frozenset(found)
