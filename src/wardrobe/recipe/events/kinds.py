"""All kinds of events: one union, and what each must be about."""

from collections.abc import Iterable
from datetime import UTC, date, datetime
from typing import Annotated, Any

from pydantic import AwareDatetime, Field, TypeAdapter

from wardrobe.recipe.checks import CHECKS
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.edits import dressed
from wardrobe.recipe.events.answers import Answer, Withdrawal, standing
from wardrobe.recipe.events.beside import Reference, ReferenceGone, ReferenceNote, references
from wardrobe.recipe.events.carried import CarriedParts
from wardrobe.recipe.events.left import Dismissal, Reopening, dismissed
from wardrobe.recipe.events.limits import (
    MOST_EVENTS,
    MOST_REFERENCES,
    EventRefusedError,
    called,
)
from wardrobe.recipe.events.planning import MOST_MINUTES, Filing, Plan
from wardrobe.recipe.events.review import Remark, Resolution, Verdict, remarks
from wardrobe.recipe.events.rounds import Completion, Delivered, Sent, deliveries
from wardrobe.recipe.events.shown import shown_of

Event = Annotated[Answer | Withdrawal | Dismissal | Reopening | Reference | ReferenceNote
                  | ReferenceGone | Remark | Resolution | Verdict | Plan | Filing | Delivered
                  | Sent | Completion | CarriedParts, Field(discriminator="kind")]
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
        return event.model_copy(update={"name": called(event.look, recipe)})
    if isinstance(event, Dismissal):
        if event.check not in CHECKS:
            raise EventRefusedError(f"There is no check {event.check}.")
        called(event.look, recipe)
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
    if isinstance(event, Remark):
        called(event.look, recipe)
        return event
    if isinstance(event, Verdict):
        return _checked_verdict(event, recipe, before)
    if isinstance(event, Plan):
        if not 0 < event.total <= MOST_MINUTES:
            raise EventRefusedError(f"A plan has more than no minutes, and at most "
                                    f"{MOST_MINUTES:.0f}.")
        return event
    if isinstance(event, Sent):
        missing = set(event.files) - set(deliveries(before))
        if missing:
            raise EventRefusedError(f"File {min(missing)} is none that was delivered.")
        return event
    if isinstance(event, Filing | Delivered | Completion | CarriedParts):
        return event
    if isinstance(event, Resolution):
        if event.remark not in {r.number for r in remarks(before)}:
            raise EventRefusedError("This remark is not there.")
        return event
    counting = {h.number for h in standing(before)}
    if event.answer not in counting:
        raise EventRefusedError("This answer is not there, or was withdrawn already.")
    return event


def _checked_verdict(event: Verdict, recipe: Recipe, before: Iterable[Happened]) -> Verdict:
    """The verdict with what was to be seen when it was given."""
    called(event.look, recipe)
    drawings = {recipe.source.number, *(d.number for d in recipe.other_drawings)}
    if event.drawing is not None and event.drawing not in drawings:
        raise EventRefusedError("This version of the drawing is not there.")
    if event.remark is not None and event.remark not in {r.number for r in remarks(before)}:
        raise EventRefusedError("This remark is not there.")
    return event.model_copy(update={"shown": shown_of(dressed(recipe, event.look))})


def noted(answers: Iterable[Any]) -> list[Happened]:
    """Stored answers as events that are noted now: when they were is not known."""
    at = datetime.now(UTC)
    return [Happened(number=k, at=at, event=EVENT.validate_python(answer))
            for k, answer in enumerate(answers, start=1)]
