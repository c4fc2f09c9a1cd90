"""What is drawn on the picture by hand."""

from typing import Annotated

from pydantic import Field, model_validator

from wardrobe.recipe.document.types import Frozen, Stroke

PenWidth = Annotated[float, Field(ge=0.2, le=2000, allow_inf_nan=False)]


class DrawnStroke(Frozen):
    """An outline that is filled, or a pen's stroke.

    Attributes
    ----------
    points : tuple of (float, float)
        Picture pixels.
    widths : tuple of float
        Of the pen at every point, in picture pixels; empty for an outline.
    """

    points: Stroke
    widths: Annotated[tuple[PenWidth, ...], Field(max_length=4000)] = ()

    @model_validator(mode="after")
    def _complete(self) -> "DrawnStroke":
        if self.widths and len(self.widths) != len(self.points):
            raise ValueError("a pen's stroke has a width at every point")
        if not self.widths and len(self.points) < 3:
            raise ValueError("an outline has three points or more")
        return self
