"""Turning, levelling and cropping: the picture and everything that names places move together."""

import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import figure_ink, piece
from tests.recipes import changed, slots
from tests.tries import tries
from wardrobe.core.lines.frame import apply_frame, frame_matrix, with_room
from wardrobe.recipe.document.model import Closing, Frame, Recipe
from wardrobe.recipe.document.types import FARTHEST
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


@settings(max_examples=tries(8, 25), deadline=None)
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


def places(recipe: Recipe) -> dict[tuple[str | int, ...], list[float]]:
    """Every place that a recipe names, told by the bounds of its schema."""
    document = recipe.model_dump(mode="json")
    found = {}
    for path, schema in slots(document):
        pair = schema.get("prefixItems", ())
        if len(pair) == 2 and all(p.get("maximum") == FARTHEST for p in pair):
            at = document
            for step in path:
                at = at[step]
            found[path] = at
    return found


def close(one: object, other: object) -> bool:
    """Whether two documents differ by no more than rounding."""
    if isinstance(one, dict) and isinstance(other, dict):
        return one.keys() == other.keys() and all(close(one[k], other[k]) for k in one)
    if isinstance(one, list) and isinstance(other, list):
        return len(one) == len(other) and all(map(close, one, other))
    if isinstance(one, float) and isinstance(other, float):
        return abs((one - other + 180) % 360 - 180) < 0.02  # angles come back within a turn
    return one == other


WITH_PLACES = ("parts", "touch_ups", "recuts", "claims", "hatching", "coloured_blacks", "closings",
               "left_open", "finish", "looks", "focus")


@pytest.mark.parametrize("field", WITH_PLACES)
def test_whatever_names_places_moves_with_the_picture_and_back(field: str) -> None:
    dice, seen = random.Random(field), 0
    for _ in range(48):
        recipe = changed(RECIPE, dice, 2, only=field)
        frame = Frame(turn=dice.randrange(4), tilt=round(dice.uniform(-30, 30), 1),
                      crop=(10, 20, 400, 300) if dice.random() < 0.5 else None)
        turned = apply(recipe, SetFrame(frame=frame))
        matrix = frame_matrix(480, 480, frame.turn, frame.tilt, frame.crop)
        before, after = places(recipe), places(turned)
        assert before.keys() == after.keys()
        for path, place in before.items():
            assert np.allclose((matrix @ [*place, 1])[:2], after[path], atol=0.006), path
            seen += path[0] == field
        back = apply(turned, SetFrame(frame=Frame()))
        assert all(np.allclose(place, places(back)[path], atol=0.02)
                   for path, place in before.items())
        assert close(back.model_dump(mode="json"), recipe.model_dump(mode="json"))
    assert seen > 5


def test_all_that_has_places_is_tried() -> None:
    """A new field with places that is not in the list fails here."""
    dice = random.Random(1)
    found = set()
    for field in Recipe.model_fields:
        if field in ("schema_version", "source"):
            continue
        for _ in range(24):
            found |= {path[0] for path in places(changed(RECIPE, dice, 2, only=field))}
    assert found == set(WITH_PLACES)


def test_what_is_cropped_away_is_idle_and_comes_back() -> None:
    recipe = apply(RECIPE, CloseGaps(closings=(Closing(points=((5, 5), (90, 40))),)))
    small = apply(recipe, SetFrame(frame=Frame(crop=(120, 30, 240, 160))))  # only the head
    assert sum(pixels > 0 for pixels in owners(small).values()) < len(RECIPE.parts)
    back = apply(small, SetFrame(frame=Frame()))
    assert owners(back) == owners(recipe)
    assert np.allclose(back.closings[0].points, recipe.closings[0].points)


@settings(max_examples=tries(8, 20), deadline=None)
@given(st.lists(st.integers(0, 90), min_size=4, max_size=4), st.integers(0, 3))
def test_room_around_a_drawing_is_its_paper_and_moves_nothing(room: list[int], turn: int) -> None:
    left, top, right, bottom = room
    frame = Frame(turn=turn, crop=(-left, -top, 480 + left + right, 480 + top + bottom))
    wide = apply(RECIPE, SetFrame(frame=frame))
    ink = DERIVER.coverage(wide)
    assert ink.shape == wide.size[::-1] == (480 + top + bottom, 480 + left + right)
    turned = DERIVER.coverage(apply(RECIPE, SetFrame(frame=Frame(turn=turn))))
    inside = ink[top:top + 480, left:left + 480]
    assert (inside == turned).all() and ink.sum(dtype=int) == turned.sum(dtype=int)
    before = owners(RECIPE)
    assert all(n == pytest.approx(before[k], rel=0.02, abs=30) for k, n in owners(wide).items())


def test_paper_goes_on_as_it_lies_there_without_lines_that_run_off() -> None:
    """An uneven sheet with a line that is cut off by its edge."""
    sheet = np.full((200, 300, 4), 255, np.uint8)
    sheet[..., :3] = np.linspace(180, 240, 300).astype(np.uint8)[None, :, None]
    sheet[90:94, :, :3] = 10
    wide = with_room(sheet, 30, 40, 50, 60).astype(int)
    assert (wide[40:240, 30:330] == sheet).all()
    assert wide[:, :30].min() >= 178 and wide[:, 330:, 0].min() >= 236
    assert np.abs(wide[5, 30:330, 0] - sheet[0, :, 0]).max() <= 6
    clear = np.zeros((80, 80, 4), np.uint8)
    clear[30:50, :] = 255
    assert not with_room(clear, 20, 20, 20, 20)[:, :20].any()


@pytest.mark.parametrize("crop", [(480, 0, 100, 200), (-200, 0, 200, 200), (400, 400, 80, 20),
                                  (-20_000, 0, 21_000, 200), (0, 0, 9500, 9500)])
def test_impossible_crops_are_refused(crop: tuple[int, int, int, int]) -> None:
    assert figure_ink().shape == (480, 480)
    with pytest.raises(EditRefusedError):
        apply(RECIPE, SetFrame(frame=Frame(crop=crop)))
