"""From a drawing to lines: kinds of file, repair, weight, edges."""

import cv2
import numpy as np
import pytest
from skimage.measure import label

from tests.drawings import figure_ink, on_white, transparent
from wardrobe.core.errors import NoLinesError
from wardrobe.core.lines.coverage import ink_coverage, read_darkness
from wardrobe.core.lines.intake import recognise
from wardrobe.core.lines.stroke import (
    change_weight,
    harden,
    remove_grain,
    smooth_edges,
    spine_of,
    strengthen,
)
from wardrobe.core.lines.width import line_width

INK = figure_ink()


def rgba(rgb: np.ndarray) -> np.ndarray:
    return np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])


def scan(light: np.ndarray | float, noise: float = 3.0, tint: tuple[float, ...] = (1, 1, 1),
         ink: np.ndarray = INK) -> np.ndarray:
    """A picture of the lines on paper of this luma: 70 % dark ink, sensor noise."""
    rng = np.random.default_rng(1)
    grey = np.full(ink.shape, light) * (1 - 0.7 * ink / 255)
    picture = grey[..., None] * np.array(tint) + rng.normal(0, noise, (*ink.shape, 3))
    return rgba(np.clip(picture, 0, 255).astype(np.uint8))


def lamp(shape: tuple[int, int]) -> np.ndarray:
    """Paper under a lamp at one corner: 225 down to about 100."""
    y, x = np.mgrid[0:shape[0], 0:shape[1]] / max(shape)
    return 225 / (1 + 0.8 * (x**2 + y**2))


def pieces(mask: np.ndarray, connectivity: int) -> int:
    """Connected pieces of more than 40 px."""
    return int((np.bincount(label(mask, connectivity=connectivity).ravel())[1:] > 40).sum())


def agreement(found: np.ndarray, true: np.ndarray) -> tuple[float, float]:
    """Precision and recall of ink, half covered counting as ink."""
    found, true = found >= 128, true >= 128
    both = np.count_nonzero(found & true)
    return both / np.count_nonzero(found), both / np.count_nonzero(true)


@pytest.mark.parametrize(("picture", "kind"), [
    (transparent(INK), "transparent"), (rgba(on_white(INK)), "black on white"),
    (scan(205.0), "grey scan"), (scan(205.0, tint=(1, 0.96, 0.86)), "grey scan"),
    (scan(lamp(INK.shape)), "photo"),
])
def test_kinds_are_recognised_and_read(picture: np.ndarray, kind: str) -> None:
    assert recognise(picture) == kind
    precision, recall = agreement(ink_coverage(read_darkness(picture)), INK)
    assert precision > 0.97 and recall > 0.95


def test_clean_lines_come_back_as_they_are() -> None:
    assert np.abs(ink_coverage(read_darkness(transparent(INK))).astype(int) - INK).max() <= 2
    white = ink_coverage(read_darkness(rgba(on_white(INK)))).astype(int)
    assert (white[INK == 0] == 0).all() and (white[INK == 255] == 255).all()


def test_evening_out_the_light_is_what_finds_the_ink_of_a_photo() -> None:
    photo = scan(lamp(INK.shape) ** 2 / 225)
    even = agreement(ink_coverage(read_darkness(photo)), INK)
    not_even = agreement(ink_coverage(read_darkness(photo, even=False)), INK)
    assert min(even) > 0.95 > 0.8 > min(not_even)


def test_a_jpeg_s_ringing_is_paper() -> None:
    packed = cv2.imencode(".jpg", on_white(INK), [cv2.IMWRITE_JPEG_QUALITY, 60])[1]
    coverage = ink_coverage(read_darkness(rgba(cv2.imdecode(packed, cv2.IMREAD_COLOR))))
    far = cv2.dilate((INK > 0).astype(np.uint8), np.ones((5, 5), np.uint8)) == 0
    assert (coverage[far] == 0).mean() > 0.9995


def test_dust_goes_and_thin_lines_stay() -> None:
    ink = INK.copy()
    for x in range(10, 60, 10):
        cv2.circle(ink, (x, 20), 2, 255, -1)
    cv2.line(ink, (20, 460), (120, 440), 255, 1)
    clean = remove_grain(ink, 8)
    assert clean[:40, :80].max() == 0
    assert (clean[430:] == ink[430:]).all() and (clean[60:400] == ink[60:400]).all()
    assert (remove_grain(ink, 0) == ink).all()


@pytest.mark.parametrize("by", [-30.0, -5.0, -2.5, 1.0, 3.5, 8.0])
def test_weight_changes_the_width_and_never_loses_a_line(by: float) -> None:
    before = line_width(INK)
    changed = change_weight(INK, by)
    assert line_width(changed) == pytest.approx(max(1.0, before + by), abs=1.1)
    assert np.array_equal(changed, change_weight(INK, by, spine_of(INK)))
    # Narrowing keeps the topology: as many pieces of ink and as many enclosed areas as before.
    for ink in (True, False):
        old, new = ((i >= 128) == ink for i in (INK, changed))
        assert pieces(new, 2 if ink else 1) == pieces(old, 2 if ink else 1)


def test_strengthening_is_the_layer_over_itself() -> None:
    ramp = np.arange(256, dtype=np.uint8)[None]
    twice = strengthen(ramp, 1.0)[0] / 255
    c = np.arange(256) / 255
    assert np.abs(twice - (1 - (1 - c) ** 2)).max() < 0.003  # source-over of equal alpha


def test_hard_lines_are_smoothed_where_they_were() -> None:
    hard = harden(INK)
    assert set(np.unique(hard)) == {0, 255}
    smooth = smooth_edges(hard)
    assert ((smooth >= 128) == (hard >= 128)).mean() > 0.999
    assert np.abs(smooth.astype(float) - INK).mean() < np.abs(hard.astype(float) - INK).mean()


def test_threshold_moves_the_half_way_point_only() -> None:
    ramp = transparent(np.tile(np.arange(256, dtype=np.uint8), (64, 4)))
    darkness = read_darkness(ramp)
    low = ink_coverage(darkness, 0.25)[0, :256]
    assert low[0] == 0 and low[255] == 255
    assert (np.diff(low.astype(int)) >= 0).all()
    assert (low >= ink_coverage(darkness, 0.5)[0, :256]).all()


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
