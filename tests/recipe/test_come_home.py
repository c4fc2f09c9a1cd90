"""Layers that were painted elsewhere come home: the same picture, once."""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import replace

import cv2
import numpy as np
import pytest

from tests.drawings import figure_ink, piece, transparent
from wardrobe.core.colour import from_hex
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint
from wardrobe.recipe.document.delivery import Delivery, ExtraLayer
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddLook,
    ChangePart,
    ClaimAreas,
    SetDelivery,
    apply,
    dressed,
)
from wardrobe.recipe.exchange.layered.extras import added_layers, bring_home
from wardrobe.recipe.exchange.layered.home import Wishes, come_home
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
    edits, notes = bring_home(recipe, added_layers(DERIVER, recipe, stack, matches), keep)
    return edits[0] if edits else None, notes


def come(recipe, stack, **wishes):  # type: ignore[no-untyped-def]
    """The piece after a file has come home, and what came of it."""
    matches = [r.match for r in match_returned(DERIVER, recipe, stack)]
    new = {a.placed.order for a in added_layers(DERIVER, recipe, stack, matches)}
    edit, brought = come_home(DERIVER, recipe, stack, on_white(flatten(stack)), matches, new,
                              Wishes(**wishes), keep)
    return (apply(recipe, edit) if edit else recipe), brought


def changed(stack: Stack, by_name: dict[str, Callable[[Layer], Layer | None]]) -> Stack:
    """A file in which layers of these names are made others, or taken away."""
    def walk(nodes: Sequence[Node]) -> list[Node]:
        found: list[Node] = []
        for node in nodes:
            if isinstance(node, Group):
                found.append(replace(node, children=walk(node.children)))
            elif node.name not in by_name:
                found.append(node)
            elif (new := by_name[node.name](node)) is not None:
                found.append(new)
        return found
    return Stack(stack.width, stack.height, walk(stack.nodes))


def whole(layer: Layer) -> np.ndarray:
    """A layer's pixels on the canvas, RGBA."""
    canvas = np.zeros((480, 480, 4), np.uint8)
    h, w = layer.alpha.shape
    canvas[layer.y:layer.y + h, layer.x:layer.x + w] = layer.pixels
    return canvas


def filled(mask: np.ndarray, rgb: tuple[int, int, int]) -> Callable[[Layer], Layer]:
    """Filled in a colour where a mask is set, as a bucket fills."""
    def paint(layer: Layer) -> Layer:
        pixels = whole(layer)
        pixels[mask] = (*rgb, 255)
        return replace(layer, paint=pixels, x=0, y=0)
    return paint


def erased(mask: np.ndarray) -> Callable[[Layer], Layer]:
    def paint(layer: Layer) -> Layer:
        pixels = whole(layer)
        pixels[mask] = 0
        return replace(layer, paint=pixels, x=0, y=0)
    return paint


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


def part_masks(recipe) -> dict[str, np.ndarray]:  # type: ignore[no-untyped-def]
    parts = DERIVER.parts_map(recipe)
    return {p.name: parts == k for k, p in enumerate(recipe.parts, start=1)}


def test_areas_whose_flat_was_repainted_change_hands() -> None:
    masks, stack = part_masks(RECIPE), DERIVER.stack(RECIPE)
    first = from_hex(RECIPE.parts[0].base)
    two = masks["part 2"]
    painted = changed(stack, {
        "part 1 / base": filled(two, first), "part 2 / base": erased(two),
        "part 2 / shade": lambda layer: None})
    back, brought = come(RECIPE, painted)
    assert brought.areas == 1 and "of “part 2”" in brought.changes[0] \
        and "now “part 1”" in brought.changes[0]
    assert (part_masks(back)["part 1"] == masks["part 1"] | two).mean() > 0.9995
    # As it was painted: no shade where none was; and with the rest, every pixel.
    assert brought.left < 400
    exact, _ = come(RECIPE, painted, rest=True)
    assert np.abs(picture(exact) - on_white(flatten(painted))).max() <= 1
    for piece_now in (back, exact):
        again, nothing = come(piece_now, painted)
        assert again == piece_now and nothing.areas == nothing.touch_ups == nothing.layers == 0
    # Shade may be worked out anew there instead.
    followed, _ = come(RECIPE, painted, follow=True)
    shade = (picture(followed) != picture(back)).any(axis=-1)
    assert (shade & two).sum() > 500 and followed.touch_ups == RECIPE.touch_ups


