"""Coloured pictures are told apart into lines, flats and shades."""

from collections.abc import Callable

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from tests.tries import tries
from wardrobe.core.colour import oklch_to_srgb
from wardrobe.core.errors import NoLinesError
from wardrobe.core.flats import over_white, separate
from wardrobe.core.flats.bare import bare_borders
from wardrobe.core.flats.grouped import TONES, Grouped, group_flats
from wardrobe.core.words.colours import colour_words

Byte = NDArray[np.uint8]
Rgb = tuple[int, int, int]

SHEET, COAT, SLEEVE, INK = (206, 216, 224), (70, 120, 170), (226, 170, 96), (30, 24, 36)


def rgb_of(lightness: float, chroma: float, hue: float) -> Rgb:
    r, g, b = (int(v) for v in np.rint(255 * oklch_to_srgb([lightness, chroma, hue])))
    return r, g, b


def drawn(coat: Rgb = COAT, sleeve: Rgb = SLEEVE, sheet: Rgb = SHEET, ink: Rgb = INK,
          line: int = 7, shade: Rgb | None = None, size: int = 320) -> tuple[Byte, Byte]:
    """A coat with a sleeve before it, and what is what: 0 sheet, 1 coat, 2 sleeve, 3 line, 4 the
    lower half of the coat, which has no line above it."""
    at = lambda x, y: (round(x * size), round(y * size))  # noqa: E731
    picture, truth = np.empty((size, size, 3), np.uint8), np.zeros((size, size), np.uint8)
    picture[:] = sheet
    centre, axes = at(0.5, 0.5), at(0.38, 0.4)
    for canvas, fill, edge in ((picture, coat, ink), (truth, 1, 3)):
        cv2.ellipse(canvas, centre, axes, 0, 0, 360, fill, -1)
        if shade is not None:
            cv2.ellipse(canvas, centre, axes, 0, 0, 180, shade if canvas is picture else 4, -1)
        cv2.ellipse(canvas, centre, axes, 0, 0, 360, edge, line)
        for colour, thick in ((sleeve if canvas is picture else 2, -1), (edge, line)):
            cv2.rectangle(canvas, at(0.35, 0.3), at(0.6, 0.45), colour, thick)
    return picture, truth


def smooth(picture: Byte) -> Byte:
    """Anti-aliased, as pictures are."""
    return cv2.resize(picture, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)


def opaque(rgb: Byte) -> Byte:
    return np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])


def jpeg(rgb: Byte) -> Byte:
    data = cv2.imencode(".jpg", rgb[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 88])[1]
    return np.ascontiguousarray(cv2.imdecode(data, cv2.IMREAD_COLOR)[..., ::-1])


@settings(max_examples=tries(10, 25), deadline=None)
@given(hue=st.floats(0, 359), line=st.integers(3, 12), lightness=st.floats(0.5, 0.85),
       ink=st.floats(0.12, 0.26), change=st.sampled_from([lambda p: p, jpeg]))
def test_lines_of_any_hue_and_width_are_told_from_what_they_bound(
        hue: float, line: int, lightness: float, ink: float,
        change: Callable[[Byte], Byte]) -> None:
    """A plain coat, a sleeve of the opposite hue, and lines much darker than both."""
    picture, truth = drawn(rgb_of(lightness, 0.09, hue), rgb_of(0.8, 0.08, (hue + 180) % 360),
                           ink=rgb_of(ink, 0.03, hue), line=2 * line, size=640)
    found = separate(opaque(change(smooth(picture))))
    truth = truth[::2, ::2]
    told = np.where(found.ink >= 128, -1, found.regions)
    within = {kind: cv2.erode((truth == kind).astype(np.uint8), np.ones((3, 3))) > 0
              for kind in range(4)}
    assert within[3].any() and np.mean(told[within[3]] == -1) > 0.98
    names = []
    for kind in (0, 1, 2):
        inside = told[within[kind]]
        names.append(np.bincount(inside[inside > 0]).argmax())
        assert np.mean(inside == names[-1]) > 0.98
    assert len(set(names)) == 3
    assert np.abs(found.colours[names[1]].astype(int) - picture[320, 120 * 2]).max() < 6


