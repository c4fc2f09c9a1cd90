"""What lies over all parts: the lines, passes in ink, and what finishes the picture."""

import math
from functools import cached_property
from itertools import takewhile

from wardrobe.core.colour import from_hex
from wardrobe.core.ink.shading import MOST_REACH
from wardrobe.core.passes.layers import Over
from wardrobe.recipe.document.finish import OfLines
from wardrobe.recipe.document.ink import AsDrawn, InkShade
from wardrobe.recipe.document.model import ground_rows
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import finish, inked, inking, picture
from wardrobe.recipe.stages import ink as hued
from wardrobe.recipe.stages.finish_paint import OpaqueImage
from wardrobe.recipe.stages.finish_shapes import PassPlane, widened
from wardrobe.recipe.stages.graph.finish import FinishGraph
from wardrobe.recipe.stages.see_through import (
    LIGHTS,
    UNLIT,
    Unlit,
    see_through,
    shown_through,
)


class OverGraph(FinishGraph):
    """What lies over all parts: the lines, passes in ink, and what finishes the picture."""

    def line_image(self, view: View, draft: bool = False) -> hued.LineImage:
        recipe = self.recipe
        return hued.LineImage(
            hued.LineShares(self.stretches, self.printed, recipe.ink.blend, recipe.size, view),
            inked.FacingSeen(self._facing(draft), view),
            self.line_table, self._towards_focus(view))

    def _ink_plane(self, shade: InkShade, view: View, draft: bool) -> hued.InkPlane:
        wide = widened(view, math.ceil(MOST_REACH * view.scale), self.recipe.size)
        return hued.InkPlane(
            PassPlane(self.masks(wide, draft), shade.name, False), self.figure_seen(wide),
            self.draft_form if draft else self.form, self.printed, inking.hand_of(shade),
            finish.rows_of(self.recipe, shade.parts) if shade.parts else None, wide, view)

    def _drawing(self, drawing: AsDrawn, view: View) -> hued.DrawingSeen:
        evened = hued.AgainstPaper(self.source, self.darkness, self.recipe.lines.even,
                                   drawing.hues)
        return hued.DrawingSeen(evened, inking.tones_of(drawing), drawing.paper, view,
                                self.hidden_lines)

    @cached_property
    def over(self) -> tuple[Over, ...]:
        """The lines, and what finishes the picture below and above them."""
        recipe, layers = self.recipe, finish.drawn(self.recipe)
        halo = () if self.halo is None else (
            Over("finish", "halo", from_hex(recipe.halo.colour), soft=picture.HALO),)
        below = [finish.over_of(recipe, f) for f in layers if not f.over_lines]
        # What lies on the ground alone comes first: it may lie under the figure in a stack.
        around = ground_rows(recipe.parts)
        on_ground = list(takewhile(lambda o: o.rows is not None and o.rows <= around, below))
        return (*on_ground, *shown_through(recipe), *below[len(on_ground):],
                *inking.inked_over(recipe), *halo,
                *(finish.over_of(recipe, f) for f in layers if f.over_lines))

    @cached_property
    def under_lines(self) -> tuple[Over, ...]:
        """The same without the lines and what is laid on them."""
        on_lines = {finish.plane_name(f) for f in finish.drawn(self.recipe)
                    if isinstance(f.shape, OfLines)}
        return tuple(o for o in self.over if o.part != "lines" and o.soft not in on_lines)

    def planes(self, view: View, draft: bool = False) -> picture.Planes:
        """The soft planes by which they are laid."""
        halo = () if self.halo is None else (
            (picture.HALO, picture.SmallHalo(self.halo, view)),)
        shades = ((hued.shade_name(k), self._ink_plane(shade, view, draft))
                  for k, shade in enumerate(self.recipe.ink.shades))
        lights = tuple(PassPlane(self.masks(view, draft), key, False) for key in LIGHTS)
        through = ((UNLIT, Unlit(lights)),) if see_through(self.recipe) else ()
        finishing = ((finish.plane_name(f), self.finish_plane(f, view, draft))
                     for f in finish.drawn(self.recipe) if finish.is_soft(f))
        return (*halo, *shades, *through, *finishing)

    def images(self, view: View, draft: bool = False) -> picture.Images:
        """The images that they name."""
        found = ((finish.plane_name(f), self.finish_image(f, view, draft))
                 for f in finish.drawn(self.recipe))
        laid = tuple((name, OpaqueImage(image)) for name, image in found if image)
        drawing = self.recipe.ink.drawing
        if drawing is not None:
            return (*laid, (hued.DRAWING, self._drawing(drawing, view)))
        if inking.coloured(self.recipe):
            return (*laid, (hued.IMAGE, self.line_image(view, draft)))
        return laid
