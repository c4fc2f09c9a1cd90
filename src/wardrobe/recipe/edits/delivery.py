"""Edits of how the stack is delivered."""

from typing import Literal

from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.edits.rule import Rules


class SetDelivery(Frozen):
    """Choose the stack's arrangement, names and extra layers."""

    kind: Literal["set_delivery"] = "set_delivery"
    delivery: Delivery


RULES: Rules = {
    SetDelivery: lambda recipe, edit: recipe.model_copy(update={"delivery": edit.delivery}),
}