@pytest.mark.parametrize("share", [0.35, 0.6])
def test_a_flat_that_covers_some_of_an_area_cuts_it(share: float) -> None:
    """The cut lies where the paint ends, to a pixel, and both halves have their parts."""
    masks, stack = part_masks(RECIPE), DERIVER.stack(RECIPE)
    one = masks["part 1"]
    rows = np.flatnonzero(one.any(axis=1))
    edge = int(rows[0] + share * (rows[-1] - rows[0]))
    lower = one & (np.mgrid[:480, :480][0] + np.mgrid[:480, :480][1] // 8 > edge + 30)
    painted = changed(stack, {"part 1 / base": erased(lower),
                              "part 4 / base": filled(lower, from_hex(RECIPE.parts[3].base))})
    back, brought = come(RECIPE, painted)
    assert brought.areas == 1 and len(back.recuts) == 1 and "cut off" in brought.changes[0]
    now = part_masks(back)["part 4"] & one
    band = cv2.dilate(cv2.morphologyEx(lower.astype(np.uint8), cv2.MORPH_GRADIENT,
                                       np.ones((3, 3))), np.ones((3, 3))).astype(bool)
    core = DERIVER.areas(RECIPE).core
    assert not ((now != lower) & ~band & core).any()
    again, nothing = come(back, painted)
    assert nothing.areas == 0 and again.recuts == back.recuts


def test_an_area_filled_on_the_same_flat_becomes_a_part_with_that_colour() -> None:
    # Two areas in one part; one of them is filled in another colour on the part's flat.
    joined = apply(RECIPE, ClaimAreas(to="p1", strokes=(((240.5, 110.5),), ((385.5, 303.5),))))
    stack, areas = DERIVER.stack(joined), DERIVER.areas(joined)
    head = areas.labels == areas.labels[110, 240]
    painted = changed(stack, {"part 1 / base": filled(head, (200, 60, 90))})
    back, brought = come(joined, painted)
    assert [p.base for p in back.parts if p.id not in {q.id for q in joined.parts}] == ["#c83c5a"]
    assert brought.areas == 1 and (part_masks(back)[back.parts[-1].name] == head).mean() > 0.9995
    # A colour that another part has puts it into that part.
    other = from_hex(joined.parts[1].base)
    back, _ = come(joined, changed(stack, {"part 1 / base": filled(head, other)}))
    assert len(back.parts) == len(joined.parts) and part_masks(back)["part 2"][110, 240]
    # The whole flat in another colour is that part's colour, and nothing else.
    back, brought = come(joined, changed(stack, {"part 1 / base": lambda layer: replace(
        layer, paint=Tint(layer.alpha, (10, 120, 80)))}))
    assert back.parts[0].base == "#0a7850" and brought.areas == 0
    assert "“part 1” is #0a7850 now." in brought.changes


def finished():  # type: ignore[no-untyped-def]
    """The piece with three finish layers that were brought in before."""
    stack = DERIVER.stack(RECIPE)
    nodes = list(stack.nodes)
    for name, mode, where in (("dust", "multiply", "under the lines"),
                              ("glow", "screen", "under the lines"),
                              ("sparks", "normal", "over all")):
        nodes = place(nodes, brush(len(name) + ord(name[0]), name, mode, 0.8), where)
    recipe, _ = come(RECIPE, Stack(480, 480, nodes))
    assert [f.name for f in recipe.finish] == ["dust", "glow", "sparks"]
    return recipe


def full_name(recipe, name: str) -> str:  # type: ignore[no-untyped-def]
    return next(n.name for n in DERIVER.stack(recipe).layers() if name in n.name)


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


@pytest.mark.parametrize("clipping", ["limited", "masked"])
def test_a_repainted_area_comes_home_from_either_clipping(clipping: str) -> None:
    """What a mask lets bleed beyond a flat is no change of areas; what is filled is."""
    recipe = apply(RECIPE, SetDelivery(delivery=Delivery.model_validate({"clipping": clipping})))
    two, stack = part_masks(recipe)["part 2"], DERIVER.stack(recipe)
    painted = changed(stack, {"part 1 / base": filled(two, from_hex(recipe.parts[0].base)),
                              "part 2 / base": erased(np.ones_like(two))})
    back, brought = come(recipe, painted)
    assert brought.areas == 1 and len(back.recuts) == 0
    assert (part_masks(back)["part 1"] == part_masks(recipe)["part 1"] | two).mean() > 0.9995


def test_a_flat_of_no_part_becomes_one_if_it_is_said_to_be() -> None:
    masks, stack = part_masks(RECIPE), DERIVER.stack(RECIPE)
    cap = masks["part 3"] & (np.mgrid[:480, :480][0] < 100)
    layer = Layer("cap flat", Tint(cap.astype(np.uint8) * np.uint8(255), (20, 60, 140)))
    nodes = place(list(stack.nodes), layer, "under the lines")
    file = Stack(480, 480, nodes)
    matches = [r.match for r in match_returned(DERIVER, RECIPE, file)]
    at = next(k for k, n in enumerate(file.layers()) if n.name == "cap flat")
    matches = [m.model_copy(update={"kind": "base", "part": None, "name": None})
               if m.index == at else m for m in matches]
    edit, brought = come_home(DERIVER, RECIPE, file, on_white(flatten(file)), matches, (),
                              Wishes(), keep)
    assert edit is not None
    back = apply(RECIPE, edit)
    assert (back.parts[-1].name, back.parts[-1].base) == ("cap", "#143c8c")
    assert brought.areas == 1 and len(back.recuts) == 1
    now = part_masks(back)["cap"]
    core = DERIVER.areas(RECIPE).core
    assert (now != cap)[core & masks["part 3"]].mean() < 0.02
