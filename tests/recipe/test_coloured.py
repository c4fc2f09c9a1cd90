"""A coloured picture that is opened is a piece that looks like it, to be judged and changed."""

from dataclasses import dataclass
from functools import lru_cache, reduce

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.figures import figure
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.flats import separate
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.checks.report import check_piece
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, ChooseColours, SetInk, apply
from wardrobe.recipe.exchange.coloured import laid_over, lines_picture, open_coloured
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
SEEDS = (0, 3, 2004)


@dataclass(frozen=True)
class Came:
    """A picture, the piece that it became, and the same without what is laid over it."""

    rgb: Byte
    deriver: Deriver
    recipe: Recipe
    bare: Recipe


def brought_in(rgb: Byte) -> Came:
    found = separate(np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)]))
    height, width = rgb.shape[:2]
    pictures = {"0" * 64: lines_picture(found)}
    deriver = Deriver(lambda asset: pictures[asset])
    recipe = Recipe(source=Source(asset="0" * 64, width=width, height=height))
    told: list[float] = []
    opened = open_coloured(deriver, recipe, rgb, found, lambda done, doing: told.append(done))
    assert told == sorted(told) and min(told) >= 0 and max(told) <= 1
    bare = reduce(apply, opened.edits, recipe)
    placed = []
    for name, pixels in (("1" * 64, opened.left.darker), ("2" * 64, opened.left.lighter)):
        if pixels is not None:
            pictures[name] = np.dstack([pixels, np.full(rgb.shape[:2], 255, np.uint8)])
        placed.append(None if pixels is None else PlacedPicture(
            asset=name, width=width, height=height))
    laid = laid_over(*placed)
    return Came(rgb, deriver, apply(bare, laid) if laid else bare, bare)


@lru_cache(maxsize=4)
def came(seed: int) -> Came:
    """A figure of the tests as it looks, on its own."""
    return brought_in(whole(*pair(seed)))


@lru_cache(maxsize=4)
def pair(seed: int) -> tuple[Deriver, Recipe]:
    planted = figure(seed)
    return planted.deriver, planted.recipe


def whole(deriver: Deriver, recipe: Recipe, scale: float = 1) -> Byte:
    view = View.whole(*recipe.size)
    return deriver.picture(recipe, View(0, 0, view.width, view.height, scale))


@pytest.mark.parametrize("seed", SEEDS)
def test_the_piece_is_the_picture_at_any_size(seed: int) -> None:
    c = came(seed)
    off = np.abs(whole(c.deriver, c.recipe).astype(int) - c.rgb)
    assert off.max() <= 2 and off.mean() < 0.05
    # The stack that is delivered is the picture, too.
    stacked = flatten(c.deriver.stack(c.recipe))[..., :3].astype(int)
    assert np.abs(stacked - c.rgb).max() <= 3
    # What was told from it alone comes near already.
    assert np.abs(whole(c.deriver, c.bare).astype(int) - c.rgb).mean() < 0.8
    small = whole(c.deriver, c.recipe, 0.4).astype(int)
    shrunk = cv2.resize(c.rgb, small.shape[1::-1], interpolation=cv2.INTER_AREA)
    assert np.abs(small - shrunk).mean() < 0.8
    assert np.mean(np.abs(small - shrunk).max(axis=2) > 24) < 0.004


@pytest.mark.parametrize("seed", SEEDS)
def test_parts_are_those_of_the_picture_and_its_light_comes_from_where_it_came(seed: int) -> None:
    c = came(seed)
    deriver, truth = pair(seed)
    labels, told = deriver.parts_map(truth), c.deriver.parts_map(c.recipe)
    free = (deriver.coverage(truth) < 64) & (c.deriver.coverage(c.recipe) < 64)
    right = 0
    for row, part in enumerate(truth.parts, start=1):
        mine = told[free & (labels == row)]
        if not len(mine):
            continue
        most = int(np.bincount(mine).argmax())
        right += int(np.count_nonzero(mine == most))
        assert most, part.name
        base = c.recipe.parts[most - 1].base
        if part.name in ("whites", "buttons"):  # small, and in shade for the most part
            continue
        away = delta_e_2000(*(srgb_to_lab(np.array(from_hex(b)) / 255)
                              for b in (part.base, base)))
        assert away < 3, (part.name, part.base, base)
    assert right > 0.97 * np.count_nonzero(free & (labels > 0))
    assert c.recipe.background == truth.background
    off = (c.recipe.light.azimuth - truth.light.azimuth + 180) % 360 - 180
    assert abs(off) < 20
    assert len({p.name for p in c.recipe.parts}) == len(c.recipe.parts)
    assert {p.material for p in c.recipe.parts} <= {"skin", "matte cloth"}


