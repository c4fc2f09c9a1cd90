"""Planes of spots, fringes and textures against what geometry says."""

import math
import threading

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from wardrobe.core.finish.spots import Spot, spots_plane
from wardrobe.core.finish.textures import SIDE, TEXTURES, own_tile, through_texture, tile_of
from wardrobe.core.layers.gradient import gradient_colours, let_through
from wardrobe.core.layers.layer import Gradient
from wardrobe.core.layers.operators import (
    OPERATORS,
    Blur,
    Fringe,
    Invert,
    Offset,
    Operator,
    Spread,
    applied,
)
from wardrobe.core.layers.origin import Origin
from wardrobe.core.parallel import each, each_outer

WHOLE = Origin(0, 0, 1.0)


@pytest.mark.parametrize(("length", "width"), [(60.0, 20.0), (0.0, 30.0), (100.3, 7.5)])
def test_a_stroke_covers_a_stadium(length: float, width: float) -> None:
    """Analytic: a rectangle and two half discs."""
    plane = spots_plane([Spot(((40.2, 50.7), (40.2 + length, 50.7)), (width, width))], WHOLE,
                        (120, 200))
    assert plane.sum() / 255 == pytest.approx(length * width + math.pi * width**2 / 4, rel=0.03)


def test_outlines_fill_and_rubbing_out_leaves_the_rest() -> None:
    square = Spot(((20, 20), (100, 20), (100, 80), (20, 80)))
    hole = Spot(((60, 50),), (30,), erases=True)
    plane = spots_plane([square, hole], WHOLE, (120, 140))
    assert plane.sum() / 255 == pytest.approx(80 * 60 - math.pi * 15**2, rel=0.01)
    assert plane[50, 60] == 0 and plane[25, 25] == 255
    later = spots_plane([hole, square], WHOLE, (120, 140))  # in their order
    assert later[50, 60] == 255


@settings(max_examples=40)
@given(st.integers(0, 10**6), st.integers(0, 90), st.integers(0, 90))
def test_spots_of_a_tile_are_those_of_the_whole(seed: int, x: int, y: int) -> None:
    dice = np.random.default_rng(seed)
    spots = []
    for _ in range(dice.integers(1, 5)):
        points = tuple(map(tuple, dice.uniform(-40, 240, (dice.integers(3, 9), 2)).tolist()))
        widths = tuple(dice.uniform(1, 40, len(points)).tolist()) if dice.random() < 0.5 else ()
        spots.append(Spot(points, widths, bool(dice.random() < 0.3)))
    whole = spots_plane(spots, WHOLE, (200, 200))
    tile = spots_plane(spots, Origin(x, y, 1.0), (100, 110))
    assert np.array_equal(tile, whole[y:y + 100, x:x + 110])


def test_a_fringe_fades_inwards_from_the_edge() -> None:
    """Analytic: a disc's coverage falls linearly with the distance from its rim."""
    y, x = np.mgrid[:160, :160]
    away = 60.0 - np.hypot(x - 80, y - 80)  # inside the rim
    disc = np.rint(255 * np.clip(away + 0.5, 0, 1)).astype(np.uint8)
    fringe = Fringe(20).apply(disc, (0, 0)) / 255
    inside = away > 2
    wanted = np.clip(1 - away / 20, 0, 1)
    assert np.abs(fringe - wanted)[inside].max() < 0.06
    assert fringe[away < -1].max() == 0


@settings(max_examples=40)
@given(st.integers(0, 10**6))
def test_what_is_empty_around_needs_no_work(seed: int) -> None:
    """Operators on the part that matters give what they give on all of it."""
    dice = np.random.default_rng(seed)
    plane = np.zeros((150, 170), np.uint8)
    if dice.random() < 0.9:
        top, left = dice.integers(0, 140), dice.integers(0, 160)
        plane[top:top + dice.integers(1, 60), left:left + dice.integers(1, 60)] = \
            dice.integers(1, 256)
    for operator in (Blur(float(dice.uniform(0.5, 20))), Spread(float(dice.uniform(0, 15))),
                     Fringe(float(dice.uniform(1, 20))),
                     Offset(int(dice.integers(-30, 30)), int(dice.integers(-30, 30))), Invert()):
        whole: Operator = operator
        box = slice(0, 150), slice(0, 170)
        assert np.array_equal(applied([whole], plane, (6, 11), box), whole.apply(plane, (6, 11)))


