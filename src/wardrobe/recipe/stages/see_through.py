"""What shows through parts that are not opaque: the picture without them, laid over them."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.passes.layers import Over
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.model import Recipe, hidden
from wardrobe.recipe.stages.cut import Assigned, Cut
from wardrobe.recipe.stages.finish_shapes import PassPlane
from wardrobe.recipe.stages.lines import Byte, pick
from wardrobe.recipe.stages.picture import PartsSeen, Picture
from wardrobe.recipe.stages.stage import Get, Stage

Labels = NDArray[np.uint16]

BEHIND = "behind"  # name of the image of what shows through
UNLIT = "unlit"  # and of the plane of where it does
LIGHTS = tuple(key for key, found in PASSES.items() if found.lit)


def see_through(recipe: Recipe) -> tuple[int, ...]:
    """Rows of the parts that something shows through."""
    out_of_sight = hidden(recipe.parts)
    return tuple(row for row, p in enumerate(recipe.parts, start=1)
                 if p.see_through and p.id not in out_of_sight)


def without_them(recipe: Recipe) -> Recipe:
    """The piece without the parts that something shows through: their areas are of what lies
    behind them, and of what finishes it only what lies on the ground is left."""
    to = _last_behind(recipe)
    parts = tuple(p.model_copy(update={
        "opacity": 1.0, "behind": None, "visible": p.visible and to.get(p.id, p.id) is not None})
        for p in recipe.parts)
    claims = tuple(c.model_copy(update={"to": to.get(c.to) or c.to}) for c in recipe.claims)
    return recipe.model_copy(update={
        "parts": parts, "claims": claims,
        "finish": tuple(f for f in recipe.finish if f.scope == "ground")})


def before_ground(recipe: Recipe) -> tuple[int, ...]:
    """Rows of the parts that the ground shows through."""
    to = _last_behind(recipe)
    return tuple(row for row in see_through(recipe) if to[recipe.parts[row - 1].id] is None)


def _last_behind(recipe: Recipe) -> dict[str, str | None]:
    """What is seen through each part that is not opaque, if all of them are taken away; None for
    the ground, which is behind parts that are behind each other, too."""
    behind = {p.id: p.behind for p in recipe.parts if p.see_through}

    def last(part: str) -> str | None:
        passed, at = {part}, behind[part]
        while at in behind and at not in passed:
            passed.add(at)
            at = behind[at]
        return None if at in passed else at

    return {part: last(part) for part in behind}


def shown_through(recipe: Recipe, unlit: bool = True) -> tuple[Over, ...]:
    """What shows through, as layers over the parts; everywhere, or only where they are not lit."""
    return tuple(Over(recipe.parts[row - 1].name, BEHIND, BEHIND,
                      strength=1 - recipe.parts[row - 1].opacity, soft=UNLIT if unlit else None,
                      rows=frozenset([row])) for row in see_through(recipe))


def opaque(rgb: Byte) -> Byte:
    """A picture as an image that a layer may name."""
    return np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])


@dataclass(frozen=True, eq=False)
class GroundBelow(Stage[Labels], keep="on disk"):
    """The ground goes on under parts as it is nearest to them: the row of each of their pixels,
    at full size; 0 elsewhere.

    Attributes
    ----------
    rows, around : tuple of int
        Those parts; and what lies around the figure.
    """

    areas: Cut
    assigned: Assigned
    rows: tuple[int, ...]
    around: tuple[int, ...]

    def make(self, get: Get) -> Labels:
        assigned, labels = get(self.assigned), get(self.areas).labels
        row_of_area = assigned.painted
        ground = (np.isin(row_of_area, self.around) & assigned.ground)[labels]
        parts = row_of_area[labels]
        _, nearest = cv2.distanceTransformWithLabels((~ground).view(np.uint8), cv2.DIST_L2, 5,
                                                     labelType=cv2.DIST_LABEL_PIXEL)
        table = np.zeros(int(nearest.max()) + 1, np.uint16)
        table[nearest[ground]] = parts[ground]
        return np.where(np.isin(parts, self.rows), table[nearest], np.uint16(0))


@dataclass(frozen=True, eq=False)
class PartsWithout(PartsSeen):
    """Row of the part of every pixel of a view, the ground's where it shows through parts."""

    below: GroundBelow

    def make(self, get: Get) -> Labels:
        rows = super().make(get)
        below = pick(get(self.below), self.sample.view)
        return np.where(below > 0, below, rows)


@dataclass(frozen=True, eq=False)
class ImageBehind(Stage[Byte], keep="nowhere"):
    """The picture of what shows through, opaque."""

    picture: Picture

    def make(self, get: Get) -> Byte:
        return opaque(get(self.picture))


@dataclass(frozen=True, eq=False)
class Unlit(Stage[Byte], keep="nowhere"):
    """Where a part is not lit: its lights lie over what shows through."""

    lights: tuple[PassPlane, ...]

    def make(self, get: Get) -> Byte:
        lit = get(self.lights[0])
        for light in self.lights[1:]:
            lit = np.maximum(lit, get(light))
        return np.uint8(255) - lit
