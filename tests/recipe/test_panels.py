"""A page is taken apart into pieces and put together again."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from tests.drawings import on_white
from tests.tries import tries
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.flatten import on_white as laid_on_white
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.edits import SetBackground, TurnPicture, apply
from wardrobe.recipe.series.page import PagePanel, PageSheet
from wardrobe.recipe.series.panels import (
    BALLOONS,
    begin_panel,
    box_anew,
    cut_anew,
    panel_drawing,
)
from wardrobe.recipe.series.sheets import (
    TurnedPanelError,
    as_points,
    find_sheet,
    in_reading_order,
    lettered,
    page_ink,
    place_of,
)
from wardrobe.recipe.series.together import page_picture, put_together
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
WIDTH, HEIGHT = 800, 1100


def page() -> Byte:
    """Two panels, the lower tilted, each with a figure; a balloon with words in the upper."""
    ink = np.zeros((HEIGHT, WIDTH), np.uint8)
    upper = np.array([[40, 40], [760, 40], [760, 500], [40, 540]])
    lower = np.array([[40, 580], [760, 540], [760, 1060], [40, 1060]])
    for outline, (x, y) in ((upper, (520, 330)), (lower, (380, 860))):
        cv2.circle(ink, (x, y - 60), 50, 255, 5)
        cv2.ellipse(ink, (x, y + 40), (70, 50), 0, 0, 360, 255, 5)
        cv2.polylines(ink, [outline], True, 255, 6)
    cv2.ellipse(ink, (240, 200), (170, 90), 0, 0, 360, 255, 4)
    cv2.putText(ink, "MIND THE TIDE", (115, 210), cv2.FONT_HERSHEY_SIMPLEX, 1.0, 255, 3)
    return ink


class Sheet:
    """A page with its pieces begun, in memory."""

    def __init__(self) -> None:
        rgb = on_white(page())
        self.rgba = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
        self.pictures = {"0" * 64: self.rgba}
        self.deriver = Deriver(self.pictures.__getitem__)
        bare = PageSheet(asset="0" * 64, width=WIDTH, height=HEIGHT)
        self.ink = page_ink(self.deriver, bare)
        self.sheet = find_sheet(bare, self.ink)
        self.letters = lettered(self.ink, self.sheet)
        self.recipes = [self.begin(k) for k in range(len(self.sheet.panels))]

    def keep(self, pixels: Byte, name: str) -> str:
        self.pictures[name] = pixels
        return name

    def begin(self, k: int) -> Recipe:
        place = place_of(self.sheet, k)
        cut = panel_drawing(self.rgba, self.letters, place)
        h, w = cut.drawing.shape[:2]
        asset = self.keep(cut.drawing, f"{k + 1}" * 64)
        details = None if cut.letters is None else PlacedPicture(
            asset=self.keep(cut.letters, f"a{k}" * 32), width=w, height=h)
        recipe = Recipe(source=Source(asset=asset, width=w, height=h))
        for edit in begin_panel(self.deriver, recipe, place, self.sheet.balloons, details):
            recipe = apply(recipe, edit)
        self.sheet = self.sheet.model_copy(update={"panels": tuple(
            p.model_copy(update={"piece": j + 1, "origin": place.box[:2]}) if j == k else p
            for j, p in enumerate(self.sheet.panels))})
        return recipe


SHEET = Sheet()


def test_each_panel_is_a_piece_of_its_own() -> None:
    assert len(SHEET.sheet.panels) == 2 and len(SHEET.sheet.balloons) == 1
    for recipe in SHEET.recipes:
        areas, assigned = SHEET.deriver.areas(recipe), SHEET.deriver.assignment(recipe)
        middle = (np.array(recipe.size) / 2).astype(int)
        ground = assigned.ground | (assigned.scenery > 0)
        # Head and body are figure; what lies around them in the frame is ground, as is the
        # corner outside of a tilted frame.
        assert 2 <= (~ground[1:]).sum() <= 3
        assert ground[areas.labels[5, middle[0]]] or ground[areas.labels[60, 20]]
        assert recipe.proposed


def test_letters_bound_nothing_and_their_balloon_is_paper() -> None:
    upper = SHEET.recipes[0]
    part = next(p for p in upper.parts if p.name == BALLOONS)
    assert part.scenery == "paper" and part.base == "#ffffff" and upper.details is not None
    assert SHEET.letters.sum() > 1500
    areas = SHEET.deriver.areas(upper)
    x, y = place_of(SHEET.sheet, 0).box[:2]
    inside = areas.labels[205 - y, 300 - x]
    assert areas.pixels[inside] > 20_000  # not cut up by the letters
    dark = apply(upper, SetBackground(colour="#101010"))
    picture = page_picture(SHEET.deriver, SHEET.sheet, [dark, None], SHEET.ink, SHEET.letters)
    assert (picture[160:175, 200:280] == 255).all()
    assert picture[450, 100].max() < 40


def test_the_stack_of_a_page_shows_what_the_page_shows() -> None:
    recipes = [apply(r, SetBackground(colour=c)) for r, c in zip(
        SHEET.recipes, ("#aaccee", "#eeccaa"), strict=True)]
    stack = put_together(SHEET.deriver, SHEET.sheet, recipes, SHEET.ink, SHEET.letters)
    names = [node.name for node in stack.nodes]
    assert names == ["paper", "panel 2", "panel 1", "balloons", "frames and letters"] \
        or names == ["paper", "panel 1", "panel 2", "balloons", "frames and letters"]
    flat = laid_on_white(flatten(stack)).astype(int)
    seen = page_picture(SHEET.deriver, SHEET.sheet, recipes, SHEET.ink, SHEET.letters).astype(int)
    off = np.abs(flat - seen).max(axis=2)
    assert np.quantile(off, 0.995) <= 3 and (off > 40).mean() < 0.002
    # The gutter and the margin are paper, whatever the panels' grounds are.
    for y, x in ((20, 400), (523, 700), (1085, 30)):
        assert (flat[y, x] == 255).all()
    left = page_picture(SHEET.deriver, SHEET.sheet, [None, None], SHEET.ink, SHEET.letters)
    assert np.abs(left.astype(int) - SHEET.rgba[..., :3]).mean() < 3


def test_a_smaller_panel_lies_over_a_larger_one() -> None:
    outer = ((0.0, 0.0), (400.0, 0.0), (400.0, 400.0), (0.0, 400.0))
    inner = ((200.0, 200.0), (380.0, 200.0), (380.0, 380.0), (200.0, 380.0))
    sheet = PageSheet(asset="0" * 64, width=400, height=400, panels=(
        PagePanel(outline=outer), PagePanel(outline=inner)))
    mask = place_of(sheet, 0).mask()
    assert not mask[300, 300] and mask[100, 100] and not place_of(sheet, 0).square
    assert place_of(sheet, 1).square and place_of(sheet, 1).box == (200, 200, 180, 180)


def corrected(sheet: PageSheet, number: int) -> Recipe:
    """The recipe of a panel after its page was corrected."""
    recipe = SHEET.recipes[number]
    before = place_of(SHEET.sheet, number, recipe)
    letters = lettered(SHEET.ink, sheet)
    box = box_anew(sheet, number, recipe)
    cut = panel_drawing(SHEET.rgba, letters, place_of(sheet, number).seen_from(box))
    name = f"{len(SHEET.pictures):064x}"
    details = None if cut.letters is None else PlacedPicture(
        asset=SHEET.keep(cut.letters, f"b{name[1:]}"), width=box[2], height=box[3])
    return apply(recipe, cut_anew(SHEET.deriver, recipe, before, sheet, number,
                                  SHEET.keep(cut.drawing, name), details, SHEET.sheet.balloons))


def with_outline(number: int, outline: NDArray[np.float64]) -> PageSheet:
    return SHEET.sheet.model_copy(update={"panels": tuple(
        p.model_copy(update={"outline": as_points(outline)}) if k == number else p
        for k, p in enumerate(SHEET.sheet.panels))})


@settings(max_examples=tries(6, 12), deadline=None)
@given(st.lists(st.floats(-38, 60), min_size=8, max_size=8), st.integers(0, 1))
def test_a_corrected_frame_leaves_colours_where_they_are_on_the_page(
        moves: list[float], number: int) -> None:
    outline = np.array(SHEET.sheet.panels[number].outline)
    inwards = np.sign(outline.mean(axis=0) - outline)
    sheet = with_outline(number, np.clip(outline + inwards * np.reshape(moves, (-1, 2)), 1,
                                         [WIDTH - 1, HEIGHT - 1]))
    recipe = corrected(sheet, number)
    # The figure keeps its parts, whichever way corners went.
    old = SHEET.deriver.assignment(SHEET.recipes[number]).part_of_area[
        SHEET.deriver.areas(SHEET.recipes[number]).labels]
    new = SHEET.deriver.assignment(recipe).part_of_area[SHEET.deriver.areas(recipe).labels]
    x, y = place_of(SHEET.sheet, number, SHEET.recipes[number]).box[:2]
    u, v, w, h = place_of(sheet, number, recipe).box
    assert recipe.size == (w, h) and u <= x and v <= y
    there = new[y - v:y - v + old.shape[0], x - u:x - u + old.shape[1]]
    figure = old > 0
    assert ((there == old)[figure]).mean() > 0.99
    # And the page shows it at the same place.
    some = [None, None]
    before = page_picture(SHEET.deriver, SHEET.sheet, [*some[:number], SHEET.recipes[number],
                                                       *some[number + 1:]], SHEET.ink,
                          SHEET.letters).astype(int)
    after = page_picture(SHEET.deriver, sheet, [*some[:number], recipe, *some[number + 1:]],
                         SHEET.ink, SHEET.letters).astype(int)
    spot = np.zeros(SHEET.ink.shape, bool)
    spot[y:y + old.shape[0], x:x + old.shape[1]] = cv2.erode(figure.astype(np.uint8),
                                                             np.ones((9, 9))) > 0
    # Shade may move by a little: form is worked out anew on another sheet.
    assert (np.abs(before - after).max(axis=2)[spot] <= 8).mean() > 0.9
    outer = place_of(sheet, number, recipe).mask()
    assert (new[~cv2.dilate(outer.astype(np.uint8), np.ones((9, 9))).astype(bool)] == 0).all()


def test_balloons_that_are_drawn_or_taken_away_reach_the_pieces() -> None:
    def owner(recipe: Recipe, x: int, y: int) -> str:
        row = SHEET.deriver.assignment(recipe).painted[SHEET.deriver.areas(recipe).labels[y, x]]
        return recipe.parts[row - 1].name if row else ""

    x, y = place_of(SHEET.sheet, 0).box[:2]
    assert owner(SHEET.recipes[0], 240 - x, 150 - y) == BALLOONS
    bare = corrected(SHEET.sheet.model_copy(update={"balloons": (), "letters": False}), 0)
    assert owner(bare, 240 - x, 150 - y) != BALLOONS and bare.details is None
    head = tuple((float(520 + 48 * np.cos(t)), float(270 + 48 * np.sin(t)))
                 for t in np.linspace(0, 2 * np.pi, 40, endpoint=False))
    more = corrected(SHEET.sheet.model_copy(
        update={"balloons": (*SHEET.sheet.balloons, head)}), 0)
    assert owner(more, 520 - x, 270 - y) == BALLOONS == owner(more, 240 - x, 150 - y)
    assert [p.name for p in more.parts].count(BALLOONS) == 1


def test_a_turned_panel_is_told_and_rows_are_read_either_way() -> None:
    turned = [apply(SHEET.recipes[0], TurnPicture()), None]
    with pytest.raises(TurnedPanelError, match="Panel 1 is turned"):
        page_picture(SHEET.deriver, SHEET.sheet, turned, SHEET.ink, SHEET.letters)
    boxes = [((0.0, 0.0), (90.0, 90.0)), ((110.0, 0.0), (200.0, 90.0)),
             ((0.0, 110.0), (200.0, 200.0)), ((150.0, 150.0), (190.0, 190.0))]
    sheet = PageSheet(asset="0" * 64, width=200, height=200, panels=tuple(PagePanel(
        outline=((a, b), (c, b), (c, d), (a, d)), piece=k + 1) for k, ((a, b), (c, d)) in
        enumerate(boxes)))
    # Common practice, no published source: rows from the top, an inset after what holds it.
    for reading, order in (("left to right", [1, 2, 3, 4]), ("right to left", [2, 1, 3, 4])):
        read = in_reading_order(sheet.model_copy(update={"reading": reading}))
        assert [p.piece for p in read.panels] == order
