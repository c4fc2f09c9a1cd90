"""Lessons made from a seed: the same seed and level give the same lesson."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import oklch_within_gamut, srgb_to_oklch
from wardrobe.core.colour.srgb import encode, from_hex, to_bytes, to_hex
from wardrobe.core.learn.course import COURSE
from wardrobe.core.learn.judge import kappa
from wardrobe.core.learn.scenes import SCENES, Random, Scene
from wardrobe.core.learn.truth import SHINY, SMALL, Asked, truth_of, view_of
from wardrobe.core.light.rig import KeyLight

BASES = ("#e8b998", "#a8643c", "#d9c27a", "#5b7fa6", "#7d9a6a", "#b0524a", "#8a6bb0", "#c9c4b8",
         "#4f8f8b", "#d98a9c")
_TRIES = 14
_TURN = 15.0  # degrees by which another light must show
_TELLING = 0.93  # agreement with what that light would draw, at most
_LEAST, _MOST = 0.10, 0.85  # share of the things that is to be drawn
_LEAST_SHADOW = 0.006  # of the picture


@dataclass(frozen=True)
class Question:
    """A lesson as it is given.

    Attributes
    ----------
    key : str
        Of COURSE.
    level, seed : int
    scene : Scene or None
    others : tuple of Scene
        Scenes to choose from.
    answer : tuple of int
        The right order, choice or one that disagrees; empty otherwise.
    swatches : tuple of str
        Colours that are shown.
    colour : str
        The one that is right.
    step, turn : float
        For a shade: CIEDE2000 to the base, and degrees by which its hue (Oklch) is moved.
    """

    key: str
    level: int
    seed: int
    scene: Scene | None = None
    others: tuple[Scene, ...] = ()
    answer: tuple[int, ...] = ()
    swatches: tuple[str, ...] = ()
    colour: str = ""
    step: float = 0.0
    turn: float = 0.0


@lru_cache(maxsize=128)
def question_of(key: str, level: int, seed: int) -> Question:
    """The lesson of a kind, level and seed.

    Raises
    ------
    KeyError
        If there is no such kind.
    """
    lesson = COURSE[key]
    random = np.random.default_rng([seed, level, *key.encode()])
    start = Question(key, level, seed)
    if key == "odd one":
        return _odd_one(start, random)
    if key == "shade colour":
        return _shade_colour(start, random)
    if key == "values":
        return _values(start, random)
    if key == "reads":
        return _reads(start, random)
    scene = _telling_scene(random, level, lesson.scenes, lesson.asked or "shade")
    if lesson.rim:
        side = scene.light.azimuth + 180 + float(random.uniform(-35, 35))
        scene = replace(scene, rim=KeyLight(round(side % 360, 1), 5.0))
    if lesson.asked == "highlight":
        scene = replace(scene, materials=(str(random.choice(list(SHINY))),))
    return replace(start, scene=scene)


def _telling_scene(random: Random, level: int, names: tuple[str, ...], asked: Asked) -> Scene:
    """A scene whose answer tells the light: another one would be drawn otherwise."""
    best, most = None, 2.0
    for _ in range(_TRIES):
        scene = SCENES[str(random.choice(names))](random, level)
        if asked == "highlight":
            return scene
        view, light = view_of(scene, SMALL), scene.light
        truth, where = truth_of(view, asked, light)
        things = view.things
        share = float((truth & things).sum() / max(1, things.sum()))
        alike = max(kappa(truth_of(view, asked, KeyLight(light.azimuth + turn, light.height))[0][
            where], truth[where]) for turn in (-_TURN, _TURN))
        enough = truth.mean() >= _LEAST_SHADOW if asked == "cast" else _LEAST <= share <= _MOST
        if not enough:
            alike += 1
        if alike < most:
            best, most = scene, alike
        if alike <= _TELLING:
            break
    assert best is not None
    return best


def _odd_one(start: Question, random: Random) -> Question:
    """Several forms, one of which is lit from elsewhere."""
    count = 3 + start.level // 3
    light = KeyLight(float(random.uniform(0, 360)), float(random.uniform(25, 50)))
    away = max(35.0, 150 - 12 * start.level) * float(random.choice([-1, 1]))
    odd = int(random.integers(count))
    scenes = []
    for k in range(count):
        scene = SCENES[str(random.choice(["ball", "egg"]))](random, start.level)
        turned = light if k != odd else KeyLight((light.azimuth + away) % 360, light.height)
        scenes.append(replace(scene, light=turned))
    return replace(start, others=tuple(scenes), answer=(odd,))


def _shade_colour(start: Question, random: Random) -> Question:
    base = from_hex(str(random.choice(BASES)))
    step = float(random.uniform(14, 24))
    turn = float(random.choice([-1, 1]) * random.uniform(0, 6 + 3 * start.level))
    lightness, chroma, hue = (float(v) for v in srgb_to_oklch(np.array(base) / 255))
    lab = srgb_to_lab(np.array(base) / 255)
    low, high, found = 0.05, lightness, base
    for _ in range(30):  # darker until it is a step away
        middle = (low + high) / 2
        found = _oklch(middle, chroma * 1.02, hue + turn)
        away = float(delta_e_2000(lab, srgb_to_lab(np.array(found) / 255)))
        low, high = (middle, high) if away > step else (low, middle)
    return replace(start, swatches=(to_hex(base),), colour=to_hex(found), step=round(step, 1),
                   turn=round(turn, 1))


def _values(start: Question, random: Random) -> Question:
    """Six colours whose lightness (L*) rises by steps that become small."""
    step = max(2.5, 13 - 1.1 * start.level)
    first = float(random.uniform(12, 92 - 5 * step))
    hues = random.uniform(0, 360, 6) if start.level > 1 else np.zeros(6)
    chroma = 0.0 if start.level <= 1 else 0.04 + 0.008 * start.level
    colours = [_with_lightness(first + k * step, chroma, float(hues[k])) for k in range(6)]
    order = random.permutation(6)
    shown = tuple(colours[k] for k in order)
    right = tuple(int(np.flatnonzero(order == k)[0]) for k in range(6))
    return replace(start, swatches=shown, answer=right)


def _oklch(lightness: float, chroma: float, hue: float) -> tuple[int, int, int]:
    return to_bytes(encode(oklch_within_gamut(lightness, chroma, hue % 360)).ravel())


def _with_lightness(wanted: float, chroma: float, hue: float) -> str:
    """A colour of a CIELAB lightness."""
    low, high, found = 0.0, 1.0, (0, 0, 0)
    for _ in range(30):
        middle = (low + high) / 2
        found = _oklch(middle, chroma, hue)
        if float(srgb_to_lab(np.array(found) / 255)[0]) < wanted:
            low = middle
        else:
            high = middle
    return to_hex(found)


def _reads(start: Question, random: Random) -> Question:
    """The same things in two sets of colours, one with values that are nearer to each other."""
    scene = SCENES["overlapping"](random, start.level)
    wide = max(5.0, 30 - 2.4 * start.level)
    middle = float(random.uniform(40, 62))
    near = float(random.uniform(0, 0.35)) * wide
    pairs = []
    for apart in (wide, near):
        hue = float(random.uniform(0, 360))
        pairs.append((_with_lightness(middle - apart / 2, 0.09, hue),
                      _with_lightness(middle + apart / 2, 0.09, (hue + 150) % 360)))
    right = int(random.integers(2))
    if right:
        pairs.reverse()
    return replace(start, scene=scene, swatches=(*pairs[0], *pairs[1]), answer=(right,))
