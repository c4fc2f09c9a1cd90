"""Which stages a recipe makes: the only place where stages meet the document."""

import math
from functools import cached_property

import numpy as np

from wardrobe.core.colour import from_hex, srgb_to_lab
from wardrobe.core.finish.spots import Spot
from wardrobe.core.ink.shading import MOST_REACH
from wardrobe.core.layers.operators import reach_of
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.passes.layers import Over
from wardrobe.core.passes.table import GROUND
from wardrobe.recipe.document.finish import FinishLayer, InPass, OfLines, OfParts, Spots
from wardrobe.recipe.document.ink import AsDrawn, InkShade
from wardrobe.recipe.document.model import (
    Frame,
    InkStroke,
    Recipe,
    farthest_first,
    ground_rows,
    hidden,
)
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import cut, finish, inked, inking, lines, picture, stack
from wardrobe.recipe.stages import form as forms
from wardrobe.recipe.stages import ink as hued
from wardrobe.recipe.stages.bodies import (
    Places,
    bodies_of,
    covers_of,
    lamps_of,
    order_of,
    places_of,
)
from wardrobe.recipe.stages.colours import Coated, Colouring, WantedShapes

_DARK = 38.0  # L* below which a base does not stand off from black
_NO_PART = 2**16 - 1  # a row that no pixel has


