"""Plans, the clock, sittings, the log."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field

from wardrobe.core.timing.clock import Doing
from wardrobe.core.timing.pace import Pace
from wardrobe.core.timing.plan import STEPS
from wardrobe.recipe.document.types import Title
from wardrobe.recipe.events import PieceState, Plan
from wardrobe.recipe.events.planning import Minutes, Step, Tag
from wardrobe.server.db.sittings import SittingKind
from wardrobe.server.schemas.pieces import Id, StepName

_DAY = 24 * 3600
Seconds = Annotated[float, Field(ge=0, le=_DAY, allow_inf_nan=False)]


class BeatReport(BaseModel):
    """What a window has been doing for so many seconds since its last beat."""

    window: Annotated[str, Field(min_length=8, max_length=64, pattern="^[A-Za-z0-9-]+$")]
    piece: Id
    step: StepName
    doing: Doing
    since: Seconds


class ClockState(BaseModel):
    """How the work on a piece stands; minutes.

    ``since_break`` is by kind of advice.
    """

    plan: Plan
    state: PieceState
    spent: dict[str, float]
    pace: Pace
    since_break: dict[str, float]


class HandTime(BaseModel):
    """Time that was given to a piece elsewhere."""

    step: StepName
    minutes: Annotated[float, Field(gt=0, le=24 * 60, allow_inf_nan=False)]
    began: AwareDatetime | None = None
    note: Annotated[str, Field(max_length=200)] = ""


class Correction(BaseModel):
    """How long a sitting really was."""

    minutes: Annotated[float, Field(ge=0, le=24 * 60, allow_inf_nan=False)]
    note: Annotated[str, Field(max_length=200)] = ""


@dataclass(frozen=True)
class SittingLine:
    """A sitting as screens show it.

    Attributes
    ----------
    minutes : float
        With its corrections.
    counted : float
        Without.
    """

    id: int
    piece: int
    step: str
    began: datetime
    minutes: float
    counted: float
    kind: SittingKind
    note: str


class KeptPlan(BaseModel):
    """A plan to begin from; ``id`` is None where it comes with the program."""

    id: int | None
    key: str
    name: str
    hint: str
    minutes: dict[str, float]
    rounds: int


class SavePlan(BaseModel):
    """A plan to keep under a name."""

    name: Title
    minutes: Annotated[dict[Step, Minutes], Field(min_length=1, max_length=len(STEPS))]
    rounds: Annotated[int, Field(ge=0, le=20)] = 0


LogKind = Literal["edit", "sitting", "event", "piece"]


@dataclass(frozen=True)
class LogLine:
    """Something that happened.

    Attributes
    ----------
    at : datetime
        When it began.
    piece : int
    title : str
    kind : str
    what : str
        Kind of edit, event or sitting.
    words : str
    minutes : float or None
        Of a sitting.
    """

    at: datetime
    piece: int
    title: str
    kind: LogKind
    what: str
    words: str
    minutes: float | None = None


@dataclass(frozen=True)
class LogPage:
    """A page of the log, latest first; ``more`` says from when on back there is more."""

    lines: list[LogLine]
    more: datetime | None


@dataclass(frozen=True)
class DayPlan:
    """What is next: ids of pieces, and the minutes that those which fit take."""

    today: date
    order: tuple[int, ...]
    fits: tuple[int, ...]
    minutes: float
    late: tuple[int, ...]


class FileMany(BaseModel):
    """Tags for several pieces, and whether they are put away; None leaves that as it is."""

    pieces: Annotated[list[Id], Field(min_length=1, max_length=2000)]
    add: Annotated[tuple[Tag, ...], Field(max_length=20)] = ()
    remove: Annotated[tuple[Tag, ...], Field(max_length=20)] = ()
    away: bool | None = None
    done: bool | None = None
