"""Ink that bounds nothing: strokes measured against what was drawn, and told from lines."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage.measure import euler_number
from skimage.morphology import skeletonize

from tests.hatched import LINE, SIZE, ball, hatch_over, plain_ink, stipple_over
from wardrobe.core.areas.segment import segment
from wardrobe.core.hatching.find import Hatching, find_hatching
from wardrobe.core.hatching.graph import StrokeGraph, stroke_graph
from wardrobe.core.hatching.meeting import ALONE, CROSSED, STEM
from wardrobe.core.hatching.skeleton import skeleton_roles

Byte = NDArray[np.uint8]


def _thinned(ink: NDArray[np.bool_]) -> NDArray[np.bool_]:
    depth = cv2.distanceTransform(ink.astype(np.uint8), cv2.DIST_L2, 5)
    return skeleton_roles(ink.astype(np.uint8), depth) > 0


@given(seed=st.integers(0, 10**6), strokes=st.integers(1, 9))
@settings(max_examples=40, deadline=None)
def test_a_skeleton_is_thin_and_has_the_topology_of_its_ink(seed: int, strokes: int) -> None:
    """Against scikit-image: as many pieces and holes as the ink, as its own skeleton has."""
    rng = np.random.default_rng(seed)
    ink = np.zeros((140, 160), np.uint8)
    for _ in range(strokes):
        one, two = rng.integers(12, 128, (2, 2)).tolist()
        cv2.line(ink, one, two, 1, int(rng.integers(1, 12)))
    thin = _thinned(ink > 0)
    assert (ink[thin] > 0).all()
    euler = euler_number(ink > 0, connectivity=2)
    assert euler_number(thin, connectivity=2) == euler
    assert euler_number(skeletonize(ink > 0), connectivity=2) == euler
    assert not cv2.erode(thin.astype(np.uint8), np.ones((3, 3))).any()


@given(angle=st.floats(0, 180), width=st.integers(3, 15), length=st.integers(120, 220))
@settings(max_examples=30, deadline=None)
def test_a_stroke_measures_what_was_drawn(angle: float, width: int, length: int) -> None:
    ink = np.zeros((300, 300), np.uint8)
    half = length / 2 * np.array([np.cos(np.radians(angle)), np.sin(np.radians(angle))])
    ends = np.rint([150 - half, 150 + half]).astype(int)
    cv2.line(ink, *ends.tolist(), 255, width, cv2.LINE_AA)
    graph = stroke_graph(ink)
    assert graph.live.sum() == 1
    which = int(np.flatnonzero(graph.live)[0])
    assert graph.sizes.width[which] == pytest.approx(width, abs=2.6)
    drawn = float(np.hypot(*(ends[1] - ends[0])))
    assert graph.sizes.chord[which] == pytest.approx(drawn, abs=width + 2)
    along = graph.sizes.tangents[which, 0]
    assert abs(along @ half) / np.hypot(*half) > 0.99


def _crossing(turn: float, one_sided: bool) -> StrokeGraph:
    ink = np.zeros((240, 240), np.uint8)
    way = np.array([np.cos(np.radians(turn)), np.sin(np.radians(turn))])
    side = np.array([-way[1], way[0]])
    cv2.line(ink, *np.rint([120 - 90 * way, 120 + 90 * way]).astype(int).tolist(), 255, 5)
    cv2.line(ink, *np.rint([[120, 120] if one_sided else 120 - 90 * side,
                            120 + 90 * side]).astype(int).tolist(), 255, 5)
    return stroke_graph(ink)


@pytest.mark.parametrize("turn", [0.0, 20.0, 45.0, 70.0])
def test_strokes_go_on_where_they_cross_and_stop_at_a_stem(turn: float) -> None:
    crossed = _crossing(turn, one_sided=False)
    assert len(np.unique(crossed.meeting.stroke[crossed.live])) == 2
    assert sorted(crossed.meeting.part[crossed.live].ravel()) == [0] * 4 + [CROSSED] * 4
    stopped = _crossing(turn, one_sided=True)
    assert len(np.unique(stopped.meeting.stroke[stopped.live])) == 2
    assert (stopped.meeting.part == STEM).sum() == 1
    assert not (stopped.meeting.part == ALONE).any()


def _areas(ink: Byte) -> NDArray[np.int64]:
    return segment(ink).labels.astype(np.int64)


def _without(found: Hatching, ink: Byte) -> Byte:
    taken = [k for k, family in enumerate(found.families, start=1) if family.taken]
    return np.where(found.ink(taken), 0, ink).astype(np.uint8)


def _share_alike(one: NDArray[np.int64], other: NDArray[np.int64]) -> float:
    """Share of pixels whose areas are each other's best match."""
    table = np.zeros((one.max() + 1, other.max() + 1), np.int64)
    np.add.at(table, (one, other), 1)
    best = table.argmax(axis=1)[one] == other
    return float((best & (table.argmax(axis=0)[other] == one)).mean())


