"""Answers that are no drawings: a light, a colour, an order, a choice."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import srgb_to_oklch
from wardrobe.core.colour.srgb import from_hex
from wardrobe.core.learn.lessons import Question
from wardrobe.core.light.rig import KeyLight

_HALF_ANGLE = 16.0  # degrees at which a light counts a half
_HALF_COLOUR = 7.0  # CIEDE2000 at which a colour counts a half
_GREY = 0.03  # chroma (Oklch) under which a hue says nothing


@dataclass(frozen=True)
class Measured:
    """What was measured.

    Attributes
    ----------
    score : float, 0..100
    off : float
        Degrees for a light, CIEDE2000 for a colour, pairs the wrong way round for an order, 0 or
        1 for a choice.
    hue : float or None
        Degrees from the right hue (Oklch); None if either is nearly grey.
    azimuth, height : float or None
        Degrees from the right ones.
    """

    score: float
    off: float
    hue: float | None = None
    azimuth: float | None = None
    height: float | None = None


def judge_light(true: KeyLight, told: KeyLight) -> Measured:
    """The angle between two lights."""
    between = math.degrees(math.acos(float(np.clip(true.vector() @ told.vector(), -1, 1))))
    return Measured(_falling(between, _HALF_ANGLE), round(between, 2),
                    azimuth=(told.azimuth - true.azimuth + 180) % 360 - 180,
                    height=told.height - true.height)


def judge_colour(right: str, told: str) -> Measured:
    """CIEDE2000 between two colours, and how far apart their hues are."""
    pair = [np.array(from_hex(c)) / 255 for c in (right, told)]
    away = float(delta_e_2000(*[srgb_to_lab(c) for c in pair]))
    (_, c1, h1), (_, c2, h2) = (srgb_to_oklch(c) for c in pair)
    hue = None if min(c1, c2) < _GREY else float((h2 - h1 + 180) % 360 - 180)
    return Measured(_falling(away, _HALF_COLOUR), round(away, 2), hue)


def judge_order(right: Sequence[int], told: Sequence[int]) -> Measured:
    """Pairs that stand the wrong way round (M. G. Kendall 1938); chance counts nothing."""
    place = {item: k for k, item in enumerate(told)}
    places = [place[item] for item in right]
    pairs = [(a, b) for k, a in enumerate(places) for b in places[k + 1:]]
    wrong = sum(a > b for a, b in pairs)
    return Measured(100 * max(0.0, 1 - 2 * wrong / len(pairs)), float(wrong))


def judge_choice(question: Question, told: int) -> Measured:
    """Right or wrong."""
    right = told == question.answer[0]
    return Measured(100.0 * right, float(not right))


def _falling(off: float, half: float) -> float:
    return round(float(100 * 0.5 ** (off / half) ** 1.3), 2)
