"""The areas of a recipe, and whose they are."""

import hashlib
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from wardrobe.core.areas import recut
from wardrobe.core.areas.borders import count_labels
from wardrobe.core.areas.claim import touched
from wardrobe.core.areas.complete import Completeness, measure_completeness
from wardrobe.core.areas.marked import marked_areas
from wardrobe.core.areas.segment import Areas, segment
from wardrobe.core.areas.silhouette import silhouette_mask
from wardrobe.core.areas.solids import adopt_solids
from wardrobe.core.colour import from_hex, srgb_to_lab
from wardrobe.core.ground.figure import Figure, find_figure
from wardrobe.core.lines.blacks import halo
from wardrobe.core.lines.closing import ink_closings
from wardrobe.core.lines.width import line_width
from wardrobe.recipe.cache import ContentCache
from wardrobe.recipe.derive.keys import cut_key, cut_objects, lines_key
from wardrobe.recipe.derive.lines import LineStage, SourceLoader
from wardrobe.recipe.memo import Memo
from wardrobe.recipe.model import BoundaryRole, Claim, Recipe, Recut, hidden

Byte = NDArray[np.uint8]

DARK = 38.0  # L* below which a base does not stand off from black
_CLAIMS = TypeAdapter(tuple[Claim, ...])


@dataclass(frozen=True)
class Assignment:
    """What the claims come to.

    Attributes
    ----------
    part_of_area : ndarray of uint16, shape (areas + 1,)
        Row of the recipe's parts, from 1; 0 for ground and for areas without a part.
    ground : ndarray of bool, shape (areas + 1,)
    """

    part_of_area: NDArray[np.uint16]
    ground: NDArray[np.bool_]


