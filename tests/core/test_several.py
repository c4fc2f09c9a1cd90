"""Several figures on a sheet: packed without overlap, grown by a border, cut along curves."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.tries import tries
from wardrobe.core.paper.layout import NoRoomError, Paper
from wardrobe.core.paper.several import pack, sticker

sizes = st.lists(st.tuples(st.floats(10, 900), st.floats(10, 900)), min_size=1, max_size=30)


@settings(max_examples=tries(25, 80), deadline=None)
@given(sizes, st.floats(60, 600), st.floats(60, 600), st.floats(0, 10))
def test_pictures_are_packed_apart_at_one_scale_within_the_margins(
        some: list[tuple[float, float]], width: float, height: float, gap: float) -> None:
    paper = Paper(width, height, margin=5)
    try:
        places = pack(paper, some, gap)
    except NoRoomError:
        assert len(some) > 4
        return
    scales = [w / own[0] for (_, _, w, _), own in zip(places, some, strict=True)]
    assert max(scales) == pytest.approx(min(scales))
    for k, (x, y, w, h) in enumerate(places):
        assert x >= 5 - 1e-6 and y >= 5 - 1e-6
        assert x + w <= width - 5 + 1e-6 and y + h <= height - 5 + 1e-6
        for u, v, p, q in places[:k]:
            apart = max(x - (u + p), u - (x + w), y - (v + q), v - (y + h))
            assert apart >= gap - 1e-6
    # A hundredth more would not fit.
    larger = [(w * scales[0] * 1.01, h * scales[0] * 1.01) for w, h in some]
    assert max(max(r[2:]) for r in pack(paper, larger, gap)) <= max(
        max(r[2:]) for r in places) * 1.0001
    small = pack(paper, some, gap, largest=20)
    assert max(max(r[2:]) for r in small) <= 20 + 1e-6


def test_a_border_is_as_wide_as_is_asked_all_round() -> None:
    """Analytic: a disc of 40 px grown by 12 is a disc of 52."""
    rgba = np.zeros((120, 130, 4), np.uint8)
    cv2.circle(rgba, (64, 60), 40, (10, 120, 200, 255), -1)
    cv2.circle(rgba, (64, 60), 6, (0, 0, 0, 0), -1)  # a hole that the border fills
    made = sticker(rgba, 12)
    assert made.rgba.shape == (120 + 28, 130 + 28, 4)
    (line,) = made.cut
    u = np.linspace(0, 1, 30)[:, None]
    dense = np.concatenate([c[0] * (1 - u)**3 + 3 * c[1] * u * (1 - u)**2
                            + 3 * c[2] * u * u * (1 - u) + c[3] * u**3 for c in line])
    away = np.linalg.norm(dense - [64.5 + 14, 60.5 + 14], axis=1)
    assert abs(np.median(away) - 52.4) < 0.5 and np.ptp(away) < 1.6
    assert (made.rgba[74, 78 - 3:78 + 3, :3] == 255).all()  # the hole shows the border
    assert (made.rgba[74, 78 + 20, :3] == (10, 120, 200)).all() and made.rgba[2, 2, 3] == 0


def test_a_hole_that_is_wide_is_cut_too_and_figures_apart_have_lines_of_their_own() -> None:
    rgba = np.zeros((200, 260, 4), np.uint8)
    cv2.circle(rgba, (90, 100), 80, (90, 90, 90, 255), -1)
    cv2.circle(rgba, (90, 100), 50, (0, 0, 0, 0), -1)
    cv2.circle(rgba, (235, 100), 15, (90, 90, 90, 255), -1)
    assert len(sticker(rgba, 5).cut) == 3
    assert len(sticker(rgba, 40).cut) == 1
