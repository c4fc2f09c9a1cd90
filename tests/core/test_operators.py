"""Operators that look around: what they give, how far they reach, and tiles like the whole."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from wardrobe.core.layers.layer import Flat, Layer, Masks
from wardrobe.core.layers.operators import Blur, Offset, Operator, Spread, applied, reach_of
from wardrobe.core.layers.paint import paint
from wardrobe.core.layers.runs import find_runs

SHAPE = (210, 260)


def disc(radius: float, y: float = 100.0, x: float = 120.0) -> np.ndarray:
    ys, xs = np.mgrid[:SHAPE[0], :SHAPE[1]]
    away = np.hypot(ys - y, xs - x)
    return np.rint(255 * np.clip(radius + 0.5 - away, 0, 1)).astype(np.uint8)


def whole(operators: list[Operator], plane: np.ndarray) -> np.ndarray:
    box = slice(0, SHAPE[0]), slice(0, SHAPE[1])
    return applied(operators, plane, (0, 0), box)


@pytest.mark.parametrize("sigma", [0.8, 3.0, 5.9, 6.0, 9.0, 14.0, 25.0])
def test_a_blur_is_the_gaussian_of_a_library(sigma: float) -> None:
    """SciPy's gaussian_filter; a wide one is worked out on larger pixels."""
    plane = disc(50)
    wanted = ndimage.gaussian_filter(plane.astype(float), sigma, mode="nearest", truncate=5)
    off = np.abs(whole([Blur(sigma)], plane) - wanted)
    assert off.max() < (1.0 if Blur(sigma).grain == 1 else 3.0) and off.mean() < 0.5


def test_spreading_a_disc_gives_a_larger_disc() -> None:
    """Analytic: the set of points within a distance of a disc is a disc."""
    for by in (1.0, 4.5, 12.0):
        grown = whole([Spread(by)], disc(40))
        area = grown.sum() / 255
        assert area == pytest.approx(np.pi * (40 + by)**2, rel=0.015)
        assert (grown >= disc(40)).all()


def test_an_offset_moves_whole_pixels() -> None:
    plane = disc(30)
    moved = whole([Offset(7, -4)], plane)
    assert np.array_equal(moved[:-4, 7:], plane[4:, :-7])


operators = st.lists(
    st.floats(0.5, 30).map(Blur) | st.floats(0, 15).map(Spread) |
    st.tuples(st.integers(-20, 20), st.integers(-20, 20)).map(lambda d: Offset(*d)),
    min_size=1, max_size=3)


@settings(max_examples=60)
@given(operators, st.integers(0, 180), st.integers(0, 220), st.integers(1, 90),
       st.integers(1, 90), st.integers(0, 10**6))
def test_a_tile_is_that_place_of_the_whole(row: list[Operator], y: int, x: int, height: int,
                                           width: int, seed: int) -> None:
    dice = np.random.default_rng(seed)
    plane = np.maximum(disc(35), np.kron(dice.choice(
        np.array([0, 0, 0, 255, 120], np.uint8), (30, 38)), np.ones((7, 7), np.uint8))[
            :SHAPE[0], :SHAPE[1]])
    box = slice(y, min(y + height, SHAPE[0])), slice(x, min(x + width, SHAPE[1]))
    room = reach_of(row)
    corner = max(0, box[0].start - room), max(0, box[1].start - room)
    wide = plane[corner[0]:box[0].stop + room, corner[1]:box[1].stop + room]
    rows, columns = (slice(s.start - c, s.stop - c) for s, c in zip(box, corner, strict=True))
    tile = applied(row, np.ascontiguousarray(wide), corner, (rows, columns))
    assert np.array_equal(tile, whole(row, plane)[box])


def test_what_is_blurred_is_a_layer_like_others() -> None:
    """A glow: a disc, spread and blurred, on screen over two parts (W3C's screen by hand)."""
    glow = whole([Spread(6), Blur(8)], disc(40))
    parts = np.zeros(SHAPE, np.uint16)
    parts[:, 130:] = 1
    masks = Masks(parts, np.zeros((*SHAPE, 4), np.uint8), np.zeros(SHAPE, np.uint8), (),
                  {"glow": glow})
    base, light = np.array([[40.0, 50, 90], [150, 40, 30]]), np.array([[255.0, 220, 140]] * 2)
    strength = np.array([0.8, 0.4])
    picture = paint(find_runs(masks), [
        Layer(Flat(base), np.ones(2)), Layer(Flat(light), strength, "screen", soft=("glow",))])
    b, s = base[parts] / 255, light[parts] / 255
    share = strength[parts][..., None] * glow[..., None] / 255
    assert np.abs(picture - 255 * (b + share * (s - b * s))).max() <= 0.5 + 1e-3
