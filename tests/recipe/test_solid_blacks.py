"""Solid blacks: whole with the form beside them, or areas of a part of their own."""

import cv2
import numpy as np
import pytest

from tests.drawings import transparent
from wardrobe.core.colour import from_hex
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, ClaimAreas, ColourBlack, TurnPicture, apply
from wardrobe.recipe.stages import Deriver

SIZE, LINE = 600, 8
HAIR = (300.0, 130.0)


def _head() -> np.ndarray:
    """A face under black hair that makes the upper half of the head's outline."""
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.ellipse(ink, (300, 300), (150, 200), 0, 0, 360, 255, LINE, cv2.LINE_AA)
    skull = np.zeros_like(ink)
    cv2.ellipse(skull, (300, 300), (150, 200), 0, 0, 360, 255, -1, cv2.LINE_AA)
    ink[:230] = np.maximum(ink[:230], skull[:230])
    return ink


def _begun() -> tuple[Deriver, Recipe]:
    rgba = transparent(_head())
    return Deriver(lambda asset: rgba), Recipe(source=Source(
        asset="0" * 64, width=SIZE, height=SIZE))


def test_a_black_at_the_silhouette_belongs_whole_to_the_form_beside_it() -> None:
    deriver, recipe = _begun()
    areas = deriver.areas(recipe)
    face = areas.labels[400, 300]
    assert not areas.ground[face]
    # Down to half a line from the outline; the outer half of a line stays with the ground.
    black = _head() >= 128
    depth = cv2.distanceTransform(black.astype(np.uint8), cv2.DIST_L2, 5)
    inside = black & (depth > areas.line_width)
    inside[236:] = False
    assert (areas.labels[inside] == face).all()
    assert areas.ground[areas.labels[20, 300]]
    assert areas.pixels.sum() == SIZE * SIZE
    assert areas.pixels[face] == (areas.labels == face).sum()


def test_a_black_that_takes_colour_is_an_area_and_looks_as_before() -> None:
    deriver, recipe = _begun()
    before = deriver.areas(recipe)
    coloured = apply(recipe, ColourBlack(place=HAIR))
    areas = deriver.areas(coloured)
    assert areas.count == before.count + 1
    (part,) = coloured.parts
    assert part.base == recipe.lines.colour
    assert deriver.assignment(coloured).part_of_area[areas.labels[130, 300]] == 1
    # A rim of a line's width stays in ink; within it the part's own colour is seen.
    ink = deriver.ink(coloured)
    assert ink[130, 300] == 0
    top = int(np.flatnonzero(deriver.ink(recipe)[:, 300] >= 128)[0])
    assert (ink[top + 1:top + int(before.line_width) - 1, 300] == 255).all()
    red = apply(coloured, ChangePart(part=part.id, base="#d04030"))
    picture = deriver.picture(red, View.whole(SIZE, SIZE, SIZE))
    r, g, b = picture[150, 240].astype(int)
    assert r > g + 40 and r > b + 40
    plain = deriver.picture(coloured, View.whole(SIZE, SIZE, SIZE))[190:215, 300].astype(int)
    assert np.abs(plain - from_hex(recipe.lines.colour)).mean() < 40


def test_a_black_in_colour_turns_with_the_picture_and_goes_back_to_ink() -> None:
    deriver, recipe = _begun()
    coloured = apply(recipe, ColourBlack(place=HAIR))
    turned = apply(coloured, TurnPicture())
    assert deriver.areas(turned).count == deriver.areas(coloured).count
    back = apply(coloured, ColourBlack(place=HAIR, coloured=False))
    assert (back.coloured_blacks, back.parts, back.claims) == ((), (), ())
    assert (deriver.ink(back) == deriver.ink(recipe)).all()
    # A part that was given more than the black stays with what it has.
    more = apply(coloured, ClaimAreas(to=coloured.parts[0].id, strokes=(((300.0, 400.0),),)))
    kept = apply(more, ColourBlack(place=HAIR, coloured=False))
    assert [p.name for p in kept.parts] == ["black 1"]


@pytest.mark.parametrize("place", [(5.0, 5.0), (300.0, 400.0), (-40.0, 9999.0)])
def test_a_place_without_a_black_changes_no_area(place: tuple[float, float]) -> None:
    deriver, recipe = _begun()
    changed = apply(recipe, ColourBlack(place=place))
    assert (deriver.areas(changed).labels == deriver.areas(recipe).labels).all()
