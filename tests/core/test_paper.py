"""Pictures on paper: where they lie, what is cut off, the sheet that is written."""

import resource

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from PIL import Image

from wardrobe.core.errors import ImageLimitError
from wardrobe.core.paper.layout import NoRoomError, Paper, crop_marks, lie
from wardrobe.core.paper.sheet import lay_out
from wardrobe.core.paper.sizes import SIZES

edges = st.floats(20, 900)
pixels = st.integers(40, 5000)


@settings(max_examples=60)
@given(edges, edges, st.floats(0, 40), st.tuples(pixels, pixels), st.data())
def test_a_fitted_picture_lies_in_the_middle_and_touches_the_margins(
        width: float, height: float, margin: float, size: tuple[int, int],
        data: st.DataObject) -> None:
    paper = Paper(width, height, margin)
    if min(width, height) <= 2 * margin:
        with pytest.raises(NoRoomError):
            lie(paper, size)
        return
    w, h = (data.draw(st.integers(10, edge)) for edge in size)
    x, y = data.draw(st.integers(0, size[0] - w)), data.draw(st.integers(0, size[1] - h))
    for subject in (None, (x, y, w, h)):
        lying = lie(paper, size, subject)
        px, py, pw, ph = lying.picture
        scale = pw / size[0]
        assert ph == pytest.approx(size[1] * scale) and lying.dpi == pytest.approx(25.4 / scale)
        sx, sy, sw, sh = subject or (0, 0, *size)
        left, top = px + sx * scale, py + sy * scale
        assert left + sw * scale / 2 == pytest.approx(width / 2)
        assert top + sh * scale / 2 == pytest.approx(height / 2)
        gaps = left - margin, top - margin
        assert min(gaps) == pytest.approx(0, abs=1e-6) and max(gaps) >= -1e-6
        placed = lie(paper, size, subject, (width / 2, height / 2, pw))
        assert placed.picture == pytest.approx(lying.picture)


@given(st.floats(-500, 700), st.floats(-500, 900), st.floats(5, 2000))
def test_what_is_cut_off_and_what_is_seen_make_the_whole(x: float, y: float, wide: float) -> None:
    paper, size = Paper(210, 297), (1000, 1500)
    px, py, pw, ph = (lying := lie(paper, size, None, (x, y, wide))).picture
    left, top, right, bottom = lying.cut
    seen = (max(0.0, min(px + pw, 210) - max(px, 0)), max(0.0, min(py + ph, 297) - max(py, 0)))
    assume(min(seen) > 0)
    assert pw * (1 - left - right) == pytest.approx(seen[0], abs=1e-6)
    assert ph * (1 - top - bottom) == pytest.approx(seen[1], abs=1e-6)


def test_sizes_are_those_of_the_standard_and_marks_stand_beside_the_bleed() -> None:
    """ISO 216:2007: each A size is half of the one before, sides as one to root two, and A0 has
    one square metre."""
    areas = [SIZES[f"A{k}"] for k in range(7)]
    assert areas[0][0] * areas[0][1] == pytest.approx(1e6, rel=0.001)
    for (w, h), (less, more) in zip(areas[1:], areas[:-1], strict=True):
        assert h == less and abs(w - more / 2) <= 0.5 and h / w == pytest.approx(2**0.5, rel=0.01)
    paper = Paper(100, 80, bleed=4, marks=True)
    lines = crop_marks(paper)
    assert len(lines) == 8 and paper.slug == 9
    inner = (paper.slug - 4, paper.slug - 4, paper.slug + 104, paper.slug + 84)
    for x0, y0, x1, y1 in lines:
        outside = x1 <= inner[0] or x0 >= inner[2] or y1 <= inner[1] or y0 >= inner[3]
        assert outside and (x0 in (9, 109) if x0 == x1 else y0 in (9, 89))
    assert crop_marks(Paper(100, 80, bleed=4)) == [] and Paper(100, 80, bleed=4).slug == 4


