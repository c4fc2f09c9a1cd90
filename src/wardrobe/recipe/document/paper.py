"""The paper that a piece is printed on, and the press."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.core.paper.layout import Paper
from wardrobe.core.paper.sheet import KERNELS
from wardrobe.core.press.profile import INTENTS
from wardrobe.recipe.document.types import AssetName, Frozen, one_of

Length = Annotated[float, Field(ge=10, le=3000, allow_inf_nan=False)]  # mm
Edge = Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)]
Offset = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
Subject = Literal["picture", "figure"]
Around = Literal["ground", "white"]


class Placed(Frozen):
    """Where the middle of what is centred lies, mm from the upper left corner of the trimmed
    sheet, and how wide the whole picture is."""

    x: Offset
    y: Offset
    width: Annotated[float, Field(ge=1, le=10_000, allow_inf_nan=False)]


class PaperSetup(Frozen):
    """A sheet of paper; lengths in mm.

    Attributes
    ----------
    width, height : float
        As it is trimmed.
    margin, safe : float
        From the trimmed edge: what is kept free when the picture is fitted; within what nothing
        that matters should be cut off, which is only shown.
    bleed : float
    marks : bool
    subject : str
        What is centred and fitted.
    placed : Placed or None
        None fits it within the margins.
    around : str
        What the sheet is where the picture ends.
    kernel : str
        How pixels of the sheet are made from those of the picture.
    """

    width: Length = 210.0
    height: Length = 297.0
    margin: Edge = 10.0
    safe: Edge = 5.0
    bleed: Annotated[float, Field(ge=0, le=25, allow_inf_nan=False)] = 0.0
    marks: bool = False
    subject: Subject = "picture"
    placed: Placed | None = None
    around: Around = "white"
    kernel: Annotated[str, one_of("filter", KERNELS)] = "smooth"

    def paper(self) -> Paper:
        """As the core takes it."""
        return Paper(self.width, self.height, self.margin, self.bleed, self.marks)


class KeptProfile(Frozen):
    """An ICC profile that was brought in."""

    asset: AssetName
    name: Annotated[str, Field(min_length=1, max_length=120)]


class PressSetup(Frozen):
    """How it is printed.

    Attributes
    ----------
    profile : KeptProfile or None
        None is the press that ships with Wardrobe.
    intent : str
    black_point : bool
        Black point compensation.
    most_ink : float
        Percent of all inks together.
    paper : bool
        Whether a proof shows the colour of the paper.
    """

    profile: KeptProfile | None = None
    intent: Annotated[str, one_of("intent", INTENTS)] = "relative"
    black_point: bool = True
    most_ink: Annotated[float, Field(ge=150, le=400, allow_inf_nan=False)] = 300.0
    paper: bool = False
