"""What happens to a piece besides its making: kept as it was, never undone, and without effect on
any picture."""

from collections.abc import Iterable, Mapping
from datetime import UTC, date, datetime
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, Field, TypeAdapter

from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.checks import CHECKS
from wardrobe.recipe.checks.report import Dismissed
from wardrobe.recipe.document.look import PIECE, LookId, Wearer
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.types import Frozen, Point

MOST_EVENTS = 2000
MOST_REFERENCES = 60  # beside a piece at a time


class EventRefusedError(WardrobeError):
    """What is to be noted is not about anything that is there."""

    title = "This could not be noted"


class Answer(Frozen):
    """What came back from whoever chooses among the looks.

    Attributes
    ----------
    look : str or None
        Id of the look that was chosen; ``piece`` for the piece itself, None for none.
    name : str
        What the look was called then; it may be renamed or thrown away later.
    date : str
        The day on which it came back, ``YYYY-MM-DD``.
    """

    kind: Literal["answer"] = "answer"
    look: LookId | Literal["piece"] | None = None
    name: Annotated[str, Field(max_length=80)] = ""
    remarks: Annotated[str, Field(max_length=2000)] = ""
    date: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]


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


class Withdrawal(Frozen):
    """An answer does not count any more; both stay on record."""

    kind: Literal["withdrawal"] = "withdrawal"
    answer: Annotated[int, Field(ge=1, le=MOST_EVENTS)]


Event = Annotated[Answer | Withdrawal | Dismissal | Reopening | Reference | ReferenceNote
                  | ReferenceGone, Field(discriminator="kind")]
EVENT: TypeAdapter[Event] = TypeAdapter(Event)


class Happened(Frozen):
    """An event with its number in its piece, from 1, and when it was noted."""

    number: Annotated[int, Field(ge=1, le=MOST_EVENTS)]
    at: AwareDatetime
    event: Event


def checked(event: Event, recipe: Recipe, before: Iterable[Happened]) -> Event:
    """The event as it is to be kept, if it is about something that is there.

    Raises
    ------
    EventRefusedError
        If its look, its answer or its day is not there, or the answer has been withdrawn already.
    """
    if isinstance(event, Answer):
        try:
            date.fromisoformat(event.date)
        except ValueError:
            raise EventRefusedError(f"There is no day {event.date}.") from None
        return event.model_copy(update={"name": _called(event.look, recipe)})
    if isinstance(event, Dismissal):
        if event.check not in CHECKS:
            raise EventRefusedError(f"There is no check {event.check}.")
        _called(event.look, recipe)
        return event
    if isinstance(event, Reopening):
        if event.dismissal not in {d.number for d in dismissed(before)}:
            raise EventRefusedError("This is not dismissed, or counts again already.")
        return event
    if isinstance(event, Reference):
        if len(references(before)) >= MOST_REFERENCES:
            raise EventRefusedError(f"A piece has at most {MOST_REFERENCES} references; take one "
                                    "away first.")
        return event
    if isinstance(event, ReferenceNote | ReferenceGone):
        if event.reference not in references(before):
            raise EventRefusedError("This reference is not there any more.")
        return event
    counting = {h.number for h in standing(before)}
    if event.answer not in counting:
        raise EventRefusedError("This answer is not there, or was withdrawn already.")
    return event


def standing(events: Iterable[Happened]) -> list[Happened]:
    """The answers that count."""
    events = tuple(events)
    gone = {h.event.answer for h in events if isinstance(h.event, Withdrawal)}
    return [h for h in events if isinstance(h.event, Answer) and h.number not in gone]


def dismissed(events: Iterable[Happened]) -> list[Dismissed]:
    """The findings that are dismissed, the last of them first."""
    events = tuple(events)
    back = {h.event.dismissal for h in events if isinstance(h.event, Reopening)}
    return [Dismissed(h.number, e.check, e.look, e.ids, e.measured, e.place, e.reason)
            for h in reversed(events)
            if isinstance(e := h.event, Dismissal) and h.number not in back]


def references(events: Iterable[Happened]) -> dict[int, Reference]:
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


def assets_of(events: Iterable[Happened]) -> set[str]:
    """Names of the pictures that events keep: they are never undone."""
    return {h.event.picture.asset for h in events if isinstance(h.event, Reference)}


def _called(look: str | None, recipe: Recipe) -> str:
    if look in (None, PIECE):
        return "" if look is None else "The piece"
    found = next((k.name for k in recipe.looks if k.id == look), None)
    if found is None:
        raise EventRefusedError("This look is not there any more.")
    return found


def parted(edits: Iterable[Any], names: Mapping[str, str]) -> tuple[list[Any], list[Any]]:
    """Edits and answers of a history from when answers were among the edits.

    Parameters
    ----------
    edits : iterable
        As they were stored.
    names : mapping of str to str
        What looks were called, by id.

    Returns
    -------
    list
        Those that are edits still, None where nothing is left of one.
    list of dict
        Answers as they are stored now, in their order.
    """
    left: list[Any] = []
    answers: list[Any] = []
    for edit in edits:
        told = edit.get("edits", [edit]) if isinstance(edit, dict) else []
        found = [e["answer"] for e in told if e.get("kind") == "record_answer"]
        rest = [e for e in told if e.get("kind") != "record_answer"]
        answers += found
        left.append(edit if not found else {**edit, "edits": rest} if rest else None)
    return left, as_events(answers, names)


def as_events(answers: Iterable[Any], names: Mapping[str, str]) -> list[Any]:
    """Answers as they lay in recipes, in the form in which they are stored now."""
    return [{"kind": "answer", "name": "The piece" if a["look"] == PIECE else
             names.get(a["look"], ""), **a} for a in answers]


def noted(answers: Iterable[Any]) -> list[Happened]:
    """Stored answers as events that are noted now: when they were is not known."""
    at = datetime.now(UTC)
    return [Happened(number=k, at=at, event=EVENT.validate_python(answer))
            for k, answer in enumerate(answers, start=1)]
