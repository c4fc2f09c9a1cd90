"""Where pieces of a mask meet what lies beside them; what differs by more than a fringe."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wardrobe.core.geometry.edges import LEAST, free_edges, innermost, pieces_of
from wardrobe.core.geometry.outline import outlines_of, solid

SIZE = 120


def blob(seed: int) -> np.ndarray:
    """A random shape without thin places."""
    random = np.random.default_rng(seed)
    noise = cv2.GaussianBlur(random.normal(size=(SIZE, SIZE)), (0, 0), 9)
    shape = cv2.morphologyEx((noise > 0).astype(np.uint8), cv2.MORPH_OPEN, np.ones((7, 7)))
    return shape > 0


@given(st.integers(0, 10**6), st.floats(0, np.pi), st.integers(30, 90))
@settings(max_examples=40, deadline=None)
def test_a_cut_lies_along_the_border_of_both_halves(seed: int, turn: float, at: int) -> None:
    """A shape divided by a straight line: the strokes are that line, and part it again."""
    whole = blob(seed)
    y, x = np.mgrid[:SIZE, :SIZE]
    side = np.cos(turn) * (x - 60) + np.sin(turn) * (y - 60) < at - 60
    for piece in pieces_of(whole & side):
        beside = whole & ~piece
        meets = cv2.dilate(beside.astype(np.uint8), np.ones((3, 3))).astype(bool) & piece
        strokes = list(free_edges(piece, beside, (0, 0)))
        if not meets.any():
            assert strokes == []
            continue
        drawn = np.zeros((SIZE, SIZE), np.uint8)
        for stroke in strokes:
            points = np.floor(np.array(stroke)).astype(np.int32)
            cv2.polylines(drawn, [points], False, 1, 1, cv2.LINE_8)
            assert len(stroke) <= 2000
        # Along the border, but for where lines are bridged, and no border without a stroke.
        near = cv2.dilate(meets.astype(np.uint8), np.ones((11, 11))) > 0
        assert not ((drawn > 0) & ~near).any()
        away = cv2.distanceTransform(1 - drawn, cv2.DIST_L2, 5)
        assert away[meets].max() <= 3.5 if strokes else meets.sum() < 6


def test_a_piece_inside_another_has_a_closed_edge() -> None:
    whole = np.ones((SIZE, SIZE), bool)
    piece = np.zeros_like(whole)
    cv2.circle(view := piece.view(np.uint8), (60, 55), 20, 1, -1)
    assert view.any()
    (stroke,) = free_edges(piece, whole & ~piece, (100, 200))
    assert stroke[0] == stroke[-1]
    places = np.array(stroke) - (160.5, 255.5)
    assert np.abs(np.hypot(*places.T) - 20).max() < 1
    # A ring has two.
    ring = piece.copy()
    cv2.circle(ring.view(np.uint8), (60, 55), 9, 0, -1)
    assert len(list(free_edges(ring, whole & ~ring, (0, 0)))) == 2


@given(st.integers(0, 10**6))
@settings(max_examples=40, deadline=None)
def test_the_innermost_place_is_inside_and_far_from_the_edge(seed: int) -> None:
    for piece in pieces_of(blob(seed)):
        x, y = innermost(piece, (0, 0))
        assert piece[int(y), int(x)]
        inside = cv2.distanceTransform(np.pad(piece, 1).astype(np.uint8), cv2.DIST_L2, 5)
        assert inside[int(y) + 1, int(x) + 1] == inside.max()
        assert piece.sum() >= LEAST


@given(st.integers(0, 10**6))
@settings(max_examples=40, deadline=None)
def test_fringes_are_nothing_and_what_has_a_core_stays_whole(seed: int) -> None:
    shape = blob(seed)
    lines = np.zeros_like(shape)
    lines[::3] = shape[::3]  # one pixel high, two apart
    assert not solid(lines).any()
    kept = solid(shape)
    assert (kept <= shape).all()
    count, numbers = cv2.connectedComponents(shape.astype(np.uint8), connectivity=4)
    for k in range(1, count):
        mine = kept[numbers == k]
        assert mine.all() or not mine.any()  # pieces are kept or not, but whole


@pytest.mark.parametrize("seed", range(4))
def test_outlines_fill_what_they_were_taken_from(seed: int) -> None:
    shape = blob(seed)
    back = np.zeros((SIZE, SIZE), np.uint8)
    for outline in outlines_of(shape, 1):
        fine = np.zeros((SIZE * 4, SIZE * 4), np.uint8)
        cv2.fillPoly(fine, [np.round(outline * 4 - 0.5).astype(np.int32)], 1)
        back |= (cv2.resize(fine.astype(np.float32), (SIZE, SIZE),
                            interpolation=cv2.INTER_AREA) > 0.5).astype(np.uint8)
    assert (back.astype(bool) != shape).sum() <= 0.004 * shape.size
