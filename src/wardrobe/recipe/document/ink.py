"""Ink: lines that take their colours from what they bound."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.core.ink.rule import USUAL_DARKNESS, Rule
from wardrobe.core.ink.shading import STYLES
from wardrobe.recipe.document.types import (
    Colour,
    Frozen,
    MaterialKey,
    PartId,
    PassKey,
    Share,
    one_of,
)

MAX_OWN_LINES, MAX_SHADES, MAX_MATERIALS = 200, 12, 40
Darkness = Annotated[float, Field(ge=2, le=70, allow_inf_nan=False)]
Saturation = Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)]
Beside = Literal["ground", "itself"] | PartId


class OwnLine(Frozen):
    """A colour that was chosen for some lines.

    Attributes
    ----------
    part : str
    beside : str or None
        The part on the other side, the ground, or the part itself for lines inside of it; None
        for all lines that belong to the part.
    colour : str
    """

    part: PartId
    beside: Beside | None = None
    colour: Colour

    @property
    def between(self) -> frozenset[str | None]:
        """What it is for, whichever side is said first."""
        return frozenset([self.part, self.beside])


class MaterialInk(Frozen):
    """How lines of parts of one material take their colours; see :class:`Inking`."""

    material: MaterialKey
    darkness: Darkness = USUAL_DARKNESS
    saturation: Saturation = 1.0
    light: Share = 0.5

    @property
    def rule(self) -> Rule:
        """What colours are derived by."""
        return Rule(self.darkness, self.saturation, self.light)


class AsDrawn(Frozen):
    """The drawing itself, multiplied over everything with all its tones; what was found to be
    ink only bounds areas.

    Attributes
    ----------
    tint : str
        What black becomes.
    paper : float or None, 0..0.6
        Darkness against the paper that still counts as paper; None as far as its noise reaches.
    doubled : bool
        Multiplied twice.
    hues : bool
        Keeps the colours that it is drawn in.
    """

    tint: Colour = "#000000"
    paper: Annotated[float, Field(ge=0, le=0.6, allow_inf_nan=False)] | None = None
    doubled: bool = False
    hues: bool = False


class InkShade(Frozen):
    """A pass that is drawn in ink.

    Attributes
    ----------
    name : str
        The pass.
    parts : tuple of str
        Where; none for the whole figure.
    style : str
        Parallel lines, with a second set across them where it is deepest, dots of a screen,
        stipple, or solid black.
    angle : float
        Degrees, counter-clockwise from the right.
    spacing : float
        From line to line or from dot to dot, px.
    tone : float, 0..1
        Share of the paper that is covered, where it is darkest.
    pressure : float, 0..1
        How much of that grows from the edge of the shape inwards.
    taper : float
        Line widths over which lines end.
    follow : str
        Whether lines run straight, along the form, or across it.
    gap : float
        Line widths that solid black keeps from lines.
    colour : str or None
        None is that of the lines.
    instead : bool
        The pass's own colour is not laid there.
    """

    name: PassKey
    parts: Annotated[tuple[PartId, ...], Field(max_length=200)] = ()
    style: Annotated[str, one_of("style", STYLES)] = "lines"
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 45.0
    spacing: Annotated[float, Field(ge=2, le=400, allow_inf_nan=False)] = 16.0
    tone: Annotated[float, Field(ge=0.02, le=1, allow_inf_nan=False)] = 0.4
    pressure: Share = 0.5
    taper: Annotated[float, Field(ge=0, le=12, allow_inf_nan=False)] = 2.0
    follow: Literal["straight", "along", "across"] = "straight"
    gap: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)] = 0.5
    colour: Colour | None = None
    instead: bool = True


class Inking(Frozen):
    """How the drawing is inked: the colours of its lines, and what is shaded in ink.

    Attributes
    ----------
    drawing : AsDrawn or None
        The drawing with its tones is printed instead of lines, which are not coloured then.
    on : bool
        Lines take the hue of what they bound, much darker; else they all have one colour.
    amount : float, 0..1
        How much of that lies over their one colour.
    darkness : float
        L* of a line around a part of middle value.
    saturation : float
        Factor on the chroma of the part that a line belongs to.
    light : float, 0..1
        How much lighter and warmer lines are where they face the light.
    blend : float
        Over how many line widths one colour turns into the next.
    focus : float, 0..1
        How much darker they are where the eye is to go; nothing without such a place.
    weight : float
        Line widths by which lines that face away from the light are heavier, and those that face
        it thinner, never under a pixel. Areas stay as they are.
    overlap : float
        Line widths by which lines are heavier where a part lies over another.
    opacity : float, 0..1
        Of all lines, coloured or not.
    mode : str
        How all lines meet what lies below.
    materials : tuple of MaterialInk
        Where lines of a material take their colours otherwise; what was said last counts.
    own : tuple of OwnLine
        What is said of a border comes before what is said of a part, and what was said last.
    shades : tuple of InkShade
        Passes that are drawn in ink, below the lines.
    """

    drawing: AsDrawn | None = None
    on: bool = False
    amount: Share = 1.0
    darkness: Darkness = USUAL_DARKNESS
    saturation: Saturation = 1.0
    light: Share = 0.5
    blend: Annotated[float, Field(ge=0, le=6, allow_inf_nan=False)] = 1.5
    focus: Share = 0.0
    weight: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.0
    overlap: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.0
    opacity: Share = 1.0
    mode: Literal["normal", "multiply"] = "normal"
    materials: Annotated[tuple[MaterialInk, ...], Field(max_length=MAX_MATERIALS)] = ()
    own: Annotated[tuple[OwnLine, ...], Field(max_length=MAX_OWN_LINES)] = ()
    shades: Annotated[tuple[InkShade, ...], Field(max_length=MAX_SHADES)] = ()

    @property
    def rule(self) -> Rule:
        """What colours are derived by."""
        return Rule(self.darkness, self.saturation, self.light)

    def without(self, stay: set[str]) -> "Inking":
        """Without colours of parts that do not stay."""
        own = tuple(o for o in self.own if o.part in stay and (
            o.beside in (None, "ground", "itself") or o.beside in stay))
        shades = tuple(shade.model_copy(update={"parts": kept}) for shade in self.shades
                       if (kept := tuple(p for p in shade.parts if p in stay)) or not shade.parts)
        if (own, shades) == (self.own, self.shades):
            return self
        return self.model_copy(update={"own": own, "shades": shades})
