"""How the looks of a piece compare: how far apart, on which ground, for whose eyes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import touching
from wardrobe.core.colour import from_hex
from wardrobe.core.looks.compare import DISTINCT, distances_seen_with, look_distances, stands_out
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.picture import PartsSeen
from wardrobe.recipe.stages.stage import Get, Stage

EDGE = 900  # px at which areas and borders are measured
_LEAST_SHARE = 0.08  # of the border of the smaller part: less does not matter
FIRST_NAME = "The piece"


@dataclass(frozen=True, eq=False)
class Measured:
    """Sizes and borders of the parts.

    Attributes
    ----------
    areas, outline : ndarray of float64, shape (parts,)
        Share of the figure, and of the border with the ground.
    pairs : ndarray of int64, shape (n, 2)
        Parts that touch along a border that matters, from 0.
    """

    areas: NDArray[np.float64]
    outline: NDArray[np.float64]
    pairs: NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class MeasuredParts(Stage[Measured]):
    """Sizes and borders of the parts, as they are seen in a view."""

    parts: PartsSeen
    count: int

    def make(self, get: Get) -> Measured:
        labels, count = get(self.parts), self.count
        pairs, lengths = touching(labels, count)
        around = np.zeros(count + 1)
        np.add.at(around, pairs.ravel(), np.repeat(lengths, 2))
        matter = (pairs[:, 0] > 0) & (lengths >= _LEAST_SHARE * around[pairs].min(axis=1))
        outline = np.zeros(count)
        edge = pairs[:, 0] == 0
        outline[pairs[edge, 1] - 1] = lengths[edge]
        areas = np.bincount(labels.ravel(), minlength=count + 1)[1:count + 1]
        return Measured(areas / max(1, areas.sum()), outline / max(1.0, outline.sum()),
                        pairs[matter] - 1)


def measure(deriver: Deriver, recipe: Recipe) -> Measured:
    """Measure the parts of a piece; looks share it."""
    view = View.whole(*recipe.size, EDGE)
    return deriver.store(MeasuredParts(deriver.stages(recipe).figure_seen(view),
                                       len(recipe.parts)))


@dataclass(frozen=True)
class LookLine:
    """A look on the rail.

    Attributes
    ----------
    id, name : str
        ``piece`` for the piece itself.
    retired : bool
    bases : dict of str to str
        All base colours, by part.
    changed : list of str
        Parts that differ from the piece.
    more : list of str
        What else differs: background, light, method, lines, finish.
    nearest : str or None
        Id of the look that it is most like, of those that are finished alike.
    apart : float or None
        Area-weighted CIEDE2000 to that one.
    seen_with : dict of str to float
        The same by colour-vision deficiency.
    on_light, on_dark : float
        Mean difference of L* along the outline.
    """

    id: str
    name: str
    retired: bool
    bases: dict[str, str]
    changed: list[str]
    more: list[str]
    nearest: str | None
    apart: float | None
    seen_with: dict[str, float]
    on_light: float
    on_dark: float


@dataclass(frozen=True)
class LookReport:
    """The looks in their order, the piece first, and from which distance they are distinct.

    Attributes
    ----------
    areas : dict of str to float
        Share of the figure, by part.
    """

    looks: list[LookLine]
    areas: dict[str, float]
    distinct: float


def report_looks(deriver: Deriver, recipe: Recipe) -> LookReport:
    """Compare all looks; those that are retired are listed, but not compared with."""
    measured = measure(deriver, recipe)
    wearers = [(PIECE, FIRST_NAME, False, recipe),
               *((k.id, k.name, k.retired, deriver.worn(recipe, k)) for k in recipe.looks)]
    bases = np.array([[from_hex(p.base) for p in w.parts] for *_, w in wearers],
                     np.float64).reshape(len(wearers), len(recipe.parts), 3) / 255
    away = look_distances(bases, measured.areas)
    others = distances_seen_with(bases, measured.areas)
    found = []
    for k, (look_id, name, retired, shown) in enumerate(wearers):
        # What is finished in another way is told apart by that.
        rest = [j for j, w in enumerate(wearers)
                if j != k and not w[2] and w[3].finish == shown.finish]
        near = min(rest, key=lambda j: away[k, j]) if rest else None
        light, dark = stands_out(bases[k], measured.outline)
        found.append(LookLine(
            look_id, name, retired, {p.id: p.base for p in shown.parts},
            [p.id for p, own in zip(shown.parts, recipe.parts, strict=True) if p.base != own.base],
            [what for what, differs in (
                ("background", shown.background != recipe.background),
                ("light", shown.light != recipe.light),
                ("method", shown.passes != recipe.passes),
                ("lines", shown.ink != recipe.ink),
                ("finish", shown.finish != recipe.finish)) if differs],
            None if near is None else wearers[near][0],
            None if near is None else round(float(away[k, near]), 1),
            {} if near is None else {key: round(float(min(d[k, j] for j in rest)), 1)
                                     for key, d in others.items()},
            round(light, 1), round(dark, 1)))
    return LookReport(found, {p.id: round(float(a), 4) for p, a in zip(
        recipe.parts, measured.areas, strict=True)}, DISTINCT)
