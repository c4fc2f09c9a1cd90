"""Whose each line is, how far it faces the light, and what is printed of it."""

from functools import cached_property

from wardrobe.core.colour import from_hex
from wardrobe.core.light.rig import KeyLight
from wardrobe.recipe.document.model import (
    hidden,
)
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import ink as hued
from wardrobe.recipe.stages import inked, inking, lines
from wardrobe.recipe.stages.finish_shapes import FocusPlane
from wardrobe.recipe.stages.graph.form import FormGraph


class InkGraph(FormGraph):
    """Whose each line is, how far it faces the light, and what is printed of it."""

    @cached_property
    def stretches(self) -> inked.FoundStretches:
        return inked.FoundStretches(self.areas, self.assigned, self.ink)

    def stretches_seen(self, view: View) -> inked.StretchesSeen:
        return inked.StretchesSeen(self.stretches, view)

    def _facing(self, draft: bool = False) -> inked.LineFacing:
        light = self.recipe.light
        return inked.LineFacing(self.draft_form if draft else self.form, self.assigned, self.order,
                                KeyLight(light.azimuth, light.height))

    @cached_property
    def _weighed(self) -> lines.Coverage | lines.Ink | inked.WeighedInk:
        weight, over = self.recipe.ink.weight, self.recipe.ink.overlap
        if not (weight or over) or not self.recipe.parts:
            return self.ink
        return inked.WeighedInk(self.ink, self._facing(), self.stretches, weight, over,
                                self.recipe.size)

    @cached_property
    def line_owners(self) -> inked.Owners:
        return inked.Owners(self.stretches, self.fronts)

    @cached_property
    def _hidden_rows(self) -> tuple[int, ...]:
        out_of_sight = hidden(self.recipe.parts)
        return tuple(row for row, p in enumerate(self.recipe.parts, start=1)
                     if p.id in out_of_sight)

    @cached_property
    def hidden_lines(self) -> inked.HiddenLines | None:
        rows = self._hidden_rows
        return inked.HiddenLines(self.line_owners, rows) if rows else None

    @cached_property
    def printed(self) -> inked.Printed:
        """The ink as it is printed: weighed by the light, without the lines of hidden parts."""
        if self.hidden_lines is None:
            return self._weighed
        return inked.LinesLeft(self._weighed, self.hidden_lines, self.recipe.size)

    def small_ink(self, view: View) -> inked.SmallInk:
        return inked.SmallInk(self.printed, view)

    @cached_property
    def line_table(self) -> hued.LineTable:
        return self._line_table(0.0)

    def _line_table(self, darker: float) -> hued.LineTable:
        recipe = self.recipe
        return hued.LineTable(
            self.line_owners, inking.sides_of(recipe, darker), recipe.ink.rule.darker(darker),
            inking.chosen_of(recipe), from_hex(recipe.lines.colour))

    def _towards_focus(self, view: View) -> hued.Towards | None:
        places, share = self.recipe.focus, self.recipe.ink.focus
        if not places or not share:
            return None
        return hued.Towards(self._line_table(share), FocusPlane(
            tuple((*f.at, f.radius) for f in places), view))
