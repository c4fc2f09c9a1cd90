"""The layers that finish the picture: what each is painted with, and where it lies."""

import math
from typing import assert_never

from wardrobe.core.finish.sparks import Scatter
from wardrobe.core.finish.spots import Spot
from wardrobe.core.layers.layer import Gradient
from wardrobe.core.layers.operators import Blur, reach_of
from wardrobe.core.light.rig import KeyLight
from wardrobe.recipe.document.finish import (
    Contact,
    Everywhere,
    FinishLayer,
    FormGradient,
    GivenOff,
    InPass,
    LaidPattern,
    OfLines,
    OfParts,
    Sparks,
    Spots,
)
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import finish
from wardrobe.recipe.stages import finish_shapes as shapes
from wardrobe.recipe.stages.finish_paint import FormImage, PatternImage
from wardrobe.recipe.stages.graph.seen import SeenGraph
from wardrobe.recipe.stages.inked import SmallInk
from wardrobe.recipe.stages.lines import Decoded

_LAMPS_EDGE = 240  # px of the longer edge at which parts that give off light are looked for


class FinishGraph(SeenGraph):
    """The layers that finish the picture: what each is painted with, and where it lies."""

    def finish_plane(self, layer: FinishLayer, view: View, draft: bool) -> finish.FinishPlane:
        """Where a layer lies, and how strongly."""
        operators = finish.operators_of(layer, view.scale)
        wide = self._wider(view, reach_of(operators)) if operators else view
        own = layer.texture.picture if layer.texture else None
        tile = Decoded(own.asset) if own else None
        tied = layer.focus != "as it is"
        focus = shapes.FocusPlane(tuple((*f.at, f.radius) for f in self.recipe.focus), view)
        return finish.FinishPlane(
            self._finish_shape(layer, wide, draft), operators, layer.texture, tile,
            finish.fade_of(layer), self.finish_image(layer, view, draft),
            focus if tied else None, layer.focus == "away", wide, view)

    def finish_image(self, layer: FinishLayer, view: View,
                     draft: bool) -> PatternImage | FormImage | None:
        """What a layer is painted with, if it is an image."""
        paint = layer.paint
        if isinstance(paint, LaidPattern):
            picture = Decoded(paint.pattern.picture.asset) if paint.pattern.picture else None
            blur = Blur(paint.blur * view.scale)
            wide = self._wider(view, blur.reach) if paint.blur else view
            return PatternImage(paint.pattern, paint.at, picture, blur, wide, view)
        if isinstance(paint, FormGradient):
            light = self.recipe.light
            ramp = Gradient(((0, 0, 0),), finish.stops_of(paint))
            return FormImage(self.sample(view), self.draft_form if draft else self.form,
                             paint.way, KeyLight(light.azimuth, light.height), ramp, view)
        return None

    def _wider(self, view: View, reach: int) -> View:
        return shapes.widened(view, reach, self.recipe.size)

    def _finish_shape(self, layer: FinishLayer, view: View, draft: bool) -> shapes.Shaped:
        shape, recipe = layer.shape, self.recipe
        match shape:
            case Everywhere():
                return shapes.Filled(view)
            case InPass(name=name, outside=outside):
                return shapes.PassPlane(self.masks(view, draft), name, outside)
            case OfParts(parts=ids):
                return shapes.PartsPlane(self.parts_seen(view), finish.rows_of(recipe, ids)) \
                    if ids else shapes.PartsPlane(self.figure_seen(view), None)
            case OfLines():
                return SmallInk(self.printed, view)
            case Spots(strokes=strokes):
                return shapes.SpotsPlane(
                    tuple(Spot(s.points, s.widths, s.erases) for s in strokes), view)
            case GivenOff():
                return shapes.GivenOffPlane(
                    self.sample(view), self.parts_seen(view),
                    self.draft_form if draft else self.form,
                    self.parts_seen(View.whole(*recipe.size, _LAMPS_EDGE)),
                    finish.rows_of(recipe, shape.parts), shape.reach, shape.height, view)
            case Contact(width=width):
                reach = (width + shapes.MOST_HALF_LINE) * view.scale
                wide = self._wider(view, math.ceil(reach) + 1)
                return shapes.ContactPlane(self.figure_seen(wide), self.fronts, width, wide, view)
            case Sparks():
                return shapes.SparksPlane(
                    Scatter(shape.at, shape.radius, shape.count, shape.size, shape.spread,
                            shape.seed), view)
            case _:
                assert_never(shape)
