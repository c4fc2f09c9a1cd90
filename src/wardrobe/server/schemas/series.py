"""Series and pages."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from wardrobe.core.formats.video import Film
from wardrobe.recipe.document.types import Colour, MaterialKey, PartName, Title
from wardrobe.recipe.events import DoubtfulArea, PieceState
from wardrobe.recipe.exchange.handout.stickers import StickerFormat
from wardrobe.recipe.series.page import PageSheet
from wardrobe.recipe.series.shared import SceneName, Shared, What
from wardrobe.server.schemas.delivery import StickerLayout
from wardrobe.server.schemas.pieces import Id, Revision

MOST_PIECES = 20_000
Hold = Annotated[int, Field(ge=1, le=240)]
Ids = Annotated[tuple[Id, ...], Field(max_length=MOST_PIECES)]
PartPath = Annotated[tuple[PartName, ...], Field(min_length=1, max_length=8)]


class SeriesCard(BaseModel):
    """A series as Home shows it; ``first`` are some of its first pieces."""

    id: int
    title: str
    changed: datetime
    pieces: int
    done: int
    first: tuple[int, ...]


class NewSeries(BaseModel):
    """A title, and the pieces that it begins with in their order."""

    title: Title
    pieces: Ids = ()


class SeriesMember(BaseModel):
    """A piece in a series.

    Attributes
    ----------
    own : tuple of str
        What it has otherwise than it is shared.
    carried : bool
        Its parts are a proposal that nobody has kept yet.
    doubts : int
        Areas whose carried part is still to be looked at.
    parts : tuple of tuple of str
        Each by its name, within those of what it belongs to.
    findings : tuple of str or None
        Checks that notice something in it, what matters most first; None where it was not looked
        over as it is now.
    """

    id: int
    title: str
    revision: int
    step: str
    state: PieceState
    scene: str
    hold: int
    page: int | None
    character: str | None
    width: int
    height: int
    own: tuple[What, ...]
    carried: bool
    doubts: int
    parts: tuple[tuple[str, ...], ...]
    findings: tuple[str, ...] | None = None


class PageCard(BaseModel):
    """A page of a series."""

    id: int
    title: str
    revision: int
    panels: int


class Series(BaseModel):
    """A series with its pieces in their order."""

    id: int
    title: str
    shared: Shared
    members: tuple[SeriesMember, ...]
    pages: tuple[PageCard, ...]


class SeriesChange(BaseModel):
    """A new title."""

    title: Title


class ShareRequest(BaseModel):
    """What is shared from now on; pieces follow but for what they have of their own."""

    shared: Shared


class ShareFrom(BaseModel):
    """Share some of what a piece has."""

    piece: Id
    what: Annotated[tuple[What, ...], Field(min_length=1)]


class OrderRequest(BaseModel):
    """All pieces of a series in their order; those that are not named leave it."""

    pieces: Ids


class PlaceChange(BaseModel):
    """The scene in which a piece plays, and for how many frames it stays."""

    scene: Annotated[str, Field(max_length=60)] | None = None
    hold: Hold | None = None


class SeriesPlace(BaseModel):
    """Where a piece is in its series: its number from 1, and its neighbours; ``sources`` are the
    pieces that its parts, which nobody has kept yet, were carried over from."""

    series: int
    title: str
    number: int
    count: int
    before: int | None
    after: int | None
    scene: str
    page: int | None
    own: tuple[What, ...]
    doubts: tuple[DoubtfulArea, ...]
    carried: bool
    sources: tuple[int, ...]


class CarryRequest(BaseModel):
    """Which pieces take over their parts; none are all whose parts are not kept yet."""

    pieces: Ids = ()


class FollowRequest(BaseModel):
    """Which pieces follow again in what."""

    pieces: Ids
    what: Annotated[tuple[What, ...], Field(min_length=1)]


class PartChange(BaseModel):
    """A part of a character in all pictures: its colour or material."""

    part: PartPath
    base: Colour | None = None
    material: MaterialKey | None = None


class SeriesEdit(BaseModel):
    """A change of a part, or of a scene's light, that is made in many pieces at once."""

    change: PartChange | None = None
    scene: SceneName | None = None
    azimuth: Annotated[float, Field(ge=-360, le=720, allow_inf_nan=False)] | None = None
    pieces: Ids = ()


class Drift(BaseModel):
    """How far a picture is from what most pictures of the series have.

    Attributes
    ----------
    what : str
        Colour of a part (CIEDE2000), amount of its shade (share), direction of light (degrees).
    """

    piece: int
    what: Literal["colour", "shade", "light"]
    part: tuple[str, ...]
    by: float
    here: str
    usual: str


class Page(BaseModel):
    """A page with its sheet."""

    id: int
    series: int
    title: str
    revision: int
    sheet: PageSheet


class SheetRequest(BaseModel):
    """A corrected sheet, and the revision that its author saw."""

    seen: Revision
    sheet: PageSheet


class SeriesFile(BaseModel):
    """What is written of a series."""

    format: Film | Literal["png frames"] | StickerFormat = "png frames"
    long_edge: Annotated[int, Field(ge=64, le=12_000)] | None = None
    pieces: Ids = ()
    stickers: StickerLayout | None = None


class PageFile(BaseModel):
    """What is written of a page."""

    format: Literal["ora", "png", "tiff", "webp", "panels"] = "ora"
    long_edge: Annotated[int, Field(ge=64, le=12_000)] | None = None


class BatchRequest(BaseModel):
    """What is done with pieces, one after the other."""

    stages: Annotated[tuple[Literal["flats", "shade", "deliver"], ...],
                      Field(min_length=1, max_length=3)]
    pieces: Ids = ()
