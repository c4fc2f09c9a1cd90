"""How far a pass should be from its base, and when it is too faint or too heavy.

The figures follow from common practice (a shade has 20 to 30 % less HSB brightness than its
base, a light 20 to 30 % more) and from published work on colour differences; docs/steps.md
derives them, and a test does so again.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wardrobe.core.colour import delta_e_2000, srgb_to_lab
from wardrobe.core.passes.layers import Rgb
from wardrobe.core.passes.table import PASSES, Span

__all__ = ["NOTICED", "SPANS", "TWO_COLOURS", "Judged", "Span", "judge", "judge_all"]

# From here on observers see two different colours, not two versions of one.
# W. Mokrzycki, M. Tatol, "Colour difference dE - a survey", Machine Graphics and Vision 20, 2011.
TWO_COLOURS = 5.0
NOTICED = 1.0


# Passes that lie in another that has a span: they must be told from it.
_INSIDE = {p.key for p in PASSES.values() if not p.lamp
           and any(PASSES[other].span for other in p.within)}
_DARK = {p.key for p in PASSES.values() if p.dark}
SPANS = {p.key: p.span for p in PASSES.values() if p.span}


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
    """Judge the colour of one pass, as :func:`judge_all` does."""
    return judge_all([key], [base], [colour], ink, [under or base])[0]


def judge_all(keys: Sequence[str], bases: Sequence[Rgb], colours: Sequence[Rgb], ink: Rgb,
              under: Sequence[Rgb]) -> list[Judged]:
    """Judge the colours of passes.

    Parameters
    ----------
    keys : sequence of str
        Keys of the passes.
    bases, colours, under : sequence of (int, int, int)
        0..255; ``under`` is what surrounds the shape: a deep shade lies in the shade.
    ink : (int, int, int)
        Colour of the lines.
    """
    base, colour, around = (srgb_to_lab(np.array(c).reshape(-1, 3) / 255)
                            for c in (bases, colours, under))
    line = srgb_to_lab(np.array(ink) / 255)
    steps, told_apart, off_line = (delta_e_2000(other, colour) for other in (base, around, line))
    found = []
    for k, key in enumerate(keys):
        span, mark, step = SPANS.get(key), None, float(steps[k])
        merged = key in _INSIDE and told_apart[k] < TWO_COLOURS
        if merged or (span and step < span.faint):
            mark = "faint"
        elif span and step > span.heavy:
            mark = "heavy"
        lost = colour[k, 0] <= line[0] or off_line[k] < TWO_COLOURS
        if key in _DARK and lost and base[k, 0] > line[0] + TWO_COLOURS:
            mark = "in the line"
        found.append(Judged(round(step, 2), round(float(colour[k, 0] - base[k, 0]), 2), mark))
    return found
