"""Find the one wash that comes nearest to a wish for every part at once.

A wash on multiply leaves base x f, one on screen base + f (1 - base), with one factor f a
channel: colour and strength count only together, as f = 1 - strength + strength x colour (on
screen strength x colour). So there are three unknowns, and the worst part decides.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import srgb_to_lab
from wardrobe.core.colour.oklab import oklab_to_srgb
from wardrobe.core.kernel import kernel
from wardrobe.core.shades.kernels import difference, lab_of, oklab_of

Real = NDArray[np.float64]

_COARSE = 11  # grid values a channel
_STARTS = 7
_OTHERS = 0.02  # weight of the mean beside the worst: what is left free by it is decided by them


@dataclass(frozen=True)
class Hues:
    """What a wash may look like at full strength: a shade as it multiplies white, a light at its
    brightest.

    Attributes
    ----------
    middle : float
        OKLCH hue, degrees.
    reach : float
        Degrees to either side; 180 allows all.
    least, most : float
        OKLCH chroma. Below 0.02 a wash has no hue to speak of.
    """

    middle: float = 0.0
    reach: float = 180.0
    least: float = 0.0
    most: float = 1.0


@kernel
def _allowed(f: Real, screen: bool, look: Real) -> bool:
    middle, reach, least, most = look
    if reach >= 180 and least == 0 and most >= 1:
        return True
    full = max(f[0], f[1], f[2], 1e-6) if screen else 1.0
    _, a, b = oklab_of(f[0] / full, f[1] / full, f[2] / full)
    chroma = np.hypot(a, b)
    away = (np.degrees(np.arctan2(b, a)) - middle + 180) % 360 - 180
    return least <= chroma <= most and abs(away) <= reach


@kernel
def _cost(f: Real, bases: Real, labs: Real, wishes: Real, aims: Real, match: bool, screen: bool,
          deviations: Real) -> float:
    """Worst deviation and a little of the mean; fills ``deviations``."""
    worst, total = 0.0, 0.0
    for i in range(len(bases)):
        r, g, b = bases[i]
        if screen:
            r, g, b = r + f[0] * (1 - r), g + f[1] * (1 - g), b + f[2] * (1 - b)
        else:
            r, g, b = r * f[0], g * f[1], b * f[2]
        l2, a2, b2 = lab_of(r, g, b)
        if match:
            d = difference(aims[i, 0], aims[i, 1], aims[i, 2], l2, a2, b2)
        else:
            d = abs(difference(labs[i, 0], labs[i, 1], labs[i, 2], l2, a2, b2) - wishes[i])
        deviations[i] = d
        worst = max(worst, d)
        total += d
    return worst + _OTHERS * total / len(bases)


@kernel
def _search(bases: Real, labs: Real, wishes: Real, aims: Real, match: bool, screen: bool,
            look: Real, candidates: Real, directions: Real) -> Real:
    deviations = np.zeros(len(bases))
    best = np.full(_STARTS, np.inf)
    starts = np.ones((_STARTS, 3))
    for f in candidates:
        if not _allowed(f, screen, look):
            continue
        cost = _cost(f, bases, labs, wishes, aims, match, screen, deviations)
        at = int(np.argmax(best))
        if cost < best[at]:
            best[at] = cost
            starts[at] = f
    f = np.zeros(3)
    # The cost has sharp valleys: directions change at every step, so that none is missed.
    turn = 0
    for s in range(_STARTS):
        if best[s] == np.inf:
            continue
        step = 0.5 / (_COARSE - 1)
        while step > 2e-4:
            better = False
            for _ in range(12):
                turn = (turn + 1) % len(directions)
                for sign in (-1, 1):
                    for c in range(3):
                        f[c] = min(1.0, max(0.0, starts[s, c] + sign * step * directions[turn, c]))
                    if not _allowed(f, screen, look):
                        continue
                    cost = _cost(f, bases, labs, wishes, aims, match, screen, deviations)
                    if cost < best[s]:
                        best[s] = cost
                        starts[s] = f
                        better = True
            if not better:
                step *= 0.6
    return starts[np.argmin(best)]


def looks_allowed(factor: Real, screen: bool, hues: Hues | None) -> bool:
    """Whether a factor looks as it may."""
    h = hues or Hues()
    return bool(_allowed(factor, screen, np.array([h.middle, h.reach, h.least, h.most])))


def _directions() -> Real:
    """Fixed unit vectors spread over the sphere, in an order that mixes them."""
    k = np.arange(1, 60)
    z, angle = 2 * (k * 0.6180339887 % 1) - 1, 2 * np.pi * (k * 0.7548776662 % 1)
    side = np.sqrt(1 - z * z)
    return np.concatenate([np.eye(3), np.stack([side * np.cos(angle), side * np.sin(angle), z],
                                               axis=1)])


_DIRECTIONS = _directions()
_AXIS = np.linspace(0, 1, _COARSE)
_EVERYWHERE = np.stack(np.meshgrid(_AXIS, _AXIS, _AXIS, indexing="ij"), axis=-1).reshape(-1, 3)


def _candidates(hues: Hues, screen: bool) -> Real:
    """Where the search begins: all over, or evenly within what is allowed."""
    if hues.reach >= 180 and hues.least == 0:
        return _EVERYWHERE
    inner = np.linspace(0.02, 0.98, 5)
    light, chroma, hue = np.meshgrid(
        np.linspace(0.2, 0.98, 2 * _COARSE), hues.least + inner * (hues.most - hues.least),
        np.radians(hues.middle + hues.reach * (2 * inner - 1)), indexing="ij")
    colours = oklab_to_srgb(np.stack([light, chroma * np.cos(hue), chroma * np.sin(hue)],
                                     axis=-1).reshape(-1, 3))
    colours = colours[((colours >= 0) & (colours <= 1)).all(axis=1)]
    if not screen:
        return colours
    brightest = colours[colours.max(axis=1) > 0.97]
    brightest /= brightest.max(axis=1, keepdims=True)
    return (brightest[:, None] * np.linspace(0.03, 1, 2 * _COARSE)[:, None]).reshape(-1, 3)


def nearest_factor(bases: Real, wishes: Real | None = None, aims: Real | None = None,
                   screen: bool = False, hues: Hues | None = None) -> Real:
    """The factor whose worst part comes nearest to what is wished.

    Parameters
    ----------
    bases : ndarray of float64, shape (n, 3), range 0..1
    wishes : ndarray of float64, shape (n,), optional
        Wanted CIEDE2000 steps from the bases.
    aims : ndarray of float64, shape (n, 3), range 0..1, optional
        Wanted colours; give either these or the steps.
    screen : bool
        Screen instead of multiply.
    hues : Hues, optional

    Returns
    -------
    ndarray of float64, shape (3,), range 0..1
    """
    hues = hues or Hues()
    labs = srgb_to_lab(bases)
    match = aims is not None
    return _search(bases, labs, np.zeros(len(bases)) if wishes is None else wishes,
                   labs if aims is None else srgb_to_lab(aims), match, screen,
                   np.array([hues.middle, hues.reach, hues.least, hues.most]),
                   _candidates(hues, screen), _DIRECTIONS)

