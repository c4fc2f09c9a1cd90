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
    air : float, 0..1
        How much of the sky it takes on (common practice, no published source).
    """

    key: str
    label: str
    shadowed: bool
    air: float


PLANES: dict[str, Plane] = {
    p.key: p
    for p in (
        Plane("sky", "Sky", False, 0.0),
        Plane("far", "Far", False, 0.42),
        Plane("near", "Near", True, 0.14),
        Plane("floor", "Floor", True, 0.0),
        Plane("paper", "Paper", False, 0.0),  # what is lettered
    )
}
