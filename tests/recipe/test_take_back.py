"""What was painted elsewhere comes back: as touch-ups, as colours, as a piece of its own."""

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import piece
from wardrobe.core.geometry.outline import outlines_of
from wardrobe.core.masks.touch import draw_touch
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Stack, Tint, mapped
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.ink import Inking
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, RemovePart, SetInk, apply
from wardrobe.recipe.exchange.layered.begin import (
    NoLinesLayerError,
    background_of,
    lines_of,
    parts_of,
)
from wardrobe.recipe.exchange.layered.take_back import OtherSizeError, match_returned, take_over
from wardrobe.recipe.stages import Deriver

DERIVER, RECIPE = piece()
BODY = next(p for p in RECIPE.parts if p.id == "p1")
NAME = f"{BODY.name} / shade"


def whole(layer: Layer) -> np.ndarray:
    """A layer's alpha on the canvas."""
    plane = np.zeros((480, 480), np.uint8)
    plane[layer.y:layer.y + layer.shape[0], layer.x:layer.x + layer.shape[1]] = layer.alpha
    return plane


def named(stack: Stack, name: str) -> Layer:
    return next(layer for layer in stack.layers() if layer.name == name)


def painted(stack: Stack, name: str = NAME) -> tuple[Stack, np.ndarray]:
    """A ring painted into a shade, and a corner taken out of it, as by hand; the new mask."""
    base = whole(named(stack, name.replace("shade", "base")))
    ys, xs = np.nonzero(base)
    middle = int(np.median(xs)), int(np.median(ys))
    mask = whole(named(stack, name))
    ring = np.zeros_like(mask)
    cv2.circle(ring, middle, 30, 255, -1, cv2.LINE_AA)
    cv2.circle(ring, middle, 12, 0, -1, cv2.LINE_AA)
    mask = np.maximum(mask, ring)
    mask[middle[1] + 40:, :] = 0
    mask = np.minimum(mask, base)
    return mapped(stack, lambda layer: replace(layer, paint=Tint(mask, layer.paint.colour), x=0,
                                               y=0) if layer.name == name else layer), mask


@pytest.mark.parametrize("arrangement", ["by part", "by pass"])
def test_a_shade_painted_by_hand_becomes_touch_ups(arrangement: str) -> None:
    recipe = RECIPE.model_copy(update={"delivery": Delivery(arrangement=arrangement)})
    untouched = match_returned(DERIVER, recipe, DERIVER.stack(recipe))
    assert all(r.how == "name" and not (r.put_in or r.taken_out or r.colour) for r in untouched)
    stack, mask = painted(DERIVER.stack(recipe))
    found = match_returned(DERIVER, recipe, stack)
    changed = [r for r in found if r.put_in or r.taken_out]
    assert [(r.match.part, r.match.name) for r in changed] == [("p1", "shade")]
    edit, notes = take_over(DERIVER, recipe, stack, [r.match for r in found])
    assert edit is not None and notes == []
    after = apply(recipe, edit)
    assert {(t.part, t.name) for t in after.touch_ups} == {("p1", "shade")}
    got, want = whole(named(DERIVER.stack(after), NAME)) > 127, mask > 127
    assert (got & want).sum() > 0.985 * (got | want).sum()
    # It is a shape like any other now: it stays when the part is coloured anew.
    red = apply(after, ChangePart(part="p1", base="#aa3344"))
    assert (whole(named(DERIVER.stack(red), NAME)) == whole(named(DERIVER.stack(after),
                                                                  NAME))).all()


