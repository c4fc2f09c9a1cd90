"""How a piece is coloured: washes, and the rules of its passes."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from wardrobe.core.passes.methods import AMOUNTS
from wardrobe.core.setting import check_amounts
from wardrobe.recipe.document.types import Colour, Frozen, MethodKey, ModeKey, PassKey, Share


class Wash(Frozen):
    """One colour for all parts, laid on at a strength."""

    colour: Colour
    strength: Share


WashKey = Literal["shade", "deep shade", "light", "glint", "wash"]


def _amounts(amounts: dict[str, float]) -> dict[str, float]:
    check_amounts(amounts, AMOUNTS)
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
    modes : dict of str to str
        W3C blend modes of passes that are not laid on as their method does.
    softness : dict of str to float, 0..1
        How soft the edges of passes are.
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
    modes: dict[PassKey, ModeKey] = Field(default_factory=dict)
    softness: dict[PassKey, Share] = Field(default_factory=dict)

    def wash_of(self, key: str) -> Wash:
        """The wash of a pass."""
        wash: Wash = getattr(self, key.replace(" ", "_"))
        return wash
