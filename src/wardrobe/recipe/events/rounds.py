"""What was made of a piece, what was sent to whom, and how far it is approved."""

from collections.abc import Iterable
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.events.limits import MOST_EVENTS
from wardrobe.recipe.events.review import Said, Verdict

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened

PieceState = Literal["in work", "sent", "rough approved", "colours approved", "approved",
                     "changes asked", "done"]
FileName = Annotated[str, Field(min_length=1, max_length=240)]
Number = Annotated[int, Field(ge=1, le=MOST_EVENTS)]
Count = Annotated[int, Field(ge=0, le=10**9)]


class Delivered(Frozen):
    """A file was written.

    Attributes
    ----------
    format : str
    name : str
    size : int
        Bytes.
    digest : str
        SHA-256 of its bytes: whether a file is this one can always be told.
    looks : tuple of str
        Ids of the looks in it.
    changes : int
        How many changes the piece had then.
    """

    kind: Literal["delivered"] = "delivered"
    format: Annotated[str, Field(max_length=40)]
    name: FileName
    size: Annotated[int, Field(ge=0, le=2**53)]
    digest: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
    looks: Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=200)] = ()
    changes: Count = 0


class Sent(Frozen):
    """Something was sent to somebody, who has yet to say what they think of it.

    Attributes
    ----------
    to : str
    files : tuple of int
        Numbers of the deliveries that were sent.
    text : str
    changes : int
        How many changes the piece had then.
    """

    kind: Literal["sent"] = "sent"
    to: Annotated[str, Field(min_length=1, max_length=120)]
    files: Annotated[tuple[Number, ...], Field(max_length=100)] = ()
    text: Said = ""
    changes: Count = 0


class DrawingTraits(Frozen):
    """What of a drawing tells how long it takes."""

    areas: Count
    parts: Count
    gaps: Count
    hair: Count


class Completion(Frozen):
    """The piece is done, or is not after all; with what it was like, for later estimates."""

    kind: Literal["completion"] = "completion"
    done: bool = True
    traits: DrawingTraits | None = None


_APPROVED: dict[str, PieceState] = {"rough": "rough approved", "colours": "colours approved",
                                    "all": "approved"}


def state_of(events: Iterable["Happened"]) -> PieceState:
    """How far a piece is, by what was said last.

    A verdict on a look other than the piece itself says nothing of the piece.
    """
    state: PieceState = "in work"
    before: PieceState = state
    for happened in events:
        event = happened.event
        if isinstance(event, Sent):
            state = "sent"
        elif isinstance(event, Verdict) and event.look == PIECE:
            state = "changes asked" if event.verdict == "changes wanted" \
                else _APPROVED[event.about]
        elif isinstance(event, Completion) and event.done != (state == "done"):
            before, state = state, "done" if event.done else before
    return state


def deliveries(events: Iterable["Happened"]) -> dict[int, Delivered]:
    """The files that were written, by number."""
    return {h.number: h.event for h in events if isinstance(h.event, Delivered)}


def traits_of(events: Iterable["Happened"]) -> DrawingTraits | None:
    """What a finished piece was like; None if it is not finished."""
    found = [h.event for h in events if isinstance(h.event, Completion)]
    return found[-1].traits if found and found[-1].done else None