def test_every_operation_can_be_left_at_its_usual_amounts() -> None:
    for kind in OPERATORS.values():
        for s in kind.settings:
            assert s.low <= s.usual <= s.high and s.label
        made = kind.make({s.name: s.usual for s in kind.settings}, 0.5)
        assert made.apply(np.full((9, 9), 255, np.uint8), (0, 0)).shape == (9, 9)


def sampled(shape: tuple[int, int], tile: np.ndarray, size: float, angle: float,
            origin: Origin) -> np.ndarray:
    return through_texture(np.full(shape, 255, np.uint8), tile, size, angle, origin)


@given(st.integers(0, 10**6), st.floats(0, 30), st.sampled_from(["plane", "empty", "full"]))
def test_what_is_let_through_grown_and_hollowed_is_as_numpy_says(seed: int, by: float,
                                                                 kind: str) -> None:
    """Against the same in numpy, pixel by pixel, on planes with soft edges."""
    dice = np.random.default_rng(seed)
    soft = cv2.GaussianBlur(dice.random((60, 90)), (0, 0), dice.uniform(1, 6))
    plane = np.clip((soft - soft.mean()) * 3000 + dice.integers(-90, 300), 0, 255).astype(np.uint8)
    plane = {"plane": plane, "empty": plane * 0, "full": plane * 0 + 255}[kind]
    ramp = Gradient(((0.01, 0.004, -0.3),), ((0.0, (0,) * 4), (1.0, (255, 9, 9, 255))))
    origin = Origin(seed % 40, 7, 1.0)
    greys = gradient_colours(ramp, origin, plane.shape)[..., 0].astype(int)
    assert np.array_equal(let_through(plane, ramp, origin), np.rint(plane * greys / 255))
    texture = tile_of(TEXTURES[sorted(TEXTURES)[seed % len(TEXTURES)]])
    tone = sampled(plane.shape, texture, 1.3, by, origin).astype(int)
    assert np.array_equal(through_texture(plane, texture, 1.3, by, origin),
                          np.rint(plane * tone / 255))
    box = (slice(0, 60), slice(0, 90))
    beyond = ndimage.distance_transform_edt(plane <= 127) if (plane > 127).any() else np.inf
    grown = np.maximum(plane, np.rint(255 * np.clip(by + 1 - beyond, 0, 1)))
    assert np.abs(applied([Spread(by)], plane, (0, 0), box) - grown).max() <= 1
    inside = ndimage.distance_transform_edt(plane > 127) - 0.5 if (plane <= 127).any() else np.inf
    hollow = np.rint(plane * (1 - np.clip(inside / max(by, 1e-6), 0, 1)))
    assert np.abs(applied([Fringe(by)], plane, (0, 0), box) - hollow).max() <= 1


@settings(max_examples=25)
@given(st.sampled_from(sorted(TEXTURES)), st.floats(0.2, 6), st.floats(-180, 180),
       st.integers(0, 3000), st.integers(0, 3000))
def test_textures_of_a_tile_are_those_of_the_whole(key: str, size: float, angle: float, x: int,
                                                   y: int) -> None:
    tile = tile_of(TEXTURES[key])
    large = sampled((90, 80), tile, size, angle, Origin(x, y, 1.0))
    small = sampled((40, 40), tile, size, angle, Origin(x + 17, y + 5, 1.0))
    assert np.array_equal(small, large[5:45, 17:57])


def test_a_texture_at_its_own_size_is_its_tile_and_turns_with_its_angle() -> None:
    for texture in TEXTURES.values():
        tile = tile_of(texture)
        shown = sampled((SIDE + 20, SIDE + 30), tile, 1.0, 0, WHOLE)
        assert np.array_equal(shown, np.pad(tile, ((0, 20), (0, 30)), mode="wrap"))
        quarter = sampled((64, 64), tile, 1.0, 90, WHOLE).astype(int)
        columns = -(np.arange(64) + 1) % SIDE
        assert np.abs(quarter - tile[:64][:, columns].T.astype(int)).max() <= 1


