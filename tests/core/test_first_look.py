"""What a drawing gets at its arrival: groups of areas, first colours."""

import re

import cv2
import numpy as np
from benchmarks.fit_trees import fit
from benchmarks.grouping import pair_f1
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from tests.drawings import links_ink
from wardrobe.core.areas.segment import segment
from wardrobe.core.areas.suggest import MAX_PARTS, explain_groups, group_areas
from wardrobe.core.colour import from_hex, srgb_to_lab, srgb_to_oklch
from wardrobe.core.looks.first import FIRST_PALETTES, FigureParts, first_colours
from wardrobe.core.trees import load_trees, save_trees

Byte = NDArray[np.uint8]


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.integers(40, 460), st.integers(40, 460), st.integers(10, 90),
                          st.integers(10, 90)), min_size=1, max_size=24), st.integers(2, 8))
def test_every_area_of_the_figure_is_in_one_group(shapes: list[tuple[int, ...]],
                                                  width: int) -> None:
    ink = np.zeros((500, 500), np.uint8)
    cv2.rectangle(ink, (20, 20), (480, 480), 255, width)
    for x, y, a, b in shapes:
        cv2.ellipse(ink, (x, y), (a, b), 0, 0, 360, 255, width)
    areas = segment(ink)
    groups = group_areas(areas)
    found = np.sort(np.concatenate(groups))
    assert np.array_equal(found, np.flatnonzero(~areas.ground)[1:])
    assert len(groups) <= MAX_PARTS
    sizes = [int(areas.pixels[g].sum()) for g in groups]
    assert sizes == sorted(sizes, reverse=True)
    for group, join in zip(groups, explain_groups(areas, groups), strict=True):
        assert (join is None) == (len(group) == 1)
        if join:
            one, other = join.halves
            assert np.array_equal(np.sort(np.concatenate([one, other])), group)
            assert areas.pixels[one].sum() >= areas.pixels[other].sum() > 0


def test_groups_say_why() -> None:
    areas = segment(links_ink())
    groups = group_areas(areas)
    joins = explain_groups(areas, groups)
    why = {int(a): join.reason for g, join in zip(groups, joins, strict=True) if join for a in g}
    assert why[int(areas.labels[200, 150])] == "left and right alike"
    assert why[int(areas.labels[300, 320])] == "5 shapes, alike"


@settings(max_examples=40, deadline=None)
@given(st.integers(1, 14), st.integers(0, 10**6))
def test_first_colours_tell_neighbours_apart(count: int, seed: int) -> None:
    """Parts on a line, each beside the next: in every palette neighbours differ in value by more
    than is needed to see it (a just noticeable difference is about 1 CIELAB lightness; 5 here)."""
    rng = np.random.default_rng(seed)
    share = rng.random(count)
    contact = np.zeros((count, count))
    for k in range(count - 1):
        contact[k, k + 1] = contact[k + 1, k] = 0.5
    parts = FigureParts(share / share.sum(), contact, [""] * count)
    for palette in FIRST_PALETTES:
        colours = first_colours(parts, palette)
        assert len(colours) == count and all(re.fullmatch("#[0-9a-f]{6}", c) for c in colours)
        light = np.array([srgb_to_lab(np.array(from_hex(c)) / 255)[0] for c in colours])
        assert (np.abs(np.diff(light)) > 5).all()


def test_a_face_gets_skin_and_the_rest_of_it_its_own() -> None:
    parts = FigureParts(np.array([0.5, 0.3, 0.1, 0.1]), np.full((4, 4), 0.2),
                        ["skin", "hair", "eye", "lips"])
    for palette in FIRST_PALETTES:
        skin, hair, eye, lips = (srgb_to_oklch(np.array(from_hex(c)) / 255)
                                 for c in first_colours(parts, palette))
        assert 20 < skin[2] < 90 and eye[0] > 0.9 and abs(hair[0] - skin[0]) > 0.1
        assert abs(lips[0] - skin[0]) > 0.08


def test_trees_say_what_they_were_fitted_to_say(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Against scikit-learn's own prediction (checked in ``fit``), and through a file."""
    rng = np.random.default_rng(1)
    rows = rng.normal(size=(600, 4))
    trees = fit(rows, rows[:, 0] + rows[:, 1] ** 2 > 0.5, np.ones(600), max_iter=20)
    save_trees(tmp_path / "trees.npz", [trees, trees])
    again = load_trees(tmp_path / "trees.npz")
    assert len(again) == 2
    assert np.array_equal(again[1].chance(rows), trees.chance(rows))


def test_pair_f1_by_hand() -> None:
    """Found {a, b}, {c, d, e}; true {a, b, c}, {d, e}: 2 of 4 pairs and 2 of 4 agree."""
    assert pair_f1(np.array([0, 0, 1, 1, 1]), np.array([0, 0, 0, 1, 1])) == 0.5
