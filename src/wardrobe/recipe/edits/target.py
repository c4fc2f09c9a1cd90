"""What an edit is made on: the piece, or its looks, which store the difference that it makes."""

from collections.abc import Callable
from typing import Annotated, Any, TypeVar

from pydantic import Field

from wardrobe.recipe.document.look import (
    MAX_LOOKS,
    PIECE,
    WHOLES,
    Look,
    Wearer,
    dressed_parts,
    worn,
)
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.edits.rule import EditRefusedError, part_of

V = TypeVar("V")
Wearers = Annotated[tuple[Wearer, ...], Field(min_length=1, max_length=MAX_LOOKS + 1)]
_OF_PARTS = {"base", "own", "material", "pattern"}


class Targeted(Frozen):
    """An edit that can be made on the piece, on looks, or on several of them at once: on each
    from where it is."""

    targets: Wearers = (PIECE,)


def look_of(recipe: Recipe, look_id: str) -> Look:
    """The look of an id.

    Raises
    ------
    EditRefusedError
        If there is none.
    """
    for look in recipe.looks:
        if look.id == look_id:
            return look
    raise EditRefusedError("The look is no longer there.")


def replaced(recipe: Recipe, new: Look) -> Recipe:
    """The recipe with one look in the place of that of its id."""
    return recipe.model_copy(update={
        "looks": tuple(new if look.id == new.id else look for look in recipe.looks)})


def apply_to(recipe: Recipe, edit: Targeted, rule: Callable[[Recipe, Any], Recipe]) -> Recipe:
    """The recipe after an edit on its targets.

    Raises
    ------
    EditRefusedError
        If a look is not there, or the edit makes a difference that looks do not hold.
    """
    made = []
    for target in dict.fromkeys(edit.targets):
        if target != PIECE:
            look = look_of(recipe, target)
            before = worn(recipe, look)
            made.append((look, before, rule(before, edit)))
    if PIECE in edit.targets:
        recipe = rule(recipe, edit)
    for look, before, after in made:
        recipe = replaced(recipe, _noted(recipe, look, before, after))
    return recipe


def _noted(recipe: Recipe, look: Look, before: Recipe, after: Recipe) -> Look:
    """The look with the difference that was made; what is as in the piece is not said."""
    changed = {name for name in Recipe.model_fields
               if getattr(before, name) is not getattr(after, name)} - {"proposed"}
    if changed - {"parts", *WHOLES} or len(after.parts) != len(before.parts):
        raise EditRefusedError("This belongs to the piece, and to all of its looks.")
    # What is given as a whole is the look's own even where it is as in the piece.
    look = look.model_copy(update={name: getattr(after, name)
                                   for name in WHOLES if name in changed})
    for was, now in zip(before.parts, after.parts, strict=True):
        if now is not was:
            look = _part_noted(look, part_of(recipe, now.id), was, now)
    return look


def _part_noted(look: Look, piece: Part, was: Part, now: Part) -> Look:
    differs = {name for name in Part.model_fields if getattr(was, name) != getattr(now, name)}
    if differs - _OF_PARTS:
        raise EditRefusedError(f"“{was.name}” has its name and its place in all looks.")
    i, own = now.id, look.own
    if "base" in differs and "own" not in differs:
        own = {p: colours for p, colours in own.items() if p != i}  # chosen for the other base
    if "own" in differs:
        usual = piece.own if now.base == piece.base else {}
        own = said(own, i, now.own, now.own != usual)
    plain = look.plain
    if "pattern" in differs and now.pattern is None:
        plain = (*plain, i)
    elif "pattern" in differs:
        plain = tuple(p for p in plain if p != i)
        if dressed_parts((piece,), look.model_copy(update={"plain": plain}))[0].pattern \
                not in (now.pattern, piece.pattern):
            raise EditRefusedError("A look does without a pattern, but has none of its own.")
    return look.model_copy(update={
        "bases": said(look.bases, i, now.base, now.base != piece.base)
        if "base" in differs else look.bases,
        "materials": said(look.materials, i, now.material, now.material != piece.material)
        if "material" in differs else look.materials,
        "own": own, "plain": plain})


def said(told: dict[str, V], part: str, value: V, differs: bool) -> dict[str, V]:
    """What a look says of parts, with or without one of them."""
    rest = {p: v for p, v in told.items() if p != part}
    return {**rest, part: value} if differs else rest
