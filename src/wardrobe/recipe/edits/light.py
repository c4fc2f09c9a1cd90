"""Edits of the lights, of how parts take shape under them, and touch-ups of the shapes."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.lighting import (
    MAX_TOUCH_UPS,
    Light,
    PartForm,
    TouchStroke,
    TouchUp,
    check_points,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Frozen, PartId
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, changed_part, part_of
from wardrobe.recipe.edits.target import Targeted

Ids = Annotated[tuple[int, ...], Field(min_length=1, max_length=MAX_TOUCH_UPS)]


class MoveLight(Targeted):
    """Move, colour or add lights, and change how their shapes are drawn."""

    kind: Literal["move_light"] = "move_light"
    light: Light


class SetForm(Frozen):
    """How a part takes shape under the light."""

    kind: Literal["set_form"] = "set_form"
    part: PartId
    form: PartForm


class TouchUpPass(TouchStroke):
    """Correct the shape of a pass by hand."""

    kind: Literal["touch_up_pass"] = "touch_up_pass"


class RemoveTouchUps(Frozen):
    """Remove touch-ups."""

    kind: Literal["remove_touch_ups"] = "remove_touch_ups"
    ids: Ids


class KeepTouchUps(Frozen):
    """Keep touch-ups that were made for another light, as made for this one."""

    kind: Literal["keep_touch_ups"] = "keep_touch_ups"
    ids: Ids


def _touch_up(recipe: Recipe, edit: TouchUpPass) -> Recipe:
    if edit.part is not None:
        part_of(recipe, edit.part)
    if len(recipe.touch_ups) >= MAX_TOUCH_UPS:
        raise EditRefusedError(f"A piece has at most {MAX_TOUCH_UPS} touch-ups.")
    new = TouchUp(id=max((t.id for t in recipe.touch_ups), default=0) + 1,
                  azimuth=recipe.light.azimuth, height=recipe.light.height,
                  **edit.model_dump(exclude={"kind"}))
    touch_ups = (*recipe.touch_ups, new)
    try:
        check_points(touch_ups)
    except ValueError as error:
        raise EditRefusedError(f"{str(error).capitalize()}; remove some first.") from error
    return recipe.model_copy(update={"touch_ups": touch_ups})


def _check_ids(recipe: Recipe, ids: Ids) -> None:
    if not set(ids) <= {t.id for t in recipe.touch_ups}:
        raise EditRefusedError("The touch-up is no longer there.")


def _remove(recipe: Recipe, edit: RemoveTouchUps) -> Recipe:
    _check_ids(recipe, edit.ids)
    return recipe.model_copy(update={
        "touch_ups": tuple(t for t in recipe.touch_ups if t.id not in edit.ids)})


def _keep(recipe: Recipe, edit: KeepTouchUps) -> Recipe:
    _check_ids(recipe, edit.ids)
    now = {"azimuth": recipe.light.azimuth, "height": recipe.light.height}
    return recipe.model_copy(update={"touch_ups": tuple(
        t.model_copy(update=now) if t.id in edit.ids else t for t in recipe.touch_ups)})


RULES: Rules = {
    MoveLight: lambda recipe, edit: recipe.model_copy(update={"light": edit.light}),
    SetForm: lambda recipe, edit: changed_part(recipe, edit.part, form=edit.form),
    TouchUpPass: _touch_up,
    RemoveTouchUps: _remove,
    KeepTouchUps: _keep,
}
