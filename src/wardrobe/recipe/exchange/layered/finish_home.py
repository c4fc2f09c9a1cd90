"""The piece's own finish layers in a file that comes back: renamed, moved, changed, or gone."""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import MODES
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.core.stack.plan import planned_layers
from wardrobe.core.stack.roles import Placed, placed_layers
from wardrobe.recipe.document.finish import Everywhere, FinishDraft, FinishLayer, LaidPattern
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern, PlacedPicture
from wardrobe.recipe.edits import ChangeFinish, MoveFinish, apply
from wardrobe.recipe.exchange.layered.take_back import LayerMatch
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Keep = Callable[[Byte], PlacedPicture]  # keeps pixels, RGBA, and names them

FAINT = 2  # alpha, of 255, up to which nothing is painted
_ROUNDED = 1.5  # levels, on black and white, by which files round
_ALIKE = 0.005  # opacities that files round
_LONGEST_NAME = 60


@dataclass(frozen=True)
class AtHome:
    """A finish layer of the piece, and what it is in a file.

    Attributes
    ----------
    own : FinishLayer
    delivered : Layer
        As the piece delivers it.
    placed : Placed or None
        What it is in the file; None if it is gone.
    over_lines : bool
        Whether it lies above the lines there.
    """

    own: FinishLayer
    delivered: Layer
    placed: Placed | None
    over_lines: bool


def finish_at_home(deriver: Deriver, recipe: Recipe, stack: Stack,
                   matches: Sequence[LayerMatch]) -> list[AtHome]:
    """Find the piece's finish layers that are seen in a file: by name, or by their pixels."""
    delivered = deriver.finish_layers(recipe)
    placed = list(placed_layers(stack))
    by_name = {p.layer.name.strip().casefold(): p for p in placed}
    lines = max((m.index for m in matches if m.kind == "lines"), default=len(placed))
    found = {own.id: by_name.get(layer.name.casefold()) for own, layer in delivered}
    known = {p.name.casefold() for p in planned_layers(deriver.plan(recipe))}
    strange = {p.order for p in placed if p.layer.name.strip().casefold() not in known}
    for own, layer in delivered:
        if found[own.id] is None:
            found[own.id] = next((p for p in placed if p.order in strange
                                  and p.layer.mode == layer.mode
                                  and same_pixels(p.layer, layer, stack)), None)
            strange -= {p.order for p in [found[own.id]] if p}
    return [AtHome(own, layer, at, own.over_lines if at is None else at.order > lines)
            for own, layer in delivered for at in [found[own.id]]]


def changed_finish(recipe: Recipe, home: Sequence[AtHome], stack: Stack, keep: Keep,
                   ) -> tuple[list[ChangeFinish | MoveFinish], list[str]]:
    """The edits that make the piece's finish layers what they are in the file, and what they
    change, in words. What is gone is left as it is."""
    edits: list[ChangeFinish | MoveFinish] = []
    changes: list[str] = []
    for one in home:
        draft, what = _changed(recipe, one, stack, keep)
        if what:
            edits.append(ChangeFinish(layer=one.own.id, to=draft))
            changes.append(f"“{one.own.name}” {' and '.join(what)}.")
    order = {h.own.id: h.placed.order for h in home if h.placed}
    moves = _moves(recipe, order)
    if moves:
        changes.append("Finish layers lie in another order.")
    return [*edits, *moves], changes