def test_a_coverage_is_that_of_the_line_where_it_is_drawn_smoothly() -> None:
    picture, truth = drawn(line=16, size=960)
    found = separate(opaque(smooth(picture)))
    whole = cv2.resize(((truth == 3) * 255).astype(np.uint8), None, fx=0.5, fy=0.5,
                       interpolation=cv2.INTER_AREA)
    assert np.abs(found.ink.astype(int) - whole).mean() < 0.6
    assert np.abs(np.array(found.colour) - INK).max() <= 2


def grouped(picture: Byte, most: int = 50) -> tuple[Grouped, Byte, Byte]:
    found = separate(opaque(picture))
    told = group_flats(found, most)
    return told, told.part[found.regions], told.tone[found.regions]


@settings(max_examples=tries(8, 20), deadline=None)
@given(hue=st.floats(0, 359), step=st.floats(0.06, 0.2), turn=st.floats(-25, 25))
def test_a_shade_without_a_line_is_of_its_base_and_another_hue_is_a_part(
        hue: float, step: float, turn: float) -> None:
    base = rgb_of(0.72, 0.1, hue)
    shade = rgb_of(0.72 - step, 0.1, (hue + turn) % 360)
    told, part, tone = grouped(drawn(base, rgb_of(0.8, 0.1, (hue + 150) % 360), shade=shade)[0])
    light, dark = (150, 75), (250, 160)  # in the coat: above, below
    assert part[light] == part[dark] != part[5, 5] == 0
    assert (tone[light], tone[dark]) == (TONES.index("base"), TONES.index("shade"))
    assert np.abs(told.colours[part[dark], 1].astype(int) - shade).max() <= 1
    other = rgb_of(0.72 - step, 0.1, (hue + 120) % 360)
    _, part, tone = grouped(drawn(base, rgb_of(0.8, 0.1, (hue + 240) % 360), shade=other)[0])
    assert part[light] != part[dark] and tone[dark] == 0


def test_alike_colours_are_one_part_and_the_sheet_is_seen_through_what_is_enclosed() -> None:
    picture, _ = drawn(COAT, SHEET)
    told, part, _ = grouped(picture)
    assert part[120, 150] == part[5, 5] == 0  # a hole in the coat
    picture, _ = drawn(COAT, COAT)
    assert grouped(picture)[1].max() == 1
    picture, _ = drawn(COAT, (255, 255, 255), sheet=(255, 255, 255))
    assert grouped(picture)[1][120, 150] > 0  # white on paper may be a shirt
    told, _, _ = grouped(drawn()[0], most=1)
    assert len(told.colours) == 2


def test_a_transparent_ground_is_the_ground_whatever_colour_it_hides() -> None:
    picture, truth = drawn()
    rgba = np.dstack([picture, np.where(truth == 0, 0, 255).astype(np.uint8)])
    rgba[truth == 0, :3] = COAT
    found = separate(rgba)
    told = group_flats(found, 50)
    part = told.part[found.regions]
    assert found.clear and part[5, 5] == 0 and part[200, 100] > 0
    assert (over_white(rgba)[5, 5] == 255).all()


@pytest.mark.parametrize("picture", [
    np.full((80, 80, 3), 200, np.uint8),
    np.dstack([np.tile(np.linspace(30, 220, 90).astype(np.uint8), (80, 1))] * 3),
    np.kron(
        np.array([[90, 200], [200, 120]], np.uint8), np.ones((50, 50), np.uint8))[..., None]
    .repeat(3, 2)], ids=["plain", "gradient", "patches"])
def test_a_picture_without_lines_is_refused_in_words(picture: Byte) -> None:
    with pytest.raises(NoLinesError, match="No lines were found"):
        separate(opaque(np.ascontiguousarray(picture)))


