"""Solid blacks: told apart, left out, hollowed, and given whole to what lies beside them."""

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas, segment
from wardrobe.core.areas.solids import adopt_solids
from wardrobe.core.lines.blacks import Blacks, hollow, solid_blacks
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]
SIZE, LINE = 400, 6

blobs = st.lists(st.tuples(st.integers(110, 290), st.integers(110, 290), st.integers(14, 40)),
                 min_size=1, max_size=5)


def _room(blacks: list[tuple[int, int, int]]) -> Byte:
    """A room with a wall across, and black discs in it."""
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.rectangle(ink, (60, 60), (340, 340), 255, LINE)
    cv2.line(ink, (200, 60), (200, 340), 255, LINE)
    for x, y, radius in blacks:
        cv2.circle(ink, (x, y), radius, 255, -1)
    return ink


def _found(ink: Byte) -> tuple[Areas, Blacks, float]:
    width = line_width(ink)
    return segment(ink), solid_blacks(ink, width), width


@settings(max_examples=25, deadline=None)
@given(blobs)
def test_adopting_changes_labels_within_blacks_only(discs: list[tuple[int, int, int]]) -> None:
    areas, blacks, width = _found(_room(discs))
    labels = adopt_solids(areas.labels, areas.core, areas.ground, blacks, width)
    outside = blacks.labels == 0
    assert (labels[outside] == areas.labels[outside]).all()
    # Deep inside, each black has one owner, of the figure, that lies beside it.
    for number in range(1, len(blacks.solids) + 1):
        mine = blacks.labels == number
        depth = cv2.distanceTransform((~areas.core).astype(np.uint8), cv2.DIST_L2, 5)
        inside = mine & (depth > width)
        owners = np.unique(labels[inside])
        assert len(owners) == 1
        near = cv2.dilate(mine.astype(np.uint8), np.ones((2 * int(width) + 9,) * 2)) > 0
        assert owners[0] in areas.labels[near & areas.core]
        assert not areas.ground[owners[0]]


def test_a_black_goes_to_the_area_with_most_of_its_border() -> None:
    areas, blacks, width = _found(_room([(180, 200, 45)]))
    labels = adopt_solids(areas.labels, areas.core, areas.ground, blacks, width)
    left = areas.labels[200, 90]
    assert labels[200, 180] == left
    # Right of the wall's line, too: all of it but the rim of half a line.
    assert labels[200, 214] == left and labels[200, 260] == areas.labels[200, 260] != left


def test_a_black_that_only_the_ground_lies_beside_stays() -> None:
    ink = _room([])
    cv2.circle(ink, (30, 370), 22, 255, -1)
    areas, blacks, width = _found(ink)
    labels = adopt_solids(areas.labels, areas.core, areas.ground, blacks, width)
    assert areas.ground[labels[370, 30]]
    assert (adopt_solids(areas.labels, areas.core, areas.ground, blacks.without([1]), width)
            == areas.labels).all()


@settings(max_examples=25, deadline=None)
@given(blobs, st.floats(2, 12))
def test_hollowing_leaves_a_rim_and_touches_nothing_else(
        discs: list[tuple[int, int, int]], rim: float) -> None:
    ink = _room(discs)
    _, blacks, _ = _found(ink)
    for number in range(1, len(blacks.solids) + 1):
        bare = hollow(ink, blacks, [number], rim)
        assert (bare <= ink).all()
        assert (bare[blacks.labels != number] == ink[blacks.labels != number]).all()
        depth = cv2.distanceTransform((ink >= 128).astype(np.uint8), cv2.DIST_L2,
                                      cv2.DIST_MASK_PRECISE)
        mine = blacks.labels == number
        assert (bare[mine & (depth >= rim + 1)] == 0).all()
        assert (bare[mine & (depth <= rim - 0.6)] == ink[mine & (depth <= rim - 0.6)]).all()
    assert hollow(ink, blacks, [], rim) is ink


@settings(max_examples=25, deadline=None)
@given(blobs)
def test_blacks_are_found_by_any_place_within_and_numbered_anew_without_some(
        discs: list[tuple[int, int, int]]) -> None:
    _, blacks, _ = _found(_room(discs))
    for number, solid in enumerate(blacks.solids, start=1):
        assert blacks.at([(solid.x, solid.y)]) == [number]
        rest = blacks.without([number])
        assert len(rest.solids) == len(blacks.solids) - 1
        assert rest.labels.max() == len(rest.solids)
        assert ((rest.labels > 0) == ((blacks.labels > 0) & (blacks.labels != number))).all()
        for k, other in enumerate(rest.solids, start=1):
            assert rest.labels[int(other.y), int(other.x)] == k
    assert blacks.at([(5.0, 5.0), (-3.0, 8.0), (1e5, 2.0)]) == []
