"""Strokes and clicks that change the cut."""

from functools import reduce

import numpy as np
import pytest

from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.edits import AddPart, ClaimAreas, EditRefusedError, Several, TurnPicture, apply
from wardrobe.recipe.reports.gestures import meaning
from wardrobe.recipe.stages import Deriver


def _frame() -> np.ndarray:
    """A box of 200 x 120 px; its left and right chambers are open to each other in the middle."""
    rgba = np.zeros((180, 260, 4), np.uint8)
    alpha = rgba[..., 3]
    alpha[30:150, 30:34] = alpha[30:150, 226:230] = 255
    alpha[30:34, 30:230] = alpha[146:150, 30:230] = 255
    alpha[30:75, 128:132] = alpha[105:150, 128:132] = 255
    return rgba


@pytest.fixture
def piece() -> tuple[Deriver, Recipe]:
    rgba = _frame()
    recipe = Recipe(source=Source(asset="0" * 64, width=260, height=180))
    recipe = reduce(apply, [AddPart(name="coat"), AddPart(name="sleeve"),
                            ClaimAreas(to="p1", strokes=(((60.0, 90.0),),))], recipe)
    return Deriver(lambda asset: rgba), recipe


def _at(deriver: Deriver, recipe: Recipe, x: int, y: int) -> str | None:
    row = deriver.assignment(recipe).part_of_area[deriver.areas(recipe).labels[y, x]]
    return recipe.parts[row - 1].name if row else None


def test_a_second_click_gets_its_share_up_to_where_a_line_is_missing(
        piece: tuple[Deriver, Recipe]) -> None:
    deriver, recipe = piece
    assert _at(deriver, recipe, 200, 90) == "coat"
    shared = apply(recipe, meaning(deriver, recipe, "share out", [(200.0, 90.0)], "p2"))
    assert isinstance(meaning(deriver, recipe, "share out", [(200.0, 90.0)], "p2"), Several)
    for x in range(40, 220, 4):
        for y in (45, 90, 135):
            if not 122 < x < 138:
                assert _at(deriver, shared, x, y) == ("coat" if x < 130 else "sleeve"), (x, y)
    # The share follows the picture when it is turned.
    turned = apply(shared, TurnPicture())
    assert _at(deriver, turned, 180 - 1 - 90, 60) == "coat"
    assert _at(deriver, turned, 180 - 1 - 90, 200) == "sleeve"


def test_a_split_keeps_the_owner_and_its_pieces_can_be_given_away(
        piece: tuple[Deriver, Recipe]) -> None:
    deriver, recipe = piece
    split = apply(recipe, meaning(deriver, recipe, "split", [(90.0, 40.0), (90.0, 140.0)]))
    assert deriver.areas(split).count == deriver.areas(recipe).count + 1
    assert _at(deriver, split, 60, 90) == _at(deriver, split, 200, 90) == "coat"
    given = apply(split, ClaimAreas(to="p2", strokes=(((60.0, 90.0),),)))
    assert _at(deriver, given, 60, 90) == "sleeve"
    assert _at(deriver, given, 86, 90) == "sleeve"
    assert _at(deriver, given, 95, 90) == "coat"
    # Its border moves to where a second stroke runs, and joined areas are one again.
    moved = apply(given, meaning(deriver, given, "move border", [(110.0, 36.0), (110.0, 144.0)]))
    assert _at(deriver, moved, 105, 90) == "sleeve"
    assert _at(deriver, moved, 115, 90) == "coat"
    joined = apply(moved, meaning(deriver, moved, "join", [(200.0, 90.0), (60.0, 90.0)]))
    assert _at(deriver, joined, 60, 90) == _at(deriver, joined, 200, 90) == "coat"
    assert deriver.areas(joined).count == deriver.areas(recipe).count


def test_a_gesture_that_comes_to_nothing_is_refused(piece: tuple[Deriver, Recipe]) -> None:
    deriver, recipe = piece
    for gesture, stroke in (("split", [(60.0, 80.0), (70.0, 90.0)]),
                            ("join", [(60.0, 80.0), (70.0, 90.0)]),
                            ("move border", [(80.0, 36.0), (80.0, 144.0)])):
        with pytest.raises(EditRefusedError):
            meaning(deriver, recipe, gesture, stroke)  # type: ignore[arg-type]
    with pytest.raises(EditRefusedError, match="part"):
        meaning(deriver, recipe, "share out", [(60.0, 90.0)])


def test_every_number_of_a_recut_is_true(piece: tuple[Deriver, Recipe]) -> None:
    deriver, recipe = piece
    split = apply(recipe, meaning(deriver, recipe, "split", [(90.0, 40.0), (90.0, 140.0)]))
    areas = deriver.areas(split)
    sizes = np.bincount(areas.labels.ravel(), minlength=areas.count + 1)
    np.testing.assert_array_equal(areas.pixels[1:], sizes[1:])
    for area in range(1, areas.count + 1):
        x, y = areas.seeds[area]
        assert areas.labels[y, x] == area
        assert areas.core[y, x]