@pytest.mark.parametrize("on", [False, True])
def test_lines_come_home_as_lines_in_however_many_layers(on: bool) -> None:
    inked = apply(RECIPE, SetInk(ink=Inking(on=on)))
    by_part = inked.model_copy(update={"delivery": Delivery(lines="by part")})
    for recipe in (inked, by_part):
        stack = DERIVER.stack(recipe)
        found = match_returned(DERIVER, recipe, stack)
        kinds = {layer.name: r.match.kind
                 for layer, r in zip(stack.layers(), found, strict=True)}
        inks = {name for name in kinds if "/ lines" in name or name.startswith("lines / ")}
        assert inks == {name for name, kind in kinds.items() if kind == "lines"} and inks
        assert take_over(DERIVER, recipe, stack, [r.match for r in found]) == (None, [])
    # A piece that begins from such a file has the same drawing.
    drawing = lines_of(DERIVER.stack(by_part.model_copy(update={"ink": Inking()})))
    assert (drawing[..., 3] == DERIVER.ink(RECIPE)).all()


def test_colours_come_along_exactly() -> None:
    stack = mapped(DERIVER.stack(RECIPE), lambda layer: replace(
        layer, opacity=0.4) if layer.name == NAME else replace(
        layer, paint=Tint(layer.alpha, (10, 120, 200)))
        if layer.name == f"{RECIPE.parts[1].name} / base" else layer)
    matches = [r.match for r in match_returned(DERIVER, RECIPE, stack)]
    edit, _ = take_over(DERIVER, RECIPE, stack, matches)
    assert edit is not None
    after = apply(RECIPE, edit)
    shown, theirs = DERIVER.picture(after, View.whole(480, 480)), flatten(stack)
    solid = (DERIVER.ink(RECIPE) == 0) & np.isin(DERIVER.parts_map(RECIPE), (1, 2))
    edge = cv2.Canny(theirs[..., :3], 20, 40) > 0
    inside = solid & (cv2.dilate(edge.astype(np.uint8), np.ones((5, 5), np.uint8)) == 0)
    deep = whole(named(stack, f"{BODY.name} / deep shade")) > 0 \
        if any(x.name == f"{BODY.name} / deep shade" for x in stack.layers()) else ~solid
    inside &= ~deep
    assert inside.sum() > 3000
    assert np.abs(shown.astype(int) - theirs[..., :3])[inside & (
        DERIVER.parts_map(RECIPE) == 1)].max() <= 1
    assert after.parts[1].base == "#0a78c8"
    again = take_over(DERIVER, after, stack, matches)[0]
    assert again is None or not any(e.kind in ("change_part", "choose_colours")
                                    for e in again.edits)
    assert take_over(DERIVER, RECIPE, stack, matches, colours=False)[0] is None


def test_colours_take_up_no_room_for_touch_ups(monkeypatch: pytest.MonkeyPatch) -> None:
    """With room for as many touch-ups as there are, colours that come along leave none out."""
    stack, _ = painted(DERIVER.stack(RECIPE))
    matches = [r.match for r in match_returned(DERIVER, RECIPE, stack)]
    shapes_only, _ = take_over(DERIVER, RECIPE, stack, matches)
    assert shapes_only is not None
    monkeypatch.setattr("wardrobe.recipe.exchange.layered.take_back.MAX_TOUCH_UPS",
                        len(shapes_only.edits))
    recoloured = mapped(stack, lambda layer: replace(
        layer, paint=Tint(layer.alpha, (10, 120, 200)))
        if layer.name == f"{RECIPE.parts[1].name} / base" else layer)
    edit, notes = take_over(DERIVER, RECIPE, recoloured, matches)
    assert edit is not None and notes == []
    assert len(edit.edits) == len(shapes_only.edits) + 1


def test_layers_are_told_by_words_and_by_where_they_are_painted() -> None:
    recipe = apply(RECIPE, ChangePart(part="p1", name="Coat"))
    stack, _ = painted(DERIVER.stack(recipe), "Coat / shade")
    names = {"Coat / base": "Layer 4", "Coat / shade": "my coats shadow",
             "lines / ink": "final lineart", f"{RECIPE.parts[1].name} / shade": "shadow2"}
    foreign = mapped(stack, lambda layer: replace(layer, name=names.get(layer.name, layer.name)))
    # Groups keep their names, which would tell as well.
    flat = Stack(480, 480, list(foreign.layers()))
    told = {layer.name: r for layer, r in zip(flat.layers(), match_returned(
        DERIVER, recipe, flat), strict=True)}
    assert (told["Layer 4"].match.kind, told["Layer 4"].match.part, told["Layer 4"].how) \
        == ("base", "p1", "pixels")
    shadow = told["my coats shadow"]
    assert (shadow.match.part, shadow.match.name, shadow.how) == ("p1", "shade", "words")
    assert shadow.put_in > 100
    assert told["final lineart"].match.kind == "lines"
    assert (told["shadow2"].match.part, told["shadow2"].how) == ("p2", "pixels")