class Graph:
    """The stages of one recipe, each with its slice of it."""

    def __init__(self, recipe: Recipe) -> None:
        self.recipe = recipe

    # ---- Lines ----

    @cached_property
    def source(self) -> lines.Source:
        source, frame = self.recipe.source, self.recipe.frame
        decoded = lines.Decoded(source.asset)
        whole: lines.Decoded | lines.LaidOn = decoded
        if source.number > 1:
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

    # ---- Areas and parts ----

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


    # ---- Form and light ----

    @cached_property
    def _places(self) -> Places:
        return places_of(self.recipe)

    @cached_property
    def traits(self) -> forms.ReadTraits:
        return forms.ReadTraits(self.areas, self.assigned, bodies_of(self.recipe, self._places))

    @cached_property
    def form(self) -> forms.SolvedForm | forms.Relief:
        solved = forms.SolvedForm(self.areas, self.coverage, self.traits)
        depths = (1.0, *(p.form.depth for p in self.recipe.parts))
        if all(depth == 1 for depth in depths):
            return solved
        return forms.Relief(solved, self.assigned, depths)

    @cached_property
    def draft_form(self) -> forms.DraftForm:
        return forms.DraftForm(self.form)

    @cached_property
    def order(self) -> forms.Order:
        return order_of(self.recipe, self._places)

    @cached_property
    def coated(self) -> Coated:
        return Coated(Colouring.of(self.recipe))

    @cached_property
    def wanted(self) -> WantedShapes:
        return WantedShapes(self.coated, finish.passes_wanted(self.recipe))

    def shapes(self, draft: bool = False) -> forms.DrawnShapes:
        posed = forms.Posed(self.draft_form if draft else self.form, self.assigned,
                           covers_of(self.recipe))
        return forms.DrawnShapes(posed, self.order, lamps_of(self.recipe, self._places),
                                 self.wanted)

    # ---- Pictures ----

    def sample(self, view: View, hidden_lines: bool = False) -> picture.Sample:
        """What is seen of areas and ink; work on the areas shows the lines of hidden parts, too."""
        kind = picture.Sample if view.scale == 1 else picture.SmallSample
        return kind(self.areas, self._weighed if hidden_lines else self.printed, view)

    def prints(self, view: View, draft: bool = False) -> picture.Prints:
        return picture.Prints(self.sample(view), self.shown,
                              self.draft_form if draft else self.form,
                              tuple(p.pattern for p in self.recipe.parts))

    def masks(self, view: View, draft: bool = False) -> picture.DrawnMasks:
        return self._masks(view, self.parts_seen(view), draft)

    def parts_seen(self, view: View) -> picture.PartsSeen:
        kind = picture.PartsSeen if view.scale == 1 else picture.SmallPartsSeen
        return kind(self.sample(view), self.shown)

    def figure_seen(self, view: View) -> picture.PartsSeen:
        """The parts without what lies around them."""
        if all(p.scenery is None for p in self.recipe.parts):
            return self.parts_seen(view)
        kind = picture.PartsSeen if view.scale == 1 else picture.SmallPartsSeen
        return kind(self.sample(view), self._figure)

    def stack_masks(self, view: View) -> picture.DrawnMasks:
        """Masks with hidden parts in them, and the shadow on the ground under the figure."""
        parts = self.parts_map if view.scale == 1 else \
            picture.PartsSeen(self.sample(view), self._all_parts)
        return self._masks(view, parts, under_figure=True)

    def _masks(self, view: View, parts: picture.PartsSeen | cut.PartsMap, draft: bool = False,
               under_figure: bool = False) -> picture.DrawnMasks:
        marked = () if not self.recipe.boundaries else (
            ("shade", cut.Marked(self.areas, self.assigned, self.hues, "shade edge")),
            ("light", cut.Marked(self.areas, self.assigned, self.hues, "light edge")))
        return picture.DrawnMasks(
            self.sample(view), self.assigned, parts, self.shapes(draft), marked,
            self._touches(view), self._ground(view), self.wanted, under_figure,
            ground_rows(self.recipe.parts))

    def _touches(self, view: View) -> tuple[picture.DrawnTouch, ...]:
        rows = {p.id: row for row, p in enumerate(self.recipe.parts, start=1)}
        return tuple(picture.DrawnTouch(
            t.name, t.act, rows.get(t.part, _NO_PART) if t.part else None, t.points, t.widths,
            view) for t in self.recipe.touch_ups)

    def _ground(self, view: View) -> picture.ShadowOnGround | None:
        light, ground = self.recipe.light, self.recipe.light.ground
        if ground is None or GROUND in self.recipe.passes.off:
            return None
        return picture.ShadowOnGround(self.form, KeyLight(light.azimuth, light.height),
                                      ground.pitch, ground.drop, ground.soft, view)

    # ---- Coloured lines ----

    def _ink_plane(self, shade: InkShade, view: View, draft: bool) -> hued.InkPlane:
        wide = finish.widened(view, math.ceil(MOST_REACH * view.scale), self.recipe.size)
        return hued.InkPlane(
            finish.PassPlane(self.masks(wide, draft), shade.name, False), self.figure_seen(wide),
            self.draft_form if draft else self.form, self.printed, inking.hand_of(shade),
            finish.rows_of(self.recipe, shade.parts) if shade.parts else None, wide, view)

    def _drawing(self, drawing: AsDrawn, view: View) -> hued.DrawingSeen:
        evened = hued.AgainstPaper(self.source, self.darkness, self.recipe.lines.even,
                                   drawing.hues)
        return hued.DrawingSeen(evened, inking.tones_of(drawing), drawing.paper, view,
                                self.hidden_lines)

    @cached_property
    def stretches(self) -> inked.FoundStretches:
        return inked.FoundStretches(self.areas, self.assigned, self.ink)

    @cached_property
    def line_table(self) -> hued.LineTable:
        recipe = self.recipe
        return hued.LineTable(
            self.line_owners, inking.sides_of(recipe),
            recipe.ink.rule, inking.chosen_of(recipe), from_hex(recipe.lines.colour))

    def stretches_seen(self, view: View) -> inked.StretchesSeen:
        return inked.StretchesSeen(self.stretches, view)

    def small_ink(self, view: View) -> inked.SmallInk:
        return inked.SmallInk(self.printed, view)

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
        return inked.Owners(self.stretches, self.form, self.order)

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

    def line_image(self, view: View, draft: bool = False) -> hued.LineImage:
        recipe = self.recipe
        return hued.LineImage(
            hued.LineShares(self.stretches, self.printed, recipe.ink.blend, recipe.size, view),
            inked.FacingSeen(self._facing(draft), view),
            self.line_table)

    # ---- What lies over all parts ----

    @cached_property
    def over(self) -> tuple[Over, ...]:
        """The lines, and what finishes the picture below and above them."""
        recipe, layers = self.recipe, finish.drawn(self.recipe)
        halo = () if self.halo is None else (
            Over("finish", "halo", from_hex(recipe.halo.colour), soft=picture.HALO),)
        return (*(finish.over_of(recipe, f) for f in layers if not f.over_lines),
                *inking.inked_over(recipe), *halo,
                *(finish.over_of(recipe, f) for f in layers if f.over_lines))

    def planes(self, view: View, draft: bool = False) -> picture.Planes:
        """The soft planes by which they are laid."""
        halo = () if self.halo is None else (
            (picture.HALO, picture.SmallHalo(self.halo, view)),)
        shades = ((hued.shade_name(k), self._ink_plane(shade, view, draft))
                  for k, shade in enumerate(self.recipe.ink.shades))
        return (*halo, *shades, *((finish.plane_name(f), self._finish_plane(f, view, draft))
                                  for f in finish.drawn(self.recipe) if finish.is_soft(f)))

    def images(self, view: View, draft: bool = False) -> picture.Images:
        """The images that they name."""
        found = ((finish.plane_name(f), finish.image_of(f, view))
                 for f in finish.drawn(self.recipe))
        laid = tuple((name, finish.OpaqueImage(image)) for name, image in found if image)
        drawing = self.recipe.ink.drawing
        if drawing is not None:
            return (*laid, (hued.DRAWING, self._drawing(drawing, view)))
        if inking.coloured(self.recipe):
            return (*laid, (hued.IMAGE, self.line_image(view, draft)))
        return laid

    def _finish_plane(self, layer: FinishLayer, view: View, draft: bool) -> finish.FinishPlane:
        operators = finish.operators_of(layer, view.scale)
        wide = finish.widened(view, reach_of(operators), self.recipe.size) if operators else view
        return finish.FinishPlane(
            self._finish_shape(layer, wide, draft), operators, layer.texture,
            finish.fade_of(layer), finish.image_of(layer, view), wide, view)

    def _finish_shape(self, layer: FinishLayer, view: View, draft: bool) -> finish.Shaped:
        match layer.shape:
            case InPass(name=name, outside=outside):
                return finish.PassPlane(self.masks(view, draft), name, outside)
            case OfParts(parts=ids):
                return finish.PartsPlane(self.parts_seen(view), finish.rows_of(self.recipe, ids)) \
                    if ids else finish.PartsPlane(self.figure_seen(view), None)
            case Spots(strokes=strokes):
                return finish.SpotsPlane(
                    tuple(Spot(s.points, s.widths, s.erases) for s in strokes), view)
            case OfLines():
                return inked.SmallInk(self.printed, view)
        return finish.Filled(view)

    # ---- Pictures of all of it ----

    def picture(self, view: View, draft: bool = False) -> picture.Picture:
        prints = self.prints(view, draft)
        return picture.Picture(
            picture.CutRuns(self.masks(view, draft)),
            picture.Layered(self.coated, prints.rows, self.over), prints,
            self.planes(view, draft), self.images(view, draft), view)

    # ---- The stack ----

    @cached_property
    def stack_figure(self) -> stack.StackFigure:
        recipe = self.recipe
        rows = list(enumerate(recipe.parts, start=1))
        return stack.StackFigure(
            self.coated.colouring, tuple(p.name for p in recipe.parts),
            tuple(row for row, p in rows if p.pattern),
            self._hidden_rows,
            self.over, self.halo,
            inked.LineRows(self.line_owners) if self._lines_by_part else None,
            farthest_first(recipe.parts))

    @property
    def _lines_by_part(self) -> bool:
        return self.recipe.delivery.lines == "by part" and bool(self.recipe.parts)

    @cached_property
    def plan(self) -> stack.PlannedStack:
        whole = self.stack_masks(View.whole(*self.recipe.size))
        return stack.PlannedStack(self.stack_figure,
                                  stack.PaintedCoverage(whole, len(self.recipe.parts)),
                                  self.recipe.delivery.layout())

    def stack(self, view: View, kept: bool = False) -> stack.PaintedStack:
        kind = stack.SmallStack if kept else stack.PaintedStack
        return kind(self.plan, self.stack_masks(view), self.silhouette, self.prints(view),
                    self.planes(view), self.images(view),
                    inked.LineOwnersSeen(self.line_owners, view) if self._lines_by_part else None,
                    inked.SmallInk(self._weighed, view)
                    if self._lines_by_part and self._hidden_rows else None)
