"""Pictures of a piece, and what is seen in its drawing."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.look import Bases, Wearer
from wardrobe.recipe.document.model import BoundaryRole
from wardrobe.recipe.edits import Edit

MOST_EDGE = 10**6  # px: more than any picture has


class ViewRequest(BaseModel):
    """A rectangle of the picture, in picture pixels, and the scale it is wanted at."""

    x: Annotated[int, Field(ge=0, le=MOST_EDGE)] = 0
    y: Annotated[int, Field(ge=0, le=MOST_EDGE)] = 0
    width: Annotated[int, Field(ge=1, le=MOST_EDGE)]
    height: Annotated[int, Field(ge=1, le=MOST_EDGE)]
    scale: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] = 1.0

    @property
    def pixels(self) -> int:
        """How many pixels are drawn, at the most."""
        return int(self.width * self.scale) * int(self.height * self.scale)


PictureKind = Literal["picture", "before", "lines", "parts", "unclaimed", "bases", "borders",
                      "faults", "values", "chroma", "attention", "outline", "proof",
                      "unprintable"]


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


class SolidInfo(BaseModel):
    """A solid black: its innermost point, or the place that a person named it by, its size, and
    whether it takes colour."""

    x: float
    y: float
    pixels: int
    coloured: bool


class LinesInfo(BaseModel):
    """What was found in the drawing, and the settings that hold, given or by its kind.

    ``least_paper`` is the darkness up to which the paper's own noise reaches.
    """

    kind: str
    recognised: str
    even: bool
    hues: list[HueInfo]
    solids: list[SolidInfo]
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
