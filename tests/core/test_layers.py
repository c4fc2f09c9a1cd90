"""Pictures painted from runs of equal pixels are what their layers composite to, one by one."""

import numpy as np
import pytest
import skia
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.tries import tries
from wardrobe.core.composite.modes import MODES
from wardrobe.core.layers.layer import (
    INK,
    Flat,
    Gradient,
    Group,
    Image,
    Layer,
    Masks,
    Source,
    planes,
)
from wardrobe.core.layers.paint import colours_of, paint
from wardrobe.core.layers.reference import lay_all
from wardrobe.core.layers.runs import STRIP, find_runs

ROWS = 6
# A last bit in what lies below can become any difference in these: they divide by it.
TOUCHY = {"color-dodge", "color-burn", "hue", "saturation", "color", "luminosity"}


def masks_of(dice: np.random.Generator, count: int, height: int, width: int) -> Masks:
    """Parts in blocks; planes that are mostly empty or full, with soft edges; soft planes."""
    def blocks(values: np.ndarray, size: int) -> np.ndarray:
        small = dice.choice(values, (-(-height // size), -(-width // size)))
        return np.kron(small, np.ones((size, size), small.dtype))[:height, :width]

    levels = np.zeros((height, width, planes(count)), np.uint8)
    for k in range(count):
        levels[..., k] = blocks(np.array([0, 0, 255, 255, 90, 201], np.uint8), 3 + k)
    y, x = np.mgrid[:height, :width]
    return Masks(blocks(np.arange(ROWS, dtype=np.uint16), 11), levels,
                 blocks(np.array([0, 0, 0, 255, 130], np.uint8), 5),
                 tuple(f"plane {k}" for k in range(count)),
                 {"halo": (127 + 127 * np.sin(x / 9)).astype(np.uint8),
                  "glow": (127 + 127 * np.cos((x + y) / 17)).astype(np.uint8)})


def images_of(dice: np.random.Generator) -> dict[str, np.ndarray]:
    return {name: dice.integers(0, 256, (*shape, 4), np.uint8)
            for name, shape in (("grain", (7, 13)), ("paper", (150, 40)))}


def layers_of(dice: np.random.Generator, masks: Masks, count: int, modes: list[str],
              flat_only: bool = False) -> list[Layer]:
    """Any layers; the first covers everything."""
    def flat() -> Flat:
        return Flat(dice.integers(0, 256, (ROWS, 3)).astype(float))

    def strength() -> np.ndarray:
        return np.round(dice.random(ROWS), 2) * (dice.random(ROWS) < 0.8)

    def shape() -> tuple[tuple[str, bool], ...]:
        names = [*masks.keys, INK]
        return tuple((str(n), bool(dice.random() < 0.3)) for n in dice.permutation(names)[
            :dice.integers(0, 3)])

    def gradient() -> Gradient:
        rows = tuple(tuple(dice.normal(0, (0.02, 0.02, 0.5))) for _ in range(dice.integers(1, 3)))
        at = np.array([0, 0.4, 0.8]) + 0.1 * dice.random(3)  # tables have no room for jumps
        return Gradient(rows, tuple((float(t), tuple(dice.integers(0, 256, 4).tolist()))
                                    for t in at))

    made = [Layer(flat(), np.ones(ROWS))]
    while len(made) < count:
        source: Source = flat()
        if not flat_only and dice.random() < 0.4:
            source = Image(str(dice.choice(["grain", "paper"])), 3, -5) \
                if dice.random() < 0.5 else gradient()
        soft = () if flat_only else tuple(
            str(s) for s in dice.permutation(list(masks.soft))[:dice.choice([0, 0, 0, 1, 2])])
        if dice.random() < 0.2:
            made.append(Layer(flat(), np.ones(ROWS), grouped=True))
            for _ in range(dice.integers(0, 3)):
                made.append(Layer(source, strength(), "normal", tuple(
                    s for s in shape() if s[0] != INK), grouped=True))
            # Where what is rounded changes from pixel to pixel, halves may go either way.
            source = Group(whole=isinstance(source, Flat) and bool(dice.random() < 0.5))
        made.append(Layer(source, strength(), str(dice.choice(modes)), shape(), soft))
    return made


@settings(max_examples=tries(20, 60))
@given(st.integers(0, 2**32 - 1), st.integers(1, 40), st.sampled_from([0, 3, 8, 11, 19, 40]))
def test_runs_paint_what_layers_composite_to(seed: int, count: int, planes_wanted: int) -> None:
    """Within 1/255 of the formulas in float64, whatever the sources, shapes, groups."""
    dice = np.random.default_rng(seed)
    masks, images = masks_of(dice, planes_wanted, 40, 700), images_of(dice)
    layers = layers_of(dice, masks, count, sorted(set(MODES) - TOUCHY))
    wanted = 255 * lay_all(masks, layers, images)
    assert np.abs(paint(find_runs(masks), layers, images) - wanted).max() <= 1


@pytest.mark.parametrize("mode", MODES)
def test_every_mode_with_every_source(mode: str) -> None:
    """One layer of the mode over plain ones: exact to 1/255 also where modes divide."""
    dice = np.random.default_rng(5)
    masks, images = masks_of(dice, 5, 60, 300), images_of(dice)
    for source in (Flat(dice.integers(1, 255, (ROWS, 3)).astype(float)), Image("grain"),
                   Gradient(((0.003, 0.001, 0.0),), ((0.0, (250, 40, 90, 255)),
                                                    (1.0, (20, 200, 180, 60))))):
        layers = [Layer(Flat(dice.integers(1, 255, (ROWS, 3)).astype(float)), np.ones(ROWS)),
                  Layer(source, np.full(ROWS, 0.7), mode, (("plane 1", False),), ("glow",))]
        off = np.abs(paint(find_runs(masks), layers, images)
                     - 255 * lay_all(masks, layers, images))
        assert off.max() <= 1 if mode not in TOUCHY else (off > 1).mean() < 1e-3


def test_any_rectangle_is_that_of_the_whole() -> None:
    """Runs, kinds and strips depend on what is beside; pixels do not."""
    dice = np.random.default_rng(8)
    masks, images = masks_of(dice, 9, 2 * STRIP + 20, 330), images_of(dice)
    layers = layers_of(dice, masks, 25, ["normal", "multiply", "screen", "overlay"],
                       flat_only=True)
    whole = paint(find_runs(masks), layers, images)
    for _ in range(12):
        y, x = dice.integers(0, 200), dice.integers(0, 300)
        box = slice(y, y + dice.integers(1, 190)), slice(x, x + dice.integers(1, 200))
        part = Masks(masks.parts[box], np.ascontiguousarray(masks.levels[box]), masks.ink[box],
                     masks.keys, {k: v[box] for k, v in masks.soft.items()})
        assert np.array_equal(paint(find_runs(part), layers, images), whole[box])


def test_colours_of_levels_are_those_that_are_painted() -> None:
    dice = np.random.default_rng(2)
    masks = masks_of(dice, 12, 1, 500)
    bare = Masks(masks.parts, masks.levels, np.zeros_like(masks.ink), masks.keys)
    layers = layers_of(dice, masks, 30, sorted(MODES), flat_only=True)
    painted = paint(find_runs(bare), layers)[0]
    assert np.array_equal((255 * colours_of(bare, layers) + 0.5).astype(np.uint8), painted)


def test_more_kinds_than_the_table_has_places_for() -> None:
    """Noise: every pixel is a kind of its own."""
    dice = np.random.default_rng(3)
    parts = dice.integers(0, ROWS, (90, 900)).astype(np.uint16)
    masks = Masks(parts, dice.integers(0, 256, (90, 900, 8), np.uint8),
                  dice.integers(0, 256, (90, 900), np.uint8), tuple("abcdefgh"))
    layers = [Layer(Flat(dice.integers(0, 256, (ROWS, 3)).astype(float)), np.ones(ROWS), "normal"),
              *(Layer(Flat(dice.integers(0, 256, (ROWS, 3)).astype(float)), np.full(ROWS, 0.6),
                      "multiply", ((key, False),)) for key in "abc")]
    off = np.abs(paint(find_runs(masks), layers) - 255 * lay_all(masks, layers, {}))
    assert off.max() <= 0.5 + 1e-6


@pytest.mark.parametrize("radial", [False, True])
def test_gradients_are_those_of_a_graphics_library(radial: bool) -> None:
    """Skia through skia-python, opaque stops; it may dither by a level."""
    size, stops = 256, ((0.0, (240, 60, 30, 255)), (0.4, (30, 200, 90, 255)),
                        (1.0, (10, 40, 220, 255)))
    colours = [skia.Color(*rgba[:3]) for _, rgba in stops]
    at = [t for t, _ in stops]
    if radial:
        shader = skia.GradientShader.MakeRadial(skia.Point(100, 140), 90, colours, at)
        rows: tuple[tuple[float, float, float], ...] = (
            (1 / 90, 0.0, -100 / 90), (0.0, 1 / 90, -140 / 90))
    else:
        ax, ay, bx, by = 20, 30, 200, 150
        length = (bx - ax)**2 + (by - ay)**2
        shader = skia.GradientShader.MakeLinear([skia.Point(ax, ay), skia.Point(bx, by)],
                                                colours, at)
        rows = (((bx - ax) / length, (by - ay) / length,
                 -(ax * (bx - ax) + ay * (by - ay)) / length),)
    surface = skia.Surface.MakeRasterN32Premul(size, size)
    surface.getCanvas().drawPaint(skia.Paint(Shader=shader))
    theirs = surface.makeImageSnapshot().toarray(colorType=skia.kRGBA_8888_ColorType)[..., :3]
    nothing = Masks(np.zeros((size, size), np.uint16), np.zeros((size, size, 4), np.uint8),
                    np.zeros((size, size), np.uint8), ())
    ours = paint(find_runs(nothing), [Layer(Gradient(rows, stops), np.ones(1))])
    assert np.abs(ours.astype(int) - theirs).max() <= 2


def test_what_is_not_there_is_refused() -> None:
    nothing = Masks(np.zeros((4, 4), np.uint16), np.zeros((4, 4, 4), np.uint8),
                    np.zeros((4, 4), np.uint8), ())
    one = np.ones(1)
    for layer in (Layer(Flat(np.zeros((1, 3))), one, shape=(("shade", False),)),
                  Layer(Flat(np.zeros((1, 3))), one, soft=("glow",)),
                  Layer(Flat(np.zeros((1, 3))), one, soft=("a", "b", "c"))):
        with pytest.raises(ValueError):
            paint(find_runs(nothing), [layer])
    with pytest.raises(KeyError):
        paint(find_runs(nothing), [Layer(Image("grain"), one)])
