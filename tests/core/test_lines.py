"""Ink coverage from the three kinds of file."""

import cv2
import numpy as np
import pytest

from tests.drawings import figure_ink, on_white, transparent
from wardrobe.core.errors import NoLinesError
from wardrobe.core.lines.coverage import ink_coverage, read_darkness
from wardrobe.core.lines.width import line_width

INK = figure_ink()


def rgba(rgb: np.ndarray) -> np.ndarray:
    return np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])


def test_clean_lines_come_back_as_they_are() -> None:
    for kind, image in (("transparent", transparent(INK)), ("black on white", rgba(on_white(INK)))):
        found = read_darkness(image)
        assert found.kind == kind
        assert np.abs(ink_coverage(found.values).astype(int) - INK).max() <= 2


def test_a_grey_scan_is_stretched_between_its_paper_and_its_ink() -> None:
    grain = np.random.default_rng(1).normal(0, 4, INK.shape)
    grey = np.clip(205 - INK / 255 * 150 + cv2.GaussianBlur(grain, (3, 3), 0), 0, 255)
    found = read_darkness(rgba(np.repeat(grey.astype(np.uint8)[..., None], 3, axis=2)))
    coverage = ink_coverage(found.values)
    assert found.kind == "grey scan"
    assert (coverage[INK == 0] < 20).mean() > 0.999
    assert (coverage[INK == 255] > 220).mean() > 0.99


def test_threshold_moves_the_half_way_point_only() -> None:
    ramp = np.arange(256, dtype=np.uint8)[None]
    assert (ink_coverage(ramp, 0.5) == ramp).all()
    low = ink_coverage(ramp, 0.25)[0]
    assert (low[0], low[64], low[255]) == (0, pytest.approx(128, abs=2), 255)
    assert (np.diff(low.astype(int)) >= 0).all()


@pytest.mark.parametrize("value", [0, 255])
def test_blank_and_solid_pictures_are_refused(value: int) -> None:
    with pytest.raises(NoLinesError):
        read_darkness(rgba(np.full((200, 200, 3), value, np.uint8)))


def test_line_width_of_drawn_lines() -> None:
    for width in (3, 8, 21):
        ink = np.zeros((400, 400), np.uint8)
        cv2.line(ink, (40, 60), (360, 300), 255, width, cv2.LINE_AA)
        drawn = ink.sum() / 255 / np.hypot(320, 240)  # area by length: OpenCV draws a little wider
        assert line_width(ink) == pytest.approx(drawn, abs=0.9)
