"""Layers that were painted elsewhere come home: the same picture, once."""

import hashlib
from dataclasses import replace

import cv2
import numpy as np
import pytest

from tests.drawings import figure_ink, piece, transparent
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint
from wardrobe.recipe.document.delivery import Delivery, ExtraLayer
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddLook, ChangePart, SetDelivery, apply, dressed
from wardrobe.recipe.exchange.layered.extras import added_layers, bring_home
from wardrobe.recipe.exchange.layered.take_back import match_returned, take_over
from wardrobe.recipe.stages import Deriver

PICTURES = {"0" * 64: transparent(figure_ink())}
DERIVER = Deriver(PICTURES.__getitem__)
RECIPE = piece()[1]


def keep(pixels: np.ndarray) -> PlacedPicture:
    name = hashlib.sha256(pixels.tobytes() + bytes(str(pixels.shape), "ascii")).hexdigest()
    PICTURES[name] = pixels.copy()
    return PlacedPicture(asset=name, width=pixels.shape[1], height=pixels.shape[0])


def brush(seed: int, name: str, mode: str, opacity: float = 1.0, soft: float = 4) -> Layer:
    """A stroke in changing colours, cropped."""
    rng = np.random.default_rng(seed)
    alpha = np.zeros((480, 480), np.uint8)
    points = rng.integers(120, 360, (5, 2))
    cv2.polylines(alpha, [points.astype(np.int32)], False, 255, 26, cv2.LINE_AA)
    alpha = cv2.GaussianBlur(alpha, (0, 0), soft)
    y, x = np.mgrid[:480, :480]
    paint = np.dstack([x * 255 // 480, y * 255 // 480, np.full_like(x, 90), alpha]).astype(np.uint8)
    x0, y0, w, h = cv2.boundingRect(alpha)
    return Layer(name, np.ascontiguousarray(paint[y0:y0 + h, x0:x0 + w]), x0, y0, mode, opacity)


def place(nodes: list[Node], layer: Layer, where: str) -> list[Node]:
    """The stack with a layer over all, under the lines, or in a part's group."""
    if where == "over all":
        return [*nodes, layer]
    if where == "under the lines":
        k = next(k for k, n in enumerate(nodes) if n.name.startswith("lines"))
        return [*nodes[:k], layer, *nodes[k:]]
    return [replace(n, children=[*n.children, layer]) if isinstance(n, Group) and n.name == where
            else n for n in nodes]


PART = RECIPE.parts[0]
KINDS = [("over all", "normal", 1.0), ("over all", "screen", 0.6),
         ("under the lines", "normal", 0.8), ("under the lines", "multiply", 1.0),
         ("under the lines", "overlay", 0.7),
         ("under the lines", "plus-lighter", 0.5)]


def home(recipe, stack):  # type: ignore[no-untyped-def]
    matches = [r.match for r in match_returned(DERIVER, recipe, stack)]
    return bring_home(recipe, added_layers(DERIVER, recipe, stack, matches), keep)


def picture(recipe) -> np.ndarray:  # type: ignore[no-untyped-def]
    return DERIVER.picture(recipe, View.whole(*recipe.size)).astype(int)


@pytest.mark.parametrize("where, mode, opacity", KINDS)
def test_what_is_painted_elsewhere_comes_home_with_the_same_picture_once(
        where: str, mode: str, opacity: float) -> None:
    stack = DERIVER.stack(RECIPE)
    painted = Stack(stack.width, stack.height, place(
        list(stack.nodes), brush(len(mode), "sparks of dust", mode, opacity), where))
    edit, notes = home(RECIPE, painted)
    assert edit is not None and notes == []
    (draft,) = edit.layers
    assert (draft.mode, draft.strength) == (mode, opacity)
    assert draft.over_lines == (where == "over all") and draft.scope == "everything"
    back = apply(RECIPE, edit)
    assert np.abs(picture(back) - on_white(flatten(painted))).max() <= 1
    # Delivered again, it is one of the piece's own; the same file brings nothing twice.
    again = DERIVER.stack(back)
    assert np.abs(on_white(flatten(again)).astype(int) - picture(back)).max() <= 1
    assert home(back, again)[0] is None and home(back, painted)[0] is None
    # It is seen in every look.
    look = apply(back, AddLook(name="night"))
    assert dressed(look, look.looks[-1].id).finish == back.finish


def test_what_lies_in_a_part_s_group_lies_on_that_part_whatever_its_colour() -> None:
    stack = DERIVER.stack(RECIPE)
    layer = brush(7, "dirt", "multiply")
    painted = Stack(stack.width, stack.height, place(list(stack.nodes), layer, PART.name))
    edit, _ = home(RECIPE, painted)
    assert edit is not None and edit.layers[0].parts == (PART.id,)
    back = apply(RECIPE, edit)
    mine = DERIVER.parts_map(RECIPE) == 1
    change = np.abs(picture(back) - picture(RECIPE)).max(axis=2) > 2
    assert change[mine].any() and not change[~cv2.dilate(
        mine.astype(np.uint8), np.ones((9, 9))).astype(bool)].any()
    other = apply(back, ChangePart(part=PART.id, base="#aa3322"))
    assert other.finish == back.finish
    # A further shade is kept as a layer and does not become touch-ups of the one that is there.
    more = Stack(stack.width, stack.height, place(
        list(stack.nodes), brush(8, "second shade", "multiply"), PART.name))
    edit, _ = home(RECIPE, more)
    assert edit is not None and edit.layers[0].name == "second shade"
    matches = [r.match for r in match_returned(DERIVER, RECIPE, more)]
    extra = {a.placed.order for a in added_layers(DERIVER, RECIPE, more, matches)}
    touched, _ = take_over(DERIVER, RECIPE, more, [m for m in matches if m.index not in extra])
    assert touched is None


def test_empty_layers_that_were_painted_on_come_home_and_hidden_ones_stay_hidden() -> None:
    recipe = apply(RECIPE, SetDelivery(delivery=Delivery(extras=(
        ExtraLayer(name="to paint on", place="over figure"),))))
    stack = DERIVER.stack(recipe)
    stroke = brush(3, "x", "normal")
    hidden = replace(brush(4, "tried", "screen"), visible=False)

    def painted(nodes):  # type: ignore[no-untyped-def]
        return [Group(n.name, painted(n.children), n.mode, n.opacity) if isinstance(n, Group) else
                replace(n, paint=stroke.paint, x=stroke.x, y=stroke.y)
                if "to paint on" in n.name else n for n in nodes]

    edit, _ = home(recipe, Stack(stack.width, stack.height, [*painted(stack.nodes), hidden]))
    assert edit is not None
    assert [(d.name.split(" / ")[-1], d.visible) for d in edit.layers] == [
        ("to paint on", True), ("tried", False)]
    # Nothing painted, nothing brought; what is no blend mode is told.
    assert home(recipe, stack)[0] is None
    cut = Layer("hole", Tint(np.full((480, 480), 255, np.uint8), (0, 0, 0)),
                mode="destination-out")
    none, notes = home(recipe, Stack(stack.width, stack.height, [*stack.nodes, cut]))
    assert none is None and "no blend mode" in notes[0]
