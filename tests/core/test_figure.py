"""Figure and ground: drawings made by program, of which the figure is known."""

import itertools

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from wardrobe.core.ground.confidence import SURE
from wardrobe.core.ground.cut import _parted
from wardrobe.core.ground.edge import NEVER, cut_flush, runs
from wardrobe.core.ground.figure import Figure, find_figure
from wardrobe.core.ground.rays import enclosure, sixteen_ways
from wardrobe.core.lines.closing import draw_barriers

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]


def _overlap(ink: Byte, true: Mask, found: Mask) -> float:
    paper = ink < 128
    return float((true & found)[paper].sum() / max(1, (true | found)[paper].sum()))


def _bust(width: int, cut_off: bool, size: int = 900, base: int = 700) -> tuple[Byte, Mask]:
    """A head on shoulders whose lines end in mid-air, or at the picture's lower edge."""
    height = base + 1 if cut_off else size
    ink, true = np.zeros((height, size), np.uint8), np.zeros((height, size), np.uint8)
    middle = size // 2
    head = (middle, 280), (120, 150), 0, 0, 360
    left = np.array([[middle - 50, 415], [middle - 60, 490], [middle - 220, 540],
                     [middle - 260, base]])
    right = left * [-1, 1] + [2 * middle, 0]
    cv2.ellipse(ink, *head, 255, width, cv2.LINE_AA)
    cv2.ellipse(true, *head, 1, -1)
    cv2.polylines(ink, [left, right], False, 255, width, cv2.LINE_AA)
    cv2.fillPoly(true, [np.vstack([left, right[::-1]])], 1)
    return ink, true > 0


def _sealed(ink: Byte, figure: Figure) -> Mask:
    """What a flood from the border does not reach once the closings are drawn."""
    free = (ink < 128).astype(np.uint8)
    draw_barriers(free, figure.closings)
    framed = cv2.copyMakeBorder(free, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=1)
    cv2.floodFill(framed, None, (0, 0), 2)
    return np.asarray(framed[1:-1, 1:-1] != 2)


@pytest.mark.parametrize("width", [4, 10, 24])
def test_a_bust_that_stops_in_mid_air_is_closed_at_its_base(width: int) -> None:
    ink, true = _bust(width, cut_off=False)
    figure = find_figure(ink)
    assert _overlap(ink, true, figure.mask) > 0.95
    assert figure.closings and figure.sure >= SURE
    assert _overlap(ink, true, _sealed(ink, figure)) > 0.95, "the closings alone hold a fill"


def test_a_bust_that_the_edge_cuts_off_needs_no_closing() -> None:
    ink, true = _bust(10, cut_off=True)
    figure = find_figure(ink)
    assert _overlap(ink, true, figure.mask) > 0.99
    assert not figure.closings


def test_a_picture_laid_on_paper_is_cut_off_where_it_was() -> None:
    """As above, with paper put around it afterwards: the cut edge is found, and closed."""
    ink, true = _bust(10, cut_off=True)
    ink, true = (np.pad(a, ((60, 60), (60, 60))) for a in (ink, true))
    figure = find_figure(ink)
    assert _overlap(ink, true, figure.mask) > 0.99
    assert _overlap(ink, true, _sealed(ink, figure)) > 0.98


@pytest.mark.parametrize("size", [400, 1024, 2800])
def test_a_channel_to_the_edge_is_no_gap(size: int) -> None:
    """A thick-lined star whose points come near the edge: all around it is ground."""
    turn = np.arange(10) * np.pi / 5
    reach = np.where(np.arange(10) % 2, 0.2, 0.46) * size
    points = np.stack([np.cos(turn), np.sin(turn)], axis=1) * reach[:, None] + size / 2
    ink, true = np.zeros((size, size), np.uint8), np.zeros((size, size), np.uint8)
    cv2.polylines(ink, [points.astype(np.int32)], True, 255, max(3, size // 36), cv2.LINE_AA)
    cv2.fillPoly(true, [points.astype(np.int32)], 1)
    figure = find_figure(ink)
    assert _overlap(ink, true > 0, figure.mask) > 0.995
    assert not figure.closings and figure.sure >= SURE


@pytest.mark.parametrize("open_degrees", [5, 30, 60, 90])
def test_an_open_ring_is_closed(open_degrees: float) -> None:
    ink = np.zeros((800, 800), np.uint8)
    cv2.ellipse(ink, (400, 400), (250, 250), 0, open_degrees / 2, 360 - open_degrees / 2, 255, 10)
    true = np.zeros_like(ink)
    turns = np.deg2rad(np.linspace(open_degrees / 2, 360 - open_degrees / 2, 300))
    arc = 400 + 250 * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    cv2.fillPoly(true, [arc.astype(np.int32)], 1)  # straight across the opening
    figure = find_figure(ink)
    assert _overlap(ink, true > 0, figure.mask) > 0.93
    assert _overlap(ink, true > 0, _sealed(ink, figure)) > 0.93


def test_what_bounds_nothing_is_left_alone() -> None:
    ink = np.zeros((600, 800), np.uint8)
    zigzag = np.array([[80, 300], [200, 200], [300, 400], [420, 200], [520, 400], [700, 300]])
    cv2.polylines(ink, [zigzag], False, 255, 8)
    figure = find_figure(ink)
    assert np.array_equal(figure.mask, ink >= 128) and not figure.closings
    for plain in (np.zeros((40, 50), np.uint8), np.full((40, 50), 255, np.uint8)):
        assert np.array_equal(find_figure(plain).mask, plain > 0)


def test_what_is_ringed_on_three_sides_is_told() -> None:
    """A thick horseshoe: its inside is open wide, and stays ground, but is spoken of."""
    ink = np.zeros((800, 800), np.uint8)
    outer, inner = (300, 300), (200, 200)
    for axes in (outer, inner):
        cv2.ellipse(ink, (400, 400), axes, 90, 45, 315, 255, 10, cv2.LINE_AA)
    for turn in (135, 405):
        way = np.array([np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))])
        ends = [tuple((400 + r * way).astype(int).tolist()) for r in (200, 300)]
        cv2.line(ink, ends[0], ends[1], 255, 10, cv2.LINE_AA)
    figure = find_figure(ink)
    assert figure.mask[400, 150], "the band is figure"
    assert not figure.mask[400, 400], "its inside is not"
    x, y, share = figure.bays[0]
    assert np.hypot(x - 400, y - 400) < 150 and share > 0.05


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(st.integers(60, 440), st.integers(60, 440), st.integers(20, 120),
                          st.integers(20, 120), st.integers(0, 180)), min_size=1, max_size=5),
       st.integers(3, 16))
