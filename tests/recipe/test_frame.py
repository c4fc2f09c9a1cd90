"""Turning, levelling and cropping: the picture and everything that names places move together."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import figure_ink, piece
from wardrobe.core.lines.frame import apply_frame, frame_matrix
from wardrobe.recipe.document.model import Closing, Frame, Recipe
from wardrobe.recipe.edits import CloseGaps, EditRefusedError, SetFrame, TurnPicture, apply

DERIVER, RECIPE = piece()


def owners(recipe: Recipe) -> dict[str, int]:
    """Pixels of each part."""
    rows = DERIVER.assignment(recipe).part_of_area[DERIVER.areas(recipe).labels]
    return {p.name: int((rows == k).sum()) for k, p in enumerate(recipe.parts, start=1)}


@pytest.mark.parametrize("clockwise", [True, False])
def test_four_quarter_turns_are_none_and_each_keeps_the_parts(clockwise: bool) -> None:
    recipe = apply(RECIPE, SetFrame(frame=Frame(crop=(60, 10, 400, 440))))
    cropped, before = recipe, owners(recipe)
    pictures = []
    for _ in range(4):
        recipe = apply(recipe, TurnPicture(clockwise=clockwise))
        pictures.append(DERIVER.coverage(recipe))
        for name, pixels in owners(recipe).items():
            assert pixels == pytest.approx(before[name], rel=0.02, abs=30)
    assert (np.rot90(pictures[0], 1 if clockwise else -1) == DERIVER.coverage(cropped)).all()
    assert recipe.frame == cropped.frame and recipe.size == (400, 440)
    assert np.allclose(recipe.claims[0].strokes[0], cropped.claims[0].strokes[0], atol=0.05)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 3), st.floats(-20, 20), st.integers(0, 100), st.integers(0, 100))
def test_the_map_of_places_is_the_map_of_pixels(turn: int, tilt: float, x: int, y: int) -> None:
    dot = np.zeros((300, 260, 4), np.uint8)
    dot[140:147, 120:127] = 255  # a square whose middle is 123.5, 143.5
    crop = (x, y, 120, 130)
    framed = apply_frame(dot, turn, tilt, crop)[..., 3].astype(float)
    place = frame_matrix(260, 300, turn, tilt, crop) @ [123.5, 143.5, 1]
    assert framed.shape == (130, 120)
    if not (8 < place[0] < 112 and 8 < place[1] < 122):
        return
    ys, xs = np.mgrid[0:130, 0:120] + 0.5
    centre = [(framed * xs).sum() / framed.sum(), (framed * ys).sum() / framed.sum()]
    assert np.allclose(centre, place[:2], atol=0.15)


def test_what_is_cropped_away_is_idle_and_comes_back() -> None:
    recipe = apply(RECIPE, CloseGaps(closings=(Closing(points=((5, 5), (90, 40))),)))
    small = apply(recipe, SetFrame(frame=Frame(crop=(120, 30, 240, 160))))  # only the head
    assert sum(pixels > 0 for pixels in owners(small).values()) < len(RECIPE.parts)
    back = apply(small, SetFrame(frame=Frame()))
    assert owners(back) == owners(recipe)
    assert np.allclose(back.closings[0].points, recipe.closings[0].points)


@pytest.mark.parametrize("crop", [(0, 0, 481, 200), (-1, 0, 200, 200), (400, 400, 80, 20)])
def test_impossible_crops_are_refused(crop: tuple[int, int, int, int]) -> None:
    assert figure_ink().shape == (480, 480)
    with pytest.raises(EditRefusedError):
        apply(RECIPE, SetFrame(frame=Frame(crop=crop)))
