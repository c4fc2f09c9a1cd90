"""Layers that were added elsewhere come home as layers of the piece."""

import re
from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import MODES
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.core.stack.plan import planned_layers
from wardrobe.core.stack.roles import Placed, placed_layers
from wardrobe.recipe.document.finish import MAX_FINISH, FinishDraft, LaidPattern, Scope
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern, PlacedPicture
from wardrobe.recipe.edits import AddFinish
from wardrobe.recipe.exchange.layered.take_back import LayerMatch
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Keep = Callable[[Byte], PlacedPicture]  # keeps pixels, RGBA, and names them

_FAINT = 2  # alpha, of 255, up to which nothing is painted
_LONGEST_NAME = 60


@dataclass(frozen=True)
class Added:
    """A layer that the piece does not have.

    Attributes
    ----------
    placed : Placed
    part : str or None
        Whose group it lies in, or which it was said to be of.
    over_lines, behind : bool
        Whether it lies above the lines, or under the whole figure.
    """

    placed: Placed
    part: str | None
    over_lines: bool
    behind: bool


def added_layers(deriver: Deriver, recipe: Recipe, stack: Stack,
                 matches: Sequence[LayerMatch],
                 chosen: Collection[int] | None = None) -> list[Added]:
    """Painted layers of a file that are none of the piece's own, bottom to top: what is no part,
    pass or lines, what is painted on empty layers, and a further layer of a pass that is there;
    or those whose numbers are chosen."""
    own = {p.name.casefold(): p for p in planned_layers(deriver.plan(recipe))}
    placed = list(placed_layers(stack))

    def mine(k: int) -> bool:
        planned = own.get(placed[k].layer.name.strip().casefold())
        return planned is not None and planned.content != "blank"

    told = {m.index: m for m in matches}
    filled = {(m.name, m.part) for m in matches if m.kind == "pass" and mine(m.index)}
    lines = max((m.index for m in matches if m.kind == "lines"), default=len(placed))
    lowest = min((m.index for m in matches if m.kind in ("base", "silhouette") and mine(m.index)),
                 default=-1)
    found = []
    for k, one in enumerate(placed):
        match = told.get(k)
        if match is None or mine(k) or not (one.layer.alpha > _FAINT).any():
            continue
        known = match.part is None or (match.name, match.part) in filled
        new = match.kind == "other" or (match.kind == "pass" and filled and known)
        if k in chosen if chosen is not None else new:
            found.append(Added(one, match.part if _inside(one, recipe, match.part) else None,
                               k > lines, k < lowest))
    return found


def _inside(placed: Placed, recipe: Recipe, part: str | None) -> bool:
    """Whether a layer lies in the group of its part."""
    name = next((p.name.casefold() for p in recipe.parts if p.id == part), None)
    return name is not None and name in [
        step.strip().casefold() for step in placed.path.split("/")[:-1]]


def bring_home(recipe: Recipe, added: Sequence[Added], keep: Keep,
               ) -> tuple[AddFinish | None, list[str]]:
    """The edit that makes layers of the piece's finish of what was added, and what stays out.

    Each keeps its pixels, place, mode, opacity, order and name; what lay in the group of a part
    lies on that part. A layer that is there already is not brought in again.
    """
    notes: list[str] = []
    drafts: list[FinishDraft] = []
    there = set(_held(recipe))
    for one in added:
        layer = one.placed.layer
        if layer.mode not in MODES:
            notes.append(f"“{layer.name}” is laid on by “{layer.mode}”, which is no blend mode; it "
                         "was left out.")
            continue
        draft = _draft(one, layer, keep)
        if (draft.paint, draft.mode) in there:
            continue
        if len(recipe.finish) + len(drafts) >= MAX_FINISH:
            notes.append(f"“{layer.name}” was left out: a piece has at most {MAX_FINISH} layers "
                         "over it.")
            continue
        drafts.append(draft)
        there.add((draft.paint, draft.mode))
    return (AddFinish(layers=tuple(drafts)) if drafts else None), notes


def _held(recipe: Recipe) -> Iterator[tuple[object, str]]:
    for layer in recipe.finish:
        yield layer.paint, layer.mode


def _draft(one: Added, layer: Layer, keep: Keep) -> FinishDraft:
    x, y, w, h = cv2.boundingRect((layer.alpha > 0).astype(np.uint8))
    pixels = np.ascontiguousarray(layer.pixels[y:y + h, x:x + w])
    at = layer.x + x + w / 2, layer.y + y + h / 2
    pattern = Pattern(picture=keep(pixels), period=float(max(2, w, h)), follow=False)
    scope: Scope = "parts" if one.part else "ground" if one.behind else "everything"
    said = re.sub(r"[/\\<>:\"|?*]", " ", layer.name.split(" / ")[-1])
    name = " ".join(said.split())[:_LONGEST_NAME].strip() or "layer"
    return FinishDraft(
        name=name, paint=LaidPattern(at=at, pattern=pattern), mode=layer.mode,
        strength=layer.opacity, scope=scope, parts=(one.part,) if one.part else (),
        over_lines=one.over_lines, visible=one.placed.shown)
