"""The first edits of a drawing, and what is offered where they are not sure."""

from functools import reduce

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.drawings import bust_ink, person_ink, transparent
from tests.tries import tries
from wardrobe.core.colour import from_hex, srgb_to_oklch
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.edits import ClaimAreas, CloseGaps, KeepParts, Several, apply
from wardrobe.recipe.reports.figure import offer_figure
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.reports.palettes import first_palettes
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]


def _begun(ink: Byte) -> tuple[Deriver, Recipe]:
    rgba = transparent(ink)
    deriver = Deriver(lambda asset: rgba)
    return deriver, Recipe(source=Source(asset="0" * 64, width=ink.shape[1], height=ink.shape[0]))


def _ground_at(deriver: Deriver, recipe: Recipe, x: int, y: int) -> bool:
    ground = deriver.assignment(recipe).ground
    return bool(ground[deriver.areas(recipe).labels[y, x]])


def _star(margin: int) -> Byte:
    """Thick lines whose points come near the edge: the channels there look like gaps."""
    size = 1000
    turn = np.arange(10) * np.pi / 5 - np.pi / 2
    reach = np.where(np.arange(10) % 2, 200, size / 2 - margin)
    points = np.stack([np.cos(turn), np.sin(turn)], axis=1) * reach[:, None] + size / 2
    ink = np.zeros((size, size), np.uint8)
    cv2.polylines(ink, [points.astype(np.int32)], True, 255, 30)
    return ink


@pytest.mark.parametrize("margin", [40, 60, 90])
def test_the_ground_is_all_ground(margin: int) -> None:
    ink = _star(margin)
    deriver, recipe = _begun(ink)
    recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    for x, y in ((5, 5), (995, 5), (5, 995), (995, 995), (500, 5), (5, 500)):
        assert _ground_at(deriver, recipe, x, y)
    assert not _ground_at(deriver, recipe, 500, 500)


def test_an_open_bust_comes_in_whole_and_one_edit_takes_that_back() -> None:
    deriver, recipe = _begun(bust_ink())
    edits = first_edits(deriver, recipe)
    whole = reduce(apply, edits, recipe)
    assert whole.closings and whole.proposed
    assert not _ground_at(deriver, whole, 450, 600) and _ground_at(deriver, whole, 450, 850)
    assert isinstance(edits[0], Several)
    assert not reduce(apply, edits[1:], recipe).closings
    # What is whole is offered nothing more.
    assert offer_figure(deriver, whole).edit is None


def test_an_offer_makes_the_figure_whole_and_suggests_parts_anew() -> None:
    ink = bust_ink()
    deriver, recipe = _begun(ink)
    open_ = reduce(apply, first_edits(deriver, recipe)[1:], recipe)  # without its closings
    offer = offer_figure(deriver, open_)
    assert offer.edit is not None and offer.closings and offer.added > 0.3
    assert "closing" in offer.words and 0 < offer.sure <= 1
    closed = apply(open_, offer.edit)
    assert not _ground_at(deriver, closed, 450, 600)
    part_of = deriver.assignment(closed).part_of_area
    assert part_of[deriver.areas(closed).labels[600, 450]] > 0
    # Parts that were kept stay as they are.
    kept = apply(open_, KeepParts())
    offer = offer_figure(deriver, kept)
    assert offer.edit is not None and apply(kept, offer.edit).parts == kept.parts


def test_what_a_person_claimed_stays() -> None:
    deriver, recipe = _begun(_star(60))
    recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    recipe = apply(recipe, ClaimAreas(to="ground", strokes=(((500.0, 500.0),),)))
    offer = offer_figure(deriver, recipe)
    recipe = apply(recipe, offer.edit) if offer.edit else recipe
    assert _ground_at(deriver, recipe, 500, 500)


def test_a_closing_that_is_drawn_counts_as_a_line() -> None:
    deriver, recipe = _begun(bust_ink())
    base = CloseGaps.model_validate({"closings": [{"points": [(188, 701), (712, 701)]}]})
    closed = apply(recipe, base)
    assert deriver.figure_and_ground(closed).closings == []
    assert deriver.figure_and_ground(closed).mask[600, 450]


def test_palettes_change_colours_and_nothing_else() -> None:
    deriver, recipe = _begun(bust_ink())
    recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    offers = first_palettes(deriver, recipe)
    seen = set()
    for offer in offers:
        worn = apply(recipe, offer.edit)
        seen.add(tuple(p.base for p in worn.parts))
        plain = [p.model_copy(update={"base": "#000000"}) for p in worn.parts]
        assert plain == [p.model_copy(update={"base": "#000000"}) for p in recipe.parts]
    assert len(seen) == len(offers) == 3
    assert first_palettes(deriver, recipe.model_copy(update={"parts": (), "claims": ()})) == []


def test_what_the_drawing_itself_leaves_clear_is_not_taken_for_figure() -> None:
    """A ring, white where it is solid and clear within: the ground is seen through it."""
    ink = np.zeros((600, 600), np.uint8)
    cv2.circle(ink, (300, 300), 240, 255, 14)
    cv2.circle(ink, (300, 300), 120, 255, 14)
    rgba = np.repeat(255 - ink[..., None], 4, axis=2)
    rgba[..., 3] = 0
    cv2.circle(alpha := np.zeros_like(ink), (300, 300), 240, 255, -1)
    cv2.circle(alpha, (300, 300), 120, 0, -1)
    rgba[..., 3] = np.maximum(alpha, ink)
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=600, height=600))
    assert _ground_at(deriver, recipe, 300, 300)
    assert not _ground_at(deriver, recipe, 300, 120)
    assert offer_figure(deriver, recipe).edit is None
    assert _ground_at(deriver, reduce(apply, first_edits(deriver, recipe), recipe), 300, 300)


@pytest.mark.parametrize("seed", range(tries(3, 12)))
def test_a_person_arrives_with_skin_eyes_and_hair_by_name(seed: int) -> None:
    """Skin is of a skin's hue in every palette (20 to 90 degrees in OKLCH, from memory), and the
    whites of the eyes are the lightest there is."""
    ink, places = person_ink(seed)
    deriver, recipe = _begun(ink)
    recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    part_of = deriver.assignment(recipe).part_of_area[deriver.areas(recipe).labels]
    named = {place: recipe.parts[part_of[y, x] - 1].name for place, (x, y) in places.items()}
    assert (named["face"], named["neck"], named["eye"], named["hair"]) == (
        "skin", "skin", "eyes", "hair")
    assert named["shirt"].startswith("part ")
    for offer in first_palettes(deriver, recipe):
        worn = apply(recipe, offer.edit)
        colour = {p.name: srgb_to_oklch(np.array(from_hex(p.base)) / 255) for p in worn.parts}
        assert 20 < colour["skin"][2] < 90
        assert colour["eyes"][0] == max(c[0] for c in colour.values())