def test_what_lines_enclose_is_always_figure(shapes: list[tuple[int, ...]], width: int) -> None:
    """Closed outlines of any kind: the figure holds all that a flood does not reach."""
    ink = np.zeros((500, 500), np.uint8)
    for x, y, a, b, turn in shapes:
        cv2.ellipse(ink, (x, y), (a, b), turn, 0, 360, 255, width, cv2.LINE_AA)
    figure = find_figure(ink)
    free = cv2.copyMakeBorder((ink < 128).astype(np.uint8), 1, 1, 1, 1, cv2.BORDER_CONSTANT,
                              value=1)
    cv2.floodFill(free, None, (0, 0), 2)
    enclosed = free[1:-1, 1:-1] != 2
    assert figure.mask[enclosed].all()
    assert not figure.mask[0].any() or (ink[0] >= 128).any()


@settings(max_examples=60, deadline=None)
@given(st.integers(2, 7), st.integers(0, 10**6))
def test_the_cut_is_the_cheapest_of_all(count: int, seed: int) -> None:
    """Against every way to part a small graph (exhaustive search)."""
    rng = np.random.default_rng(seed)
    links = 3 * count
    one, two = rng.integers(0, count, (2, links))
    one, two = one[one != two], two[one != two]
    one, two = np.append(one, np.arange(1, count)), np.append(two, np.zeros(count - 1, np.int64))
    cost = np.round(rng.uniform(0, 2, len(one)), 3)
    worth = np.round(rng.uniform(-2, 2, count), 3)
    worth[0] = 0
    figure, _ = _parted(count, one, two, cost, worth)

    def price(choice: Mask) -> float:
        return float(cost[choice[one] != choice[two]].sum() - worth[choice].sum())

    least = min(price(np.array([False, *rest])) for rest in
                itertools.product([False, True], repeat=count - 1))
    assert price(figure) <= least + 0.02  # costs are rounded to thousandths


@settings(max_examples=40, deadline=None)
@given(st.integers(3, 12), st.integers(3, 12), st.integers(0, 10**6))
def test_runs_of_the_edge(height: int, width: int, seed: int) -> None:
    """Every free pixel of the edge lies in one run, and no run crosses ink."""
    ink = (np.random.default_rng(seed).random((height, width)) < 0.3).astype(np.uint8)
    seen = np.zeros(ink.shape, np.int64)
    for run in runs(ink):
        np.add.at(seen, (run.y, run.x), 1)
        steps = np.abs(np.diff(run.x)) + np.abs(np.diff(run.y))
        assert (steps <= 1).all()
        assert (run.cost == NEVER) == (run.y == 0).any()
    edge = np.ones(ink.shape, bool)
    edge[1:-1, 1:-1] = False
    assert np.array_equal(seen, (edge & (ink == 0)).astype(np.int64))


def test_round_ends_are_not_cut_off() -> None:
    ink = np.zeros((300, 300), np.uint8)
    for x in (100, 200):
        cv2.line(ink, (x, 60), (x, 240), 1, 12)
    assert cut_flush(ink, 12) == (0, 0, 0)
    flush = ink.copy()
    flush[235:] = 0
    assert cut_flush(flush, 12) == (0, 0, 65)


def test_enclosure_by_known_shapes() -> None:
    """Inside a ring all 16 ways meet ink; beside a long wall half of them do."""
    ring = np.zeros((101, 101), np.uint8)
    cv2.circle(ring, (50, 50), 30, 1, 2)
    seen = enclosure(ring, sixteen_ways())
    assert seen[50, 50] == 1.0 and seen[2, 2] <= 0.3
    wall = np.zeros((201, 201), np.uint8)
    wall[:, 100] = 1
    assert abs(float(enclosure(wall, sixteen_ways())[100, 96]) - 7 / 16) <= 1 / 16
