"""The passes: one table entry each, with the shape that it fills and what lies with it there."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Pass:
    """A kind of layer.

    Attributes
    ----------
    key : str
        Name in recipes, of the shape that it fills, and in the names of delivered layers.
    label : str
        Name on screens.
    within : tuple of str
        Shapes that are full wherever this one is: a deep shade lies inside the shade.
    soft : bool
        The shape is a gradient rather than an area with an edge.
    """

    key: str
    label: str
    within: tuple[str, ...] = ()
    soft: bool = False


# In the order in which they are laid on.
PASSES: dict[str, Pass] = {
    p.key: p
    for p in (
        Pass("gradient", "Gradient", soft=True),
        Pass("soft shade", "Soft shade", ("gradient",), soft=True),
        Pass("half light", "Half light", ("gradient", "soft shade")),
        Pass("low light", "Low light", ("gradient", "soft shade", "half light")),
        Pass("shade", "Shade", ("gradient", "soft shade", "half light", "low light")),
        Pass("deep shade", "Deep shade",
             ("gradient", "soft shade", "half light", "low light", "shade")),
        Pass("bounce", "Bounce",
             ("gradient", "soft shade", "half light", "low light", "shade")),
        Pass("light", "Light"),
        Pass("glint", "Glint", ("light",)),
        Pass("rim", "Rim"),
        Pass("ground", "Ground shadow"),
    )
}
LIT = ("light", "glint")
GROUND = "ground"  # lies on the background, not on parts
