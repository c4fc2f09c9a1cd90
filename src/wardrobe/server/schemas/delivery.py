"""Files that leave, and stack templates."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.look import MAX_LOOKS, Wearer
from wardrobe.recipe.document.types import Title
from wardrobe.recipe.exchange.handout.contact_sheet import PageSize
from wardrobe.recipe.exchange.handout.stickers import MOST_ON_SHEET, StickerWish
from wardrobe.server.schemas.pieces import Id

Format = Literal[
    "ora", "layers", "tiff pages", "layered pdf", "layered svg", "png", "tiff", "webp", "jpeg",
    "sheet pdf", "stickers pdf", "stickers png", "cut lines", "sheet tiff", "sheet png",
    "sheet jpeg", "silhouette", "outlines", "colours pdf", "colours png", "process strip",
    "process png", "process webp", "contact pdf", "contact png", "review pdf", "lesson pdf",
    "replay mp4", "replay webm", "replay webp", "archive"]


class ContactSheet(BaseModel):
    """How a contact sheet is laid out."""

    size: PageSize = "A4"
    landscape: bool = True
    columns: Annotated[int, Field(ge=0, le=8)] = 0
    swatches: Annotated[int, Field(ge=0, le=40)] = 8
    approval: bool = False
    dpi: Annotated[int, Field(ge=36, le=600)] = 150


class ReplayLayout(BaseModel):
    """How a replay is cut: seconds without what is held, and seconds that each stage is held."""

    seconds: Annotated[float, Field(ge=2, le=300, allow_inf_nan=False)] = 20
    fps: Annotated[int, Field(ge=5, le=60)] = 24
    hold: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = 1
    captions: bool = True


class CurvesWish(BaseModel):
    """How layers become curves: px that these may be off, and whether the lines do, too."""

    tolerance: Annotated[float, Field(ge=0.05, le=2, allow_inf_nan=False)] = 0.1
    lines: bool = False


Millimetres = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]


class StickerLayout(BaseModel):
    """How figures are laid out on a sheet, mm; ``copies`` is how often each is there."""

    border: Millimetres = 3
    gap: Millimetres = 4
    largest: Annotated[float, Field(ge=5, le=3000, allow_inf_nan=False)] = 1000
    copies: Annotated[int, Field(ge=1, le=MOST_ON_SHEET)] = 1

    def wish(self) -> StickerWish:
        """As it is laid out by."""
        return StickerWish(self.border, self.gap, self.largest, self.copies)


class DeliveryRequest(BaseModel):
    """What to deliver.

    ``looks`` names the looks that are delivered, in one archive if there are several; empty for
    the piece itself. ``sheet`` lays a contact sheet out, ``replay`` a replay, ``curves`` what
    an SVG is made of, ``stickers`` figures on one sheet. ``long_edge`` scales
    a flat picture; ``clear_ground`` leaves out what lies behind the figure; ``quality`` is that
    of a JPEG, or of a WebP that may lose something.
    """

    format: Format
    long_edge: Annotated[int, Field(ge=64, le=16_000)] | None = None
    clear_ground: bool = False
    quality: Annotated[int, Field(ge=1, le=100)] | None = None
    looks: Annotated[tuple[Wearer, ...], Field(max_length=MAX_LOOKS + 1)] = ()
    sheet: ContactSheet | None = None
    replay: ReplayLayout | None = None
    curves: CurvesWish | None = None
    stickers: StickerLayout | None = None


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
    piece: Id


class StackTemplate(BaseModel):
    """A template: an arrangement, and the passes with their modes and opacities."""

    id: int
    name: str
    delivery: Delivery
    passes: Passes
