"""The volume of a recipe's figure, and the shapes that its light makes."""


from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form, solve_form
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.names import usual_place
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import Rig, Shapes, draw_shapes
from wardrobe.recipe.colouring import SideLight
from wardrobe.recipe.derive.cut import CutStage
from wardrobe.recipe.derive.keys import cut_key
from wardrobe.recipe.model import Recipe
from wardrobe.recipe.table import program_of

_BEHIND = -1e3  # depth of the ground
_ON_PARENT = 0.3
_DRAWN = 0.5  # weight of what the drawing tells beside what names do
_ANY_MATERIAL = "matte cloth"  # fills the ground's row, which takes no light


class FormStage(CutStage):
    """The third stage: form, and shapes under the light."""

    def form(self, recipe: Recipe) -> Form:
        """The volume guessed for the figure."""
        areas = self.areas(recipe)
        figure, folds, kin = self._form_input(recipe)
        return self._cache.get(self._form_key(recipe), lambda: solve_form(
            areas.labels, self.coverage(recipe), figure, areas.line_width, folds, kin))

    def _form_for(self, recipe: Recipe, draft: bool) -> Form:
        form = self.form(recipe)
        if not draft:
            return form
        return self._cache.get(("draft", *self._form_key(recipe)), form.coarser)

    def _form_input(self, recipe: Recipe) -> tuple[NDArray[np.bool_], NDArray[np.float32],
                                                   NDArray[np.int32]]:
        """All that a form depends on: which areas are figure, how deeply strokes fold them, and
        which belong to one form though ink lies between."""
        part_of_area = self.assignment(recipe).part_of_area
        folds = np.array([0.0, *(MATERIALS[p.material].fold for p in recipe.parts)], np.float32)
        return part_of_area > 0, folds[part_of_area], _kin(recipe)[part_of_area]

    def _form_key(self, recipe: Recipe) -> tuple[object, ...]:
        return ("form", *cut_key(recipe), *(a.tobytes() for a in self._form_input(recipe)))

    def shapes(self, recipe: Recipe, draft: bool = False) -> Shapes:
        """The shapes of all passes under the recipe's light; a draft has half the resolution."""
        form = self._form_for(recipe, draft)
        owners = form.owners(self.assignment(recipe).part_of_area)
        materials = [MATERIALS[_ANY_MATERIAL], *(MATERIALS[p.material] for p in recipe.parts)]
        wanted = program_of(recipe).shapes
        form = replace(form, depth=_depth(recipe, form, owners))
        rig = rig_of(recipe, owners)
        lift = b"" if rig.lift is None else rig.lift.tobytes()
        key = ("shapes", draft, self._form_key(recipe), owners.tobytes(),
               tuple(m.key for m in materials), replace(rig, lift=None), lift,
               form.depth.tobytes(), wanted)
        return self._cache.get(key, lambda: draw_shapes(form, rig, owners, materials, wanted))


def _depth(recipe: Recipe, form: Form, owners: NDArray[np.uint16]) -> NDArray[np.float32]:
    """How far in front each form lies: as its part is listed, or as drawing and name tell."""
    listed = recipe.light.depth == "as listed"
    fronts = {p.id: float(-row) if listed else usual_place(p.name).front
              for row, p in enumerate(recipe.parts)}
    for part in recipe.parts:
        if part.parent in fronts and not listed:  # a button lies on its coat
            fronts[part.id] = max(fronts[part.id], fronts[part.parent] + _ON_PARENT)
    told = np.array([_BEHIND, *fronts.values()], np.float32)
    drawn = np.float32(0 if listed else _DRAWN) * form.depth
    return told[owners] + drawn


def rig_of(recipe: Recipe, owners: NDArray[np.uint16]) -> Rig:
    """The lights of a recipe, for forms that belong to these rows of its parts."""
    light = recipe.light
    lift = np.array([0.0, *(usual_place(p.name).lift for p in recipe.parts)],
                    np.float32) * light.cast
    by_part = np.repeat(lift[:, None], len(lift), axis=1)
    rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
    for pair in light.pairs:
        if pair.caster in rows and pair.receiver in rows:
            by_part[rows[pair.caster], rows[pair.receiver]] *= pair.length
    return Rig(KeyLight(light.azimuth, light.height),
               _side(light.rim), _side(light.bounce),
               light.rim.width if light.rim else 2.6, light.amount, light.simple,
               by_part[owners][:, owners].astype(np.float32))


def _side(light: SideLight | None) -> KeyLight | None:
    return None if light is None else KeyLight(light.azimuth, light.height)


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
