"""Small changes of a colour in steps that look equal."""

from collections.abc import Callable

import numpy as np

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import oklch_to_srgb, srgb_to_oklch
from wardrobe.core.colour.srgb import Float, to_bytes

STEP = 2.0  # CIEDE2000, about twice what is just noticed
WARM, COOL = 55.0, 240.0  # OKLCH hues of orange and of blue
_COLOURLESS = 0.02  # OKLCH chroma under which a hue cannot be turned


def _lighten(sign: float) -> Callable[[Float, float], Float]:
    return lambda lch, t: lch + np.array([sign * t, 0, 0])


def _enrich(sign: float) -> Callable[[Float, float], Float]:
    return lambda lch, t: np.array([lch[0], max(0.0, lch[1] + sign * t), lch[2]])


def _turn(pole: float) -> Callable[[Float, float], Float]:
    """Turn the hue to a pole by the shorter way; what has hardly a hue moves towards it."""
    def at(lch: Float, t: float) -> Float:
        if lch[1] < _COLOURLESS:
            angle, goal = np.radians(lch[2]), np.radians(pole)
            a = lch[1] * np.cos(angle) + t * np.cos(goal)
            b = lch[1] * np.sin(angle) + t * np.sin(goal)
            return np.array([lch[0], np.hypot(a, b), np.degrees(np.arctan2(b, a)) % 360])
        way = (pole - lch[2] + 180) % 360 - 180
        turn = float(np.degrees(t / lch[1]))  # an arc of length t
        return np.array([lch[0], lch[1], lch[2] + np.sign(way) * min(abs(way), turn)])
    return at


NUDGES: dict[str, Callable[[Float, float], Float]] = {
    "lighter": _lighten(1), "darker": _lighten(-1), "warmer": _turn(WARM), "cooler": _turn(COOL),
    "duller": _enrich(-1), "richer": _enrich(1),
}


def nudge(colour: tuple[int, int, int], to: str, times: int = 1) -> tuple[int, int, int]:
    """A colour moved by steps of 2 CIEDE2000, or as far as it can go.

    Parameters
    ----------
    colour : (int, int, int)
        0..255.
    to : str
        A key of :data:`NUDGES`.
    times : int
        Number of steps.
    """
    lch = srgb_to_oklch(np.array(colour) / 255)
    for _ in range(times):
        lch = _one_step(lch, NUDGES[to])
    return to_bytes(oklch_to_srgb(lch))


def _one_step(lch: Float, move: Callable[[Float, float], Float]) -> Float:
    start = srgb_to_lab(oklch_to_srgb(lch))

    def inside(t: float) -> Float:
        """The colour that is shown: lightness and chroma as sRGB can have them."""
        return srgb_to_oklch(oklch_to_srgb(np.clip(move(lch, t), (0, 0, -720), (1, 0.4, 720))))

    def step(t: float) -> float:
        return float(delta_e_2000(start, srgb_to_lab(oklch_to_srgb(inside(t)))))

    low, high = 0.0, 0.25
    for _ in range(20):
        middle = (low + high) / 2
        low, high = (low, middle) if step(middle) >= STEP else (middle, high)
    # At the edge of sRGB the next colour may be far away: there it stays on this side.
    moved = inside(high if step(high) < 1.4 * STEP else low)
    if moved[1] < 1e-3:  # what has become grey keeps its hue, to come back to
        moved[2] = lch[2]
    return moved