def picture(width: int = 120, height: int = 160) -> np.ndarray:
    y, x = np.mgrid[:height, :width]
    return np.stack([255 * x // width, 255 * y // height, 128 + 100 * np.sin(x / 9)],
                    2).astype(np.uint8)


@pytest.mark.parametrize("dpi", [30, 50.8, 254])
@pytest.mark.parametrize("kernel", ["smooth", "crisp", "hard"])
def test_the_sheet_shows_the_picture_at_its_place(dpi: float, kernel: str) -> None:
    """In bands as if it were resampled at once by Pillow."""
    paper = Paper(80, 100, bleed=5)
    lying = lie(paper, (120, 160), None, (40, 50, 60))
    sheet = lay_out(picture(), paper, lying, round(dpi), (10, 200, 30), kernel)  # type: ignore
    whole = sheet.whole()
    k = round(dpi) / 25.4
    assert whole.shape == (round(100 * k) + 2 * round(5 * k), round(80 * k) + 2 * round(5 * k), 3)
    x, y = round(10 * k) + round(5 * k), round(10 * k) + round(5 * k)
    w, h = round(70 * k) - round(10 * k), round(90 * k) - round(10 * k)
    linear = Image.Resampling.HAMMING if dpi < 50 else Image.Resampling.BILINEAR
    own = {"smooth": linear, "crisp": Image.Resampling.LANCZOS,
           "hard": Image.Resampling.NEAREST}[kernel]
    other = np.asarray(Image.fromarray(picture()).resize((w, h), own)).astype(int)
    off = np.abs(whole[y:y + h, x:x + w].astype(int) - other).max(axis=2)
    assert off.max() <= 1
    around = np.ones(whole.shape[:2], bool)
    around[y - 2:y + h + 2, x - 2:x + w + 2] = False
    assert (whole[around] == (10, 200, 30)).all()


def test_no_halo_lies_along_lines_with_the_smooth_filter() -> None:
    lines = np.full((100, 100, 3), 200, np.uint8)
    lines[:, 48:52] = 20
    paper = Paper(50, 50)
    for kernel, most in (("smooth", 200), ("crisp", 255)):
        whole = lay_out(lines, paper, lie(paper, (100, 100)), 300, (255,) * 3,
                        kernel).whole()  # type: ignore[arg-type]
        assert whole.max() <= most and whole.min() <= 20
    assert whole.max() > 204  # Lanczos has one


@pytest.mark.parametrize("x, y, wide", [(-30, 20, 40), (0, 0, 400), (95, 130, 60), (500, 500, 20)])
def test_a_picture_that_reaches_beyond_the_sheet_is_cut(x: float, y: float, wide: float) -> None:
    paper = Paper(100, 140)
    lying = lie(paper, (120, 160), None, (x, y, wide))
    whole = lay_out(picture(), paper, lying, 127, (0, 0, 0), "crisp").whole()
    px, py, pw, ph = (v * 5 for v in lying.picture)
    big = cv2.warpAffine(picture(), np.array([[pw / 120, 0, px + pw / 240 - 0.5],
                                              [0, ph / 160, py + ph / 320 - 0.5]]), (500, 700),
                         flags=cv2.INTER_LINEAR, borderValue=(0, 0, 0))
    inside = np.zeros(whole.shape[:2], np.uint8)
    cv2.rectangle(inside, (round(px) + 3, round(py) + 3), (round(px + pw) - 4, round(py + ph) - 4),
                  1, -1)
    off = np.abs(whole.astype(int) - big.astype(int)).max(axis=2)
    assert off[inside > 0].max(initial=0) <= 10
    outside = np.zeros(whole.shape[:2], np.uint8)
    cv2.rectangle(outside, (round(px) - 2, round(py) - 2), (round(px + pw) + 1, round(py + ph) + 1),
                  1, -1)
    assert not whole[outside == 0].any()


def test_a_large_sheet_takes_little_memory_and_one_that_is_too_large_is_refused() -> None:
    """100 x 70 cm at 300 dpi."""
    paper = Paper(1000, 700, 10, 3, marks=True)
    rgb = np.random.default_rng(1).integers(0, 255, (3508, 2480, 3), np.uint8)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    sheet = lay_out(rgb, paper, lie(paper, (2480, 3508)), 300, (255,) * 3)
    assert (sheet.width, sheet.height) == (11_811 + 2 * 94, 8268 + 2 * 94)
    assert sum(len(b) for b in sheet.bands()) == sheet.height
    grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before
    assert grown < 120_000  # kB; the sheet by itself has 300 MB
    with pytest.raises(ImageLimitError, match="fewer dpi"):
        lay_out(rgb, paper, lie(paper, (2480, 3508)), 2400, (255,) * 3)
    tiny = lay_out(rgb[:50, :50], Paper(10, 10), lie(Paper(10, 10), (50, 50)), 300, (0,) * 3)
    assert tiny.whole().shape == (118, 118, 3)
