"""Lessons as the API gives and takes them."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from wardrobe.core.learn.ability import HIGHEST, LOWEST
from wardrobe.core.learn.course import COURSE, Ask
from wardrobe.recipe.document.strokes import DrawnStroke
from wardrobe.recipe.document.types import Colour, PartId, PassKey, one_of
from wardrobe.recipe.edits import Several
from wardrobe.server.schemas.pieces import Revision

MOST_STROKES = 200

LessonKey = Annotated[str, one_of("lesson", COURSE)]
Level = Annotated[int, Field(ge=LOWEST, le=HIGHEST)]
Seed = Annotated[int, Field(ge=0, lt=2**31)]


class LessonCard(BaseModel):
    """A lesson in the course."""

    key: LessonKey
    label: str
    ask: Ask
    answered: int
    best: float | None


class SkillCard(BaseModel):
    """A skill, and how far one is in it.

    Attributes
    ----------
    level : int
        That comes next; of no matter for one's own pieces, which have no lessons.
    scores : list of float
        The latest, the oldest first.
    off : float or None
        Median of the latest errors in degrees, where they are measured.
    """

    key: str
    label: str
    level: int
    needed: float
    scores: list[float]
    off: float | None
    lessons: list[LessonCard]


class Course(BaseModel):
    """The course; ``following`` is the lesson to go on with."""

    skills: list[SkillCard]
    following: LessonKey
    answered: int


class Lamp(BaseModel):
    """Where a light stands, degrees."""

    azimuth: float
    height: float


class LessonGiven(BaseModel):
    """A lesson as it is given.

    Attributes
    ----------
    light, rim : Lamp or None
        Told, unless it is what is asked.
    swatches : list of str
        Colours that are shown.
    step, turn : float
        For a shade: CIEDE2000 from the base, and degrees by which its hue is moved.
    width, height : int
        Of the picture, px.
    choices : int
        How many there are to choose from.
    """

    key: LessonKey
    level: int
    seed: int
    needed: float
    label: str
    what: str
    ask: Ask
    asked: Literal["shade", "cast", "highlight"] | None
    question: str
    look: str
    light: Lamp | None
    rim: Lamp | None
    swatches: list[str]
    step: float
    turn: float
    width: int
    height: int
    choices: int


class LessonStroke(BaseModel):
    """A stroke of an answer; it may take away."""

    stroke: DrawnStroke
    erases: bool = False


class LessonAnswer(BaseModel):
    """An answer: one of them, as the lesson asks."""

    strokes: Annotated[tuple[LessonStroke, ...], Field(max_length=MOST_STROKES)] | None = None
    light: Lamp | None = None
    colour: Colour | None = None
    order: Annotated[tuple[Annotated[int, Field(ge=0, le=5)], ...],
                     Field(min_length=6, max_length=6)] | None = None
    choice: Annotated[int, Field(ge=0, le=20)] | None = None

    @model_validator(mode="after")
    def _one(self) -> "LessonAnswer":
        given = [v for v in (self.strokes, self.light, self.colour, self.order, self.choice)
                 if v is not None]
        if len(given) != 1:
            raise ValueError("an answer is one of: strokes, a light, a colour, an order, a choice")
        if self.order is not None and sorted(self.order) != list(range(6)):
            raise ValueError("an order names each of the six once")
        return self


class MarkedPiece(BaseModel):
    """A piece that is missing or too much, px."""

    x: int
    y: int
    width: int
    height: int
    missing: bool


class LessonResult(BaseModel):
    """What came of an answer.

    Attributes
    ----------
    level : int
        That comes next in the skill.
    figures : dict of str to float or None
        What was measured, by name.
    right : list of int, str or Lamp
        The right order, choice, colour or light.
    """

    score: float
    needed: float
    passed: bool
    level: int
    said: list[str]
    figures: dict[str, float | None]
    near: list[float]
    pieces: list[MarkedPiece]
    right_light: Lamp | None = None
    right_colour: str | None = None
    right_order: list[int] = []


class PracticeRequest(BaseModel):
    """A pass drawn for a part of a piece, at the revision seen."""

    seen: Revision
    part: PartId
    name: PassKey
    strokes: Annotated[tuple[LessonStroke, ...], Field(max_length=MOST_STROKES)]


class PracticeResult(BaseModel):
    """What was measured of it; ``edit`` makes the drawn shape the piece's."""

    score: float
    said: list[str]
    figures: dict[str, float | None]
    near: list[float]
    pieces: list[MarkedPiece]
    edit: Several | None


class PractisedLesson(BaseModel):
    """An answer of before."""

    at: datetime
    lesson: str
    skill: str
    level: int
    seed: int
    score: float
    figures: dict[str, float | None]
