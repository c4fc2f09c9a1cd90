"""The areas, and whose they are."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas import recut
from wardrobe.core.areas.borders import count_labels
from wardrobe.core.areas.claim import touched
from wardrobe.core.areas.complete import Completeness, measure_completeness
from wardrobe.core.areas.marked import marked_areas
from wardrobe.core.areas.segment import Areas, segment
from wardrobe.core.areas.silhouette import silhouette_mask
from wardrobe.core.areas.solids import adopt_solids
from wardrobe.core.ground.figure import Figure, find_figure
from wardrobe.core.lines.blacks import halo
from wardrobe.core.lines.closing import ink_closings
from wardrobe.core.lines.width import line_width
from wardrobe.recipe.document.model import BoundaryRole, Claim, Fill, Recut
from wardrobe.recipe.document.types import Point
from wardrobe.recipe.stages.lines import (
    Byte,
    Coverage,
    FoundClosures,
    HueCoverage,
    Hues,
    Points,
    PrintedBlacks,
    ReadDarkness,
    Solids,
)
from wardrobe.recipe.stages.stage import Get, Stage


@dataclass(frozen=True, eq=False)
class Cut(Stage[Areas], keep="on disk"):
    """The areas that the lines and closings bound, with what was recut by hand."""

    coverage: Coverage
    darkness: ReadDarkness
    blacks: Solids | PrintedBlacks
    closures: FoundClosures
    closings: tuple[Points, ...]
    left_open: tuple[tuple[Point, Point], ...]
    recuts: tuple[Recut, ...]

    def make(self, get: Get) -> Areas:
        # On from the longest row of recuts that is known: a new one touches one place only.
        areas: Areas | None = None
        done = len(self.recuts)
        while areas is None and done:
            done -= 1
            areas = get.known(replace(self, recuts=self.recuts[:done]))
        if areas is None:
            areas = self._afresh(get)
        for step in self.recuts[done:]:
            areas = self._recut(areas, step, get)
        return areas

    def _afresh(self, get: Get) -> Areas:
        areas = segment(get(self.coverage), get(self.darkness).clear, closings=self.closings,
                        left_open=self.left_open)
        blacks = get(self.blacks)
        if not blacks.solids:
            return areas
        labels = adopt_solids(areas.labels, areas.core, areas.ground, blacks, areas.line_width)
        return replace(areas, labels=labels, pixels=count_labels(labels, areas.count))

    def _recut(self, areas: Areas, step: Recut, get: Get) -> Areas:
        if step.kind == "split":
            return recut.split(areas, step.stroke, step.behind)
        if step.kind == "join":
            return recut.join(areas, *step.places)
        return recut.divide(areas, step.places, get(self.closures))


@dataclass(frozen=True, eq=False)
class FigureAndGround(Stage[Figure], keep="on disk"):
    """The figure, with what is open in its outline closed; closings count as lines."""

    coverage: Coverage
    closings: tuple[Points, ...]

    def make(self, get: Get) -> Figure:
        lines = get(self.coverage)
        if not self.closings:
            return find_figure(lines)
        return find_figure(ink_closings(lines, self.closings, max(2.0, line_width(lines))))


@dataclass(frozen=True)
class Assignment:
    """What the claims come to.

    Attributes
    ----------
    part_of_area : ndarray of uint16, shape (areas + 1,)
        Row of the recipe's parts, from 1; 0 for ground and for areas without a part.
    ground : ndarray of bool, shape (areas + 1,)
    scenery : ndarray of uint16, shape (areas + 1,)
        Row of the part that ground belongs to; 0 for what none has, and for the figure.
    """

    part_of_area: NDArray[np.uint16]
    ground: NDArray[np.bool_]
    scenery: NDArray[np.uint16]

    @property
    def painted(self) -> NDArray[np.uint16]:
        """Row of what each area is painted with: of the figure, or of the scenery."""
        return self.part_of_area + self.scenery


@dataclass(frozen=True, eq=False)
class Assigned(Stage[Assignment], keep="on disk", by_content=True):
    """Which part each area belongs to."""

    areas: Cut
    claims: tuple[Claim, ...]
    parts: tuple[str, ...]
    scenery: tuple[bool, ...]

    def make(self, get: Get) -> Assignment:
        areas = get(self.areas)
        ground = areas.ground.copy()
        part_of_area = np.zeros(areas.count + 1, np.uint16)
        rows = {part: row for row, part in enumerate(self.parts, start=1)}
        around = np.array([False, *self.scenery])
        for claim in self.claims:
            hit = touched(areas, claim.strokes)
            row = rows.get(claim.to, 0)
            if claim.to in ("ground", "figure"):
                ground[hit] = claim.to == "ground"
                part_of_area[hit[around[part_of_area[hit]]]] = 0
            elif claim.to == "none":
                part_of_area[hit] = 0
            else:  # the outside is taken by scenery only
                part_of_area[hit if around[row] else hit[~ground[hit]]] = row
        scenery = np.where(around[part_of_area], part_of_area, 0).astype(np.uint16)
        ground |= scenery > 0
        part_of_area[ground] = 0
        return Assignment(part_of_area, ground, scenery)


@dataclass(frozen=True, eq=False)
class Shown(Stage[NDArray[np.uint16]], by_content=True):
    """What each area is painted with, 0 where it is hidden."""

    assigned: Assigned
    visible: tuple[bool, ...]

    def make(self, get: Get) -> NDArray[np.uint16]:
        rows = np.arange(len(self.visible) + 1, dtype=np.uint16)
        rows[1:][~np.array(self.visible, bool)] = 0
        return rows[get(self.assigned).painted]


@dataclass(frozen=True, eq=False)
class PartsMap(Stage[NDArray[np.uint16]], keep="nowhere"):
    """Part of every pixel at full size, as it is delivered: to the middle of the line, or
    exactly to the line."""

    areas: Cut
    assigned: Assigned
    fill: Fill

    def make(self, get: Get) -> NDArray[np.uint16]:
        areas = get(self.areas)
        parts = get(self.assigned).painted[areas.labels]
        return parts if self.fill == "under the line" else np.where(areas.core, parts, 0)


@dataclass(frozen=True, eq=False)
class Completed(Stage[tuple[Completeness, Byte]]):
    """How completely the figure is filled, and where not."""

    areas: Cut
    assigned: Assigned
    parts: PartsMap

    def make(self, get: Get) -> tuple[Completeness, Byte]:
        return measure_completeness(get(self.areas), get(self.parts), get(self.assigned).ground)


@dataclass(frozen=True, eq=False)
class Silhouette(Stage[Byte], keep="nowhere"):
    """All parts together, grown under the outline; 0 or 255 at full size."""

    areas: Cut
    assigned: Assigned
    growth: float

    def make(self, get: Get) -> Byte:
        areas = get(self.areas)
        return silhouette_mask(get(self.assigned).part_of_area[areas.labels], areas.core,
                               self.growth)


@dataclass(frozen=True, eq=False)
class Marked(Stage[NDArray[np.uint8] | None]):
    """What edges of a pass tell each area about it; None if there are none."""

    areas: Cut
    assigned: Assigned
    hues: Hues
    role: BoundaryRole

    def make(self, get: Get) -> NDArray[np.uint8] | None:
        edges = [h for h in get(self.hues.found) if self.hues.role_of(h) == self.role]
        if not edges:
            return None
        told = np.maximum.reduce([get(HueCoverage(self.hues.source, h)) for h in edges])
        return marked_areas(get(self.areas), told, get(self.assigned).part_of_area)


@dataclass(frozen=True, eq=False)
class HaloOfBlacks(Stage[Byte | None]):
    """Coverage of the rim of solid blacks at full size, or None if there are none.

    ``dark`` tells of the background and of each part whether it is.
    """

    areas: Cut
    assigned: Assigned
    blacks: Solids | PrintedBlacks
    dark: tuple[bool, ...]
    width: float

    def make(self, get: Get) -> Byte | None:
        blacks = get(self.blacks)
        if not blacks.solids:
            return None
        part_of_area = get(self.assigned).part_of_area
        return halo(blacks, np.array(self.dark)[part_of_area][get(self.areas).labels], self.width)
