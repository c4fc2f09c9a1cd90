"""Edits of bases, passes and background."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.colour.nudge import nudge
from wardrobe.core.passes.seen import in_bytes, seen
from wardrobe.recipe.document.colouring import Passes, Wash, WashKey
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.document.types import Colour, Frozen, MethodKey, NudgeKey, PartId, PassKey
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, changed_part, part_of
from wardrobe.recipe.edits.target import Targeted
from wardrobe.recipe.stages.colours import Colouring, coats_of


class SetPass(Targeted):
    """The colour and strength of a pass that is the same for all parts."""

    kind: Literal["set_pass"] = "set_pass"
    name: WashKey
    wash: Wash


class SetPasses(Targeted):
    """All rules of the passes: method, washes, amounts, what is off."""

    kind: Literal["set_passes"] = "set_passes"
    passes: Passes


class SetMethod(Frozen):
    """A part's method, where it differs from the piece's; None for the piece's."""

    kind: Literal["set_method"] = "set_method"
    part: PartId
    method: MethodKey | None


class ChooseColours(Targeted):
    """Colours that are to be seen in a part's passes; None gives one back to the rule."""

    kind: Literal["choose_colours"] = "choose_colours"
    part: PartId
    own: Annotated[dict[PassKey, Colour | None], Field(min_length=1, max_length=20)]


class NudgeColour(Targeted):
    """Move a part's base, or what is seen in one of its passes, by steps that look equal."""

    kind: Literal["nudge_colour"] = "nudge_colour"
    part: PartId
    name: Literal["base"] | PassKey
    to: NudgeKey
    times: Annotated[int, Field(ge=1, le=60)] = 1


class SetBackground(Targeted):
    """Colour the background."""

    kind: Literal["set_background"] = "set_background"
    colour: Colour


def _choose(recipe: Recipe, edit: ChooseColours) -> Recipe:
    own = dict(part_of(recipe, edit.part).own)
    for name, colour in edit.own.items():
        if colour is None:
            own.pop(name, None)
        else:
            own[name] = colour
    return changed_part(recipe, edit.part, own=own)


def _nudge(recipe: Recipe, edit: NudgeColour) -> Recipe:
    part: Part = part_of(recipe, edit.part)
    if edit.name == "base":
        base = nudge(from_hex(part.base), edit.to, edit.times)
        return changed_part(recipe, edit.part, base=to_hex(base))
    coat = coats_of(Colouring.of(recipe))[recipe.parts.index(part)]
    if edit.name not in coat.shapes():
        raise EditRefusedError(f"“{part.name}” has no {edit.name} to change.")
    here = in_bytes(seen(coat, from_hex(part.base), edit.name))
    moved = to_hex(nudge(here, edit.to, edit.times))
    return changed_part(recipe, edit.part, own={**part.own, edit.name: moved})


RULES: Rules = {
    SetPass: lambda recipe, edit: recipe.model_copy(
        update={"passes": recipe.passes.model_copy(
            update={edit.name.replace(" ", "_"): edit.wash})}),
    SetPasses: lambda recipe, edit: recipe.model_copy(update={"passes": edit.passes}),
    SetMethod: lambda recipe, edit: changed_part(recipe, edit.part, method=edit.method),
    ChooseColours: _choose,
    NudgeColour: _nudge,
    SetBackground: lambda recipe, edit: recipe.model_copy(update={"background": edit.colour}),
}