def test_a_gradient_is_that_of_the_whole_in_every_tile_and_at_every_size() -> None:
    """To the last bit in tiles; at half the size the colours in between."""
    stops = ((0.0, (10, 200, 30, 255)), (0.3, (250, 20, 90, 255)), (1.0, (0, 0, 255, 255)))
    for rows in (((0.004, 0.001, -0.1),), ((0.005, 0.0, -0.5), (0.0, 0.005, -0.7))):
        gradient = Gradient(rows, stops)
        whole = gradient_colours(gradient, WHOLE, (240, 260))
        assert np.array_equal(gradient_colours(gradient, Origin(33, 71, 1.0), (50, 60)),
                              whole[71:121, 33:93])
        half = gradient_colours(gradient, Origin(0, 0, 0.5), (120, 130)).astype(int)
        block = whole.reshape(120, 2, 130, 2, 4).astype(float).mean(axis=(1, 3))
        assert np.abs(half - block).max() <= 3


def test_work_in_threads_may_start_work_in_threads() -> None:
    """More of it than there are threads: nobody waits for ever."""
    def inner(k: int) -> int:
        return sum(each(lambda m: m * k, list(range(20))))

    done: list[list[int]] = []
    thread = threading.Thread(target=lambda: done.append(each_outer(inner, list(range(30)))),
                              daemon=True)
    thread.start()
    thread.join(30)
    assert done == [[190 * k for k in range(30)]]
    assert each_outer(inner, []) == [] and each_outer(inner, [2]) == [380]
    with pytest.raises(ZeroDivisionError):
        each_outer(lambda k: 1 // k, [1, 0, 2])


@settings(max_examples=30)
@given(st.integers(20, 900), st.integers(20, 900), st.integers(0, 10**6))
def test_a_picture_as_a_texture_keeps_its_tones_and_repeats(height: int, width: int,
                                                            seed: int) -> None:
    """Its mean is that of its lightness seen on black, at its own size and far away; sides can be
    halved four times; clear places count as black."""
    dice = np.random.default_rng(seed)
    coarse = dice.integers(0, 256, (4, 5, 4)).astype(np.uint8)
    picture = np.kron(coarse, np.ones((height // 4 + 1, width // 5 + 1, 1), np.uint8))
    picture = np.ascontiguousarray(picture[:height, :width])
    tile = own_tile(picture)
    assert all(n % 16 == 0 and 16 <= n <= 1024 for n in tile.shape)
    grey = picture[..., :3] @ np.array([0.299, 0.587, 0.114]) * (picture[..., 3] / 255)
    assert tile.mean() == pytest.approx(grey.mean(), abs=max(4, 600 / min(height, width)))
    far = sampled((160, 160), tile, 0.2, 0, Origin(0, 0, 0.5))
    assert far.mean() == pytest.approx(tile.mean(), abs=12)
    clear = picture.copy()
    clear[..., 3] = 0
    assert not own_tile(clear).any()


@settings(max_examples=20)
@given(st.tuples(*[st.integers(0, 255)] * 6))
def test_no_gradient_shows_a_band(ends: tuple[int, ...]) -> None:
    """Any two colours over 2,000 px, rounded from a table of 2,048: steps of one level at most,
    each within half a level of the straight line."""
    a, b = ends[:3], ends[3:]
    ramp = gradient_colours(Gradient(((1 / 2000, 0, 0),), ((0, (*a, 255)), (1, (*b, 255)))), WHOLE,
                            (1, 2000))[0].astype(int)
    assert np.abs(np.diff(ramp, axis=0)).max() <= 1
    straight = np.linspace(0, 1, 2001)[:2000, None] * (np.array(b) - a) + a
    assert np.abs(ramp[:, :3] - straight).max() <= 0.75
