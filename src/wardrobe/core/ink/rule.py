"""Colours of lines: the hue of the part in front, much darker and still saturated, and always far
enough from what lies on both sides to be seen."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000, encode, srgb_to_lab, srgb_to_oklch
from wardrobe.core.colour.oklab import oklch_within_gamut

Float = NDArray[np.float64]
Byte = NDArray[np.uint8]
Rgb = tuple[int, int, int]

LEVELS = 9  # steps from a line in shade to one that faces the light
LEAST_STEP = 8.0  # CIEDE2000 by which a line differs from what is beside it
USUAL_DARKNESS = 20.0  # L* of a line around a part of middle value

# Common practice, no published source.
_NEAR_BLACK, _TWO_DARK = 6.0, 26.0  # L*
_LIGHTER, _DARKER, _WARMER = 14.0, 5.0, 9.0  # L*, L*, degrees towards orange
_WARM_HUE = 70.0  # OKLCH
_BRIGHT = 24.0  # L* by which a line of metal in the light is brighter than its base
_STEEP, _TURNS = 6.0, 0.75  # how suddenly, and where, it turns from dark to bright
_NO_DARKER = 2.0  # L*
_GREY = 0.02  # OKLCH chroma of what has no hue
_LINEAR = 8.0  # L* below which it is linear in Y: CIE 15
_VALUES = np.linspace(0, 100, 34)  # L* that are tried


@dataclass(frozen=True)
class Rule:
    """How lines take their colours.

    Attributes
    ----------
    darkness : float
        L* of a line around a part of middle value.
    saturation : float
        Factor on the chroma of the part.
    light : float, 0..1
        How much lighter and warmer lines are that face the light.
    """

    darkness: float = USUAL_DARKNESS
    saturation: float = 1.0
    light: float = 0.5

    def darker(self, share: float) -> "Rule":
        """The same with so much less of its L*."""
        return replace(self, darkness=self.darkness * (1 - share))


@dataclass(frozen=True)
class Side:
    """A part beside a line.

    Attributes
    ----------
    base : (int, int, int)
    metal : bool
        Its outline turns bright where it faces the light.
    black : bool
        Its lines stay near black: lids, lashes, pupils.
    rule : Rule or None
        How its own lines take their colours, if otherwise than all.
    """

    base: Rgb
    metal: bool = False
    black: bool = False
    rule: Rule | None = None


def line_colours(sides: list[Side], pairs: NDArray[np.integer], rule: Rule) -> Byte:
    """Colours of lines by stretch and by how far they face the light.

    Parameters
    ----------
    sides : list of Side
        By row; row 0 is the ground.
    pairs : ndarray of int, shape (stretches, 2)
        Rows beside each stretch, that in front first.
    rule : Rule
        For sides that have none of their own.

    Returns
    -------
    ndarray of uint8, shape (stretches, LEVELS, 3)
        A colour differs from both of its sides by LEAST_STEP or more (CIEDE2000) wherever any
        value of its hue does; its hue is that of the side in front, in OKLCH, up to the warmth
        that light gives.
    """
    bases = np.array([side.base for side in sides], float) / 255
    lab, lch = srgb_to_lab(bases), srgb_to_oklch(bases)
    front, behind = pairs[:, 0], pairs[:, 1]
    # Before what is lighter than it, a bright line would be lost; inside of it, it is a scratch.
    metal = np.array([side.metal for side in sides])[front] & (
        lab[behind, 0] <= lab[front, 0] + _NO_DARKER) & (front != behind)
    black = np.array([side.black for side in sides])
    either = (black[front] | black[behind]) & (front > 0)
    both_dark = (lab[front, 0] < _TWO_DARK) & (lab[behind, 0] < _TWO_DARK) & (behind > 0) \
        & (front != behind)
    darkness, saturation, light = np.array(
        [(r.darkness, r.saturation, r.light) for r in (s.rule or rule for s in sides)]).T[:, front]
    to_light = np.linspace(0, 1, LEVELS)
    lit = np.where(metal[:, None], np.clip((to_light - _TURNS) * _STEEP + 0.5, 0, 1), to_light)
    lit = lit * np.where(metal, np.minimum(1.0, 2 * light), light)[:, None]
    shade = light[:, None] - lit
    # The darker the part, the darker its lines, in shade and in light.
    share = (0.25 + 0.75 * lab[front, 0] / 60)[:, None]
    usual = np.where(either | both_dark, _NEAR_BLACK, darkness * share[:, 0])
    value = usual[:, None] + share * (_LIGHTER * lit - _DARKER * shade)
    bright = np.minimum(97.0, lab[front, 0] + _BRIGHT)[:, None]
    value = np.where(metal[:, None], usual[:, None] + (bright - usual[:, None]) * lit, value)
    value = np.clip(np.where(either[:, None], _NEAR_BLACK, value), 2, 97)
    hue, chroma = lch[front, 2], np.where(lch[front, 1] < _GREY, lch[front, 1],
                                          lch[front, 1] * saturation)
    chroma = np.where(either, np.minimum(chroma, _GREY), chroma)
    turn = (_WARM_HUE - hue + 180) % 360 - 180
    most = np.where(lch[front, 1] < _GREY, 0.0, _WARMER)
    warmer = hue[:, None] + np.clip(turn, -most, most)[:, None] * lit
    return _seen(value, chroma, warmer, lab[front], lab[behind])


def stood_off(colour: Rgb, sides: tuple[Rgb, Rgb]) -> Rgb:
    """The colour, its value moved as little as is needed to stand off both sides.

    Parameters
    ----------
    colour : (int, int, int)
    sides : ((int, int, int), (int, int, int))
        What lies beside the line.

    Returns
    -------
    (int, int, int)
        At least LEAST_STEP (CIEDE2000) from both, if any value of its hue is; else the farthest.
    """
    rgb = np.array([colour, *sides], float) / 255
    lab, lch = srgb_to_lab(rgb), srgb_to_oklch(rgb[:1])
    if _step(lab[:1, None], lab[1:2], lab[2:])[0, 0] >= LEAST_STEP:
        return colour
    r, g, b = _seen(lab[:1, :1], lch[:, 1], lch[:, 2:], lab[1:2], lab[2:])[0, 0].tolist()
    return r, g, b


def _step(lab: Float, front: Float, behind: Float) -> Float:
    """CIEDE2000 of lines, shape (stretches, n, 3), from the nearer of their sides."""
    found: Float = np.minimum(delta_e_2000(lab, front[:, None]), delta_e_2000(lab, behind[:, None]))
    return found


def _seen(value: Float, chroma: Float, hue: Float, front: Float, behind: Float) -> Byte:
    """Colours whose values are moved as little as is needed to stand off both sides; those of a
    stretch keep to one range of values, so that it does not leap along the line.

    ``value`` and ``hue`` are of shape (stretches, n), ``chroma`` (stretches,), the sides' CIELAB
    (stretches, 3).
    """
    table = _bytes(value, chroma[:, None], hue)
    close = np.flatnonzero((_step(srgb_to_lab(table / 255), front, behind)
                            < LEAST_STEP).any(axis=1))
    if not len(close):
        return table
    value, chroma, hue = value[close], chroma[close, None], hue[close]
    tried = _bytes(np.broadcast_to(_VALUES, (len(close), len(_VALUES))), chroma,
                   hue.mean(axis=1, keepdims=True))
    steps = _step(srgb_to_lab(tried / 255), front[close], behind[close])
    fits = steps >= LEAST_STEP
    # For each value that fits, the first and the last of the unbroken range that it lies in.
    index = np.arange(len(_VALUES))
    begins = np.maximum.accumulate(np.where(fits, -1, index), axis=1) + 1
    ends = np.minimum.accumulate(
        np.where(fits, len(_VALUES), index)[:, ::-1], axis=1)[:, ::-1] - 1
    away = np.where(fits, np.abs(_VALUES - value.mean(axis=1, keepdims=True)), np.inf)
    none = ~fits.any(axis=1)
    best = np.where(none, steps.argmax(axis=1), away.argmin(axis=1))
    rows = np.arange(len(close))
    low, high = (_VALUES[np.where(none, best, ends[rows, best])] for ends in (begins, ends))
    moved = _bytes(np.clip(value, low[:, None], high[:, None]), chroma, hue)
    # Between two values that fit, one may not.
    still = _step(srgb_to_lab(moved / 255), front[close], behind[close]) < LEAST_STEP
    table[close] = np.where(still[..., None], tried[rows, best][:, None], moved)
    return table


def _bytes(value: Float, chroma: Float, hue: Float) -> Byte:
    found: Byte = np.floor(_coloured(value, chroma, hue) * 255 + 0.5).astype(np.uint8)
    return found


def _coloured(value: Float, chroma: Float, hue: Float) -> Float:
    """sRGB of L*, OKLCH chroma and hue; chroma is given up where the value does not allow it."""
    value, chroma, hue = np.broadcast_arrays(value, chroma, hue)
    # L* of a grey is 116 times the cube root of Y, less 16, and Oklab's lightness that root.
    lightness = np.where(value < _LINEAR, np.cbrt(value / 903.3), (value + 16) / 116)
    return encode(oklch_within_gamut(lightness, chroma, hue))