@settings(max_examples=tries(10, 25), deadline=None)
@given(seed=st.integers(0, 10**6), count=st.integers(2, 6))
def test_borders_without_ink_close_what_ink_leaves_open(seed: int, count: int) -> None:
    """Drawn as thin barriers, they and the ink leave no way from one label to another."""
    dice = np.random.default_rng(seed)
    seeds = dice.uniform(0, 120, (count, 2))
    ys, xs = np.mgrid[:120, :120]
    labels = np.argmin([np.hypot(xs - x, ys - y) for x, y in seeds], axis=0)
    ink = np.zeros((120, 120), np.uint8)
    for x, y in dice.uniform(0, 120, (6, 2)):
        cv2.circle(ink, (int(x), int(y)), int(dice.integers(4, 18)), 255, -1)
    lines = bare_borders(labels, ink)
    barrier = ink.copy()
    for line in lines:
        points = np.floor(line).astype(np.int32)
        cv2.polylines(barrier, [points], False, 255, 2)
    pieces, numbers = cv2.connectedComponents((barrier < 128).astype(np.uint8), connectivity=4)
    for piece in range(1, pieces):
        inside = labels[numbers == piece]
        assert len(inside) < 12 or np.mean(inside == np.bincount(inside).argmax()) > 0.85
    assert [len(a) >= 2 for a in lines] == [True] * len(lines)
    lengths = [np.hypot(*np.diff(a, axis=0).T).sum() for a in lines]
    assert not lengths or lengths[0] > 0.4 * max(lengths)


def test_colours_are_called_by_plain_words() -> None:
    said = {"#ffffff": "white", "#000000": "black", "#808080": "grey", "#c02020": "red",
            "#1e3c8c": "dark blue", "#8a5a2b": "brown", "#2e8b57": "green", "#f4c9d6": "pale pink"}
    for colour, words in said.items():
        rgb = tuple(int(colour[k:k + 2], 16) for k in (1, 3, 5))
        assert colour_words(rgb) == words, colour


@settings(max_examples=tries(20, 60), deadline=None)
@given(seed=st.integers(0, 10**6), width=st.integers(32, 80), height=st.integers(32, 80),
       kind=st.sampled_from(["noise", "scribble", "bands", "black", "clear"]))
def test_any_picture_is_told_apart_or_refused(seed: int, width: int, height: int,
                                              kind: str) -> None:
    dice = np.random.default_rng(seed)
    rgba = np.full((height, width, 4), 255, np.uint8)
    if kind == "noise":
        rgba[..., :3] = dice.integers(0, 256, (height, width, 3))
    elif kind == "bands":
        rgba[..., :3] = np.repeat(dice.integers(0, 256, (1, width, 3)), height, axis=0)
    elif kind == "black":
        rgba[..., :3] = dice.integers(0, 30)
    if kind in ("scribble", "clear"):
        for _ in range(int(dice.integers(1, 9))):
            colour = (*(int(v) for v in dice.integers(0, 256, 3)), 255)
            ends = [tuple(int(v) for v in dice.integers(0, (width, height))) for _ in range(2)]
            cv2.line(rgba, *ends, colour, int(dice.integers(1, 9)))
    if kind == "clear":
        rgba[..., 3] = dice.integers(0, 2, (height, width)) * 255
    try:
        found = separate(rgba)
    except NoLinesError:
        return
    assert found.ink.shape == found.regions.shape == (height, width) and found.ink.any()
    assert found.regions.min() >= 1 and found.regions.max() < len(found.colours)
    told = group_flats(found, 5)
    assert told.part.min() >= 0 and told.part.max() <= 5 and len(told.part) == len(found.colours)
    assert told.has[1:].any(axis=1).all()  # no part without a colour
    for line in bare_borders(told.part[found.regions], found.ink):
        assert len(line) >= 2 and np.isfinite(line).all()
