"""The planes of scenery, from the farthest: how what lies around a figure is built up."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Plane:
    """How far back a piece of scenery lies.

    Attributes
    ----------
    key, label : str
    shadowed : bool
        The figure's shadow falls on it.
    """

    key: str
    label: str
    shadowed: bool


PLANES: dict[str, Plane] = {
    p.key: p
    for p in (
        Plane("sky", "Sky", False),
        Plane("far", "Far", False),
        Plane("near", "Near", True),
        Plane("floor", "Floor", True),
    )
}
