"""Layers that were painted elsewhere come home: the same picture, once."""


from dataclasses import replace

import cv2
import numpy as np
import pytest

from tests.recipe.painted import (
    DERIVER,
    PART,
    RECIPE,
    brush,
    changed,
    come,
    finished,
    full_name,
    home,
    picture,
    place,
    whole,
)
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Group, Layer, Stack, Tint
from wardrobe.recipe.document.delivery import Delivery, ExtraLayer
from wardrobe.recipe.edits import (
    AddLook,
    ChangePart,
    SetDelivery,
    apply,
    dressed,
)
from wardrobe.recipe.exchange.layered.extras import added_layers
from wardrobe.recipe.exchange.layered.take_back import match_returned, take_over

KINDS = [("over all", "normal", 1.0), ("over all", "screen", 0.6),
         ("under the lines", "normal", 0.8), ("under the lines", "multiply", 1.0),
         ("under the lines", "overlay", 0.7),
         ("under the lines", "plus-lighter", 0.5)]


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


def test_finish_layers_come_home_renamed_moved_weakened_painted_on_and_gone() -> None:
    recipe = finished()
    stack = DERIVER.stack(recipe)
    dust, glow, sparks = (full_name(recipe, n) for n in ("dust", "glow", "sparks"))
    more = whole(brush(99, "x", "normal"))

    def painted_on(layer: Layer) -> Layer:
        pixels = whole(layer)
        pixels[more[..., 3] > 200] = (9, 200, 90, 255)
        return replace(layer, paint=pixels, x=0, y=0)

    by = {dust: lambda layer: replace(layer, name="figure / soot"),
          glow: lambda layer: replace(layer, opacity=0.35, mode="overlay"), sparks: painted_on}
    file = changed(stack, by)  # type: ignore[arg-type]
    at = [n.name for n in file.nodes].index("figure / soot")
    nodes = list(file.nodes)
    nodes[at], nodes[at + 1] = nodes[at + 1], nodes[at]  # the other way round
    nodes.insert(at + 1, brush(5, "between", "multiply"))
    file = Stack(480, 480, nodes)
    back, brought = come(recipe, file)
    assert [(f.name, f.mode, round(f.strength, 3)) for f in back.finish] == [
        ("glow", "overlay", 0.35), ("between", "multiply", 1.0), ("soot", "multiply", 0.8),
        ("sparks", "normal", 0.8)]
    assert {f.id for f in recipe.finish} < {f.id for f in back.finish}
    assert len(brought.changes) == 5 and brought.layers == 1
    assert brought.left == 0 and np.abs(picture(back) - on_white(flatten(file))).max() <= 1
    again, _ = come(back, file)
    assert again == back
    # One that is gone is hidden, not lost, and stays if that is not wanted.
    less = changed(stack, {glow: lambda layer: None})
    back, brought = come(recipe, less)
    assert [f.visible for f in back.finish] == [True, False, True] and brought.left == 0
    assert come(recipe, less, gone=False)[0] == recipe


def test_layers_that_were_merged_come_home_with_the_same_picture() -> None:
    recipe = finished()
    stack = DERIVER.stack(recipe)
    # Shades merged down into the flat: as long as nothing was painted nothing has changed.
    group = next(n for n in stack.nodes if isinstance(n, Group) and n.name == "part 1")
    merged = flatten(Stack(480, 480, list(group.children)))
    base = Layer(group.children[0].name, merged)
    nodes = [replace(n, children=[base]) if n is group else n for n in stack.nodes]
    same, brought = come(recipe, Stack(480, 480, nodes))
    assert same == recipe and brought.left == 0
    # Painted after that: the rest is one layer, once.
    touched = base.pixels.copy()
    inside = (touched[..., 3] == 255) & (whole(brush(12, "x", "normal"))[..., 3] > 128)
    touched[inside] = (250, 240, 20, 255)
    nodes = [replace(n, children=[replace(base, paint=touched)]) if n is group else n
             for n in stack.nodes]
    file = Stack(480, 480, nodes)
    back, brought = come(recipe, file)
    assert back.parts == recipe.parts and brought.left > 300
    back, brought = come(recipe, file, rest=True)
    assert brought.left == 0 and back.finish[-1].name == "as painted"
    assert np.abs(picture(back) - on_white(flatten(file))).max() <= 1
    assert come(back, file, rest=True)[0] == back
    # Two finish layers merged into one that has a new name.
    dust, glow = (full_name(recipe, n) for n in ("dust", "glow"))
    lower = flatten(Stack(480, 480, [n for n in stack.nodes if n.name.split(" / ")[0]
                                     not in ("lines",) and n.name not in (
                                         full_name(recipe, "sparks"),)]))
    at = [n.name for n in stack.nodes].index(dust)
    nodes = [n for n in stack.nodes if n.name not in (dust, glow)]
    nodes.insert(at, Layer("both", lower))
    file = Stack(480, 480, nodes)
    back, brought = come(recipe, file)
    assert [(f.name, f.visible) for f in back.finish if f.name != "sparks"] == [
        ("dust", False), ("glow", False), ("both", True)] and brought.left == 0


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


@pytest.mark.parametrize("clipping", ["limited", "masked"])
@pytest.mark.parametrize("arrangement", ["by part", "by pass", "whole figure"])
@pytest.mark.parametrize("more", [{}, {"numbered": True, "lines": "by part"},
                                  {"names": "{pass} of {part}", "empties": True}])
def test_a_file_on_which_nothing_was_painted_changes_nothing(
        clipping: str, arrangement: str, more: dict[str, object]) -> None:
    """However it was delivered: arranged, clipped, named."""
    recipe = apply(finished(), SetDelivery(delivery=Delivery.model_validate(
        {"clipping": clipping, "arrangement": arrangement, **more})))
    back, brought = come(recipe, DERIVER.stack(recipe))
    assert back == recipe and brought.left == 0
    assert (brought.changes, brought.notes, brought.areas, brought.layers) == ((), (), 0, 0)
