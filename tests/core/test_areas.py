"""Cutting areas."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import figure_ink, transparent
from wardrobe.core.areas.claim import touched
from wardrobe.core.areas.segment import Areas, segment
from wardrobe.core.areas.suggest import group_areas
from wardrobe.core.errors import NoLinesError
from wardrobe.core.lines.coverage import read_darkness


def two_rooms(gap: int, width: int = 7) -> np.ndarray:
    """A closed box with a wall that leaves a gap in its middle."""
    ink = np.zeros((400, 600), np.uint8)
    cv2.rectangle(ink, (50, 50), (550, 350), 255, width)
    cv2.line(ink, (300, 50), (300, 200 - gap // 2 - 1), 255, width)
    cv2.line(ink, (300, 200 + gap // 2 + 1), (300, 350), 255, width)
    return ink


@pytest.mark.parametrize("gap", [0, 4, 12, 24])
def test_a_small_gap_divides(gap: int) -> None:
    areas = segment(two_rooms(gap))
    left, right = areas.labels[200, 150], areas.labels[200, 450]
    assert left != right and not areas.ground[left] and not areas.ground[right]
    border = np.flatnonzero(areas.labels[200, 280:320] != left)[0] + 280
    assert border == pytest.approx(300, abs=2)


def test_a_passage_joins() -> None:
    areas = segment(two_rooms(150))
    assert areas.labels[200, 150] == areas.labels[200, 450]


def test_an_open_outline_does_not_leak() -> None:
    ink = figure_ink()
    ink[38:46, 232:248] = 0  # a cut at the top of the head
    areas = segment(ink)
    assert areas.labels[110, 240] != areas.labels[5, 5]
    assert areas.ground[areas.labels[5, 5]] and not areas.ground[areas.labels[110, 240]]


def test_areas_meet_under_the_middle_of_the_line() -> None:
    ink = np.zeros((200, 300), np.uint8)
    cv2.rectangle(ink, (20, 20), (280, 180), 255, 9)
    cv2.line(ink, (150, 20), (150, 180), 255, 11)
    areas = segment(ink)
    row = areas.labels[100]
    assert np.flatnonzero(np.diff(row[60:240].astype(int)))[0] + 60 == pytest.approx(150, abs=1)


def test_a_bust_that_the_lower_edge_cuts_off_is_figure() -> None:
    ink = np.zeros((400, 400), np.uint8)
    cv2.ellipse(ink, (200, 420), (120, 250), 0, 0, 360, 255, 7, cv2.LINE_AA)
    areas = segment(ink)
    assert not areas.ground[areas.labels[395, 200]]
    assert areas.ground[areas.labels[395, 10]] and areas.ground[areas.labels[10, 200]]


def test_a_hole_is_ground_where_the_file_says_so() -> None:
    """Three round shapes in touch: the hole between them shows the ground if it is transparent."""
    rgba = np.zeros((500, 500, 4), np.uint8)
    for centre in ((150, 170), (350, 170), (250, 343)):
        cv2.circle(rgba, centre, 100, (255, 255, 255, 255), -1)
        cv2.circle(rgba, centre, 100, (0, 0, 0, 255), 8)
    darkness = read_darkness(rgba)
    areas = segment(darkness.values, darkness.clear)
    hole, disk = areas.labels[228, 250], areas.labels[170, 150]
    assert areas.ground[hole] and not areas.ground[disk]
    assert not segment(darkness.values).ground[hole]  # by its shape alone nobody can tell
    assert read_darkness(transparent(figure_ink())).clear is None


def test_specks_go_to_their_neighbour() -> None:
    ink = figure_ink()
    cv2.circle(ink, (240, 110), 30, 255, -1)
    ink[108:111, 238:241] = 0  # a pinhole in a solid black
    areas = segment(ink)
    assert areas.specks >= 1 and areas.labels[109, 239] == areas.labels[60, 240]


def test_nothing_closed_is_refused() -> None:
    ink = np.zeros((300, 300), np.uint8)
    cv2.line(ink, (50, 150), (250, 140), 255, 6)
    with pytest.raises(NoLinesError):
        segment(ink)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(*[st.integers(0, 159)] * 4, st.integers(1, 9)), min_size=3, max_size=14))
def test_every_pixel_belongs_to_one_area(strokes: list[tuple[int, int, int, int, int]]) -> None:
    ink = np.zeros((160, 160), np.uint8)
    for x0, y0, x1, y1, width in strokes:
        cv2.line(ink, (x0, y0), (x1, y1), 255, width, cv2.LINE_AA)
    try:
        areas = segment(ink)
    except NoLinesError:
        return
    assert areas.labels.min() >= 1 and areas.labels.max() == areas.count
    assert areas.pixels.sum() == ink.size
    for area in range(1, areas.count + 1):
        x, y = areas.seeds[area]
        assert areas.labels[y, x] == area


def test_clicks_and_sweeps() -> None:
    areas = segment(two_rooms(0))
    left, right = areas.labels[200, 150], areas.labels[200, 450]
    assert touched(areas, [[(150, 200)]]).tolist() == [left]
    assert touched(areas, [[(150, 200), (450, 220)]]).tolist() == sorted([left, right])
    # Along the wall, on the ink, a sweep takes nothing of the other side.
    assert touched(areas, [[(300, 100), (300, 300)]]).tolist() == []
    assert touched(areas, [[(-50, 9999)]]).tolist() == []


def _grouped(ink: np.ndarray) -> tuple[Areas, np.ndarray]:
    areas = segment(ink)
    group = np.zeros(areas.count + 1, int)
    for number, found in enumerate(group_areas(areas), start=1):
        group[found] = number
    return areas, group


def test_likely_parts_are_mirrored_repeated_or_parted_by_thin_lines() -> None:
    """A coat with a fold line, two mirrored sleeves, three buttons and a hat."""
    ink = np.zeros((700, 600), np.uint8)
    cv2.rectangle(ink, (200, 220), (400, 640), 255, 10)  # coat
    cv2.line(ink, (300, 360), (300, 640), 255, 3)  # its fold, and a hem
    cv2.line(ink, (200, 360), (400, 360), 255, 3)
    for x in (80, 440):
        cv2.rectangle(ink, (x, 240), (x + 80, 480), 255, 10)
    for x in (225, 285, 345):
        cv2.circle(ink, (x + 15, 290), 14, 255, 6)
    cv2.ellipse(ink, (300, 120), (130, 60), 0, 0, 360, 255, 10)  # hat

    areas, group = _grouped(ink)

    def at(x: int, y: int) -> int:
        return int(group[areas.labels[y, x]])

    coat, sleeves, buttons, hat = at(215, 300), at(120, 350), at(240, 290), at(300, 120)
    assert len({coat, sleeves, buttons, hat, 0}) == 5
    assert at(250, 500) == at(350, 500) == coat
    assert at(480, 350) == sleeves
    assert at(300, 290) == at(360, 290) == buttons
    assert all(group[a] for a in range(1, areas.count + 1) if not areas.ground[a])