def _changed(recipe: Recipe, one: AtHome, stack: Stack, keep: Keep,
             ) -> tuple[FinishDraft, list[str]]:
    own, at = one.own, one.placed
    draft = FinishDraft(**{name: getattr(own, name) for name in FinishDraft.model_fields})
    if at is None:
        return draft, []
    layer, update, what = at.layer, dict[str, object](), list[str]()
    name = finish_name(layer.name)
    if layer.name.strip().casefold() != one.delivered.name.casefold() and name != own.name:
        update["name"] = name
        what.append(f"is called “{name}” now")
    if layer.mode != own.mode and layer.mode in MODES:
        update["mode"] = layer.mode
        what.append(f"is laid on by {layer.mode}")
    if abs(layer.opacity - one.delivered.opacity) > _ALIKE:
        update["strength"] = strength_of(recipe, layer)
        what.append(f"has an opacity of {layer.opacity:.0%}")
    if not at.shown:
        update["visible"] = False
        what.append("is hidden")
    if one.over_lines != own.over_lines:
        update["over_lines"] = one.over_lines
        what.append(f"lies {'over' if one.over_lines else 'under'} the lines")
    if not same_pixels(layer, one.delivered, stack):
        # A picture of what is there now, wherever it lies.
        update |= {"paint": painted_as(layer, keep), "shape": Everywhere(), "operations": (),
                   "texture": None, "focus": "as it is", "scope": "everything", "parts": ()}
        what.append("was painted on, and is a picture now")
    return draft.model_copy(update=update), what


def _moves(recipe: Recipe, order: Mapping[str, int]) -> list[MoveFinish]:
    """Moves after which the layers of a file lie in its order; others keep their places."""
    held = [layer.id for layer in recipe.finish]
    there = iter(sorted((i for i in held if i in order), key=lambda i: order[i]))
    wanted = [next(there) if i in order else i for i in held]
    moves: list[MoveFinish] = []
    for k in range(len(wanted) - 1, -1, -1):
        below = wanted[k + 1] if k + 1 < len(wanted) else None
        now = [layer.id for layer in recipe.finish]
        if now.index(wanted[k]) != k:
            moves.append(MoveFinish(layer=wanted[k], below=below))
            recipe = apply(recipe, moves[-1])
    return moves


def painted_as(layer: Layer, keep: Keep) -> LaidPattern:
    """A layer's pixels as paint, where they lie."""
    if not (layer.alpha > 0).any():
        pixels, x, y = np.zeros((2, 2, 4), np.uint8), 0, 0
    else:
        x, y, w, h = cv2.boundingRect((layer.alpha > 0).astype(np.uint8))
        pixels = np.ascontiguousarray(layer.pixels[y:y + h, x:x + w])
    height, width = pixels.shape[:2]
    at = layer.x + x + width / 2, layer.y + y + height / 2
    return LaidPattern(at=at, pattern=Pattern(
        picture=keep(pixels), period=float(max(2, width, height)), follow=False))


def strength_of(recipe: Recipe, layer: Layer) -> float:
    """The strength at which a layer has its opacity, whatever all finish is scaled by."""
    return min(1.0, layer.opacity / recipe.finish_amount) if recipe.finish_amount > 0 \
        else layer.opacity


def finish_name(said: str) -> str:
    """A layer's own name, as a finish layer may have it."""
    name = re.sub(r"[/\\<>:\"|?*]", " ", said.rsplit(" / ", maxsplit=1)[-1])
    return " ".join(name.split())[:_LONGEST_NAME].strip() or "layer"


def same_pixels(one: Layer, other: Layer, stack: Stack) -> bool:
    """Whether two layers look the same on black and on white."""
    shape = stack.height, stack.width
    boxes = [where_on(layer, shape)[0] for layer in (one, other)]
    box = tuple(slice(min(b[k].start for b in boxes), max(b[k].stop for b in boxes))
                for k in range(2))
    a, b = (_premultiplied(layer, box) for layer in (one, other))
    return bool(np.abs(a - b).max(initial=0) <= _ROUNDED)


def _premultiplied(layer: Layer, box: tuple[slice, ...]) -> NDArray[np.float32]:
    top, left = box[0].start, box[1].start
    plane = np.zeros((box[0].stop - top, box[1].stop - left, 4), np.float32)
    (rows, columns), alpha = where_on(layer, (box[0].stop, box[1].stop))
    y, x = max(0, -layer.y), max(0, -layer.x)
    pixels = layer.pixels[y:y + alpha.shape[0], x:x + alpha.shape[1]].astype(np.float32)
    pixels[..., :3] *= pixels[..., 3:] / 255
    plane[rows.start - top:rows.stop - top, columns.start - left:columns.stop - left] = pixels
    return plane
