"""Edits of looks, and of the piece's own colours together with theirs."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.look import (
    MAX_LOOKS,
    MOST_LOOK_NUMBER,
    PIECE,
    WHOLES,
    Bases,
    Look,
    LookId,
    LookName,
    Wearer,
    worn,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Colour, Frozen, PartId
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, next_number, part_of
from wardrobe.recipe.edits.target import look_of, replaced


class AddLook(Frozen):
    """A new look: like another one, with these base colours on top."""

    kind: Literal["add_look"] = "add_look"
    name: LookName
    like: Wearer = PIECE
    bases: Bases = Field(default_factory=dict)
    background: Colour | None = None
    light: Light | None = None


class ChangeLook(Frozen):
    """Rename a look, retire it or bring it back."""

    kind: Literal["change_look"] = "change_look"
    look: LookId
    name: LookName | None = None
    retired: bool | None = None


class MoveLook(Frozen):
    """Hang a look before another one, or at the end of the rail."""

    kind: Literal["move_look"] = "move_look"
    look: LookId
    before: LookId | None = None


class RemoveLook(Frozen):
    """Throw a look away."""

    kind: Literal["remove_look"] = "remove_look"
    look: LookId


Followed = Literal["base", "own", "material", "pattern", "background", "light", "passes", "ink",
                   "finish"]


class FollowPiece(Frozen):
    """Looks have something as it is in the piece again, and for as long as it is."""

    kind: Literal["follow_piece"] = "follow_piece"
    looks: Annotated[tuple[LookId, ...], Field(min_length=1, max_length=MAX_LOOKS)]
    what: Annotated[tuple[Followed, ...], Field(min_length=1, max_length=9)]
    parts: Annotated[tuple[PartId, ...], Field(max_length=200)] = ()


def dressed(recipe: Recipe, wearer: str) -> Recipe:
    """The piece as it is in one of its looks; ``piece`` for itself."""
    return recipe if wearer == PIECE else worn(recipe, look_of(recipe, wearer))


def _add(recipe: Recipe, edit: AddLook) -> Recipe:
    if len(recipe.looks) >= MAX_LOOKS:
        raise EditRefusedError(f"A piece has at most {MAX_LOOKS} looks; throw one away first.")
    number = next_number((int(k.id[1:]) for k in recipe.looks), MOST_LOOK_NUMBER)
    like = Look(id="k0", name="-") if edit.like == PIECE else look_of(recipe, edit.like)
    for part in edit.bases:
        part_of(recipe, part)
    same = {p.id: p.base for p in recipe.parts}
    new = like.model_copy(update={
        "id": f"k{number}", "name": edit.name, "retired": False,
        "bases": {p: c for p, c in {**like.bases, **edit.bases}.items() if c != same.get(p)},
        "own": {p: own for p, own in like.own.items() if p not in edit.bases},
        "background": edit.background or like.background, "light": edit.light or like.light})
    at = next((k + 1 for k, look in enumerate(recipe.looks) if look.id == edit.like),
              len(recipe.looks))
    return recipe.model_copy(update={"looks": (*recipe.looks[:at], new, *recipe.looks[at:])})


def _change(recipe: Recipe, edit: ChangeLook) -> Recipe:
    changes = {what: value for what in ("name", "retired")
               if (value := getattr(edit, what)) is not None}
    return replaced(recipe, look_of(recipe, edit.look).model_copy(update=changes))


def _follow(recipe: Recipe, edit: FollowPiece) -> Recipe:
    for part in edit.parts:
        part_of(recipe, part)
    for look_id in edit.looks:
        look = look_of(recipe, look_id)
        changes: dict[str, object] = {}
        for what in edit.what:
            if what == "finish":
                changes |= {"finish": None, "finish_amount": None, "focus": None}
            elif what in WHOLES:
                changes[what] = None
            elif what == "pattern":
                changes["plain"] = tuple(p for p in look.plain if p not in edit.parts)
            else:
                held = {"base": "bases", "own": "own", "material": "materials"}[what]
                changes[held] = {p: v for p, v in getattr(look, held).items()
                                 if p not in edit.parts}
        recipe = replaced(recipe, look.model_copy(update=changes))
    return recipe


def _move(recipe: Recipe, edit: MoveLook) -> Recipe:
    look = look_of(recipe, edit.look)
    rest = [k for k in recipe.looks if k is not look]
    at = len(rest) if edit.before is None else rest.index(look_of(recipe, edit.before)) \
        if edit.before != edit.look else recipe.looks.index(look)
    return recipe.model_copy(update={"looks": (*rest[:at], look, *rest[at:])})


def _remove(recipe: Recipe, edit: RemoveLook) -> Recipe:
    look = look_of(recipe, edit.look)
    return recipe.model_copy(update={"looks": tuple(k for k in recipe.looks if k is not look)})


RULES: Rules = {AddLook: _add, ChangeLook: _change, MoveLook: _move, RemoveLook: _remove,
                FollowPiece: _follow}
