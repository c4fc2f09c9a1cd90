"""How a part takes light: one table entry a material.

The offsets and amounts are common practice (no published source); see the guide to the step
"Light" in docs/.
"""

from dataclasses import dataclass
from typing import Literal

Gleam = Literal["spot", "band", "patches", "polish", "window", "horizon"]


@dataclass(frozen=True)
class Material:
    """A material.

    Attributes
    ----------
    key : str
        Name in recipes.
    label : str
        Name on screens.
    shade_offset : float
        Added to the terminator's threshold on N.L: negative gives less shadow.
    gleam : str
        How its light lies: one spot; a band across strands; patches; a polish with reflections
        beyond its dark core; a window; a horizon that is mirrored, dark below it.
    light_share : float, 0..1
        Share of a ball that is in the light shape.
    glint_share : float, 0..1
        Share of a ball that is in the glint inside it.
    highlight : float
        How much of its light is drawn unless told otherwise: 0 none, 1 all.
    fold : float, 0..1
        How deeply a stroke inside the part folds it.
    """

    key: str
    label: str
    shade_offset: float
    gleam: Gleam
    light_share: float
    glint_share: float
    highlight: float
    fold: float


MATERIALS: dict[str, Material] = {
    m.key: m
    for m in (
        Material("plain", "plain", 0.0, "spot", 0.028, 0.000, 1.0, 0.6),
        Material("skin", "skin", -0.05, "spot", 0.010, 0.000, 1.0, 0.0),
        Material("hair", "hair", 0.03, "band", 0.070, 0.000, 1.0, 0.8),
        Material("matte cloth", "matte cloth", 0.0, "spot", 0.035, 0.000, 0.0, 0.7),
        Material("sheen cloth", "sheen cloth", 0.0, "spot", 0.070, 0.012, 1.0, 0.8),
        Material("leather", "leather", 0.03, "patches", 0.050, 0.012, 1.0, 0.8),
        Material("metal", "metal", 0.05, "polish", 0.120, 0.030, 1.0, 0.3),
        Material("glass", "glass", -0.25, "window", 0.110, 0.030, 1.0, 0.0),
        Material("lacquer", "lacquer", 0.0, "horizon", 0.060, 0.020, 1.0, 0.2),
        Material("rubber", "rubber", 0.02, "spot", 0.160, 0.000, 0.8, 0.4),
        Material("wet", "wet", -0.05, "patches", 0.090, 0.030, 1.0, 0.4),
    )
}
