"""Findings that are left as they are."""

from collections.abc import Iterable
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from wardrobe.recipe.checks.report import Dismissed
from wardrobe.recipe.document.look import PIECE, Wearer
from wardrobe.recipe.document.types import Frozen, Point
from wardrobe.recipe.events.limits import MOST_EVENTS

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened


class Dismissal(Frozen):
    """A finding was looked at and is left as it is, until what it measured changes.

    Attributes
    ----------
    check : str
        A key of CHECKS.
    look : str
        In which it was found; ``piece`` for the piece itself.
    ids : tuple of str
        Parts, layers, looks and passes that it is about.
    measured : float
        What was measured then.
    place : (float, float) or None
        Where, picture pixels.
    reason : str
    """

    kind: Literal["dismissal"] = "dismissal"
    check: Annotated[str, Field(max_length=40)]
    look: Wearer = PIECE
    ids: Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=200)] = ()
    measured: Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]
    place: Point | None = None
    reason: Annotated[str, Field(max_length=500)] = ""


class Reopening(Frozen):
    """What was dismissed counts again; both stay on record."""

    kind: Literal["reopening"] = "reopening"
    dismissal: Annotated[int, Field(ge=1, le=MOST_EVENTS)]


def dismissed(events: Iterable["Happened"]) -> list[Dismissed]:
    """The findings that are dismissed, the last of them first."""
    events = tuple(events)
    back = {h.event.dismissal for h in events if isinstance(h.event, Reopening)}
    return [Dismissed(h.number, e.check, e.look, e.ids, e.measured, e.place, e.reason)
            for h in reversed(events)
            if isinstance(e := h.event, Dismissal) and h.number not in back]
