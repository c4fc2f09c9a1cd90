"""Edits of the layers that finish a picture."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.finish import (
    MAX_FINISH,
    MAX_FOCUS,
    MOST_FINISH_NUMBER,
    FinishDraft,
    FinishId,
    FinishLayer,
    Focus,
    check_spots,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Share
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, next_number
from wardrobe.recipe.edits.target import Targeted


class AddFinish(Targeted):
    """Lay new layers on top, or below another one."""

    kind: Literal["add_finish"] = "add_finish"
    layers: Annotated[tuple[FinishDraft, ...], Field(min_length=1, max_length=MAX_FINISH)]
    below: FinishId | None = None


class ChangeFinish(Targeted):
    """A layer as it is to be."""

    kind: Literal["change_finish"] = "change_finish"
    layer: FinishId
    to: FinishDraft


class MoveFinish(Targeted):
    """Lay a layer below another one, or on top of all."""

    kind: Literal["move_finish"] = "move_finish"
    layer: FinishId
    below: FinishId | None = None


class SetFinishAmount(Targeted):
    """How strongly all layers that finish the picture are laid on."""

    kind: Literal["set_finish_amount"] = "set_finish_amount"
    amount: Share


class SetFocus(Targeted):
    """Where the eye should go."""

    kind: Literal["set_focus"] = "set_focus"
    places: Annotated[tuple[Focus, ...], Field(max_length=MAX_FOCUS)]


class RemoveFinish(Targeted):
    """Take layers off."""

    kind: Literal["remove_finish"] = "remove_finish"
    layers: Annotated[tuple[FinishId, ...], Field(min_length=1, max_length=MAX_FINISH)]


def _at(recipe: Recipe, layer_id: str) -> int:
    for at, layer in enumerate(recipe.finish):
        if layer.id == layer_id:
            return at
    raise EditRefusedError("The layer is no longer there.")


def _with(recipe: Recipe, *layers: FinishLayer) -> Recipe:
    try:
        check_spots(layers)
    except ValueError as error:
        raise EditRefusedError(f"{str(error).capitalize()}; remove some first.") from error
    return recipe.model_copy(update={"finish": layers})


def _add(recipe: Recipe, edit: AddFinish) -> Recipe:
    held = recipe.finish
    if len(held) + len(edit.layers) > MAX_FINISH:
        raise EditRefusedError(f"A picture has at most {MAX_FINISH} finish layers.")
    at = len(held) if edit.below is None else _at(recipe, edit.below)
    taken = {layer.id for layer in (*held, *(f for k in recipe.looks for f in k.finish or ()))}
    new = []
    for draft in edit.layers:
        number = next_number((int(i[1:]) for i in taken), MOST_FINISH_NUMBER)
        new.append(FinishLayer(id=f"f{number}", **_fields(draft)))
        taken.add(new[-1].id)
    return _with(recipe, *held[:at], *new, *held[at:])


def _fields(draft: FinishDraft) -> dict[str, object]:
    return {name: getattr(draft, name) for name in FinishDraft.model_fields}


def _change(recipe: Recipe, edit: ChangeFinish) -> Recipe:
    at = _at(recipe, edit.layer)
    changed = FinishLayer(id=edit.layer, **_fields(edit.to))
    return _with(recipe, *recipe.finish[:at], changed, *recipe.finish[at + 1:])


def _move(recipe: Recipe, edit: MoveFinish) -> Recipe:
    moved = recipe.finish[_at(recipe, edit.layer)]
    if edit.below == edit.layer:
        return recipe
    rest = [layer for layer in recipe.finish if layer is not moved]
    at = len(rest) if edit.below is None else rest.index(recipe.finish[_at(recipe, edit.below)])
    return _with(recipe, *rest[:at], moved, *rest[at:])


def _remove(recipe: Recipe, edit: RemoveFinish) -> Recipe:
    for layer_id in edit.layers:
        _at(recipe, layer_id)
    return _with(recipe, *(layer for layer in recipe.finish if layer.id not in edit.layers))


RULES: Rules = {
    AddFinish: _add,
    ChangeFinish: _change,
    MoveFinish: _move,
    RemoveFinish: _remove,
    SetFinishAmount: lambda recipe, edit: recipe.model_copy(
        update={"finish_amount": edit.amount}),
    SetFocus: lambda recipe, edit: recipe.model_copy(update={"focus": edit.places}),
}
