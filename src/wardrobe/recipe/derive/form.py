"""The volume of a recipe's figure, and the shapes that its light makes."""


from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import VOLUMES, Edge, Form, Traits, solve_form
from wardrobe.core.light.cast import FRONT
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.names import known_place, usual_place, usual_role
from wardrobe.core.light.rig import RIM_WIDTH, KeyLight
from wardrobe.core.light.shapes import Rig, Shapes, draw_shapes
from wardrobe.core.light.subject import Subject, Surface
from wardrobe.core.passes.table import GROUND
from wardrobe.recipe.cache import ContentCache
from wardrobe.recipe.derive.cut import CutStage
from wardrobe.recipe.derive.keys import cut_key, cut_objects
from wardrobe.recipe.derive.lines import SourceLoader
from wardrobe.recipe.lighting import SideLight
from wardrobe.recipe.memo import Memo
from wardrobe.recipe.model import Recipe
from wardrobe.recipe.table import program_of

_BEHIND = -1e3  # depth of the ground
_ON_PARENT = 0.3
_DRAWN = 0.8  # weight of what the drawing tells beside what names do
_CODES = {name: code for code, name in enumerate(VOLUMES)}
_CLOSED = {"skin": 0.4}  # how far a form turns away at least where another covers its edge,
_WHOLE = 0.55  # if it holds this share of its part: a face does, a cheek behind glasses does not
_ANY_MATERIAL = "matte cloth"  # fills the ground's row, which takes no light


class FormStage(CutStage):
    """The third stage: form, and shapes under the light."""

    def __init__(self, load_source: SourceLoader, cache: ContentCache | None = None) -> None:
        super().__init__(load_source, cache)
        self._known_traits: Memo[Traits] = Memo()
        self._form_keys: Memo[tuple[object, ...]] = Memo()

    def form(self, recipe: Recipe) -> Form:
        """The volume guessed for the figure."""
        areas, traits = self.areas(recipe), self.traits(recipe)
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

    def traits(self, recipe: Recipe) -> Traits:
        """All that a form depends on beside the drawing."""
        return self._known_traits.get(cut_objects(recipe), recipe.light.depth,
                                      lambda: self._read(recipe))

    def _read(self, recipe: Recipe) -> Traits:
        part_of_area = self.assignment(recipe).part_of_area
        parts = recipe.parts
        fold = np.array([0.0, *(MATERIALS[p.material].fold for p in parts)], np.float32)
        volume = np.array([0, *(_CODES[p.form.volume] for p in parts)], np.uint8)
        group = np.where(volume == _CODES["folded"], np.arange(len(parts) + 1), 0)
        edges = tuple(Edge(row, stroke) for row, p in enumerate(parts, start=1)
                      if p.form.volume == "folded" for stroke in p.form.edges)
        closed = np.array([0.0, *(_CLOSED.get(p.material, 0.0) for p in parts)],
                          np.float32)[part_of_area]
        closed[self.areas(recipe).pixels < _WHOLE * np.bincount(
            part_of_area, self.areas(recipe).pixels)[part_of_area]] = 0
        return Traits(part_of_area > 0, fold[part_of_area], _kin(recipe)[part_of_area],
                      volume[part_of_area], group[part_of_area].astype(np.uint16),
                      closed, _told(recipe)[part_of_area], edges)

    def _form_key(self, recipe: Recipe) -> tuple[object, ...]:
        return self._form_keys.get(cut_objects(recipe), recipe.light.depth, lambda: (
            "form", *cut_key(recipe), *self.traits(recipe).key(),
            tuple(p.form.depth for p in recipe.parts)))

    def shapes(self, recipe: Recipe, draft: bool = False) -> Shapes:
        """The shapes of all passes under the recipe's light; a draft has half the resolution."""
        form = self._form_for(recipe, draft)
        owners = form.owners(self.assignment(recipe).part_of_area)
        wanted = tuple(key for key in program_of(recipe).shapes if key != GROUND)
        subject = self._subject(recipe, form, owners, draft)
        depth = _depth(recipe, form, owners)
        subject = replace(subject, form=replace(subject.form, depth=depth))
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


def _told(recipe: Recipe) -> NDArray[np.float32]:
    """How far in front each row is said to be, by the list, its name and the hand; NaN if not."""
    if recipe.light.depth == "as listed":
        fronts = {p.id: float(-row) for row, p in enumerate(recipe.parts)}
    else:
        places = {p.id: known_place(p.name) for p in recipe.parts}
        fronts = {i: place.front if place else np.nan for i, place in places.items()}
        for part in recipe.parts:
            if part.parent in fronts:  # a button lies on its coat
                on = fronts[part.parent] + _ON_PARENT
                fronts[part.id] = float(np.fmax(fronts[part.id], on))
    moved = [fronts[p.id] if p.form.nearer == 0 else
             np.nan_to_num(fronts[p.id], nan=usual_place(p.name).front) + p.form.nearer
             for p in recipe.parts]
    return np.array([np.nan, *moved], np.float32)


def _depth(recipe: Recipe, form: Form, owners: NDArray[np.uint16]) -> NDArray[np.float32]:
    """How far in front each form lies: as its part is listed, or as drawing and name tell."""
    told = _told(recipe)
    for row, part in enumerate(recipe.parts, start=1):
        if np.isnan(told[row]):
            told[row] = usual_place(part.name).front
    told[0] = _BEHIND
    drawn = np.float32(0 if recipe.light.depth == "as listed" else _DRAWN) * form.depth
    depth: NDArray[np.float32] = told[owners] + drawn
    return depth


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
               light.rim.width if light.rim else RIM_WIDTH, light.amount, light.simple,
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
