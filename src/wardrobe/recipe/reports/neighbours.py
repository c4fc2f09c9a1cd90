"""Parts that touch, and whether their bases can be told apart."""

from dataclasses import dataclass

import numpy as np

from wardrobe.core.areas.borders import touching
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.shades.steps import SPANS, TWO_COLOURS
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

EDGE = 1400  # px at which borders are measured
_LEAST_SHARE = 0.08  # of the border of the smaller part: less does not matter
# Two flats must differ more than a shade does from its base, or the border reads as a shadow.
COLOURS_ALIKE = SPANS["shade"].faint
VALUES_ALIKE = TWO_COLOURS  # L*; for greys CIEDE2000 is about the difference of L*


@dataclass(frozen=True)
class Neighbours:
    """Two parts that touch and look alike.

    Attributes
    ----------
    parts : (str, str)
        Ids, the one in front first.
    step : float
        CIEDE2000 of their bases.
    lightness : float
        Difference of L*, second minus first.
    share : float, 0..1
        Share of the shorter border that they have in common.
    mark : str
        ``colours alike`` or ``values alike``.
    weight : float, 0..1
        How much it matters: the share, times how far below the limit they are.
    """

    parts: tuple[str, str]
    step: float
    lightness: float
    share: float
    mark: str
    weight: float


def alike(deriver: Deriver, recipe: Recipe) -> list[Neighbours]:
    """Pairs of parts that are too alike, those that matter most first."""
    if len(recipe.parts) < 2:
        return []
    labels = deriver.sampled(recipe, View.whole(*recipe.size, EDGE)).labels
    pairs, lengths = touching(deriver.shown(recipe)[labels], len(recipe.parts))
    around = np.zeros(len(recipe.parts) + 1)
    np.add.at(around, pairs.ravel(), np.repeat(lengths, 2))
    labs = srgb_to_lab(np.array([from_hex(p.base) for p in recipe.parts]) / 255)
    found = []
    for (a, b), length in zip(pairs.tolist(), lengths.tolist(), strict=True):
        share = length / min(around[a], around[b])
        if a == 0 or share < _LEAST_SHARE:
            continue
        step = float(delta_e_2000(labs[a - 1], labs[b - 1]))
        lightness = float(labs[b - 1, 0] - labs[a - 1, 0])
        if step < COLOURS_ALIKE:
            mark, weight = "colours alike", share * (1 - step / COLOURS_ALIKE / 2)
        elif abs(lightness) < VALUES_ALIKE:
            mark, weight = "values alike", share * (1 - abs(lightness) / VALUES_ALIKE) / 2
        else:
            continue
        found.append(Neighbours((recipe.parts[a - 1].id, recipe.parts[b - 1].id), round(step, 2),
                                round(lightness, 2), round(share, 3), mark, round(weight, 4)))
    return sorted(found, key=lambda n: -n.weight)
