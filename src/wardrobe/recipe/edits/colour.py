"""Edits of passes, light and background."""

from typing import Literal

from wardrobe.recipe.edits.rule import Rules
from wardrobe.recipe.model import Colour, Frozen, Light, Wash


class SetPass(Frozen):
    """The colour and strength of the shade or the light pass."""

    kind: Literal["set_pass"] = "set_pass"
    name: Literal["shade", "light"]
    wash: Wash


class MoveLight(Frozen):
    """Move the key light."""

    kind: Literal["move_light"] = "move_light"
    light: Light


class SetBackground(Frozen):
    """Colour the background."""

    kind: Literal["set_background"] = "set_background"
    colour: Colour


RULES: Rules = {
    SetPass: lambda recipe, edit: recipe.model_copy(
        update={"passes": recipe.passes.model_copy(update={edit.name: edit.wash})}),
    MoveLight: lambda recipe, edit: recipe.model_copy(update={"light": edit.light}),
    SetBackground: lambda recipe, edit: recipe.model_copy(update={"background": edit.colour}),
}