@pytest.mark.parametrize("angles", [(35.0,), (35.0, 110.0), (35.0, 95.0, 155.0)])
@pytest.mark.parametrize("spacing", [14.0, 24.0])
def test_hatching_cuts_no_areas_and_the_outline_stays(angles: tuple[float, ...],
                                                      spacing: float) -> None:
    plain = plain_ink()
    ink = hatch_over(plain, ball(), angles, spacing, 4)
    assert segment(ink).count != segment(plain).count
    found = find_hatching(ink)
    bare = _without(found, ink)
    assert _share_alike(_areas(bare), _areas(plain)) > 0.98
    assert found.families[0].kind == ("hatching" if len(angles) == 1 else "cross-hatching")
    x, y = found.families[0].place
    assert ball()[int(y), int(x)]
    # Where strokes run into the outline, no more of it goes than a fringe.
    outline = (plain >= 128) & (bare < 128)
    assert outline.sum() < 0.02 * (plain >= 128).sum()


def test_stipple_is_told_and_plain_drawings_stay_as_they_are() -> None:
    plain = plain_ink()
    found = find_hatching(stipple_over(plain, ball(), 20, 3))
    assert [f.kind for f in found.families] == ["stipple"]
    assert found.families[0].strokes > 50
    nothing = find_hatching(plain)
    assert not any(f.taken for f in nothing.families)


def test_a_drawing_twice_as_large_is_told_alike_to_the_pixel() -> None:
    ink = hatch_over(plain_ink(), ball(), (35.0, 110.0), 18.0, 4)
    large = cv2.resize(ink, None, fx=3, fy=3, interpolation=cv2.INTER_CUBIC)
    found = find_hatching(large)
    off = found.ink(range(1, len(found.families) + 1))
    assert off.shape == large.shape
    inside = cv2.resize(ball().astype(np.uint8), None, fx=3, fy=3,
                        interpolation=cv2.INTER_NEAREST) > 0
    core = cv2.erode(inside.astype(np.uint8), np.ones((6 * LINE, 6 * LINE))) > 0
    left = core & (large >= 128) & ~off
    assert left.sum() < 0.002 * core.sum()


def test_what_is_named_by_a_place_is_found_again_at_another_weight() -> None:
    ink = hatch_over(plain_ink(), ball(), (35.0,), 18.0, 4)
    found = find_hatching(ink)
    places = [f.place for f in found.families]
    thicker = cv2.dilate(ink, np.ones((3, 3), np.uint8))
    assert find_hatching(thicker).named(places)
    assert not found.named([(10.0, 10.0)])
    assert found.named([(-50.0, 10.0), (SIZE + 90.0, 1e6)]) == set()


@pytest.mark.parametrize("ink", [np.zeros((40, 60), np.uint8), np.full((40, 60), 255, np.uint8),
                                 np.eye(64, dtype=np.uint8) * 255])
def test_drawings_with_nothing_to_find(ink: Byte) -> None:
    found = find_hatching(ink)
    assert not any(f.taken for f in found.families)
    assert found.ink([]).shape == ink.shape


def test_a_thicket_of_strokes_is_told_within_bounds() -> None:
    """Noise, in which thousands of strokes meet at one place, and a grid without an outline."""
    rng = np.random.default_rng(1)
    y, x = np.mgrid[:900, :900]
    for ink in (rng.random((900, 900)) > 0.5, (x % 12 < 3) | (y % 12 < 3)):
        found = find_hatching(ink.astype(np.uint8) * 255)
        assert found.graph.count > 1000 and len(found.families) <= 60
        assert found.ink(range(1, len(found.families) + 1)).shape == (900, 900)
