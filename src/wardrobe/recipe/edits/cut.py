"""Edits of the cut: closings, gaps, recuts."""

from collections.abc import Callable
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field

from wardrobe.recipe.document.model import (
    MAX_CLOSINGS,
    MAX_RECUTS,
    Closing,
    OpenGap,
    Recipe,
    Recut,
    ShareArea,
)
from wardrobe.recipe.document.types import Frozen, Point
from wardrobe.recipe.edits.rule import EditRefusedError, Rules

T = TypeVar("T")


class CloseGaps(Frozen):
    """Close gaps, or add closings drawn by hand."""

    kind: Literal["close_gaps"] = "close_gaps"
    closings: Annotated[tuple[Closing, ...], Field(min_length=1, max_length=MAX_CLOSINGS)]


class InkClosing(Frozen):
    """Print a closing with the lines, or not."""

    kind: Literal["ink_closing"] = "ink_closing"
    index: Annotated[int, Field(ge=0)]
    inked: bool


class RemoveClosing(Frozen):
    """Take a closing away."""

    kind: Literal["remove_closing"] = "remove_closing"
    index: Annotated[int, Field(ge=0)]


class LeaveOpen(Frozen):
    """Leave a gap open for good: its two sides are one area."""

    kind: Literal["leave_open"] = "leave_open"
    gap: OpenGap


class AskAgain(Frozen):
    """Forget that a gap is to stay open."""

    kind: Literal["ask_again"] = "ask_again"
    index: Annotated[int, Field(ge=0)]


class LeaveFigureOpen(Frozen):
    """Let the figure run out into the ground, or look again for what would close it."""

    kind: Literal["leave_figure_open"] = "leave_figure_open"
    open: bool


class AddRecut(Frozen):
    """Change the cut by hand."""

    kind: Literal["add_recut"] = "add_recut"
    recut: Recut


class ChangeShares(Frozen):
    """Add places to an area that is shared out already."""

    kind: Literal["change_shares"] = "change_shares"
    index: Annotated[int, Field(ge=0)]
    places: Annotated[tuple[Point, ...], Field(min_length=2, max_length=200)]


def _close_gaps(recipe: Recipe, edit: CloseGaps) -> Recipe:
    if len(recipe.closings) + len(edit.closings) > MAX_CLOSINGS:
        raise EditRefusedError(f"A piece has at most {MAX_CLOSINGS} closings.")
    return recipe.model_copy(update={"closings": (*recipe.closings, *edit.closings)})


def _entry(entries: tuple[T, ...], index: int, what: str) -> T:
    if index >= len(entries):
        raise EditRefusedError(f"The {what} is no longer there.")
    return entries[index]


def _ink_closing(recipe: Recipe, edit: InkClosing) -> Recipe:
    closing = _entry(recipe.closings, edit.index, "closing")
    inked = closing.model_copy(update={"inked": edit.inked})
    return recipe.model_copy(update={"closings": (
        *recipe.closings[:edit.index], inked, *recipe.closings[edit.index + 1:])})


def _remove_entry(field: str, what: str) -> Callable[[Recipe, Any], Recipe]:
    def change(recipe: Recipe, edit: Any) -> Recipe:
        entries = getattr(recipe, field)
        _entry(entries, edit.index, what)
        return recipe.model_copy(update={
            field: (*entries[:edit.index], *entries[edit.index + 1:])})
    return change


def _add_recut(recipe: Recipe, edit: AddRecut) -> Recipe:
    if len(recipe.recuts) >= MAX_RECUTS:
        raise EditRefusedError(f"A cut is changed by hand at most {MAX_RECUTS} times.")
    return recipe.model_copy(update={"recuts": (*recipe.recuts, edit.recut)})


def _change_shares(recipe: Recipe, edit: ChangeShares) -> Recipe:
    if _entry(recipe.recuts, edit.index, "share").kind != "share":
        raise EditRefusedError("This is not an area that is shared out.")
    return recipe.model_copy(update={"recuts": (
        *recipe.recuts[:edit.index], ShareArea(places=edit.places),
        *recipe.recuts[edit.index + 1:])})


RULES: Rules = {
    CloseGaps: _close_gaps,
    InkClosing: _ink_closing,
    RemoveClosing: _remove_entry("closings", "closing"),
    LeaveOpen: lambda recipe, edit: recipe.model_copy(
        update={"left_open": (*recipe.left_open, edit.gap)}),
    AskAgain: _remove_entry("left_open", "gap"),
    LeaveFigureOpen: lambda recipe, edit: recipe.model_copy(update={"open_figure": edit.open}),
    AddRecut: _add_recut,
    ChangeShares: _change_shares,
}
