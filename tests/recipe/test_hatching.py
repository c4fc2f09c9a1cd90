"""Ink that bounds nothing in a recipe: printed, named by places, and taken back."""

from functools import reduce

import cv2
import numpy as np
import pytest

from tests.drawings import transparent
from tests.hatched import ball, hatch_over, plain_ink
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.model import Hatching, Recipe, Source
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    ColourBlack,
    EditRefusedError,
    SetDetails,
    SetHatching,
    TurnPicture,
    apply,
)
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.reports.hatching import certain_hatching, report_hatching
from wardrobe.recipe.stages import Deriver

PLAIN = plain_ink()
HATCHED = hatch_over(PLAIN, ball(), (35.0, 110.0), 30.0, 4)
STROKES = np.where(HATCHED != PLAIN, HATCHED, 0).astype(np.uint8)
FIRST, SECOND = "0" * 64, "1" * 64


def _begun(ink: np.ndarray) -> tuple[Deriver, Recipe]:
    pictures = {FIRST: transparent(ink), SECOND: transparent(STROKES)}
    size = ink.shape[0]
    return Deriver(pictures.__getitem__), Recipe(
        source=Source(asset=FIRST, width=size, height=size))


def test_hatching_is_printed_but_bounds_nothing_from_the_start() -> None:
    deriver, recipe = _begun(HATCHED)
    cut = deriver.areas(recipe).count
    first = reduce(apply, first_edits(deriver, recipe), recipe)
    assert first.hatching
    plain_deriver, plain = _begun(PLAIN)
    assert deriver.areas(first).count == plain_deriver.areas(plain).count < cut
    assert (deriver.ink(first) == deriver.ink(recipe)).all()
    assert (deriver.coverage(first) <= deriver.drawn(first)).all()
    # It may be had back, family by family.
    (family,) = [f for f in report_hatching(deriver, first).families if not f.bounds]
    assert "ross-hatching" in family.words and family.strokes > 10
    kept = apply(first, SetHatching(hatching=()))
    assert deriver.areas(kept).count == cut
    assert all(f.bounds for f in report_hatching(deriver, kept).families)


def test_hatching_turns_with_the_picture() -> None:
    deriver, recipe = _begun(HATCHED)
    certain = certain_hatching(deriver, recipe)
    assert certain
    upright = apply(recipe, certain)
    turned = apply(upright, TurnPicture())
    assert deriver.areas(turned).count == deriver.areas(upright).count
    assert apply(apply(turned, TurnPicture(clockwise=False)), certain) == upright


def test_strokes_pointed_out_by_hand_go_and_no_others() -> None:
    deriver, recipe = _begun(PLAIN)
    assert certain_hatching(deriver, recipe) is None
    line = Hatching(places=((500.0, 240.0), (520.0, 241.0)), by_hand=True)  # across the box
    changed = apply(recipe, SetHatching(hatching=(line,)))
    before, after = deriver.areas(recipe), deriver.areas(changed)
    assert after.count == before.count - 1
    assert after.labels[200, 500] == after.labels[300, 500]
    assert before.labels[200, 500] != before.labels[300, 500]
    assert report_hatching(deriver, changed).by_hand == 1


def test_a_hatched_place_can_be_put_in_shadow() -> None:
    deriver, recipe = _begun(HATCHED)
    first = reduce(apply, first_edits(deriver, recipe), recipe)
    (family,) = [f for f in report_hatching(deriver, first).families if not f.bounds]
    assert family.shade
    shaded = apply(first, family.shade)
    xs, ys = np.array(shaded.touch_ups[0].points).T
    assert abs(xs.mean() - 230) < 30 and abs(ys.mean() - 300) < 30
    assert 180 < np.ptp(xs) < 280 and 180 < np.ptp(ys) < 280
    # Once it is, it is not offered again; taken back, it is.
    again = {f.words: f.shade for f in report_hatching(deriver, shaded).families}
    assert again[family.words] is None
    bare = shaded.model_copy(update={"touch_ups": ()})
    assert {f.words: f.shade for f in report_hatching(deriver, bare).families}[family.words]


def test_a_second_drawing_is_printed_and_changes_no_area() -> None:
    deriver, recipe = _begun(PLAIN)
    size = PLAIN.shape[0]
    second = PlacedPicture(asset=SECOND, width=size, height=size)
    both = apply(recipe, SetDetails(details=second))
    assert (deriver.areas(both).labels == deriver.areas(recipe).labels).all()
    printed = deriver.ink(both)
    inside = STROKES >= 250
    assert (printed[inside] > 200).all() and (deriver.ink(recipe)[inside] < 128).mean() > 0.9
    turned = apply(both, TurnPicture())
    assert (np.rot90(printed, -1) == deriver.ink(turned)).mean() > 0.999
    assert deriver.ink(apply(both, SetDetails(details=None))).tolist() == \
        deriver.ink(recipe).tolist()


@pytest.mark.parametrize("size", [(700, 500), (350, 360)])
def test_a_second_drawing_of_other_proportions_is_refused(size: tuple[int, int]) -> None:
    _, recipe = _begun(PLAIN)
    second = PlacedPicture(asset=SECOND, width=size[0], height=size[1])
    with pytest.raises(EditRefusedError, match="does not lie on the first"):
        apply(recipe, SetDetails(details=second))


def test_the_stack_prints_what_the_picture_prints() -> None:
    """Hatching, a second drawing and a black in colour, in every layer: within 1/255."""
    ink = HATCHED.copy()
    cv2.circle(ink, (500, 340), 50, 255, -1, cv2.LINE_AA)
    deriver, recipe = _begun(ink)
    first = reduce(apply, first_edits(deriver, recipe), recipe)
    size = ink.shape[0]
    second = PlacedPicture(asset=SECOND, width=size, height=size)
    dressed = reduce(apply, [SetDetails(details=second), ColourBlack(place=(500.0, 340.0))], first)
    picture = deriver.picture(dressed, View.whole(size, size, size))
    assert np.abs(flatten(deriver.stack(dressed))[..., :3].astype(int) - picture).max() <= 1


@pytest.mark.parametrize("gone", ["hatching", "details", "coloured_blacks", "open_figure"])
def test_recipes_from_before_open_as_they_were(gone: str) -> None:
    _, recipe = _begun(PLAIN)
    before = recipe.model_dump(mode="json", exclude={gone})
    assert Recipe.model_validate(before) == recipe
