"""How a piece is coloured and lit: washes, the rules of its passes, the key light."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from wardrobe.core.passes.methods import AMOUNTS
from wardrobe.recipe.types import Colour, Frozen, MethodKey, PartId, PassKey, Share


class Wash(Frozen):
    """One colour for all parts, laid on at a strength."""

    colour: Colour
    strength: Share


WashKey = Literal["shade", "deep shade", "light", "glint", "wash"]


def _amounts(amounts: dict[str, float]) -> dict[str, float]:
    for name, value in amounts.items():
        if name not in AMOUNTS:
            raise ValueError(f"unknown amount “{name}”; one of {', '.join(AMOUNTS)} is expected")
        if not AMOUNTS[name].low <= value <= AMOUNTS[name].high:
            raise ValueError(f"“{name}” lies between {AMOUNTS[name].low:g} and "
                             f"{AMOUNTS[name].high:g}")
    return amounts


class Passes(Frozen):
    """What lies over the bases, and how its colours are derived.

    Attributes
    ----------
    method : str
        A key of METHODS.
    shade, deep_shade, light, glint, wash : Wash
        Colours of the passes that are the same for all parts.
    amounts : dict of str to float
        What differs from the usual in AMOUNTS.
    turn_to : str
        Where the hue of picked shades turns.
    tones : int
        From shade to full light, in light out of dark.
    over_figure : bool
        One shade for all is one layer over the figure.
    off : tuple of str
        Passes that are switched off.
    """

    method: MethodKey = "one shade"
    shade: Wash = Wash(colour="#a685ad", strength=0.72)
    deep_shade: Wash = Wash(colour="#9c82ad", strength=0.62)
    light: Wash = Wash(colour="#fdf0c8", strength=0.26)
    glint: Wash = Wash(colour="#ffffff", strength=0.7)
    wash: Wash = Wash(colour="#9c86ad", strength=0.22)
    amounts: Annotated[dict[str, Annotated[float, Field(allow_inf_nan=False)]],
                       AfterValidator(_amounts)] = Field(default_factory=dict)
    turn_to: Literal["red", "ambient"] = "red"
    tones: Literal[2, 3] = 2
    over_figure: bool = False
    off: tuple[PassKey | Literal["wash"], ...] = ()

    def wash_of(self, key: str) -> Wash:
        """The wash of a pass."""
        wash: Wash = getattr(self, key.replace(" ", "_"))
        return wash


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
    width: Annotated[float, Field(ge=0.4, le=8, allow_inf_nan=False)] = 2.6


class CastPair(Frozen):
    """How far one part's shadow falls on another: 0 not at all, 1 as guessed."""

    caster: PartId
    receiver: PartId
    length: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)]


class Light(Frozen):
    """The lights of a piece, and the shapes that they make.

    Attributes
    ----------
    azimuth, height : float
        Of the key light: degrees, counter-clockwise from the right, and above the picture plane.
    colour, ambient : str
        Of the light itself, and of what reaches the shade.
    rim, bounce : SideLight or None
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
    amount: Annotated[float, Field(ge=0.1, le=0.7, allow_inf_nan=False)] = 0.38
    simple: Share = 0.0
    cast: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = 1.0
    pairs: Annotated[tuple[CastPair, ...], Field(max_length=400)] = ()
    depth: Literal["guessed", "as listed"] = "guessed"
