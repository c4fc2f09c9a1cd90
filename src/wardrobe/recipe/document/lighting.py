"""How a piece is lit: its lights, how each part takes shape, and what was corrected by hand."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from wardrobe.core.form import Volume
from wardrobe.core.light.rig import RIM_WIDTH
from wardrobe.recipe.document.places import Motion, Turning
from wardrobe.recipe.document.strokes import DrawnStroke
from wardrobe.recipe.document.types import Colour, Frozen, PartId, PassKey, Share, Stroke

MAX_TOUCH_UPS = 500
MAX_TOUCH_POINTS = 200_000  # of all touch-ups together

Azimuth = Annotated[float, Field(ge=-360, le=720, allow_inf_nan=False)]
Height = Annotated[float, Field(ge=-60, le=90, allow_inf_nan=False)]


class SideLight(Frozen):
    """A light beside the key light, as a pass of its own on screen.

    ``width`` is that of a rim, in line widths.
    """

    azimuth: Azimuth
    height: Height
    colour: Colour
    strength: Share
    width: Annotated[float, Field(ge=0.4, le=8, allow_inf_nan=False)] = RIM_WIDTH


class CastPair(Frozen):
    """How far one part's shadow falls on another: 0 not at all, 1 as guessed."""

    caster: PartId
    receiver: PartId
    length: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)]


class GroundShadow(Frozen):
    """The shadow that the figure throws on the ground.

    Attributes
    ----------
    colour : str
        Laid over the background on multiply.
    strength, soft : float, 0..1
    pitch : float
        How far the ground is seen from above.
    drop : float
        Picture pixels by which the ground lies below the figure's lowest point.
    """

    colour: Colour = "#8f86b8"
    strength: Share = 0.55
    soft: Share = 0.0
    pitch: Annotated[float, Field(ge=0.02, le=1, allow_inf_nan=False)] = 0.28
    drop: Annotated[float, Field(ge=-4000, le=4000, allow_inf_nan=False)] = 0.0


class Light(Frozen):
    """The lights of a piece, and the shapes that they make.

    Attributes
    ----------
    azimuth, height : float
        Of the key light: degrees, counter-clockwise from the right, and above the picture plane.
    colour, ambient : str
        Of the light itself, and of what reaches the shade.
    rim, bounce : SideLight or None
    ground : GroundShadow or None
    amount : float
        Share of a ball that is in shade.
    simple : float, 0..1
        Fewer and larger shapes.
    cast : float
        Length of cast shadows, 1 as guessed.
    pairs : tuple of CastPair
        Where that differs.
    depth : str
        Which parts are in front: as guessed from the drawing, or as listed.
    """

    azimuth: Azimuth = 128.0
    height: Height = 38.0
    colour: Colour = "#fff0cf"
    ambient: Colour = "#8f86b8"
    rim: SideLight | None = None
    bounce: SideLight | None = None
    ground: GroundShadow | None = None
    amount: Annotated[float, Field(ge=0.1, le=0.7, allow_inf_nan=False)] = 0.38
    simple: Share = 0.0
    cast: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = 1.0
    pairs: Annotated[tuple[CastPair, ...], Field(max_length=400)] = ()
    depth: Literal["guessed", "as listed"] = "guessed"


class PartForm(Frozen):
    """How a part takes shape under the light.

    Attributes
    ----------
    volume : str
        A key of VOLUMES.
    depth : float
        Factor on how deep it is; 0 is flat.
    soft : float, 0..1
        How soft the edges of its shapes are.
    highlight : float or None
        Factor on how much light its material takes: 0 is none, None as usual for it.
    nearer : float
        Moves it in front of others (or behind, below 0), in the depth that parts are guessed at.
    recedes : bool
        It lies back: in shade as a whole, without light.
    edges : tuple of Stroke
        Edges along which a folded part turns, in picture pixels.
    """

    volume: Volume = "as drawn"
    depth: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = 1.0
    soft: Share = 0.0
    highlight: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)] | None = None
    nearer: Annotated[float, Field(ge=-4, le=4, allow_inf_nan=False)] = 0.0
    recedes: bool = False
    edges: Annotated[tuple[Stroke, ...], Field(max_length=40)] = ()


class TouchStroke(DrawnStroke):
    """What is drawn to correct a pass by hand.

    Attributes
    ----------
    name : str
        The pass whose shape it changes.
    act : str
        Put into the pass, take out of it, or soften its edge, which takes a pen.
    part : str or None
        The part that it keeps to; None for all.
    """

    name: PassKey
    act: Literal["put in", "take out", "soften"]
    part: PartId | None = None

    @model_validator(mode="after")
    def _softened_with_the_pen(self) -> "TouchStroke":
        if self.act == "soften" and not self.widths:
            raise ValueError("an edge is softened with the pen")
        return self


class TouchUp(Turning, TouchStroke):
    """A correction of a pass by hand, kept as the stroke that was drawn.

    Attributes
    ----------
    id : int
        Of this touch-up, for as long as the piece lives.
    azimuth, height : float
        Of the key light that it was made for.
    """

    id: Annotated[int, Field(ge=1, le=10**6)]
    azimuth: Azimuth
    height: Height

    def turned(self, motion: Motion) -> dict[str, Any]:
        """The light that it was made for turns with the picture."""
        return {"azimuth": round((self.azimuth - motion.clockwise) % 360, 4)}


def check_points(touch_ups: Sequence[TouchUp]) -> None:
    """Raise ValueError if touch-ups have too many points together."""
    if sum(len(t.points) for t in touch_ups) > MAX_TOUCH_POINTS:
        raise ValueError(f"touch-ups have at most {MAX_TOUCH_POINTS:,} points together")
