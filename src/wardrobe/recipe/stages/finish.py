"""What finishes a picture: the planes and images of its layers, and the layers themselves."""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from wardrobe.core.colour import from_hex
from wardrobe.core.finish.textures import TEXTURES, own_tile, through_texture, tile_of
from wardrobe.core.layers.gradient import let_through
from wardrobe.core.layers.layer import INK, Gradient
from wardrobe.core.layers.operators import OPERATORS, Operator, applied
from wardrobe.core.passes.layers import Over
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.finish import (
    ColourGradient,
    Everywhere,
    FinishLayer,
    FormGradient,
    InPass,
    LaidPattern,
    OfLines,
    PlainColour,
    TextureUse,
)
from wardrobe.recipe.document.model import Recipe, ground_rows, hidden
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.finish_paint import FormImage, PatternImage
from wardrobe.recipe.stages.finish_shapes import FocusPlane, Shaped, inside
from wardrobe.recipe.stages.lines import Byte, Decoded
from wardrobe.recipe.stages.picture import origin_of
from wardrobe.recipe.stages.stage import Get, Stage


@dataclass(frozen=True, eq=False)
class FinishPlane(Stage[Byte]):
    """Where a layer lies, and how strongly, over a view.

    Attributes
    ----------
    shape : Shaped
        Before anything is done to it, over ``wide``, which is larger by what operators reach.
    operators : tuple of Operator
    texture : TextureUse or None
    tile : Decoded or None
        A texture of one's own.
    fade : Gradient or None
        What a gradient lets through, as greys.
    image : PatternImage, FormImage or None
        What it lets through counts.
    focus : FocusPlane or None
        Where the eye should go, if it is kept to that, or away from it.
    away : bool
    """

    shape: Shaped
    operators: tuple[Operator, ...]
    texture: TextureUse | None
    tile: Decoded | None
    fade: Gradient | None
    image: PatternImage | FormImage | None
    focus: FocusPlane | None
    away: bool
    wide: View
    view: View

    def make(self, get: Get) -> Byte:
        view, wide = self.view, self.wide
        plane = get(self.shape)
        if self.operators:
            corner = round(wide.y * view.scale), round(wide.x * view.scale)
            plane = applied(self.operators, plane, corner, inside(view, wide, plane.shape))
        origin = origin_of(view)
        if self.texture is not None:
            use = self.texture
            levels = np.rint(255 - use.amount * (255 - np.arange(256))).astype(np.uint8)
            tile = own_tile(get(self.tile)) if self.tile else tile_of(TEXTURES[use.key])
            tile = cv2.LUT(tile, levels)
            plane = through_texture(plane, tile, use.size, use.angle, origin)
        if self.fade is not None:
            plane = let_through(plane, self.fade, origin)
        if self.image is not None:
            plane = _times(plane, get(self.image)[..., 3])
        if self.focus is not None:
            near = get(self.focus)
            plane = _times(plane, np.uint8(255) - near if self.away else near)
        return plane


def _times(plane: Byte, other: Byte) -> Byte:
    return cv2.multiply(plane, np.ascontiguousarray(other), scale=1 / 255)


Stops = tuple[tuple[float, tuple[int, int, int, int]], ...]


def plane_name(layer: FinishLayer) -> str:
    """Name of the soft plane and of the image of a layer."""
    return f"finish {layer.id}"


def drawn(recipe: Recipe) -> tuple[FinishLayer, ...]:
    """The layers that are seen, from the bottom."""
    return tuple(layer for layer in recipe.finish
                 if layer.visible and layer.strength * recipe.finish_amount > 0)


def passes_wanted(recipe: Recipe) -> tuple[str, ...]:
    """Passes whose shapes layers fill, beside those that lie on the parts."""
    found = {layer.shape.name for layer in drawn(recipe) if isinstance(layer.shape, InPass)}
    found |= {shade.name for shade in recipe.ink.shades}
    return tuple(key for key in PASSES if key in found and not PASSES[key].lamp)


def is_soft(layer: FinishLayer) -> bool:
    """Whether a layer is laid by a plane of its own, rather than by a shape as it is."""
    paint, shape = layer.paint, layer.shape
    lets_through = isinstance(paint, LaidPattern | FormGradient) or (
        isinstance(paint, ColourGradient) and any(s.opacity < 1 for s in paint.stops))
    as_it_is = isinstance(shape, Everywhere | OfLines) or (
        isinstance(shape, InPass) and not PASSES[shape.name].lamp)
    return bool(layer.operations or layer.texture or lets_through or not as_it_is
                or layer.focus != "as it is")


def over_of(recipe: Recipe, layer: FinishLayer) -> Over:
    """A layer as the compositor and the stack take it."""
    shape, soft = layer.shape, is_soft(layer)
    hard = None if soft else INK if isinstance(shape, OfLines) else \
        shape.name if isinstance(shape, InPass) else None
    paint = layer.paint
    source = from_hex(paint.colour) if isinstance(paint, PlainColour) else \
        _gradient(paint) if isinstance(paint, ColourGradient) else plane_name(layer)
    return Over("finish", layer.name, source, layer.mode,
                layer.strength * recipe.finish_amount, hard,
                isinstance(shape, InPass) and shape.outside and not soft,
                plane_name(layer) if soft else None, _rows(recipe, layer))


def _rows(recipe: Recipe, layer: FinishLayer) -> frozenset[int] | None:
    if layer.scope == "everything":
        return None
    around = ground_rows(recipe.parts)
    rows = enumerate(recipe.parts, start=1)
    return around if layer.scope == "ground" else frozenset(
        row for row, part in rows
        if (row not in around if layer.scope == "figure" else part.id in layer.parts))


def operators_of(layer: FinishLayer, scale: float) -> tuple[Operator, ...]:
    """What is done to a layer's shape in a view."""
    return tuple(OPERATORS[o.kind].make(o.all_amounts, scale) for o in layer.operations)


def _rows_along(paint: ColourGradient) -> tuple[tuple[float, float, float], ...]:
    (ax, ay), (bx, by) = paint.ends
    length = max(math.hypot(bx - ax, by - ay), 1e-3)
    ux, uy = (bx - ax) / length**2, (by - ay) / length**2
    if paint.round:
        return (1 / length, 0.0, -ax / length), (0.0, 1 / length, -ay / length)
    return ((ux, uy, -ax * ux - ay * uy),)


def _gradient(paint: ColourGradient) -> Gradient:
    return Gradient(_rows_along(paint), stops_of(paint))


def stops_of(paint: ColourGradient | FormGradient) -> Stops:
    """The colours of a gradient along the form, and of one by place without what it lets
    through, which is in its plane."""
    clear = isinstance(paint, FormGradient)
    return tuple((s.at, (*from_hex(s.colour), round(255 * s.opacity) if clear else 255))
                 for s in paint.stops)


def fade_of(layer: FinishLayer) -> Gradient | None:
    """What a gradient lets through, as greys; None if everything."""
    paint = layer.paint
    if not isinstance(paint, ColourGradient) or all(s.opacity == 1 for s in paint.stops):
        return None
    return Gradient(_rows_along(paint), tuple((s.at, (round(255 * s.opacity),) * 3 + (255,))
                                              for s in paint.stops))


def rows_of(recipe: Recipe, ids: tuple[str, ...]) -> tuple[int, ...]:
    """Rows of parts that are seen."""
    out_of_sight = hidden(recipe.parts)
    return tuple(row for row, p in enumerate(recipe.parts, start=1)
                 if p.id in ids and p.id not in out_of_sight)
