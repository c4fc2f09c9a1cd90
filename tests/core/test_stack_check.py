"""Faults planted in a stack that is in order are found, each by its name, and nothing else."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from tests.drawings import piece
from wardrobe.core.stack.check import StackFinding, check_stack
from wardrobe.core.stack.check.repair import REPAIRS, repaired
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group, Layer, Stack, Tint, mapped
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.edits import MoveLight, apply

DERIVER, RECIPE = piece()
STACK = DERIVER.stack(RECIPE)


def groups(stack: Stack) -> list[Group]:
    return [n for n in stack.nodes if isinstance(n, Group)]


def codes(stack: Stack) -> set[str]:
    return {f.code for f in check_stack(stack)}


def with_layer(change: dict[str, object], name: str = "part 1 / base",
               stack: Stack = STACK) -> Stack:
    """The stack with one layer of the first group changed."""
    def changed(node: Layer | Group) -> Layer | Group:
        if isinstance(node, Group):
            return replace(node, children=[changed(c) for c in node.children])
        return replace(node, **change) if node.name == name else node

    return replace(stack, nodes=[changed(n) for n in stack.nodes])


def layer(name: str, stack: Stack = STACK) -> Layer:
    return next(c for g in groups(stack) for c in g.children
                if isinstance(c, Layer) and c.name == name)


def found(stack: Stack, code: str) -> StackFinding:
    return next(f for f in check_stack(stack) if f.code == code)


def test_a_stack_that_was_delivered_is_in_order() -> None:
    assert check_stack(STACK) == []


def base_pixels() -> np.ndarray:
    return layer("part 1 / base").pixels.copy()


def shaded_in() -> np.ndarray:
    pixels = base_pixels()
    ramp = np.linspace(0, 90, pixels.shape[0]).astype(np.uint8)[:, None, None]
    pixels[..., :3] = np.maximum(pixels[..., :3], ramp) - ramp // 2
    return pixels


def half_red() -> np.ndarray:
    pixels = base_pixels()
    pixels[: pixels.shape[0] // 2, :, :3] = (200, 30, 30)
    return pixels


def see_through() -> np.ndarray:
    pixels = base_pixels()
    pixels[..., 3] = np.minimum(pixels[..., 3], 140)
    return pixels


def with_hole(size: int) -> np.ndarray:
    pixels = base_pixels()
    y, x = np.argwhere(pixels[..., 3] == 255).mean(axis=0).astype(int)
    pixels[y:y + size, x:x + size, 3] = 0
    return pixels


def specked() -> np.ndarray:
    pixels = np.pad(base_pixels(), ((0, 0), (0, 12), (0, 0)))
    pixels[10, -1] = (1, 2, 3, 255)
    return pixels


def spotted() -> np.ndarray:
    pixels = base_pixels()
    y, x = np.argwhere(pixels[..., 3] == 255).mean(axis=0).astype(int)
    pixels[y:y + 3, x:x + 3, :3] = (240, 20, 20)
    return pixels


WHOLE = np.full((480, 480, 4), 90, np.uint8)
WHOLE[..., 3] = 255


FAULTS = [
    ("unnamed", {"name": "Layer 12"}, "part 1 / shade"),
    ("empty", {"paint": np.zeros((1, 1, 4), np.uint8)}, "part 1 / shade"),
    ("two-colours", {"paint": half_red()}, "part 1 / base"),
    ("not-flat", {"paint": shaded_in()}, "part 1 / base"),
    ("semi-transparent", {"paint": see_through()}, "part 1 / base"),
    ("pinhole", {"paint": with_hole(3)}, "part 1 / base"),
    ("unclaimed", {"paint": with_hole(14)}, "part 1 / base"),
    ("leftover", {"paint": specked()}, "part 1 / base"),
    ("speck", {"paint": spotted()}, "part 1 / base"),
    ("not-clipped", {"paint": WHOLE, "x": 0, "y": 0}, "part 1 / shade"),
    ("shade-wrong-way", {"mode": "screen"}, "part 1 / shade"),
    ("differs", {"opacity": 0.2}, "part 1 / shade"),
    ("hidden", {"visible": False}, "part 1 / shade")]


@pytest.mark.parametrize(("code", "change", "name"), FAULTS)
def test_a_planted_fault_is_found(code: str, change: dict[str, object], name: str) -> None:
    before = {(f.code, f.layer) for f in check_stack(STACK)}
    told = [f for f in check_stack(with_layer(change, name))
            if f.code == code and (f.code, f.layer) not in before]
    assert len(told) == 1 and told[0].count >= 1 and told[0].message
    assert told[0].layer == "" or "part 1" in told[0].layer


REPAIRABLE = [fault for fault in FAULTS if fault[0] in REPAIRS]


@pytest.mark.parametrize(("code", "change", "name"), REPAIRABLE)
def test_a_repair_takes_the_fault_away_and_leaves_the_rest(
        code: str, change: dict[str, object], name: str) -> None:
    stack = with_layer(change, name)
    before = [layer.pixels.copy() for layer in stack.layers()]
    findings = check_stack(stack)
    wanted = [f for f in findings if f.code == code]
    assert all(f.repair for f in wanted)
    after = repaired(stack, wanted)
    assert code not in codes(after)
    assert {f.code for f in check_stack(after)} <= {f.code for f in findings}
    # What came in is as it was; layers that nothing was said about are the very same.
    assert all((layer.pixels == old).all()
               for layer, old in zip(stack.layers(), before, strict=True))
    said = {f.index for f in wanted}
    kept = [layer for k, layer in enumerate(stack.layers()) if k not in said]
    if code != "pinhole":
        assert all(any(layer is other for other in after.layers()) for layer in kept)


def test_all_safe_repairs_at_once() -> None:
    stack = with_layer({"paint": see_through()})
    stack = with_layer({"paint": WHOLE, "x": 0, "y": 0}, "part 1 / shade", stack)
    lines = next(n for n in stack.nodes if n.name == "lines / ink")
    others = [n for n in stack.nodes if n is not lines]
    stack = replace(stack, nodes=[*others[:3], lines, *others[3:], replace(lines, paint=Tint(
        np.zeros((1, 1), np.uint8), (0, 0, 0)))])
    mended = repaired(stack, check_stack(stack))
    assert check_stack(mended) == []
    assert mended.nodes[-1].name == "lines / ink"
    shade = layer("part 1 / shade", mended)
    base = layer("part 1 / base", mended)
    assert (shade.alpha > 0).sum() == (base.alpha > 0).sum()


def test_masked_groups_and_groups_by_pass_are_in_order() -> None:
    for arrangement in ("by part", "by pass", "whole figure"):
        for clipping in ("limited", "masked"):
            delivered = RECIPE.model_copy(update={
                "delivery": Delivery(arrangement=arrangement, clipping=clipping)})
            assert check_stack(DERIVER.stack(delivered)) == []


def test_a_shade_from_another_light_is_noticed() -> None:
    deriver, recipe = piece(balls())
    other = apply(recipe, MoveLight(light=recipe.light.model_copy(update={
        "azimuth": recipe.light.azimuth + 150})))
    stack, turned = deriver.stack(recipe), deriver.stack(other)
    assert not [f for f in check_stack(stack) if f.code == "light-disagrees"]
    name = next(x.name for x in stack.layers() if x.name.endswith(" / shade"))
    part = name.rpartition(" / ")[0]
    strange = {x.name: x for x in turned.layers() if x.name.startswith(part)}
    mixed = mapped(stack, lambda x: strange.get(x.name, x))
    told = [f for f in check_stack(mixed) if f.code == "light-disagrees"]
    assert [f.layer.rpartition(" / ")[0].rpartition(" / ")[2] for f in told] \
        == [part]
    assert told[0].count > 90


def balls() -> np.ndarray:
    """Six balls."""
    ink = np.zeros((480, 480), np.uint8)
    for k in range(6):
        cv2.circle(ink, (90 + 150 * (k % 3), 130 + 220 * (k // 3)), 62, 255, 5, cv2.LINE_AA)
    return ink


def test_places_are_where_the_fault_is() -> None:
    base = layer("part 1 / base")
    pixels = with_hole(3)
    y, x = np.argwhere((pixels[..., 3] == 0) & (base.pixels[..., 3] == 255)).min(axis=0)
    told = found(with_layer({"paint": pixels}), "pinhole")
    assert told.box == (int(x) + base.x, int(y) + base.y, 3, 3) and told.count == 9


def test_order_names_and_paint_beside_the_figure() -> None:
    lines = next(n for n in STACK.nodes if n.name == "lines / ink")
    others = [n for n in STACK.nodes if n is not lines]
    assert "lines-not-on-top" in codes(replace(STACK, nodes=[*others[:3], lines, *others[3:]]))
    for mode, covers in (("normal", True), ("multiply", False)):
        paper = Layer("coat / shade", Tint(np.full((400, 400), 255, np.uint8), (90, 80, 99)),
                      mode=mode)
        assert ("lines-not-on-top" in codes(replace(STACK, nodes=[*STACK.nodes, paper]))) == covers
    twice = replace(STACK, nodes=[*STACK.nodes, lines])
    assert found(twice, "duplicate-name").count == 2
    beside = with_layer({"x": layer("part 1 / base").x + 200})
    assert "outside-silhouette" in codes(beside)


def painted_on_ink(colour: tuple[int, int, int], radius: int, hues: bool = False,
                   alpha: int = 255) -> tuple[Stack, np.ndarray]:
    """The lines with a disc of colour in a part's area, on one layer; and the disc."""
    lines = next(n for n in STACK.nodes if n.name == "lines / ink")
    sheet = np.zeros((480, 480, 4), np.uint8)
    h, w = lines.pixels.shape[:2]
    sheet[lines.y:lines.y + h, lines.x:lines.x + w] = lines.pixels
    if hues:  # the lower half is drawn in blue
        sheet[240:, :, :3][sheet[240:, :, 3] > 0] = (40, 70, 190)
    disc = np.zeros((480, 480), np.uint8)
    cv2.circle(disc, (230, 330), radius, 1, -1)
    on = (disc > 0) & (sheet[..., 3] < 128)
    sheet[on] = (*colour, alpha)
    return replace(STACK, nodes=[replace(n, paint=sheet, x=0, y=0) if n is lines else n
                                 for n in STACK.nodes]), on


