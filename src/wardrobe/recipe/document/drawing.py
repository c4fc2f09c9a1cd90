"""The drawing of a piece, and the versions that it went through."""

from typing import Annotated

from pydantic import Field, field_validator

from wardrobe.recipe.document.types import AssetName, Frozen, Pixels

MAX_DRAWINGS = 100
_SCALES = (0.01, 100.0)  # of a drawing that can lie on another

Finite = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Corner = Annotated[int, Field(ge=-100_000, le=100_000)]
Row = tuple[Finite, Finite, Finite]
Remark = Annotated[str, Field(max_length=400)]


class Laid(Frozen):
    """How a drawing lies on the one that came first.

    Attributes
    ----------
    width, height : int
        Its own size, px.
    matrix : two rows of three numbers
        From its places to those of the first drawing; pixel centres lie at halves.
    """

    width: Pixels
    height: Pixels
    matrix: tuple[Row, Row]

    @field_validator("matrix")
    @classmethod
    def _can_be_drawn(cls, matrix: tuple[Row, Row]) -> tuple[Row, Row]:
        (a, b, _), (c, d, _) = matrix
        area = a * d - b * c
        if not _SCALES[0] ** 2 <= area <= _SCALES[1] ** 2:
            raise ValueError("the drawing would be mirrored, or far too small or large")
        return matrix


class Drawing(Frozen):
    """A version of the drawing: assets named by their SHA-256.

    ``asset`` is the decoded picture, ``original`` the file as it was dropped. Without ``laid`` it
    has the size of the first and lies where that lay.
    """

    asset: AssetName
    original: AssetName | None = None
    laid: Laid | None = None
    number: Annotated[int, Field(ge=1, le=10_000)] = 1
    remark: Remark = ""


class Source(Drawing):
    """The version that is used, on the sheet that the first one filled.

    Attributes
    ----------
    width, height : int
        Of the sheet, px.
    corner : (int, int)
        Where the sheet begins now, px from where it began at first.
    """

    width: Pixels
    height: Pixels
    corner: tuple[Corner, Corner] = (0, 0)
