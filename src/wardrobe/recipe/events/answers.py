"""What came back from whoever chooses among the looks."""

from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field

from wardrobe.recipe.document.look import PIECE, LookId
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.events.limits import MOST_EVENTS

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened


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


class Withdrawal(Frozen):
    """An answer does not count any more; both stay on record."""

    kind: Literal["withdrawal"] = "withdrawal"
    answer: Annotated[int, Field(ge=1, le=MOST_EVENTS)]


def standing(events: Iterable["Happened"]) -> list["Happened"]:
    """The answers that count."""
    events = tuple(events)
    gone = {h.event.answer for h in events if isinstance(h.event, Withdrawal)}
    return [h for h in events if isinstance(h.event, Answer) and h.number not in gone]


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