@pytest.mark.parametrize(("colour", "radius", "hues", "alpha"), [
    ((200, 60, 40), 30, False, 255), ((240, 220, 200), 12, False, 255),
    ((90, 140, 90), 50, True, 255), ((200, 60, 40), 20, False, 120)])
def test_colour_on_the_lines_is_found_and_parted_from_them(
        colour: tuple[int, int, int], radius: int, hues: bool, alpha: int) -> None:
    stack, on = painted_on_ink(colour, radius, hues, alpha)
    told = found(stack, "colour-on-lines")
    assert told.count == pytest.approx(on.sum(), rel=0.04) and told.layer == "lines / ink"
    assert told.box is not None
    x, _, w, _ = told.box
    assert abs(x - (230 - radius)) <= 2 and abs(w - 2 * radius) <= 3
    mended = repaired(stack, [told])
    assert "colour-on-lines" not in codes(mended)
    names = [n.name for n in mended.nodes]
    at = names.index("lines / ink")
    below = mended.nodes[at - 1]
    assert isinstance(below, Layer) and below.name == "lines / ink colour"
    # Parted, they give the picture that they gave.
    assert np.abs(flatten(mended).astype(int) - flatten(stack)).max() <= 1
    assert (below.alpha > 0).sum() == told.count


@pytest.mark.parametrize("hues", [False, True])
def test_lines_in_several_colours_are_lines(hues: bool) -> None:
    stack, _ = painted_on_ink((0, 0, 0), 0, hues)
    assert "colour-on-lines" not in codes(stack)
