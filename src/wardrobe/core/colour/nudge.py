"""Small changes of a colour in steps that look equal."""

from collections.abc import Callable, Sequence

import numpy as np

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import oklch_to_srgb, srgb_to_oklch
from wardrobe.core.colour.srgb import Float, to_bytes

_STILL = 1e-4  # in OKLCH: all have gone as far as they can
STEP = 2.0  # CIEDE2000, about twice what is just noticed
WARM, COOL = 55.0, 240.0  # OKLCH hues of orange and of blue
_COLOURLESS = 0.02  # OKLCH chroma under which a hue cannot be turned
_FARTHEST, _HALVINGS = 0.25, 15  # of a move in OKLCH; .003 CIEDE2000 are left


Move = Callable[[Float, Float], Float]


def _lighten(sign: float) -> Move:
    return lambda lch, t: lch + sign * t[:, None] * np.array([1.0, 0, 0])


def _enrich(sign: float) -> Move:
    return lambda lch, t: np.stack([lch[:, 0], np.maximum(0, lch[:, 1] + sign * t), lch[:, 2]], 1)


def _turn(pole: float) -> Move:
    """Turn the hue to a pole by the shorter way; what has hardly a hue moves towards it."""
    def at(lch: Float, t: Float) -> Float:
        lightness, chroma, hue = lch.T
        angle, goal = np.radians(hue), np.radians(pole)
        a = chroma * np.cos(angle) + t * np.cos(goal)
        b = chroma * np.sin(angle) + t * np.sin(goal)
        way = (pole - hue + 180) % 360 - 180
        turn = np.degrees(t / np.maximum(chroma, _COLOURLESS))  # an arc of length t
        grey = chroma < _COLOURLESS
        return np.stack([
            lightness, np.where(grey, np.hypot(a, b), chroma),
            np.where(grey, np.degrees(np.arctan2(b, a)) % 360,
                     hue + np.sign(way) * np.minimum(np.abs(way), turn))], axis=1)
    return at


NUDGES: dict[str, Move] = {
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
    return nudge_all([colour], to, times)[0]


def nudge_all(colours: Sequence[tuple[int, int, int]], to: str,
              times: int = 1) -> list[tuple[int, int, int]]:
    """As :func:`nudge` for many colours together, in hardly more time than for one."""
    lch = srgb_to_oklch(np.array(colours).reshape(-1, 3) / 255)
    for _ in range(times):
        before, lch = lch, _one_step(lch, NUDGES[to])
        if np.abs(lch - before).max(initial=0) < _STILL:
            break
    return [to_bytes(rgb) for rgb in oklch_to_srgb(lch)]


def _one_step(lch: Float, move: Move) -> Float:
    start = srgb_to_lab(oklch_to_srgb(lch))

    def shown(t: Float) -> tuple[Float, Float]:
        """The colours that are shown, as sRGB can have them, and their steps from the start."""
        rgb = oklch_to_srgb(np.clip(move(lch, t), (0, 0, -720), (1, 0.4, 720)))
        return rgb, delta_e_2000(start, srgb_to_lab(rgb))

    low, high = np.zeros(len(lch)), np.full(len(lch), _FARTHEST)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        enough = shown(middle)[1] >= STEP
        low, high = np.where(enough, low, middle), np.where(enough, middle, high)
    # At the edge of sRGB the next colour may be far away: there it stays on this side.
    (near, _), (far, step) = shown(low), shown(high)
    moved = srgb_to_oklch(np.where((step < 1.4 * STEP)[:, None], far, near))
    # What has become grey keeps its hue, to come back to.
    moved[:, 2] = np.where(moved[:, 1] < 1e-3, lch[:, 2], moved[:, 2])
    return moved
