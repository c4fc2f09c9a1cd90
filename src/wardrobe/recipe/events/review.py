"""What is said of a piece by whoever looks at it: remarks at places, and a verdict."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.look import PIECE, Wearer
from wardrobe.recipe.document.types import Frozen, Point
from wardrobe.recipe.events.limits import MOST_EVENTS
from wardrobe.recipe.events.shown import Shown

if TYPE_CHECKING:
    from wardrobe.recipe.events.kinds import Happened

Wish = Literal["look here", "shade here", "light here", "lines lighter", "lines heavier",
               "another colour"]
Said = Annotated[str, Field(max_length=2000)]
By = Annotated[str, Field(max_length=80)]


class Remark(Frozen):
    """Something that is said of a place.

    Attributes
    ----------
    points : tuple of (float, float)
        One for a pin, more for what was drawn, picture pixels.
    wish : str
        What is wanted there.
    text, by : str
    look : str
    changes : int
        How many changes the piece had then.
    """

    kind: Literal["remark"] = "remark"
    points: Annotated[tuple[Point, ...], Field(min_length=1, max_length=2000)]
    wish: Wish = "look here"
    text: Said = ""
    by: By = ""
    look: Wearer = PIECE
    changes: Annotated[int, Field(ge=0, le=10**9)] = 0


class Resolution(Frozen):
    """A remark is settled, or is not after all."""

    kind: Literal["resolution"] = "resolution"
    remark: Annotated[int, Field(ge=1, le=MOST_EVENTS)]
    done: bool = True


class Verdict(Frozen):
    """Whether the piece, or a look, is approved as it is.

    Attributes
    ----------
    verdict : str
    about : str
        The rough, the colours, or all of it.
    look : str
    drawing : int or None
        Number of the version of the drawing that it is about; None for the one in use.
    remark : int or None
        Number of the remark whose place alone it is about.
    text, by : str
    changes : int
        How many changes the piece had then.
    shown : Shown or None
        What was to be seen; it is filled in when the verdict is noted.
    """

    kind: Literal["verdict"] = "verdict"
    verdict: Literal["approved", "changes wanted"]
    about: Literal["rough", "colours", "all"] = "all"
    look: Wearer = PIECE
    drawing: Annotated[int, Field(ge=1, le=1000)] | None = None
    remark: Annotated[int, Field(ge=1, le=MOST_EVENTS)] | None = None
    text: Said = ""
    by: By = ""
    changes: Annotated[int, Field(ge=0, le=10**9)] = 0
    shown: Shown | None = None


@dataclass(frozen=True)
class Standing:
    """A remark as it stands now: its number, when it was made, and whether it is settled."""

    number: int
    at: datetime
    remark: Remark
    done: bool


def remarks(events: Iterable["Happened"]) -> list[Standing]:
    """All remarks in their order."""
    made: dict[int, tuple[datetime, Remark]] = {}
    done: dict[int, bool] = {}
    for happened in events:
        event = happened.event
        if isinstance(event, Remark):
            made[happened.number] = happened.at, event
        elif isinstance(event, Resolution):
            done[event.remark] = event.done
    return [Standing(number, at, remark, done.get(number, False))
            for number, (at, remark) in made.items()]


def last_verdict(events: Iterable["Happened"], look: str = PIECE) -> Verdict | None:
    """What was said last of the piece, or of a look."""
    found = [h.event for h in events if isinstance(h.event, Verdict) and h.event.look == look]
    return found[-1] if found else None
