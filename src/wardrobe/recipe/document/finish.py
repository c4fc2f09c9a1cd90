"""Finish: layers over the picture as a whole, each switched, ordered and limited by itself."""

from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, model_validator

from wardrobe.core.finish.along_form import WAYS
from wardrobe.core.finish.textures import TEXTURES
from wardrobe.core.layers.operators import OPERATORS
from wardrobe.core.setting import check_amounts
from wardrobe.recipe.document.pattern import Pattern, PlacedPicture
from wardrobe.recipe.document.places import Motion, Turning
from wardrobe.recipe.document.strokes import DrawnStroke
from wardrobe.recipe.document.types import (
    Colour,
    Frozen,
    ModeKey,
    PartId,
    PartName,
    PassKey,
    Point,
    Share,
    one_of,
)

MAX_FINISH = 60
MAX_SPOT_POINTS = 100_000  # of all spots of a piece together
MOST_FINISH_NUMBER = 999_999

FinishId = Annotated[str, Field(pattern=r"^f[0-9]{1,6}$")]
OperatorKey = Annotated[str, one_of("operation", OPERATORS)]
TextureKey = Annotated[str, one_of("texture", TEXTURES)]
WayKey = Annotated[str, one_of("way", WAYS)]
PartIds = Annotated[tuple[PartId, ...], Field(max_length=200)]
Length = Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]  # picture pixels
Amount = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]


class PlainColour(Frozen):
    """One colour."""

    kind: Literal["colour"] = "colour"
    colour: Colour


class Stop(Frozen):
    """A colour on the way of a gradient, 0 at its first end and 1 at its second."""

    at: Share
    colour: Colour
    opacity: Share = 1.0


def _rising(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
    if any(b.at < a.at for a, b in pairwise(stops)):
        raise ValueError("the colours of a gradient come one after the other")
    return stops


Stops = Annotated[tuple[Stop, ...], Field(min_length=2, max_length=8), AfterValidator(_rising)]


class ColourGradient(Frozen):
    """Colours from one place to another, or from a middle outwards."""

    kind: Literal["gradient"] = "gradient"
    ends: tuple[Point, Point]
    round: bool = False
    stops: Stops


class FormGradient(Frozen):
    """Colours by how far the form turns to something; nothing where there is no form."""

    kind: Literal["form"] = "form"
    way: WayKey = "light"
    stops: Stops


class LaidPattern(Frozen):
    """A pattern or a picture with its middle at a place, from which it may be moved; blurred by
    a Gaussian of so many picture pixels."""

    kind: Literal["pattern"] = "pattern"
    at: Point
    pattern: Pattern
    blur: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)] = 0.0


Paint = Annotated[PlainColour | ColourGradient | FormGradient | LaidPattern,
                  Field(discriminator="kind")]


class Everywhere(Frozen):
    """No shape of its own."""

    kind: Literal["everywhere"] = "everywhere"


class InPass(Frozen):
    """The shape of a pass, or all but it."""

    kind: Literal["pass"] = "pass"
    name: PassKey
    outside: bool = False


class OfParts(Frozen):
    """Parts as they are seen; none for the whole figure."""

    kind: Literal["parts"] = "parts"
    parts: PartIds = ()


class OfLines(Frozen):
    """The lines."""

    kind: Literal["lines"] = "lines"


class SpotStroke(DrawnStroke):
    """A spot, or what is taken out of those before it."""

    erases: bool = False


class Spots(Frozen):
    """Spots that are drawn, in their order."""

    kind: Literal["spots"] = "spots"
    strokes: Annotated[tuple[SpotStroke, ...], Field(max_length=400)] = ()


class GivenOff(Frozen):
    """What light that parts give off does on all others, and on the ground.

    ``reach`` is where a surface that faces it receives a half; ``height`` by how much the light
    lies before the ground. Picture pixels.
    """

    kind: Literal["given off"] = "given off"
    parts: Annotated[tuple[PartId, ...], Field(min_length=1, max_length=200)]
    reach: Length
    height: Annotated[float, Field(ge=0, le=20_000, allow_inf_nan=False)]


class Contact(Frozen):
    """Where parts lie close under others, fading over so many picture pixels from the line."""

    kind: Literal["contact"] = "contact"
    width: Annotated[float, Field(ge=1, le=400, allow_inf_nan=False)]