@pytest.mark.parametrize("seed", SEEDS)
def test_shade_lies_where_it_was_painted(seed: int) -> None:
    c = came(seed)
    deriver, truth = pair(seed)
    view = View.whole(*truth.size)
    painted, told = deriver.masks(truth, view), c.deriver.masks(c.recipe, view)
    free = (deriver.coverage(truth) < 64) & (deriver.parts_map(truth) > 0)
    # A deeper shade is shade, too.
    have = np.max([painted.level(k) for k in ("shade", "deep shade") if k in painted.keys],
                  axis=0)[free] > 127
    got = told.level("shade")[free] > 127
    assert (have & got).sum() > 0.9 * (have | got).sum()


def test_a_new_base_carries_all_that_was_painted_on_it() -> None:
    c = came(SEEDS[0])
    rows = c.deriver.parts_map(c.recipe)
    row = int(np.bincount(rows[rows > 0]).argmax())
    part = c.recipe.parts[row - 1]
    changed = apply(c.recipe, ChangePart(part=part.id, base="#607080"))
    before, after = (whole(c.deriver, r).astype(int) for r in (c.recipe, changed))
    inside = cv2.erode((rows == row).astype(np.uint8), np.ones((15, 15))) > 0
    paper = c.deriver.coverage(c.recipe) < 8
    assert (np.abs(after - before)[inside & paper].max(axis=1) > 8).mean() > 0.9
    # Its shade goes along: darker than the new base, and nothing of the old one.
    shade = c.deriver.masks(c.recipe, View.whole(*c.recipe.size)).level("shade") > 127
    dark, lit = (np.median(after[inside & paper & where], axis=0) for where in (shade, ~shade))
    assert (dark < lit).all() and np.abs(lit - (0x60, 0x70, 0x80)).max() <= 2
    far = cv2.dilate((rows == row).astype(np.uint8), np.ones((15, 15))) == 0
    assert np.array_equal(after[far], before[far])


def test_it_is_judged_as_any_piece_is() -> None:
    """Two parts that are alike in the picture are found, by what is seen of them."""
    deriver, recipe = pair(SEEDS[0])
    coat = next(p for p in recipe.parts if p.name == "coat")
    sleeves = next(p for p in recipe.parts if p.name == "sleeves")
    r, g, b = from_hex(coat.base)
    # Alike, but not so that they would be taken for one part.
    near = f"#{r:02x}{min(255, g + 9):02x}{min(255, b + 4):02x}"
    one, other = (srgb_to_lab(np.array(from_hex(c)) / 255) for c in (coat.base, near))
    assert 3 < delta_e_2000(one, other) < 6.5
    alike = reduce(apply, (ChangePart(part=sleeves.id, base=near),
                           ChooseColours(part=sleeves.id, own=dict.fromkeys(
                               sleeves.own) | coat.own)), recipe)
    c = brought_in(whole(deriver, alike))
    told = c.deriver.parts_map(c.recipe)
    truth = deriver.parts_map(recipe)
    rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
    mine = {int(np.bincount(told[truth == rows[p.id]]).argmax()) for p in (coat, sleeves)}
    assert len(mine) == 2
    ids = {c.recipe.parts[row - 1].id for row in mine}
    together = [f for f in check_piece(c.deriver, c.recipe) if f.check == "run together"]
    assert any(ids <= set(f.ids) for f in together)
    assert any(f.repair for f in together)


def test_lines_in_colours_are_lines() -> None:
    deriver, recipe = pair(SEEDS[1])
    inked = apply(recipe, SetInk(ink=recipe.ink.model_copy(update={"on": True})))
    c = brought_in(whole(deriver, inked))
    have, got = deriver.coverage(recipe) >= 128, c.deriver.coverage(c.recipe) >= 128
    assert (have & got).sum() > 0.9 * (have | got).sum()
    assert np.abs(whole(c.deriver, c.recipe).astype(int) - c.rgb).max() <= 2
