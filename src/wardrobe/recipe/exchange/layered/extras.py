"""Layers that were added elsewhere come home as layers of the piece."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from wardrobe.core.composite.modes import MODES
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.plan import planned_layers
from wardrobe.core.stack.roles import Placed, placed_layers
from wardrobe.recipe.document.finish import MAX_FINISH, FinishDraft, Scope
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import AddFinish
from wardrobe.recipe.exchange.layered.finish_home import (
    FAINT,
    Keep,
    finish_at_home,
    finish_name,
    painted_as,
    strength_of,
)
from wardrobe.recipe.exchange.layered.take_back import LayerMatch
from wardrobe.recipe.stages import Deriver


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

    names = {p.layer.name.strip().casefold() for p in placed}
    gone = any(p.over and p.over.part == "finish" and n not in names for n, p in own.items())
    renamed = {home.placed.order for home in finish_at_home(deriver, recipe, stack, matches)
               if home.placed} if gone else set()

    def mine(k: int) -> bool:
        planned = own.get(placed[k].layer.name.strip().casefold())
        return k in renamed or (planned is not None and planned.content != "blank")

    told = {m.index: m for m in matches}
    drawn = {(layer.layer.shape, recipe.parts[row - 1].id) for layer in own.values()
             if layer.layer and layer.content == "pass" for row in layer.rows if row}
    filled = {(m.name, m.part) for m in matches if m.kind == "pass" and mine(m.index)}
    lines = max((m.index for m in matches if m.kind == "lines"), default=len(placed))
    lowest = min((m.index for m in matches if m.kind in ("base", "silhouette") and mine(m.index)),
                 default=-1)
    found = []
    for k, one in enumerate(placed):
        match = told.get(k)
        if match is None or mine(k) or not (one.layer.alpha > FAINT).any():
            continue
        known = match.part is None or (match.name, match.part) in filled \
            or (match.name, match.part) not in drawn
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
               at: Mapping[str, int] | None = None) -> tuple[list[AddFinish], list[str]]:
    """The edits that make layers of the piece's finish of what was added, and what stays out.

    Each keeps its pixels, place, mode, opacity, order and name; what lay in the group of a part
    lies on that part. A layer that is there already is not brought in again.

    Parameters
    ----------
    recipe : Recipe
    added : sequence of Added
        Bottom to top.
    keep : callable
    at : mapping of str to int or None
        Where the piece's own finish layers lie in the file, by their ids.
    """
    notes: list[str] = []
    drafts: list[tuple[FinishDraft, int]] = []
    there = {(layer.paint, layer.mode) for layer in recipe.finish}
    for one in added:
        layer = one.placed.layer
        if layer.mode not in MODES:
            notes.append(f"“{layer.name}” is laid on by “{layer.mode}”, which is no blend mode; it "
                         "was left out.")
            continue
        draft = _draft(recipe, one, keep)
        if (draft.paint, draft.mode) in there:
            continue
        if len(recipe.finish) + len(drafts) >= MAX_FINISH:
            notes.append(f"“{layer.name}” was left out: a piece has at most {MAX_FINISH} layers "
                         "over it.")
            continue
        drafts.append((draft, one.placed.order))
        there.add((draft.paint, draft.mode))
    above = sorted((order, layer) for layer, order in (at or {}).items())
    found: dict[str | None, list[FinishDraft]] = {}
    for draft, order in drafts:
        found.setdefault(next((i for o, i in above if o > order), None), []).append(draft)
    return [AddFinish(layers=tuple(new), below=below) for below, new in found.items()], notes


def _draft(recipe: Recipe, one: Added, keep: Keep) -> FinishDraft:
    layer = one.placed.layer
    scope: Scope = "parts" if one.part else "ground" if one.behind else "everything"
    return FinishDraft(
        name=finish_name(layer.name), paint=painted_as(layer, keep), mode=layer.mode,
        strength=strength_of(recipe, layer), scope=scope, parts=(one.part,) if one.part else (),
        over_lines=one.over_lines, visible=one.placed.shown)
