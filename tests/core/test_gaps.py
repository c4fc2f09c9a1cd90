"""Gaps on drawings whose gaps are known by construction; closings; leak level."""

import cv2
import numpy as np
import pytest

from wardrobe.core.areas.segment import segment
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.lines.closing import closing_curve, draw_barriers, ink_closings
from wardrobe.core.lines.gaps import LIKELY, find_gaps
from wardrobe.core.lines.leak import leak_level, lowest_leak

SIZE, CENTRE, RADIUS = 600, 300, 200


def broken_ring(line: float, gap: float, cap: str, angle: float = 0.7) -> np.ndarray:
    """A circle's outline with one gap: coverage from the exact shape, 1 px edge."""
    y, x = np.mgrid[0:SIZE, 0:SIZE] + 0.5
    across = np.hypot(x - CENTRE, y - CENTRE) - RADIUS
    along = (np.arctan2(y - CENTRE, x - CENTRE) - angle + np.pi) % (2 * np.pi) - np.pi
    along *= RADIUS
    share = np.clip(np.abs(across) / (line / 2), 0, 1)
    half = gap / 2
    edge = {"square": np.full_like(x, half), "slanted": np.full_like(x, half),
            "round": half + line / 2 * (1 - np.sqrt(1 - share**2)),
            "tapered": half + 2 * line * share}[cap]
    lean = 0.75 * across * (cap == "slanted")  # both faces lean the same way, ``gap`` apart
    keep = np.abs(along + lean) * (0.8 if cap == "slanted" else 1.0) - edge
    ink = np.clip(line / 2 - np.abs(across) + 0.5, 0, 1) * np.clip(keep + 0.5, 0, 1)
    return np.rint(255 * ink).astype(np.uint8)


@pytest.mark.parametrize("cap", ["round", "square", "slanted", "tapered"])
@pytest.mark.parametrize(("line", "gap"), [(28, 3), (28, 22), (8, 3), (8, 20), (4, 5)])
def test_a_gap_is_found_in_place_and_width(line: float, gap: float, cap: str) -> None:
    found = find_gaps(broken_ring(line, gap, cap))
    listed = np.flatnonzero(found.chance >= LIKELY)
    assert len(listed) == 1
    k = listed[0]
    place = CENTRE + RADIUS * np.array([np.cos(0.7), np.sin(0.7)])
    assert np.hypot(*(found.centre[k] - place)) < max(2.0, 0.12 * line)
    assert found.width[k] == pytest.approx(gap, abs=2.0)
    # Both ends aim along the circle, the first one way and the second the other.
    assert np.abs(np.sum(found.directions[k] * (place - CENTRE), axis=1)).max() < 0.35 * RADIUS
    assert np.sum(found.directions[k, 0] * found.directions[k, 1]) < -0.8


def test_whole_lines_have_no_gaps() -> None:
    assert len(find_gaps(broken_ring(10, -40, "square"))) == 0


def test_the_picture_s_edge_closes_what_runs_off_it() -> None:
    ink = np.zeros((300, 300), np.uint8)
    cv2.ellipse(ink, (150, 300), (90, 200), 0, 180, 360, 255, 8, cv2.LINE_AA)
    assert len(find_gaps(ink)) == 0
    assert segment(ink).count == 2
    ink[-12:] = 0  # now the lines stop just above the edge
    found = find_gaps(ink)
    assert np.count_nonzero(found.chance >= LIKELY) >= 1
    assert (found.ends[found.chance >= LIKELY][:, :, 1].max(axis=1) >= 285).all()


def test_a_bust_that_stops_in_mid_air_gets_one_closing_across() -> None:
    ink = np.zeros((500, 500), np.uint8)
    cv2.ellipse(ink, (250, 400), (150, 300), 0, 180, 360, 255, 8, cv2.LINE_AA)
    cv2.line(ink, (240, 250), (240, 330), 255, 5, cv2.LINE_AA)  # a fold that hangs inside
    with pytest.raises(NoClosedAreaError):
        segment(ink)
    found = find_gaps(ink)
    base = np.flatnonzero(found.width > 250)
    assert len(base) == 1 and found.chance[base[0]] >= LIKELY
    assert np.allclose(found.centre[base[0]], (250, 402), atol=6)
    (a, b), (leave, arrive) = found.ends[base[0]].tolist(), found.directions[base[0]].tolist()
    assert segment(ink, closings=[closing_curve(a, b, leave, arrive)]).count == 2


def test_closings_divide_and_gaps_left_open_join() -> None:
    ink = broken_ring(10, 70, "square")  # too wide to be bridged
    with pytest.raises(NoClosedAreaError):
        segment(ink)
    found = find_gaps(broken_ring(10, 40, "square"))
    curve = closing_curve(*found.ends[0].tolist(), *found.directions[0].tolist())
    areas = segment(broken_ring(10, 40, "square"), closings=[curve])
    assert areas.count == 2 and areas.labels[300, 300] != areas.labels[5, 5]
    # The closing follows the circle: its middle bulges outwards from the chord.
    bulge = np.hypot(*(np.array(curve[len(curve) // 2]) - CENTRE))
    chord = np.hypot(*(np.mean([curve[0], curve[-1]], axis=0) - CENTRE))
    assert bulge > chord + 0.3 and abs(bulge - RADIUS) < 3
    # A gap so small that it is bridged, left open: inside and outside are one.
    small = broken_ring(10, 6, "square")
    assert segment(small).count == 2
    with pytest.raises(NoClosedAreaError):
        segment(small, left_open=[((300, 300), (5, 5))])


def test_a_barrier_stops_a_fill_and_prints_only_if_inked() -> None:
    free = np.ones((40, 40), np.uint8)
    draw_barriers(free, [[(0.0, 3.0), (17.0, 31.0), (39.9, 39.9)]])
    count, _ = cv2.connectedComponents(free, connectivity=4)
    assert count == 3  # the background and both sides
    blank = np.zeros((40, 40), np.uint8)
    assert ink_closings(blank, [], 5).max() == 0
    inked = ink_closings(blank, [[(5.0, 20.0), (35.0, 20.0)]], 5)
    assert (inked[:, 20] >= 128).sum() == 5


def test_leak_level_is_the_weakest_place_of_the_wall() -> None:
    ink = np.zeros((120, 200), np.uint8)
    ink[:, 95:105] = 230
    ink[50:56, 95:105] = 94  # 37 % of full ink
    start = np.zeros(ink.shape, bool)
    start[:, :10] = True
    leak = leak_level(ink, start, (180, 20))
    assert leak.level == pytest.approx(94 / 255) and leak.width == 0
    assert 95 <= leak.x <= 105 and 50 <= leak.y <= 56
    assert lowest_leak(ink, start, np.array([[180, 20], [150, 100]])) == pytest.approx(94 / 255)
    ink[50:56, 95:105] = 0  # a hole 6 px wide
    hole = leak_level(ink, start, (180, 20))
    assert hole.level == 0 and hole.width == pytest.approx(6, abs=1.5)
    assert 95 <= hole.x <= 105 and 50 <= hole.y <= 56
