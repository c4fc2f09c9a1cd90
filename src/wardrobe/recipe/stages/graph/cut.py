"""The lines, the areas that they bound, and whose these are."""

from functools import cached_property

import numpy as np

from wardrobe.core.colour import from_hex, srgb_to_lab
from wardrobe.recipe.document.model import (
    Frame,
    InkStroke,
    Recipe,
    hidden,
)
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import cut, lines

_DARK = 38.0  # L* below which a base does not stand off from black


class CutGraph:
    """The lines, the areas that they bound, and whose these are."""

    def __init__(self, recipe: Recipe) -> None:
        self.recipe = recipe

    @cached_property
    def source(self) -> lines.Source:
        source, frame = self.recipe.source, self.recipe.frame
        decoded = lines.Decoded(source.asset)
        whole: lines.Decoded | lines.LaidOn = decoded
        if source.number > 1 or source.laid:
            whole = lines.LaidOn(decoded, source.laid.matrix if source.laid else None,
                                 (source.width, source.height))
        return whole if frame == Frame() else lines.Framed(whole, frame)

    @cached_property
    def darkness(self) -> lines.ReadDarkness:
        return lines.ReadDarkness(self.source, self.recipe.lines.kind, self.recipe.lines.even)

    @cached_property
    def stroke(self) -> InkStroke:
        return InkStroke(**{name: getattr(self.recipe.lines, name)
                            for name in InkStroke.model_fields})

    @cached_property
    def hues(self) -> lines.Hues:
        return lines.Hues(self.source, lines.FoundHues(self.source), self.recipe.boundaries)

    @cached_property
    def drawn(self) -> lines.Drawn:
        return lines.Drawn(self.source, self.darkness, self.hues.found, self.stroke)

    @cached_property
    def hatching(self) -> lines.FoundHatching:
        return lines.FoundHatching(self.drawn)

    @cached_property
    def bounding(self) -> lines.Bounding:
        if not self.recipe.hatching:
            return self.drawn
        return lines.WithoutHatching(self.drawn, self.hatching, self.recipe.hatching)

    @cached_property
    def solids(self) -> lines.Solids:
        return lines.Solids(self.bounding)

    @cached_property
    def blacks(self) -> lines.Solids | lines.PrintedBlacks:
        coloured = self.recipe.coloured_blacks
        return lines.PrintedBlacks(self.solids, coloured) if coloured else self.solids

    def _hollowed(self, ink: lines.Bounding) -> lines.Coverage:
        coloured = self.recipe.coloured_blacks
        return lines.Hollowed(ink, self.bounding, self.solids, coloured) if coloured else ink

    @cached_property
    def coverage(self) -> lines.Coverage:
        return self._hollowed(self.bounding)

    @cached_property
    def details(self) -> lines.Details | None:
        second, source = self.recipe.details, self.recipe.source
        return None if second is None else lines.Details(
            lines.Decoded(second.asset), (source.width, source.height), self.recipe.frame)

    @cached_property
    def ink(self) -> lines.Coverage | lines.Ink:
        recipe = self.recipe
        inked = tuple(c.points for c in recipe.closings if c.inked)
        smoothed = recipe.lines.edge == "hard, smoothed"
        drawn = self._hollowed(self.drawn)
        if not inked and not smoothed and self.details is None \
                and all(b.role == "printed" for b in recipe.boundaries):
            return drawn
        return lines.Ink(drawn, self.coverage, self.hues, inked, smoothed, self.details)

    @cached_property
    def gaps(self) -> lines.FoundGaps:
        return lines.FoundGaps(self.coverage)

    @cached_property
    def closures(self) -> lines.FoundClosures:
        return lines.FoundClosures(self.coverage)

    def line_draft(self, view: View) -> lines.LineDraft:
        return lines.LineDraft(self.darkness, self.stroke, self.details, view)

    @cached_property
    def closings(self) -> tuple[lines.Points, ...]:
        return tuple(c.points for c in self.recipe.closings)

    @cached_property
    def areas(self) -> cut.Cut:
        return cut.Cut(self.coverage, self.darkness, self.blacks, self.closures, self.closings,
                       tuple(g.sides for g in self.recipe.left_open), self.recipe.recuts)

    @cached_property
    def figure_and_ground(self) -> cut.FigureAndGround:
        return cut.FigureAndGround(self.coverage, self.closings)

    @cached_property
    def assigned(self) -> cut.Assigned:
        return cut.Assigned(self.areas, self.recipe.claims,
                            tuple(p.id for p in self.recipe.parts),
                            tuple(p.scenery is not None for p in self.recipe.parts))

    @cached_property
    def shown(self) -> cut.Shown:
        parts = self.recipe.parts
        out_of_sight = hidden(parts)
        return cut.Shown(self.assigned, tuple(p.id not in out_of_sight for p in parts))

    @cached_property
    def _figure(self) -> cut.Shown:
        """The parts of the figure that are seen."""
        parts = self.recipe.parts
        out_of_sight = hidden(parts)
        return cut.Shown(self.assigned, tuple(
            p.id not in out_of_sight and p.scenery is None for p in parts))

    @cached_property
    def _all_parts(self) -> cut.Shown:
        return cut.Shown(self.assigned, (True,) * len(self.recipe.parts))

    @cached_property
    def parts_map(self) -> cut.PartsMap:
        return cut.PartsMap(self.areas, self.assigned, self.recipe.fill)

    @cached_property
    def completed(self) -> cut.Completed:
        return cut.Completed(self.areas, self.assigned, self.parts_map)

    @cached_property
    def silhouette(self) -> cut.Silhouette:
        return cut.Silhouette(self.areas, self.assigned, self.recipe.silhouette_growth)

    @cached_property
    def halo(self) -> cut.HaloOfBlacks | None:
        recipe = self.recipe
        if recipe.halo.width == 0:
            return None
        bases = np.array([from_hex(b) for b in (recipe.background,
                                                *(p.base for p in recipe.parts))])
        dark = srgb_to_lab(bases / 255)[:, 0] < _DARK
        return cut.HaloOfBlacks(self.areas, self.assigned, self.blacks, tuple(dark.tolist()),
                                recipe.halo.width)
