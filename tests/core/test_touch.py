"""Touch-ups of masks: what is drawn is what changes, and nothing beside its part."""

import numpy as np
import pytest

from wardrobe.core.masks.settle import settle
from wardrobe.core.masks.touch import Act, draw_touch, touch_up

KEYS = ("shade", "deep shade", "light", "glint")
SHAPE = (200, 240)
PARTS = np.zeros(SHAPE, np.uint16)
PARTS[20:180, 20:120], PARTS[20:180, 120:220] = 1, 2
SQUARE = np.array([[80.0, 60], [160, 60], [160, 140], [80, 140]])
NO_PEN = np.zeros(0)


def touched(key: str, act: Act, part: int | None = None, points: np.ndarray = SQUARE,
            widths: np.ndarray = NO_PEN, levels: np.ndarray | None = None) -> np.ndarray:
    levels = np.zeros((*SHAPE, 4), np.uint8) if levels is None else levels.copy()
    touch = draw_touch(key, act, part, points, widths, SHAPE)
    assert touch
    touch_up(levels, KEYS, PARTS, [touch])
    settle(levels, KEYS)
    return levels


def test_an_outline_fills_its_inside_within_its_part() -> None:
    both, one = touched("shade", "put in")[..., 0], touched("shade", "put in", 1)[..., 0]
    want = np.zeros(SHAPE, bool)
    want[60:140, 80:160] = True
    assert ((both > 127) == want).all()
    assert ((one > 127) == (want & (PARTS == 1))).all()
    outside = touched("shade", "put in", points=SQUARE - [80, 60])[..., 0]
    assert not outside[PARTS == 0].any() and outside.any()


def test_what_is_put_in_goes_with_what_it_lies_within() -> None:
    deep = touched("deep shade", "put in")
    assert (deep[100, 100] == [255, 255, 0, 0]).all()
    dark = np.zeros((*SHAPE, 4), np.uint8)
    dark[..., :2] = 255
    lit = touched("glint", "put in", levels=dark)
    assert (lit[100, 100] == [0, 0, 255, 255]).all() and (lit[30, 30] == [255, 255, 0, 0]).all()
    taken = touched("shade", "take out", levels=dark)
    assert (taken[100, 100] == 0).all() and (taken[30, 30] == [255, 255, 0, 0]).all()


@pytest.mark.parametrize("scale", [0.5, 1.0])
def test_a_pen_is_as_wide_as_it_is_pressed(scale: float) -> None:
    shape = int(200 * scale), int(240 * scale)
    touch = draw_touch("shade", "put in", None, np.array([[30.0, 100], [200, 100]]) * scale,
                       np.array([8.0, 40]) * scale, shape)
    assert touch
    cover = np.zeros(shape)
    cover[touch.box] = touch.cover / 255
    columns = cover.sum(axis=0)
    for x, width in ((30, 8), (115, 24), (199, 40)):
        assert columns[int(x * scale)] == pytest.approx(width * scale, abs=1.3)


def test_softening_widens_an_edge_where_the_pen_went_and_nowhere_else() -> None:
    levels = np.zeros((*SHAPE, 4), np.uint8)
    levels[:100, :, 0] = 255
    pen = np.array([[60.0, 100], [100, 100]]), np.array([20.0, 20])
    soft = touched("shade", "soften", 1, *pen, levels=levels)[..., 0]
    assert ((soft[:, 80] > 20) & (soft[:, 80] < 235)).sum() > 10
    assert abs(int(soft[99, 80]) + int(soft[100, 80]) - 255) < 12  # the edge stays where it was
    assert (soft[:, 150] == levels[:, 150, 0]).all() and (soft[PARTS == 2] == levels[PARTS == 2][
        :, 0]).all()
