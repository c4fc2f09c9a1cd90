"""What form and light read of the parts."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import VOLUMES, Edge
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import RIM_WIDTH, KeyLight
from wardrobe.core.words.parts import USUAL_PLACE, Place, known_place, usual_role
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.stages.form import Bodies, Cover, Lamps, Order

Real = NDArray[np.float32]

_ON_PARENT = 0.3
_CODES = {name: code for code, name in enumerate(VOLUMES)}
_CLOSED = {"skin": 0.4}  # how far a form turns away at least where another covers its edge
_ANY_MATERIAL = "matte cloth"  # fills the ground's row, which takes no light


Places = list[Place | None]


def places_of(recipe: Recipe) -> Places:
    """What the names of the parts tell of where they lie."""
    return [known_place(p.name) for p in recipe.parts]


def bodies_of(recipe: Recipe, places: Places) -> Bodies:
    """What the form depends on."""
    parts = recipe.parts
    fold = np.array([0.0, *(MATERIALS[p.material].fold for p in parts)], np.float32)
    closed = np.array([0.0, *(_CLOSED.get(p.material, 0.0) for p in parts)], np.float32)
    volume = np.array([0, *(_CODES[p.form.volume] for p in parts)], np.uint8)
    group = np.where(volume == _CODES["folded"], np.arange(len(parts) + 1), 0).astype(np.uint16)
    edges = tuple(Edge(row, stroke) for row, p in enumerate(parts, start=1)
                  if p.form.volume == "folded" for stroke in p.form.edges)
    return Bodies(fold, closed, _told(recipe, places), volume, group, _kin(recipe), edges)


def covers_of(recipe: Recipe) -> tuple[Cover, ...]:
    """How each row of parts takes light."""
    return (Cover(_ANY_MATERIAL, None, 0.0, None), *(
        Cover(p.material, usual_role(p.name), p.form.soft, p.form.highlight, p.form.recedes)
        for p in recipe.parts))


def order_of(recipe: Recipe, places: Places) -> Order:
    """How far in front each part lies: as it is listed, or as drawing and name tell."""
    usual = np.array([0.0, *((place or USUAL_PLACE).front for place in places)], np.float32)
    told = _told(recipe, places)
    return Order(np.where(np.isnan(told), usual, told), recipe.light.depth != "as listed")


def lamps_of(recipe: Recipe, places: Places) -> Lamps:
    """The lights."""
    light = recipe.light
    lift = np.array([0.0, *((place or USUAL_PLACE).lift for place in places)],
                    np.float32) * light.cast
    by_part = np.repeat(lift[:, None], len(lift), axis=1)
    rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
    for pair in light.pairs:
        if pair.caster in rows and pair.receiver in rows:
            by_part[rows[pair.caster], rows[pair.receiver]] *= pair.length
    return Lamps(KeyLight(light.azimuth, light.height), _side(light.rim), _side(light.bounce),
                 light.rim.width if light.rim else RIM_WIDTH, light.amount, light.simple,
                 by_part.astype(np.float32))


def _side(light: SideLight | None) -> KeyLight | None:
    return None if light is None else KeyLight(light.azimuth, light.height)


def _told(recipe: Recipe, places: Places) -> Real:
    """How far in front each row is said to be, by the list, its name and the hand; NaN if not."""
    if recipe.light.depth == "as listed":
        fronts = {p.id: float(-row) for row, p in enumerate(recipe.parts)}
    else:
        fronts = {p.id: place.front if place else np.nan
                  for p, place in zip(recipe.parts, places, strict=True)}
        for part in recipe.parts:
            if part.parent in fronts:  # a button lies on its coat
                on = fronts[part.parent] + _ON_PARENT
                fronts[part.id] = float(np.fmax(fronts[part.id], on))
    moved = [fronts[p.id] if p.form.nearer == 0 else
             np.nan_to_num(fronts[p.id], nan=(place or USUAL_PLACE).front) + p.form.nearer
             for p, place in zip(recipe.parts, places, strict=True)]
    return np.array([np.nan, *moved], np.float32)


def _kin(recipe: Recipe) -> NDArray[np.int32]:
    """Family and member of each part's row: parts shaded with the one that they belong to."""
    rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
    kin = np.zeros((len(recipe.parts) + 1, 2), np.int32)
    for part in recipe.parts:
        head = part
        while head.with_parent and head.parent in rows:
            head = recipe.parts[rows[head.parent] - 1]
        if head is not part:
            for member in (part.id, head.id):
                kin[rows[member]] = rows[head.id], rows[member]
    return kin