class Sparks(Frozen):
    """Small sparks about a place: see :class:`~wardrobe.core.finish.sparks.Scatter`."""

    kind: Literal["sparks"] = "sparks"
    at: Point
    radius: Length
    count: Annotated[int, Field(ge=1, le=1000)] = 60
    size: Annotated[float, Field(ge=0.5, le=200, allow_inf_nan=False)]
    spread: Share = 0.7
    seed: Annotated[int, Field(ge=0, le=10**6)] = 0


Shape = Annotated[Everywhere | InPass | OfParts | OfLines | Spots | GivenOff | Contact | Sparks,
                  Field(discriminator="kind")]


class Operation(Turning, Frozen):
    """What is done to a shape: a key of OPERATORS, and what differs from its usual amounts."""

    kind: OperatorKey
    amounts: dict[str, Amount] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _known(self) -> "Operation":
        check_amounts(self.amounts, {s.name: s for s in OPERATORS[self.kind].settings})
        return self

    @property
    def all_amounts(self) -> dict[str, float]:
        """The usual ones, with those that differ."""
        return {s.name: s.usual for s in OPERATORS[self.kind].settings} | self.amounts

    def turned(self, motion: Motion) -> dict[str, Any]:
        """A way to move turns with the picture."""
        way = self.all_amounts
        if not way.get("dx") and not way.get("dy"):
            return {}
        dx, dy = motion.vector(way["dx"], way["dy"])
        bounds = {s.name: s for s in OPERATORS[self.kind].settings}
        new = {name: round(min(max(v, bounds[name].low), bounds[name].high), 4)
               for name, v in (("dx", dx), ("dy", dy))}
        return {"amounts": {**self.amounts, **new}}


class TextureUse(Turning, Frozen):
    """A texture that a shape is broken up by.

    ``size`` is in picture pixels per pixel of the texture, ``angle`` in degrees
    counter-clockwise; at an ``amount`` of 1 the shape is nowhere more than the texture.
    ``picture`` is one of one's own, whose lightness counts instead.
    """

    key: TextureKey
    picture: PlacedPicture | None = None
    size: Annotated[float, Field(ge=0.2, le=40, allow_inf_nan=False)] = 1.0
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    amount: Share = 1.0

    def turned(self, motion: Motion) -> dict[str, Any]:
        """The texture turns with the picture."""
        return {"angle": round((self.angle - motion.clockwise + 180) % 360 - 180, 6)}


Scope = Literal["everything", "figure", "ground", "parts"]
MAX_FOCUS = 6


class Focus(Frozen):
    """A place where the eye should go, and how far around it that holds, picture pixels."""

    at: Point
    radius: Length


ByFocus = Literal["as it is", "there", "away"]


class FinishDraft(Frozen):
    """A layer over the picture as a whole.

    Attributes
    ----------
    name : str
    paint : Paint
    shape : Shape
    operations : tuple of Operation
        Done to the shape, in their order.
    texture : TextureUse or None
    mode : str
        W3C blend mode.
    strength : float, 0..1
    scope : str
        What it lies on; ``parts`` for those in ``parts``.
    over_lines : bool
    visible : bool
    focus : str
        Whether it is there only where the eye should go, or only away from it.
    """

    name: PartName
    paint: Paint
    shape: Shape = Everywhere()
    operations: Annotated[tuple[Operation, ...], Field(max_length=6)] = ()
    texture: TextureUse | None = None
    mode: ModeKey = "normal"
    strength: Share = 1.0
    scope: Scope = "everything"
    parts: PartIds = ()
    over_lines: bool = False
    visible: bool = True
    focus: ByFocus = "as it is"


class FinishLayer(FinishDraft):
    """A layer with its id, which it keeps for as long as the piece lives."""

    id: FinishId


def check_spots(layers: Sequence[FinishDraft]) -> None:
    """Raise ValueError if spots have too many points together."""
    if sum(len(s.points) for layer in layers if isinstance(layer.shape, Spots)
           for s in layer.shape.strokes) > MAX_SPOT_POINTS:
        raise ValueError(f"spots have at most {MAX_SPOT_POINTS:,} points together")


def pictures_in(layers: Sequence[FinishDraft]) -> list[PlacedPicture]:
    """Pictures of one's own that layers are painted with or broken up by."""
    found = [layer.paint.pattern.picture for layer in layers
             if isinstance(layer.paint, LaidPattern)]
    found += [layer.texture.picture for layer in layers if layer.texture]
    return [picture for picture in found if picture is not None]
