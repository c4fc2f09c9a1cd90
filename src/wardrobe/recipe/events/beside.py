"""Pictures that are kept beside the canvas."""

from collections.abc import Iterable
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.events.limits import MOST_EVENTS

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened


class Reference(Frozen):
    """A picture that is kept beside the canvas, and never delivered.

    Attributes
    ----------
    name : str
        Of its file.
    picture : PlacedPicture
    note : str
    shared : bool
        Beside all pieces of the same character.
    """

    kind: Literal["reference"] = "reference"
    name: Annotated[str, Field(max_length=120)] = ""
    picture: PlacedPicture
    note: Annotated[str, Field(max_length=2000)] = ""
    shared: bool = False


class ReferenceNote(Frozen):
    """Another note on a reference, or other pieces that it lies beside."""

    kind: Literal["reference_note"] = "reference_note"
    reference: Annotated[int, Field(ge=1, le=MOST_EVENTS)]
    note: Annotated[str, Field(max_length=2000)] = ""
    shared: bool = False


class ReferenceGone(Frozen):
    """A reference is not wanted any more; it stays on record."""

    kind: Literal["reference_gone"] = "reference_gone"
    reference: Annotated[int, Field(ge=1, le=MOST_EVENTS)]


def references(events: Iterable["Happened"]) -> dict[int, Reference]:
    """The references that are kept beside a piece, by the numbers of their events, with the
    notes that they have now."""
    found: dict[int, Reference] = {}
    for happened in events:
        event = happened.event
        if isinstance(event, Reference):
            found[happened.number] = event
        elif isinstance(event, ReferenceNote) and event.reference in found:
            found[event.reference] = found[event.reference].model_copy(
                update={"note": event.note, "shared": event.shared})
        elif isinstance(event, ReferenceGone):
            found.pop(event.reference, None)
    return found


def assets_of(events: Iterable["Happened"]) -> set[str]:
    """Names of the pictures that events keep: they are never undone."""
    return {h.event.picture.asset for h in events if isinstance(h.event, Reference)}
