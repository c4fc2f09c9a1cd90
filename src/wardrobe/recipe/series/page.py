"""A page of panels: what was found on its sheet, and what a person corrected of that."""

from typing import Annotated

from pydantic import Field

from wardrobe.core.page.order import Reading
from wardrobe.recipe.document.types import AssetName, Frozen, Pixels, Point

MAX_PANELS, MAX_BALLOONS = 60, 400
Outline = Annotated[tuple[Point, ...], Field(min_length=3, max_length=400)]
Offset = Annotated[int, Field(ge=0, le=20_000)]
PieceId = Annotated[int, Field(ge=1, le=2**53 - 1)]


class PagePanel(Frozen):
    """A panel of a sheet.

    Attributes
    ----------
    outline : tuple of (float, float)
        px of the sheet; along the inner side of its frame.
    piece : int or None
        The piece that it is coloured in.
    origin : (int, int) or None
        Where on the sheet the first drawing of that piece begins.
    """

    outline: Outline
    piece: PieceId | None = None
    origin: tuple[Offset, Offset] | None = None


class PageSheet(Frozen):
    """What is on a page.

    Attributes
    ----------
    asset : str
        The decoded picture.
    original : str or None
        The file as it was dropped.
    width, height : int
        px.
    reading : str
    panels : tuple of PagePanel
        As they are read; where two overlap, the smaller lies over the larger.
    balloons : tuple of outlines
        What letters stand in: it stays paper.
    letters : bool
        Whether lettering is told from drawing at all.
    """

    asset: AssetName
    original: AssetName | None = None
    width: Pixels
    height: Pixels
    reading: Reading = "left to right"
    panels: Annotated[tuple[PagePanel, ...], Field(max_length=MAX_PANELS)] = ()
    balloons: Annotated[tuple[Outline, ...], Field(max_length=MAX_BALLOONS)] = ()
    letters: bool = True
