"""Pieces, edits and jobs."""

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import PartId, Point, Title
from wardrobe.recipe.edits import Edit
from wardrobe.recipe.events import PieceState
from wardrobe.recipe.exchange.layered.home import BroughtHome
from wardrobe.recipe.reports.corrected import CorrectedDrawing
from wardrobe.recipe.reports.gestures import Gesture
from wardrobe.recipe.reports.keys import report_keys
from wardrobe.recipe.stages import Deriver
from wardrobe.server.db.pieces import PieceFacts, StoredPiece

MOST_ID = 2**53 - 1  # what every reader of JSON keeps exactly, RFC 8259
Id = Annotated[int, Field(ge=1, le=MOST_ID)]
Revision = Annotated[int, Field(ge=0, le=MOST_ID)]
Minutes = Annotated[float, Field(gt=0, le=6000, allow_inf_nan=False)]
StepName = Literal["lines", "parts", "colour", "light", "finish", "looks", "check",
                   "deliver"]


class PieceCard(BaseModel):
    """A piece as Home shows it."""

    id: int
    title: str
    planned_minutes: float
    spent_minutes: float
    step: str
    revision: int
    demo: bool
    due: date | None
    occasion: str
    tags: tuple[str, ...]
    away: bool
    state: PieceState
    changed: datetime
    character: str | None
    series: str | None

    @classmethod
    def of(cls, facts: PieceFacts) -> "PieceCard":
        """What the store says of a piece."""
        return cls(spent_minutes=facts.spent / 60,
                   **{k: v for k, v in vars(facts).items() if k != "spent"})


class Rests(BaseModel):
    """What each report rests on: as long as a key stays, so does the answer."""

    model_config = ConfigDict(extra="forbid")

    cut: str
    gaps: str
    figure: str
    hatching: str
    joins: str
    palettes: str
    completeness: str
    sheet: str
    neighbours: str
    light: str
    ink: str
    finishes: str
    modes: str
    shade_hues: str
    looks: str
    stack: str
    areas: str
    paper: str
    unprintable: str


class Piece(BaseModel):
    """A piece with its recipe; width and height are those of the framed picture, px."""

    id: int
    title: str
    planned_minutes: float
    spent_minutes: dict[str, float]
    revision: int
    changes: int
    can_undo: bool
    can_redo: bool
    width: int
    height: int
    recipe: Recipe
    rests: Rests

    @classmethod
    def of(cls, stored: StoredPiece, deriver: Deriver) -> "Piece":
        """What the store says of a piece."""
        width, height = stored.recipe.size
        return cls(id=stored.id, title=stored.title, planned_minutes=stored.planned_minutes,
                   spent_minutes={step: seconds / 60 for step, seconds in stored.spent.items()},
                   revision=stored.revision, changes=stored.changes,
                   can_undo=stored.can_undo, can_redo=stored.can_redo,
                   width=width, height=height, recipe=stored.recipe,
                   rests=Rests.model_validate(report_keys(deriver.stages(stored.recipe))))


class KeptReference(BaseModel):
    """A picture that is kept beside a piece; ``piece`` is the one that it was pinned to."""

    piece: int
    number: int
    name: str
    note: str
    shared: bool
    width: int
    height: int


class PieceChange(BaseModel):
    """A new title."""

    title: Title


class EditRequest(BaseModel):
    """An edit and the revision that its author saw."""

    seen: Revision
    edit: Edit


class GestureRequest(BaseModel):
    """A stroke or a click on the cut, and the revision that its author saw."""

    seen: Revision
    gesture: Gesture
    stroke: Annotated[tuple[Point, ...], Field(min_length=1, max_length=2000)]
    part: PartId | None = None


Room = Annotated[int, Field(ge=-100_000, le=100_000)]


class RoomRequest(BaseModel):
    """Room that a picture is given on its sides, px; less where a number is negative."""

    seen: Revision
    left: Room = 0
    top: Room = 0
    right: Room = 0
    bottom: Room = 0


class TravelRequest(BaseModel):
    """Undo or redo, and the revision that its author saw."""

    seen: Revision


class JobState(BaseModel):
    """How far a job is; ``seen`` counts the small pictures of what it has come to so far, and
    ``answer`` is what it found out."""

    id: str
    kind: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    progress: float
    doing: str
    piece: int | None = None
    layered: int | None = None
    file_name: str | None = None
    seen: int = 0
    answer: CorrectedDrawing | BroughtHome | None = None
    problem: dict[str, Any] | None = None
