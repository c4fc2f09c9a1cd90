"""How far a pass should be from its base, and when it is too faint or too heavy.

The figures follow from common practice (a shade has 20 to 30 % less HSB brightness than its
base, a light 20 to 30 % more) and from published work on colour differences; docs/steps.md
derives them, and a test does so again.
"""

from dataclasses import dataclass

import numpy as np

from wardrobe.core.colour import delta_e_2000, srgb_to_lab
from wardrobe.core.passes.layers import Rgb

# From here on observers see two different colours, not two versions of one.
# W. Mokrzycki, M. Tatol, "Colour difference dE - a survey", Machine Graphics and Vision 20, 2011.
TWO_COLOURS = 5.0
NOTICED = 1.0


@dataclass(frozen=True)
class Span:
    """CIEDE2000 steps of a pass from its base.

    Attributes
    ----------
    wanted : float
        What a change of 25 % gives in the middle of a wide set of bases.
    faint : float
        Below this it is too faint: the lower quartile of a change of 20 %.
    heavy : float
        Above this it is too heavy: the 95th percentile of a change of 30 %.
    """

    wanted: float
    faint: float
    heavy: float


SPANS: dict[str, Span] = {
    "shade": Span(13.5, 7.0, 21.0),
    "deep shade": Span(24.0, 12.5, 40.5),
    "light": Span(11.5, 7.0, 18.5),
}


@dataclass(frozen=True)
class Judged:
    """A pass's colour against its base.

    Attributes
    ----------
    step : float
        CIEDE2000.
    lightness : float
        Change of L*.
    mark : str or None
        ``faint``, ``heavy``, ``in the line`` (no longer told from the lines) or None.
    """

    step: float
    lightness: float
    mark: str | None


def judge(key: str, base: Rgb, colour: Rgb, ink: Rgb, under: Rgb | None = None) -> Judged:
    """Judge the colour of a pass.

    Parameters
    ----------
    key : str
        Key of the pass.
    base, colour, ink : (int, int, int)
        0..255; ``ink`` is the colour of the lines.
    under : (int, int, int), optional
        What surrounds the shape, if it is not the base: a deep shade lies in the shade.
    """
    labs = srgb_to_lab(np.array([base, colour, ink, under or base]) / 255)
    step = float(delta_e_2000(labs[0], labs[1]))
    span, mark = SPANS.get(key), None
    told_apart = float(delta_e_2000(labs[3], labs[1]))
    merged = key in ("deep shade", "glint") and told_apart < TWO_COLOURS
    if merged or (span and step < span.faint):
        mark = "faint"
    elif span and step > span.heavy:
        mark = "heavy"
    lost = labs[1, 0] <= labs[2, 0] or float(delta_e_2000(labs[2], labs[1])) < TWO_COLOURS
    if key in ("shade", "deep shade") and lost and labs[0, 0] > labs[2, 0] + TWO_COLOURS:
        mark = "in the line"
    return Judged(round(step, 2), round(float(labs[1, 0] - labs[0, 0]), 2), mark)
