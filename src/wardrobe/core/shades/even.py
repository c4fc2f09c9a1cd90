"""Even out: one wash by which all parts read alike; match: one wash nearest to given colours."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000, oklch_to_srgb, srgb_to_lab, srgb_to_oklch, to_bytes
from wardrobe.core.passes.layers import Rgb
from wardrobe.core.passes.methods.rules import Ink
from wardrobe.core.shades.search import Hues, looks_allowed, nearest_factor
from wardrobe.core.shades.steps import SPANS

Real = NDArray[np.float64]


@dataclass(frozen=True)
class OwnColour:
    """A colour that one part gets instead, so that it reads as the others do.

    Attributes
    ----------
    name : str
        ``shade`` or ``light``: a near-black part cannot show a shade and shows a light instead.
    mode : str
        Blend mode that it needs.
    colour : (int, int, int)
        Laid on at full strength, 0..255.
    result : (int, int, int)
        What is seen.
    step : float
        CIEDE2000 from the base.
    """

    name: str
    mode: str
    colour: Rgb
    result: Rgb
    step: float


@dataclass(frozen=True)
class PartStep:
    """What one part gets.

    Attributes
    ----------
    base, result : (int, int, int)
    step : float
        CIEDE2000 of the two.
    off : float
        How far that is from what was wished: of the step when evening out, of the colour when
        matching.
    own : OwnColour or None
        Proposed for a part that the wash cannot serve.
    """

    base: Rgb
    result: Rgb
    step: float
    off: float
    own: OwnColour | None = None


@dataclass(frozen=True)
class OneWash:
    """A wash for all parts.

    Attributes
    ----------
    wash : Ink
    worst : float
        The largest ``off`` of the parts that it serves.
    parts : list of PartStep
    """

    wash: Ink
    worst: float
    parts: list[PartStep]


def lay(base: Real, wash: Ink, screen: bool = False) -> Real:
    """A wash at its strength on colours, range 0..1, on multiply or on screen."""
    source = np.array(wash.colour) / 255
    blended = base + source - base * source if screen else base * source
    return base + wash.strength * (blended - base)


def even_out(bases: Sequence[Rgb], wanted: float, screen: bool = False, hues: Hues | None = None,
             strength: float = 1.0, spare: bool = False) -> OneWash:
    """The wash whose steps come closest to the wanted one in the worst part.

    Parameters
    ----------
    bases : sequence of (int, int, int)
        At least one.
    wanted : float
        CIEDE2000 step.
    screen : bool
        A light on screen instead of a shade on multiply.
    hues : Hues, optional
        What the wash may look like.
    strength : float, 0..1
        Strength that a shade keeps if it can.
    spare : bool
        Leave the parts that no wash can serve to colours of their own, and serve the others
        better.

    Returns
    -------
    OneWash
    """
    colours = np.array(bases, np.float64).reshape(-1, 3) / 255
    served = np.ones(len(colours), bool)
    limits = SPANS["light" if screen else "shade"]
    while True:
        found = _solve(colours[served], np.full(int(served.sum()), wanted), None, screen, hues,
                       strength)
        parts = _steps(colours, found, screen)
        parts = [replace(p, off=round(abs(p.step - wanted), 3)) for p in parts]
        outside = [k for k, p in enumerate(parts) if served[k] and not
                   limits.faint <= p.step * limits.wanted / wanted <= limits.heavy]
        if not spare or not outside or served.sum() <= 1:
            break
        served[max(outside, key=lambda k: parts[k].off)] = False
    parts = [replace(p, own=_own(p.base, wanted, found, screen))
             if not served[k] or k in outside else p for k, p in enumerate(parts)]
    counted = [p.off for k, p in enumerate(parts) if served[k]]
    return OneWash(found, round(max(counted), 3), parts)


def match(bases: Sequence[Rgb], colours: Sequence[Rgb], screen: bool = False,
          hues: Hues | None = None, strength: float = 1.0) -> OneWash:
    """The wash nearest to colours that were picked part by part, in the worst part.

    Parameters
    ----------
    bases, colours : sequence of (int, int, int)
        What was picked for each base.
    screen, hues, strength
        As for :func:`even_out`.

    Returns
    -------
    OneWash
        ``off`` is the CIEDE2000 difference between what was picked and what the wash gives.
    """
    start = np.array(bases, np.float64).reshape(-1, 3) / 255
    aims = np.array(colours, np.float64).reshape(-1, 3) / 255
    found = _solve(start, None, aims, screen, hues, strength)
    parts = _steps(start, found, screen)
    results = np.array([p.result for p in parts]) / 255
    off = delta_e_2000(srgb_to_lab(aims), srgb_to_lab(results))
    parts = [replace(p, off=round(float(d), 3)) for p, d in zip(parts, off, strict=True)]
    return OneWash(found, round(float(off.max()), 3), parts)


def _solve(bases: Real, wishes: Real | None, aims: Real | None, screen: bool, hues: Hues | None,
           strength: float) -> Ink:
    factor = nearest_factor(bases, wishes, aims, screen, hues)
    # What strength leaves of a channel it cannot take back: it must reach the strongest one.
    # A light is as bright as it can be and no stronger than it must be.
    least = float(factor.max()) if screen else max(strength, float(1 - factor.min()))
    strength = min(1.0, float(np.ceil(1000 * max(least, 0.01)) / 1000))
    colour = factor / strength if screen else 1 - (1 - factor) / strength
    return _best_bytes(bases, wishes, aims, screen, colour, strength, hues)


def _best_bytes(bases: Real, wishes: Real | None, aims: Real | None, screen: bool, colour: Real,
                strength: float, hues: Hues | None) -> Ink:
    """The wash in whole bytes, around the one found, that is best after rounding."""
    goal = srgb_to_lab(bases if aims is None else aims)
    near = np.rint(255 * np.clip(colour, 0, 1)).astype(int)

    def worst(candidate: Ink) -> float:
        got = np.rint(255 * lay(bases, candidate, screen)) / 255
        step = delta_e_2000(goal, srgb_to_lab(got))
        return float((step if wishes is None else np.abs(step - wishes)).max())

    candidates = [Ink(to_bytes((near + shift) / 255), strength)
                  for shift in product((-1, 0, 1), repeat=3)]
    white = np.zeros(3) if screen else np.ones(3)
    fitting = [c for c in candidates if looks_allowed(lay(white, c, screen), screen, hues)]
    return min(fitting or candidates, key=worst)


def _steps(bases: Real, wash: Ink, screen: bool) -> list[PartStep]:
    results = np.rint(255 * lay(bases, wash, screen)) / 255
    steps = delta_e_2000(srgb_to_lab(bases), srgb_to_lab(results))
    return [PartStep(to_bytes(base), to_bytes(result), round(float(step), 3), 0.0)
            for base, result, step in zip(bases, results, steps, strict=True)]


def _own(base: Rgb, wanted: float, wash: Ink, screen: bool) -> OwnColour | None:
    """A colour of its own for a part: the wash taken further or less far, or a light."""
    start = np.array(base) / 255
    factor = np.maximum(1e-3, 1 - wash.strength + wash.strength * np.array(wash.colour) / 255)
    if screen:
        room = np.maximum(1e-3, 1 - wash.strength * np.array(wash.colour) / 255)
        found = _reach(start, wanted, lambda k: 1 - (1 - start) * room**k)
        return None if found is None else _as_own("light", "normal", base, found)
    found = _reach(start, wanted, lambda k: start * factor**k)
    if found is not None:
        source = found / np.maximum(start, 1 / 255)
        return _as_own("shade", "multiply", base, found, to_bytes(source))
    # Near black nothing darker is seen: it reads by a light on it, in its own hue.
    light, chroma, hue = srgb_to_oklch(start)
    lighter = _reach(start, wanted, lambda k: oklch_to_srgb(
        [light + k / 20 * (1 - light), chroma, hue]))
    return None if lighter is None else _as_own("light", "normal", base, lighter)


def _reach(start: Real, wanted: float, at: object) -> Real | None:
    """The colour along a path, k from 0 to 20, whose step is the wanted one; None if none is."""
    assert callable(at)
    lab = srgb_to_lab(start)

    def step(k: float) -> float:
        return float(delta_e_2000(lab, srgb_to_lab(np.rint(255 * at(k)) / 255)))

    low, high = 0.0, 20.0
    if step(high) < wanted:
        return None
    for _ in range(24):
        middle = (low + high) / 2
        low, high = (low, middle) if step(middle) >= wanted else (middle, high)
    result: Real = np.rint(255 * at(high)) / 255
    return result


def _as_own(name: str, mode: str, base: Rgb, result: Real, source: Rgb | None = None) -> OwnColour:
    step = float(delta_e_2000(srgb_to_lab(np.array(base) / 255), srgb_to_lab(result)))
    seen = to_bytes(result)
    return OwnColour(name, mode, source or seen, seen, round(step, 3))

