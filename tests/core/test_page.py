"""Panels, their order, and what is lettered: on pages that are drawn here, so that the truth is
known."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from tests.tries import tries
from wardrobe.core.page.lettering import find_lettering
from wardrobe.core.page.order import in_order
from wardrobe.core.page.panels import find_panels

Byte = NDArray[np.uint8]
Points = NDArray[np.float64]
WIDTH, HEIGHT = 900, 1270


def box(x: float, y: float, w: float, h: float) -> Points:
    return np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]], np.float64)


def framed(ink: Byte, outline: Points, seed: int = 0) -> None:
    """A frame with a figure, a horizon and a wall in it."""
    inside = np.zeros_like(ink)
    cv2.fillPoly(inside, [outline.astype(np.int32)], 255)
    art = np.zeros_like(ink)
    low, high = outline.min(axis=0), outline.max(axis=0)
    middle, size = (low + high) / 2, high - low
    dice = np.random.default_rng(seed)
    at = middle + dice.uniform(-0.15, 0.15, 2) * size
    cv2.circle(art, at.astype(int).tolist(), int(0.2 * size.min()), 255, 4)
    y = int(low[1] + dice.uniform(0.55, 0.85) * size[1])
    cv2.line(art, (0, y), (WIDTH, y + 15), 255, 2)
    x = int(low[0] + dice.uniform(0.2, 0.8) * size[0])
    cv2.line(art, (x, 0), (x + 10, HEIGHT), 255, 2)
    ink[inside > 0] = art[inside > 0]
    cv2.polylines(ink, [outline.astype(np.int32)], True, 255, 4)


def iou(one: Points, other: Points) -> float:
    masks = []
    for outline in (one, other):
        mask = np.zeros((HEIGHT, WIDTH), np.uint8)
        cv2.fillPoly(mask, [np.round(outline).astype(np.int32)], 1)
        masks.append(mask > 0)
    return float((masks[0] & masks[1]).sum() / (masks[0] | masks[1]).sum())


def matched(found: list[Points], true: list[Points]) -> list[int]:
    """Which of the found panels each true one is."""
    best = [max(range(len(found)), key=lambda k, t=t: iou(found[k], t)) for t in true]
    assert all(iou(found[k], t) > 0.94 for k, t in zip(best, true, strict=True)), [
        iou(found[k], t) for k, t in zip(best, true, strict=True)]
    return best


@settings(max_examples=tries(5, 12), deadline=None)
@given(rows=st.lists(st.integers(1, 3), min_size=1, max_size=4), gutter=st.integers(14, 30),
       margin=st.sampled_from([0, 40, 70]), seed=st.integers(0, 99))
def test_grids_are_taken_apart_and_read(rows: list[int], gutter: int, margin: int,
                                        seed: int) -> None:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    high = (HEIGHT - 2 * margin - gutter * (len(rows) - 1)) / len(rows)
    true = []
    for r, columns in enumerate(rows):
        wide = (WIDTH - 2 * margin - gutter * (columns - 1)) / columns
        for c in range(columns):
            outline = box(margin + c * (wide + gutter), margin + r * (high + gutter), wide, high)
            framed(ink, outline, seed + 10 * r + c)
            true.append(outline)
    found = [p.outline for p in find_panels(ink)]
    assert len(found) == len(true)
    assert matched(found, true) == list(range(len(true)))


@settings(max_examples=tries(4, 8), deadline=None)
@given(tilt=st.floats(-9, 9), gutter=st.integers(18, 30), seed=st.integers(0, 99))
def test_tilted_gutters(tilt: float, gutter: int, seed: int) -> None:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    rise = np.tan(np.radians(tilt)) * (WIDTH - 120) / 2
    upper = np.array([[60, 60], [840, 60], [840, 620 + rise], [60, 620 - rise]])
    lower = np.array([[60, 620 - rise + gutter], [840, 620 + rise + gutter], [840, 1210],
                      [60, 1210.0]])
    for k, outline in enumerate((upper, lower)):
        framed(ink, outline, seed + k)
    found = [p.outline for p in find_panels(ink)]
    assert len(found) == 2 and matched(found, [upper, lower]) == [0, 1]


def test_a_panel_set_into_another_and_one_without_a_frame() -> None:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    whole, low = box(50, 50, 800, 640), box(470, 720, 380, 500)
    framed(ink, whole, 1)
    framed(ink, low, 2)
    inset = box(560, 420, 250, 230)
    cv2.rectangle(ink, (548, 408), (822, 662), 0, -1)
    framed(ink, inset, 3)
    cv2.circle(ink, (240, 950), 90, 255, 4)  # stands free, left of the lower panel
    panels = find_panels(ink)
    assert len(panels) == 4
    order = matched([p.outline for p in panels], [whole, inset, box(50, 720, 395, 500), low])
    assert order == [0, 1, 2, 3]
    assert panels[1].over == (0,) and not any(panels[2].framed[1:4])
    assert all(panels[0].framed)


def test_a_figure_that_reaches_across_a_gutter() -> None:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    true = [box(50, 50, 800, 560), box(50, 640, 800, 580)]
    for k, outline in enumerate(true):
        framed(ink, outline, k)
    cv2.ellipse(ink, (430, 625), (60, 130), 0, 0, 360, 0, -1)
    cv2.ellipse(ink, (430, 625), (60, 130), 0, 0, 360, 255, 5)
    found = [p.outline for p in find_panels(ink)]
    assert len(found) == 2 and matched(found, true) == [0, 1]


def test_panels_that_share_their_lines() -> None:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    true = [box(40, 40, 820, 500), box(40, 540, 400, 690), box(440, 540, 420, 690)]
    for outline in true:
        cv2.polylines(ink, [outline.astype(np.int32)], True, 255, 5)
        cv2.circle(ink, outline.mean(axis=0).astype(int).tolist(), 90, 255, 4)
    found = [p.outline for p in find_panels(ink)]
    assert len(found) == 3 and matched(found, true) == [0, 1, 2]


def test_an_empty_page_has_no_panels_and_a_single_picture_is_one() -> None:
    assert find_panels(np.zeros((400, 300), np.uint8)) == []
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    cv2.circle(ink, (450, 600), 300, 255, 6)
    assert len(find_panels(ink)) == 1


@pytest.mark.parametrize(("reading", "first"), [("left to right", [0, 1, 2, 3]),
                                                ("right to left", [1, 0, 3, 2])])
def test_the_order_follows_the_way_of_reading(reading: str, first: list[int]) -> None:
    """Rows from the top, each from the side where reading begins (common practice, no published
    source)."""
    outlines = [box(0, 0, 100, 100), box(110, 0, 100, 100), box(0, 110, 100, 100),
                box(110, 110, 100, 100)]
    assert in_order(outlines, [()] * 4, reading) == first  # type: ignore[arg-type]
    tall = [box(0, 0, 100, 210), box(110, 0, 100, 100), box(110, 110, 100, 100)]
    assert in_order(tall, [()] * 3) == [0, 1, 2]


def lettered_page() -> tuple[Byte, NDArray[np.bool_], Points]:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    framed(ink, box(50, 50, 800, 1100), 5)
    cv2.ellipse(ink, (300, 260), (190, 110), 0, 0, 360, 0, -1)
    cv2.ellipse(ink, (300, 260), (190, 110), 0, 0, 360, 255, 4)
    letters = np.zeros_like(ink)
    for k, row in enumerate(("THE TIDE IS IN", "HOLD ON TO THE ROPE")):
        cv2.putText(letters, row, (155 + 25 * (1 - k), 250 + 42 * k), cv2.FONT_HERSHEY_SIMPLEX,
                    0.82, 255, 2, cv2.LINE_AA)
    ink = np.maximum(ink, letters)
    outline = cv2.ellipse2Poly((300, 260), (188, 108), 0, 0, 360, 4).astype(np.float64)
    return ink, letters > 128, outline


def test_letters_are_told_from_drawing_and_stand_in_their_balloon() -> None:
    ink, letters, outline = lettered_page()
    found = find_lettering(ink)
    assert (found.letters & letters).sum() > 0.97 * letters.sum()
    drawn = (ink > 128) & ~letters
    assert (found.letters & drawn).sum() < 0.005 * drawn.sum()
    assert len(found.balloons) == 1 and iou(found.balloons[0], outline) > 0.95
    # What is lettered is no panel, though it has a frame.
    assert len(find_panels(ink, found.balloons)) == 1


def test_hatching_and_windows_are_not_letters() -> None:
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    for k in range(40):
        cv2.line(ink, (200 + 9 * k, 300), (190 + 9 * k, 330), 255, 2)
    for k in range(4):
        cv2.rectangle(ink, (150 + 160 * k, 600), (250 + 160 * k, 760), 255, 4)
    found = find_lettering(ink)
    assert not found.letters.any() and found.balloons == []