def test_a_flat_of_another_shape_is_told_and_left() -> None:
    stack = DERIVER.stack(RECIPE)
    base = whole(named(stack, f"{BODY.name} / base"))
    ys, xs = np.nonzero(base)
    cv2.circle(base, (int(np.median(xs)), int(np.median(ys))), 20, 0, -1)
    cut = mapped(stack, lambda x: replace(x, paint=Tint(base, (1, 2, 3)), x=0, y=0)
                 if x.name == f"{BODY.name} / base" else x)
    found = match_returned(DERIVER, RECIPE, cut)
    told = [(r.match.part, r.repainted) for r in found if r.repainted]
    assert len(told) == 1 and told[0][0] == "p1" and abs(told[0][1] - np.pi * 400) < 60
    edit, notes = take_over(DERIVER, RECIPE, cut, [r.match for r in found], colours=False)
    assert edit is None and BODY.name in notes[0]


def test_what_does_not_fit_is_refused_or_left() -> None:
    stack = DERIVER.stack(RECIPE)
    with pytest.raises(OtherSizeError, match="480 x 480"):
        match_returned(DERIVER, RECIPE, replace(stack, width=481))
    matches = [r.match for r in match_returned(DERIVER, RECIPE, painted(stack)[0])]
    without = apply(RECIPE, RemovePart(part="p1"))
    edit, _ = take_over(DERIVER, without, painted(stack)[0], matches)
    assert edit is None or not any(e.part == "p1" for e in edit.edits)


@given(st.integers(0, 10**6))
def test_outlines_hold_painted_places_to_the_pixel(seed: int) -> None:
    rng = np.random.default_rng(seed)
    mask = cv2.GaussianBlur(rng.random((90, 120)).astype(np.float32), (0, 0), 5) > 0.5
    drawn = np.zeros(mask.shape, bool)
    kept = np.zeros(mask.shape, bool)
    count, numbers, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8),
                                                                connectivity=4)
    for k in range(1, count):
        kept |= (numbers == k) & (stats[k, cv2.CC_STAT_AREA] >= 8)
    for outline in outlines_of(mask, 8):
        touch = draw_touch("shade", "put in", None, outline, np.zeros(0), mask.shape)
        assert touch is not None
        drawn[touch.box] |= touch.cover > 127
    assert (drawn != kept).sum() <= 0.004 * mask.size


def test_a_piece_begins_from_a_layered_file() -> None:
    recipe = apply(RECIPE, ChangePart(part="p1", name="leather coat", base="#335577"))
    stack, _ = painted(DERIVER.stack(recipe), "leather coat / shade")
    lines = lines_of(stack)
    deriver = Deriver(lambda asset: lines)
    fresh = Recipe(source=Source(asset="1" * 64, width=480, height=480))
    begun = apply(fresh, parts_of(stack, deriver.areas(fresh)))
    ground = background_of(stack)
    assert ground is not None and ground.colour == recipe.background
    assert [(p.name, p.base) for p in begun.parts] == [(p.name, p.base) for p in recipe.parts]
    assert begun.parts[0].material == "leather"
    agree = deriver.parts_map(begun) == DERIVER.parts_map(recipe)
    assert agree.mean() > 0.995
    matches = [r.match for r in match_returned(deriver, begun, stack)]
    edit, _ = take_over(deriver, begun, stack, matches)
    assert edit is not None and any(e.kind == "touch_up_pass" for e in edit.edits)
    with pytest.raises(NoLinesLayerError):
        lines_of(mapped(stack, lambda x: None if x.name.startswith("lines") else x))
