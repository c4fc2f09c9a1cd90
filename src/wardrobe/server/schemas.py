"""What the API takes and gives, apart from recipes and edits."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from wardrobe.core.colour.starters import Starter
from wardrobe.core.formats.tokens import MOST_COLOURS, CardColour
from wardrobe.core.light.materials import Material
from wardrobe.core.lines.blacks import Solid
from wardrobe.core.lines.intake import Intake
from wardrobe.core.passes.methods import Setting
from wardrobe.core.shades.steps import Span
from wardrobe.recipe.card import CardLine, Shades
from wardrobe.recipe.colouring import Passes, Wash
from wardrobe.recipe.delivery import Delivery
from wardrobe.recipe.edits import Edit
from wardrobe.recipe.edits.looks import Wearer
from wardrobe.recipe.gestures import Gesture
from wardrobe.recipe.handout.contact_sheet import PageSize
from wardrobe.recipe.layered.take_back import LayerMatch
from wardrobe.recipe.lighting import Light
from wardrobe.recipe.looks.look import MAX_LOOKS, Bases, LookId
from wardrobe.recipe.model import BoundaryRole, Recipe
from wardrobe.recipe.name_sets import NamedParts
from wardrobe.recipe.outline import Section
from wardrobe.recipe.types import PartId, Point

Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Minutes = Annotated[float, Field(gt=0, le=6000, allow_inf_nan=False)]
StepName = Literal["lines", "parts", "colour", "light", "looks", "deliver"]


class PieceCard(BaseModel):
    """A piece as Home shows it."""

    id: int
    title: str
    planned_minutes: float
    spent_minutes: float
    step: str
    revision: int
    demo: bool


class Piece(BaseModel):
    """A piece with its recipe; width and height are those of the framed picture, px."""

    id: int
    title: str
    planned_minutes: float
    spent_minutes: dict[str, float]
    revision: int
    can_undo: bool
    can_redo: bool
    width: int
    height: int
    recipe: Recipe


class PieceChange(BaseModel):
    """A new title or plan."""

    title: Title | None = None
    planned_minutes: Minutes | None = None


class EditRequest(BaseModel):
    """An edit and the revision that its author saw."""

    seen: int
    edit: Edit


class Outfit(BaseModel):
    """A look that a character keeps: base colours by part name."""

    name: Title
    colours: Annotated[dict[str, str], Field(max_length=MOST_COLOURS)]


class Character(BaseModel):
    """A character, its colour card and its pieces."""

    id: int
    name: str
    card: list[CardColour]
    washes: dict[str, Wash]
    pieces: list[int]
    outfits: list[Outfit] = []


class CharacterChange(BaseModel):
    """A new name, a new card, or both; a card may be taken from a piece."""

    name: Title | None = None
    card: Annotated[list[CardColour], Field(max_length=MOST_COLOURS)] | None = None
    from_piece: int | None = None


class GiveCharacter(BaseModel):
    """Whose picture a piece is."""

    character: int | None


class WearRequest(BaseModel):
    """Put on a card: its bases, and its shades as washes, part by part, or not at all."""

    seen: int
    shades: Shades = "leave"


class PieceCharacter(BaseModel):
    """Whose picture a piece is, and its parts against the card."""

    character: Character | None
    lines: list[CardLine]


class SavedNames(BaseModel):
    """A set of names to start from."""

    id: int
    name: str
    parts: NamedParts


class SaveNames(BaseModel):
    """Names to keep as a set."""

    name: Title
    parts: NamedParts


class GestureRequest(BaseModel):
    """A stroke or a click on the cut, and the revision that its author saw."""

    seen: int
    gesture: Gesture
    stroke: Annotated[tuple[Point, ...], Field(min_length=1, max_length=2000)]
    part: PartId | None = None


class TravelRequest(BaseModel):
    """Undo or redo, and the revision that its author saw."""

    seen: int


class WorkReport(BaseModel):
    """Seconds of work on a step."""

    step: StepName
    seconds: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)]


class JobState(BaseModel):
    """How far a job is."""

    id: str
    kind: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    progress: float
    doing: str
    piece: int | None = None
    layered: int | None = None
    file_name: str | None = None
    problem: dict[str, Any] | None = None


class ViewRequest(BaseModel):
    """A rectangle of the picture, in picture pixels, and the scale it is wanted at."""

    x: Annotated[int, Field(ge=0)] = 0
    y: Annotated[int, Field(ge=0)] = 0
    width: Annotated[int, Field(ge=1)]
    height: Annotated[int, Field(ge=1)]
    scale: Annotated[float, Field(gt=0, le=1)] = 1.0


PictureKind = Literal["picture", "before", "lines", "parts", "unclaimed", "bases", "borders",
                      "faults"]


class PreviewRequest(BaseModel):
    """A picture as it would be after an edit that is not made (yet).

    A draft has its shapes at half the resolution: for a drag, in which every picture lasts a
    moment.
    """

    edit: Edit
    view: ViewRequest
    kind: PictureKind = "picture"
    look: Wearer = "piece"
    draft: bool = False


class TriedLook(BaseModel):
    """A look that is not on the rail (yet): base colours over another look's."""

    start: Wearer = "piece"
    bases: Bases = Field(default_factory=dict)
    light: Light | None = None
    passes: Passes | None = None


class TryRequest(BaseModel):
    """Looks to be drawn together."""

    looks: Annotated[tuple[TriedLook, ...], Field(min_length=1, max_length=24)]
    edge: Annotated[int, Field(ge=60, le=1200)] = 400


class KeepOutfit(BaseModel):
    """Keep a look of a piece on its character's card."""

    piece: int
    look: LookId
    name: Title


