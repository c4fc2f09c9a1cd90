"""Edits of the colours of lines."""

from typing import Literal

from wardrobe.recipe.document.ink import Inking, OwnLine
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Colour, PartId
from wardrobe.recipe.edits.rule import Rules, part_of
from wardrobe.recipe.edits.target import Targeted


class SetInk(Targeted):
    """Colour all lines so."""

    kind: Literal["set_ink"] = "set_ink"
    ink: Inking


class ColourLine(Targeted):
    """Give some lines a colour of their own, or (None) that of the rule again."""

    kind: Literal["colour_line"] = "colour_line"
    part: PartId
    beside: Literal["ground", "itself"] | PartId | None = None
    colour: Colour | None


def _check(recipe: Recipe, line: OwnLine | ColourLine) -> None:
    part_of(recipe, line.part)
    if line.beside not in (None, "ground", "itself"):
        part_of(recipe, str(line.beside))


def _set(recipe: Recipe, edit: SetInk) -> Recipe:
    for line in edit.ink.own:
        _check(recipe, line)
    for part in (p for shade in edit.ink.shades for p in shade.parts):
        part_of(recipe, part)
    return recipe.model_copy(update={"ink": edit.ink})


def _colour(recipe: Recipe, edit: ColourLine) -> Recipe:
    _check(recipe, edit)
    between = frozenset([edit.part, edit.beside])
    own = tuple(o for o in recipe.ink.own if o.between != between)
    if edit.colour is not None:
        own = (*own, OwnLine(part=edit.part, beside=edit.beside, colour=edit.colour))
    ink = recipe.ink.model_copy(update={"own": own})
    return recipe.model_copy(update={"ink": type(ink).model_validate(ink.model_dump())})


RULES: Rules = {SetInk: _set, ColourLine: _colour}
