"""Patterns, and pictures that are placed."""

from typing import Annotated, Any

from pydantic import Field

from wardrobe.core.pattern.motifs import MOTIFS
from wardrobe.recipe.document.places import Motion, Turning
from wardrobe.recipe.document.types import AssetName, Colour, Frozen, Pixels, Share, one_of

Finite = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]


class PlacedPicture(Frozen):
    """A picture file that lies on a part: its asset and its size in pixels."""

    asset: AssetName
    width: Pixels
    height: Pixels


class Pattern(Turning, Frozen):
    """What lies on a part's base and is shaded with it.

    Attributes
    ----------
    motif : str
        A key of MOTIFS; not used if there is a picture.
    picture : PlacedPicture or None
    repeat : bool
        Lay the picture side by side without end.
    colour : str
        Of the motif.
    share : float, 0.02..0.98
        How much of the ground the motif covers.
    period : float
        Picture pixels per repeat, or of the picture's longer edge.
    angle : float
        Degrees, counter-clockwise.
    degree : float
        Of the ellipse as which a circle of it is seen; 90 from above.
    dx, dy : float
        Picture pixels that it is moved from the middle of the part.
    follow : bool
        Bent round the part's form.
    strength : float, 0..1
    """

    motif: Annotated[str, one_of("motif", MOTIFS)] = "stripes"
    picture: PlacedPicture | None = None
    repeat: bool = False
    colour: Colour = "#f3ead6"
    share: Annotated[float, Field(ge=0.02, le=0.98, allow_inf_nan=False)] = 0.4
    period: Annotated[float, Field(ge=2, le=20_000, allow_inf_nan=False)] = 120.0
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    degree: Annotated[float, Field(ge=5, le=90, allow_inf_nan=False)] = 90.0
    dx: Finite = 0.0
    dy: Finite = 0.0
    follow: bool = True
    strength: Share = 1.0

    def turned(self, motion: Motion) -> dict[str, Any]:
        """The pattern turns with the picture."""
        dx, dy = motion.vector(self.dx, self.dy)
        angle = (self.angle - motion.clockwise + 180) % 360 - 180
        return {"angle": round(angle, 6), "dx": round(dx, 4), "dy": round(dy, 4)}