class WearOutfit(BaseModel):
    """Hang a character's outfit on the rail of a piece."""

    seen: int
    outfit: Annotated[str, Field(max_length=120)]


class WornOutfit(BaseModel):
    """The piece afterwards, and names of the outfit that it has no part for."""

    piece: Piece
    missing: list[str]


class SchemeInfo(BaseModel):
    """A scheme of hues in words."""

    key: str
    label: str
    why: str


class VisionInfo(BaseModel):
    """A colour-vision deficiency in words."""

    key: str
    label: str
    share: str


class AreaInfo(BaseModel):
    """One area: its number in the area map, its innermost point, and what it is."""

    area: int
    x: float
    y: float
    pixels: int
    part: str | None
    ground: bool


class HueInfo(BaseModel):
    """Lines drawn in a hue, and what they are for."""

    hue: float
    colour: str
    pixels: int
    role: BoundaryRole


class HueOption(BaseModel):
    """A hue that a shade could have, why, and a colour that shows it."""

    why: str
    hue: float
    colour: str


class LinesInfo(BaseModel):
    """What was found in the drawing, and the settings that hold, given or by its kind.

    ``least_paper`` is the darkness up to which the paper's own noise reaches.
    """

    kind: str
    recognised: str
    even: bool
    hues: list[HueInfo]
    solids: list[Solid]
    paper: float
    least_paper: float
    grain: float
    line_width: float
    areas: int
    specks: int


class Cut(BaseModel):
    """The areas of a piece and what the lines are like."""

    lines: LinesInfo
    areas: list[AreaInfo]
    silhouette_pixels: int
    unclaimed: int


Format = Literal[
    "ora", "layers", "tiff pages", "png", "tiff", "webp", "silhouette", "outlines", "colours pdf",
    "colours png", "process strip", "process png", "process webp", "contact pdf", "contact png",
    "archive"]


class ContactSheet(BaseModel):
    """How a contact sheet is laid out."""

    size: PageSize = "A4"
    landscape: bool = True
    columns: Annotated[int, Field(ge=0, le=8)] = 0
    swatches: Annotated[int, Field(ge=0, le=40)] = 8
    approval: bool = False
    dpi: Annotated[int, Field(ge=36, le=600)] = 150


class DeliveryRequest(BaseModel):
    """What to deliver.

    ``looks`` names the looks that are delivered, in one archive if there are several; empty for
    the piece itself. ``sheet`` lays a contact sheet out. ``long_edge`` scales a flat picture;
    ``clear_ground`` leaves out what lies behind the figure; ``quality`` is that of a WebP that
    may lose something.
    """

    format: Format
    long_edge: Annotated[int, Field(ge=64, le=16_000)] | None = None
    clear_ground: bool = False
    quality: Annotated[int, Field(ge=1, le=100)] | None = None
    looks: Annotated[tuple[Wearer, ...], Field(max_length=MAX_LOOKS + 1)] = ()
    sheet: ContactSheet | None = None


class FormatInfo(BaseModel):
    """A kind of file in words, and what of the request it heeds."""

    key: Format
    label: str
    hint: str
    group: str
    options: tuple[str, ...]


class SaveTemplate(BaseModel):
    """Keep a piece's stack settings and passes as a template."""

    name: Title
    piece: int


class StackTemplate(BaseModel):
    """A template: an arrangement, and the passes with their modes and opacities."""

    id: int
    name: str
    delivery: Delivery
    passes: Passes


class LayeredFile(BaseModel):
    """A layered file that came in, or a repaired version of one."""

    id: int
    title: str
    piece: int | None
    made_from: int | None
    width: int
    height: int
    dpi: float | None
    notes: list[str]
    section: Section


class LayeredCard(BaseModel):
    """A layered file in a list."""

    id: int
    title: str
    piece: int | None
    made_from: int | None


class RepairRequest(BaseModel):
    """Which findings to repair, by their places in the list of findings."""

    findings: Annotated[list[Annotated[int, Field(ge=0)]], Field(min_length=1, max_length=5000)]


class MatchRequest(BaseModel):
    """Layers as they are matched, to be compared."""

    piece: int
    matches: Annotated[tuple[LayerMatch, ...], Field(max_length=2000)] = ()


class TakeOverRequest(BaseModel):
    """Layers as they are matched, to be taken over by the piece at the revision seen."""

    piece: int
    seen: int
    matches: Annotated[tuple[LayerMatch, ...], Field(max_length=2000)]
    colours: bool = True


class TakenOver(BaseModel):
    """The piece afterwards, how many changes it took, and what could not be taken."""

    piece: Piece
    touch_ups: int
    colours: int
    notes: list[str]


class MethodInfo(BaseModel):
    """A method in words."""

    key: str
    label: str
    when: str
    choices: tuple[str, ...]


class LightInfo(BaseModel):
    """A light by name."""

    name: str
    key: str
    ambient: str
    kelvin: float | None
    note: str


class Meta(BaseModel):
    """What the screens need to know about the tables."""

    version: str
    materials: list[Material]
    intakes: list[Intake]
    starters: list[Starter]
    motifs: list[str]
    passes: dict[str, str]
    volumes: dict[str, str]
    methods: list[MethodInfo]
    amounts: list[Setting]
    lights: list[LightInfo]
    spans: dict[str, Span]
    nudges: list[str]
    two_colours: float
    name_sets: dict[str, NamedParts]
    shade_share: float
    steps: list[str]
    step_shares: dict[str, float]
    formats: list[FormatInfo]
    modes: list[str]
    schemes: list[SchemeInfo]
    visions: list[VisionInfo]
    most_file_bytes: int
