"""A page is taken apart into pieces and put together again."""

import cv2
import numpy as np
from numpy.typing import NDArray

from tests.drawings import on_white
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.flatten import on_white as laid_on_white
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.edits import SetBackground, apply
from wardrobe.recipe.series.page import PagePanel, PageSheet
from wardrobe.recipe.series.panels import (
    BALLOONS,
    begin_panel,
    find_sheet,
    lettered,
    page_ink,
    page_picture,
    panel_drawing,
    place_of,
    put_together,
)
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
        balloons = [np.array(b) for b in self.sheet.balloons]
        for edit in begin_panel(self.deriver, recipe, place, balloons, details):
            recipe = apply(recipe, edit)
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
