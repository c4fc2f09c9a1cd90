"""The volume of a recipe's figure, and the shapes that its light makes."""


from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import VOLUMES, Edge, Form, Traits, solve_form
from wardrobe.core.light.cast import FRONT
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.names import usual_place, usual_role
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import Rig, Shapes, draw_shapes
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.passes.table import GROUND
from wardrobe.recipe.derive.cut import CutStage
from wardrobe.recipe.derive.keys import cut_key, cut_objects
from wardrobe.recipe.derive.lines import CACHE_BYTES, SourceLoader
from wardrobe.recipe.lighting import SideLight
from wardrobe.recipe.memo import Memo
from wardrobe.recipe.model import Recipe
from wardrobe.recipe.table import program_of

_BEHIND = -1e3  # depth of the ground
_ON_PARENT = 0.3
_DRAWN = 0.5  # weight of what the drawing tells beside what names do
_CODES = {name: code for code, name in enumerate(VOLUMES)}
_ANY_MATERIAL = "matte cloth"  # fills the ground's row, which takes no light


class FormStage(CutStage):
    """The third stage: form, and shapes under the light."""

    def __init__(self, load_source: SourceLoader, capacity: int = CACHE_BYTES) -> None:
        super().__init__(load_source, capacity)
        self._known_traits: Memo[Traits] = Memo()
        self._form_keys: Memo[tuple[object, ...]] = Memo()

    def form(self, recipe: Recipe) -> Form:
        """The volume guessed for the figure."""
        areas, traits = self.areas(recipe), self._traits(recipe)
        solved = self._cache.get(("solved", *cut_key(recipe), *traits.key()), lambda: solve_form(
            areas.labels, self.coverage(recipe), areas.line_width, traits))
        depths = np.array([1.0, *(p.form.depth for p in recipe.parts)], np.float32)
        if (depths == 1).all():
            return solved
        owners = solved.owners(self.assignment(recipe).part_of_area)
        return self._cache.get(self._form_key(recipe), lambda: solved.with_relief(depths[owners]))

    def _form_for(self, recipe: Recipe, draft: bool) -> Form:
        form = self.form(recipe)
        if not draft:
            return form
        return self._cache.get(("draft", *self._form_key(recipe)), form.coarser)

    def _traits(self, recipe: Recipe) -> Traits:
        """All that a form depends on beside the drawing."""
        return self._known_traits.get(cut_objects(recipe), None, lambda: self._read(recipe))

    def _read(self, recipe: Recipe) -> Traits:
        part_of_area = self.assignment(recipe).part_of_area
        parts = recipe.parts
        fold = np.array([0.0, *(MATERIALS[p.material].fold for p in parts)], np.float32)
        volume = np.array([0, *(_CODES[p.form.volume] for p in parts)], np.uint8)
        group = np.where(volume == _CODES["folded"], np.arange(len(parts) + 1), 0)
        edges = tuple(Edge(row, stroke) for row, p in enumerate(parts, start=1)
                      if p.form.volume == "folded" for stroke in p.form.edges)
        return Traits(part_of_area > 0, fold[part_of_area], _kin(recipe)[part_of_area],
                      volume[part_of_area], group[part_of_area].astype(np.uint16), edges)

    def _form_key(self, recipe: Recipe) -> tuple[object, ...]:
        return self._form_keys.get(cut_objects(recipe), None, lambda: (
            "form", *cut_key(recipe), *self._traits(recipe).key(),
            tuple(p.form.depth for p in recipe.parts)))

    def shapes(self, recipe: Recipe, draft: bool = False) -> Shapes:
        """The shapes of all passes under the recipe's light; a draft has half the resolution."""
        form = self._form_for(recipe, draft)
        owners = form.owners(self.assignment(recipe).part_of_area)
        wanted = tuple(key for key in program_of(recipe).shapes if key != GROUND)
        subject = self._subject(recipe, form, owners, draft)
        subject = replace(subject, form=replace(form, depth=_depth(recipe, form, owners)))
        rig = rig_of(recipe, owners)
        lift = b"" if rig.lift is None else rig.lift.tobytes()
        key = ("shapes", draft, self._form_key(recipe), owners.tobytes(), _surfaces(recipe),
               replace(rig, lift=None), lift, subject.form.depth.tobytes(), wanted)
        return self._cache.get(key, lambda: draw_shapes(subject, rig, wanted))

    def front_to_behind(self, recipe: Recipe) -> list[str]:
        """Ids of the parts that have areas, from front to behind."""
        form = self.form(recipe)
        owners = form.owners(self.assignment(recipe).part_of_area)
        depth, pixels = _depth(recipe, form, owners), np.bincount(form.labels.ravel())
        rows = np.unique(owners[owners > 0])
        mean = {row: np.average(depth[owners == row], weights=np.maximum(
            pixels[owners == row], 1)) for row in rows}
        return [recipe.parts[row - 1].id for row in sorted(rows, key=lambda row: -mean[row])]

    def casting(self, recipe: Recipe) -> list[tuple[str, str]]:
        """Ids of parts that touch, the one that is in front first."""
        form = self.form(recipe)
        owners = form.owners(self.assignment(recipe).part_of_area)
        depth = _depth(recipe, form, owners)
        touching = {tuple(pair) for a, b in ((form.labels[:, 1:], form.labels[:, :-1]),
                                             (form.labels[1:], form.labels[:-1]))
                    for pair in np.unique(np.stack([a[a != b], b[a != b]], axis=1), axis=0)}
        both = touching | {(b, a) for a, b in touching}
        pairs = {(owners[a], owners[b]) for a, b in both if depth[a] - depth[b] > FRONT}
        return [(recipe.parts[a - 1].id, recipe.parts[b - 1].id)
                for a, b in sorted(pairs) if a and b and a != b]

    def _subject(self, recipe: Recipe, form: Form, owners: NDArray[np.uint16],
                 draft: bool) -> Subject:
        surfaces = _surfaces(recipe)
        key = ("subject", draft, self._form_key(recipe), owners.tobytes(), surfaces)
        return self._cache.get(key, lambda: Subject.of(form, owners, surfaces))


def _surfaces(recipe: Recipe) -> tuple[Surface, ...]:
    """How each row of parts takes light."""
    return (Surface(MATERIALS[_ANY_MATERIAL]), *(
        Surface(MATERIALS[p.material], usual_role(p.name), p.form.soft, p.form.highlight)
        for p in recipe.parts))


def _depth(recipe: Recipe, form: Form, owners: NDArray[np.uint16]) -> NDArray[np.float32]:
    """How far in front each form lies: as its part is listed, or as drawing and name tell."""
    listed = recipe.light.depth == "as listed"
    fronts = {p.id: float(-row) if listed else usual_place(p.name).front
              for row, p in enumerate(recipe.parts)}
    for part in recipe.parts:
        if part.parent in fronts and not listed:  # a button lies on its coat
            fronts[part.id] = max(fronts[part.id], fronts[part.parent] + _ON_PARENT)
    nearer = [fronts[p.id] + p.form.nearer for p in recipe.parts]
    told = np.array([_BEHIND, *nearer], np.float32)
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