class CutStage(LineStage):
    """The second stage: areas, and the parts that claims give them to."""

    def __init__(self, load_source: SourceLoader, cache: ContentCache | None = None) -> None:
        super().__init__(load_source, cache)
        self._assignments: Memo[Assignment] = Memo()

    def areas(self, recipe: Recipe) -> Areas:
        """The areas that the lines and closings bound, with what was recut by hand."""
        return self._cache.get(("areas", *cut_key(recipe)), lambda: self._cut(recipe))

    def _cut(self, recipe: Recipe) -> Areas:
        """On from the longest row of recuts that is known: a new one touches one place only."""
        areas: Areas | None = None
        done = len(recipe.recuts)
        while areas is None and done:
            done -= 1
            before = recipe.model_copy(update={"recuts": recipe.recuts[:done]})
            areas = self._cache.peek(("areas", *cut_key(before)))
        if areas is None:
            areas = segment(self.coverage(recipe), self.darkness(recipe).clear,
                            closings=[c.points for c in recipe.closings],
                            left_open=[g.sides for g in recipe.left_open])
            blacks = self.blacks(recipe)
            if blacks.solids:
                labels = adopt_solids(areas.labels, areas.core, areas.ground, blacks,
                                      areas.line_width)
                areas = replace(areas, labels=labels, pixels=count_labels(labels, areas.count))
        for step in recipe.recuts[done:]:
            areas = self._recut(areas, recipe, step)
        return areas

    def _recut(self, areas: Areas, recipe: Recipe, step: Recut) -> Areas:
        if step.kind == "split":
            return recut.split(areas, step.stroke)
        if step.kind == "join":
            return recut.join(areas, *step.places)
        return recut.divide(areas, step.places, self.closures(recipe))

    def figure_and_ground(self, recipe: Recipe) -> Figure:
        """The figure, with what is open in its outline closed; closings count as lines."""
        def find() -> Figure:
            lines = self.coverage(recipe)
            if not recipe.closings:
                return find_figure(lines)
            drawn = [c.points for c in recipe.closings]
            return find_figure(ink_closings(lines, drawn, max(2.0, line_width(lines))))

        return self._cache.get(("figure and ground", *lines_key(recipe),
                                tuple(c.points for c in recipe.closings)), find)

    def assignment(self, recipe: Recipe) -> Assignment:
        """Which part each area belongs to."""
        def look_up() -> Assignment:
            claims = hashlib.sha256(_CLAIMS.dump_json(recipe.claims)).digest()
            ids = tuple(p.id for p in recipe.parts)
            return self._cache.get(("assignment", *cut_key(recipe), claims, ids),
                                   lambda: _assign(self.areas(recipe), recipe))

        return self._assignments.get(cut_objects(recipe), None, look_up)

    def shown(self, recipe: Recipe) -> NDArray[np.uint16]:
        """Part of each area, 0 where it is hidden."""
        out_of_sight = hidden(recipe.parts)
        shown = np.array([0, *(0 if p.id in out_of_sight else row for row, p in
                               enumerate(recipe.parts, start=1))], np.uint16)
        return shown[self.assignment(recipe).part_of_area]

    def parts_map(self, recipe: Recipe) -> NDArray[np.uint16]:
        """Part of every pixel at full size, as it is delivered: to the middle of the line, or
        exactly to the line."""
        areas = self.areas(recipe)
        parts = self.assignment(recipe).part_of_area[areas.labels]
        return parts if recipe.fill == "under the line" else np.where(areas.core, parts, 0)

    def completeness(self, recipe: Recipe) -> tuple[Completeness, Byte]:
        """How completely the figure is filled, and where not."""
        areas, assignment = self.areas(recipe), self.assignment(recipe)
        key = ("complete", *cut_key(recipe), assignment.part_of_area.tobytes(),
               assignment.ground.tobytes(), recipe.fill)
        return self._cache.get(key, lambda: measure_completeness(
            areas, self.parts_map(recipe), assignment.ground))

    def silhouette(self, recipe: Recipe) -> Byte:
        """All parts together, grown under the outline; 0 or 255 at full size."""
        areas = self.areas(recipe)
        parts = self.assignment(recipe).part_of_area[areas.labels]
        return silhouette_mask(parts, areas.core, recipe.silhouette_growth)

    def _marked(self, recipe: Recipe, role: BoundaryRole) -> NDArray[np.uint8] | None:
        """What edges of a pass tell each area about it; None if there are none."""
        edges = [h for h in self.hues(recipe) if self.role_of(recipe, h) == role]
        if not edges:
            return None
        part_of_area = self.assignment(recipe).part_of_area
        key = ("marked", role, *cut_key(recipe), tuple(h.hue for h in edges),
               part_of_area.tobytes())
        return self._cache.get(key, lambda: marked_areas(
            self.areas(recipe), np.maximum.reduce([self.hue_coverage(recipe, h) for h in edges]),
            part_of_area))

    def halo(self, recipe: Recipe) -> Byte | None:
        """Coverage of the rim of solid blacks at full size, or None if there is none."""
        if recipe.halo.width == 0 or not self.blacks(recipe).solids:
            return None
        areas, part_of_area = self.areas(recipe), self.assignment(recipe).part_of_area
        bases = [recipe.background, *(p.base for p in recipe.parts)]
        dark = np.array([srgb_to_lab(np.array(from_hex(b)) / 255)[0] < DARK for b in bases])
        key = ("halo", *cut_key(recipe), recipe.halo.width, part_of_area.tobytes(),
               dark.tobytes())
        return self._cache.get(key, lambda: halo(
            self.blacks(recipe), dark[part_of_area][areas.labels], recipe.halo.width))


def _assign(areas: Areas, recipe: Recipe) -> Assignment:
    ground = areas.ground.copy()
    part_of_area = np.zeros(areas.count + 1, np.uint16)
    rows = {part.id: row for row, part in enumerate(recipe.parts, start=1)}
    for claim in recipe.claims:
        hit = touched(areas, claim.strokes)
        if claim.to in ("ground", "figure"):
            ground[hit] = claim.to == "ground"
        elif claim.to == "none":
            part_of_area[hit] = 0
        else:
            part_of_area[hit[~ground[hit]]] = rows.get(claim.to, 0)
    part_of_area[ground] = 0
    return Assignment(part_of_area, ground)
