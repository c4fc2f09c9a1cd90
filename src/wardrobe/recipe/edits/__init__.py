"""Edits: each a small document that turns one recipe into the next."""

from functools import reduce
from typing import Annotated, Any, Literal

from annotated_types import MaxLen
from pydantic import BeforeValidator, Field

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.edits import colour, cut, delivery, finish, ink, light, lines, looks, parts
from wardrobe.recipe.edits.before import as_today
from wardrobe.recipe.edits.colour import (
    ChooseColours,
    NudgeColour,
    SetBackground,
    SetMethod,
    SetPass,
    SetPasses,
)
from wardrobe.recipe.edits.cut import (
    AddRecut,
    AskAgain,
    ChangeShares,
    CloseGaps,
    InkClosing,
    LeaveFigureOpen,
    LeaveOpen,
    RemoveClosing,
)
from wardrobe.recipe.edits.delivery import SetDelivery
from wardrobe.recipe.edits.finish import (
    AddFinish,
    ChangeFinish,
    MoveFinish,
    RemoveFinish,
    SetFinishAmount,
    SetFocus,
)
from wardrobe.recipe.edits.ink import ColourLine, SetInk
from wardrobe.recipe.edits.light import (
    KeepTouchUps,
    MoveLight,
    RemoveTouchUps,
    SetForm,
    TouchUpPass,
)
from wardrobe.recipe.edits.lines import (
    GrowSilhouette,
    NameBoundary,
    PutDrawing,
    RemarkDrawing,
    SetDetails,
    SetFrame,
    SetHalo,
    SetHatching,
    SetLines,
    TurnPicture,
    UseDrawing,
)
from wardrobe.recipe.edits.looks import (
    AddLook,
    ChangeLook,
    FollowPiece,
    MoveLook,
    RemoveLook,
    dressed,
)
from wardrobe.recipe.edits.parts import (
    AddPart,
    AddParts,
    ArrangePart,
    ChangePart,
    ClaimAreas,
    ColourBlack,
    KeepParts,
    RemovePart,
    ReplaceParts,
    SetFill,
    SetPattern,
    next_part_id,
)
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, refusing
from wardrobe.recipe.edits.target import Targeted, apply_to

__all__ = [
    "AddFinish", "AddLook", "AddPart", "AddParts", "AddRecut", "ArrangePart", "AskAgain",
    "ChangeFinish", "ChangeLook", "ChangePart", "ChangeShares", "ChooseColours", "ClaimAreas",
    "CloseGaps", "ColourBlack", "ColourLine", "Edit", "EditRefusedError", "FollowPiece",
    "GrowSilhouette", "InkClosing", "KeepParts", "KeepTouchUps", "LeaveFigureOpen", "LeaveOpen",
    "MoveFinish", "MoveLight", "MoveLook", "NameBoundary", "NudgeColour", "PutDrawing",
    "RemarkDrawing", "RemoveClosing", "RemoveFinish", "RemoveLook", "RemovePart",
    "RemoveTouchUps", "ReplaceParts", "SetBackground", "SetDelivery", "SetDetails", "SetFill",
    "SetFinishAmount", "SetFocus", "SetForm", "SetFrame", "SetHalo", "SetHatching", "SetInk",
    "SetLines", "SetMethod", "SetPass", "SetPasses", "SetPattern", "Several", "SingleEdit",
    "StoredEdit", "TouchUpPass", "TurnPicture", "UseDrawing", "apply", "dressed", "next_part_id",
    "refusing",
]

SingleEdit = Annotated[
    SetFrame | TurnPicture | SetLines | NameBoundary | GrowSilhouette | SetHalo | SetHatching
    | SetDetails | PutDrawing | UseDrawing | RemarkDrawing | ColourBlack | CloseGaps | InkClosing
    | RemoveClosing | LeaveOpen | LeaveFigureOpen | AskAgain | AddRecut | ChangeShares | AddPart
    | AddParts | ChangePart | ArrangePart | RemovePart | ReplaceParts | KeepParts | ClaimAreas
    | SetPattern | SetFill | SetPass | SetPasses | SetMethod | ChooseColours | NudgeColour
    | SetBackground | MoveLight | SetForm | TouchUpPass | RemoveTouchUps | KeepTouchUps | SetInk
    | ColourLine | AddFinish | ChangeFinish | MoveFinish | RemoveFinish | SetFinishAmount | SetFocus
    | SetDelivery | AddLook | ChangeLook | MoveLook | RemoveLook | FollowPiece,
    Field(discriminator="kind"),
]


class Several(Frozen):
    """Edits that are one change: all are made, or none."""

    kind: Literal["several"] = "several"
    edits: Annotated[tuple[SingleEdit, ...], Field(min_length=1, max_length=500)]


Edit = Annotated[SingleEdit | Several, Field(discriminator="kind")]
# As it lies in histories, which hold those of earlier versions, too.
StoredEdit = Annotated[Edit, BeforeValidator(as_today)]


def apply(recipe: Recipe, edit: Any) -> Recipe:
    """The recipe after an edit; the one given is not changed.

    Raises
    ------
    EditRefusedError
        If the edit names a part that is not there, or a name that is taken, or the recipe would
        hold more than it may.
    """
    with refusing():
        rule = _RULES[type(edit)]
        changed = apply_to(recipe, edit, rule) if isinstance(edit, Targeted) \
            else rule(recipe, edit)
    for name, most in _MOST.items():
        if len(getattr(changed, name)) > most:
            raise EditRefusedError(f"A piece has at most {most} {_CALLED.get(name, name)}.")
    return changed


# Copies of a recipe are not checked again field by field; what a piece may hold is checked here.
_MOST = {name: limit.max_length for name, field in Recipe.model_fields.items()
         for limit in field.metadata if isinstance(limit, MaxLen)}
_CALLED = {"left_open": "gaps that are left open", "boundaries": "hues of lines",
           "touch_ups": "touch-ups", "hatching": "places of hatching",
           "recuts": "changes of the cut by hand",
           "other_drawings": "other versions of the drawing"}


_RULES: Rules = {
    **lines.RULES, **cut.RULES, **parts.RULES, **colour.RULES,
    **light.RULES, **ink.RULES, **finish.RULES, **delivery.RULES, **looks.RULES,
    Several: lambda recipe, edit: reduce(apply, edit.edits, recipe),
}
