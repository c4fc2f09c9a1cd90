"""Schemes: which hues go together, one table entry each. Angles are in OKLCH.

Near, opposite, triad: J. Itten, "The Art of Color", 1961 (there on a painter's circle); common
practice otherwise.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.nudge import COOL, WARM

Float = NDArray[np.float64]


@dataclass(frozen=True)
class Scheme:
    """A way of choosing hues.

    Attributes
    ----------
    key, label, why : str
    angles : tuple of float
        Hues, counted from the leading one; the first are for large parts.
    moves : callable or None
        Instead of angles: gives a part's new hue for its hue and the leading one.
    """

    key: str
    label: str
    why: str
    angles: tuple[float, ...] = ()
    moves: Callable[[Float, float], Float] | None = None


SCHEMES: dict[str, Scheme] = {
    s.key: s
    for s in (
        Scheme("near", "Near hues", "Hues within 60 degrees: calm, of one family.",
               (0, 30, -30)),
        Scheme("opposite", "Opposite", "One hue leads, its opposite is the accent.",
               (0, 180)),
        Scheme("split", "Split opposite", "One hue leads; two accents stand beside its opposite.",
               (0, 150, 210)),
        Scheme("triad", "Triad", "Three hues, a third of the circle apart: lively.",
               (0, 120, 240)),
        Scheme("turn", "Turned", "All hues turned by the same angle: relations stay.",
               moves=lambda hue, lead: hue + lead),
        Scheme("swap", "Warm and cool swapped", "What was warm is cool, and the other way round.",
               moves=lambda hue, lead: WARM + COOL - hue + 0.12 * ((lead + 180) % 360 - 180)),
    )
}
