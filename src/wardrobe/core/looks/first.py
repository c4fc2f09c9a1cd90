"""First colours for a drawing: a few related hues, and values that tell neighbours apart.

The palettes are chosen for Wardrobe; no published source.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.oklab import oklch_to_srgb
from wardrobe.core.colour.srgb import to_hex

Floats = NDArray[np.float64]
Tone = tuple[float, float]  # hue in degrees, chroma; OKLCH

_VALUES = (0.88, 0.78, 0.68, 0.58, 0.48, 0.38)  # OKLCH lightness
_APART = 0.13  # by which neighbours should differ in it
_SWEEPS = 6
_SMALL = 0.05  # share of the figure below which a part may be the accent
_ACCENTS = 1
_LARGE_CHROMA = 0.85  # times the tone's own


@dataclass(frozen=True)
class FirstPalette:
    """Related tones for a whole figure.

    Attributes
    ----------
    name : str
    tones : tuple of (hue, chroma)
        From the largest part to smaller ones, and again from the start.
    accent : (hue, chroma)
        For a few small parts.
    value : float
        Lightness that the largest part leans to.
    skin, hair, lips : (lightness, chroma, hue)
        Where a face is found.
    """

    name: str
    tones: tuple[Tone, ...]
    accent: Tone
    value: float
    skin: tuple[float, float, float]
    hair: tuple[float, float, float]
    lips: tuple[float, float, float]


FIRST_PALETTES: tuple[FirstPalette, ...] = (
    FirstPalette("warm", ((72, 0.095), (48, 0.105), (92, 0.07), (30, 0.095)), (205, 0.055), 0.72,
                 (0.855, 0.062, 56), (0.42, 0.062, 48), (0.60, 0.10, 28)),
    FirstPalette("cool", ((232, 0.07), (200, 0.06), (262, 0.07), (170, 0.055)), (58, 0.12), 0.66,
                 (0.72, 0.082, 60), (0.30, 0.03, 285), (0.52, 0.095, 22)),
    FirstPalette("faded", ((138, 0.05), (88, 0.055), (20, 0.06), (310, 0.035)), (45, 0.12), 0.76,
                 (0.56, 0.078, 50), (0.72, 0.09, 80), (0.42, 0.08, 25)),
)
EYE_WHITE = (0.955, 0.008, 90.0)


@dataclass(frozen=True)
class FigureParts:
    """What a palette is fitted to.

    Attributes
    ----------
    share : ndarray of float64, shape (n,)
        Of the figure, by part.
    contact : ndarray of float64, shape (n, n)
        Share of a row's border that it has with a column.
    role : sequence of str
        "", "skin", "hair", "eye" or "lips".
    """

    share: Floats
    contact: Floats
    role: Sequence[str]


def first_colours(parts: FigureParts, palette: FirstPalette) -> list[str]:
    """Base colours, ``#rrggbb``, one a part.

    The largest parts are calmer. Values are chosen so that parts with a long common
    border differ most, by exchange until nothing is gained.
    """
    count = len(parts.share)
    order = np.argsort(-parts.share, kind="stable")
    tone = np.zeros((count, 2))
    plain = [k for k in order.tolist() if not parts.role[k]]
    accents = [k for k in plain[1:] if parts.share[k] < _SMALL][:_ACCENTS]
    rest = [k for k in plain if k not in accents]
    for number, k in enumerate(rest):
        tone[k] = palette.tones[number % len(palette.tones)]
        tone[k, 1] *= _LARGE_CHROMA if parts.share[k] > 0.3 else 1.0
    for k in accents:
        tone[k] = palette.accent
    fixed = {"skin": palette.skin, "hair": palette.hair, "lips": palette.lips, "eye": EYE_WHITE}
    value = np.full(count, np.nan)
    for k, role in enumerate(parts.role):
        if role:
            value[k] = fixed[role][0]
    free = [k for k in order.tolist() if np.isnan(value[k])]
    for number, k in enumerate(free):
        value[k] = palette.value if number == 0 else _VALUES[(2 * number) % len(_VALUES)]
    weight = parts.contact + parts.contact.T
    for _ in range(_SWEEPS):
        changed = False
        for k in free:
            cost = [_cost(v, k, value, weight, palette.value, float(parts.share[k]))
                    for v in _VALUES]
            best = _VALUES[int(np.argmin(cost))]
            changed |= best != value[k]
            value[k] = best
        if not changed:
            break
    lch = np.column_stack([value, tone[:, 1], tone[:, 0]])
    for k, role in enumerate(parts.role):
        if role:
            lch[k] = fixed[role]
    # The lightest and the darkest hold less chroma.
    lch[:, 1] *= np.clip(1.25 - 1.6 * np.abs(lch[:, 0] - 0.66), 0.55, 1.0)
    rgb = np.rint(255 * oklch_to_srgb(lch)).astype(int)
    return [to_hex(row) for row in rgb]


def _cost(value: float, part: int, values: Floats, weight: Floats, leaning: float,
          share: float) -> float:
    """What is missing between a part's value and its neighbours', and how far it is from where
    large parts lean to."""
    others = np.arange(len(values)) != part
    short = np.maximum(0, _APART - np.abs(values[others] - value)) / _APART
    return float((weight[part, others] * short).sum() + 0.9 * share * abs(value - leaning)
                 + 0.05 * abs(value - 0.68))
