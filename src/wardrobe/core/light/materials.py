"""How a part takes light: one table entry a material.

The offsets and amounts are common practice (no published source); see the guide to the step
"Light" in docs/.
"""

from dataclasses import dataclass


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
    light_share : float, 0..1
        Share of a ball that is in the light shape.
    glint_share : float, 0..1
        Share of a ball that is in the glint inside it.
    glossy : bool
        The light shape follows the mirror direction (N.H) rather than the light (N.L).
    fold : float, 0..1
        How deeply a stroke inside the part folds it.
    """

    key: str
    label: str
    shade_offset: float
    light_share: float
    glint_share: float
    glossy: bool
    fold: float


MATERIALS: dict[str, Material] = {
    m.key: m
    for m in (
        Material("skin", "skin", -0.05, 0.035, 0.000, False, 0.0),
        Material("hair", "hair", 0.03, 0.070, 0.000, True, 0.8),
        Material("matte cloth", "matte cloth", 0.0, 0.035, 0.000, False, 0.7),
        Material("sheen cloth", "sheen cloth", 0.0, 0.070, 0.012, True, 0.8),
        Material("leather", "leather", 0.03, 0.050, 0.012, True, 0.8),
        Material("metal", "metal", 0.05, 0.120, 0.030, True, 0.3),
        Material("glass", "glass", -0.25, 0.110, 0.030, True, 0.0),
        Material("wet", "wet", -0.05, 0.090, 0.030, True, 0.4),
    )
}
