"""Lines go with the part that owns them: hidden with it, and delivered in a layer of its own."""

from dataclasses import replace
from itertools import product

import cv2
import numpy as np
import pytest

from tests.drawings import piece
from wardrobe.core.stack.check import check_stack
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.ink import AsDrawn, Inking
from wardrobe.recipe.document.lighting import PartForm
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, MoveLight, SetForm, SetInk, apply
from wardrobe.recipe.reports.section import stack_section
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.views import draw

SIZE = 480
WHOLE = View.whole(SIZE, SIZE)
BY_PART = {"delivery": Delivery(lines="by part")}


def overlapping() -> tuple[Deriver, Recipe]:
    """A disc before a plate: what is drawn of the plate ends at the disc. Both have a crease."""
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.rectangle(ink, (60, 60), (330, 400), 255, 6, cv2.LINE_AA)
    cv2.line(ink, (100, 100), (100, 260), 255, 6, cv2.LINE_AA)
    cv2.circle(ink, (320, 250), 110, 0, -1)
    cv2.circle(ink, (320, 250), 110, 255, 6, cv2.LINE_AA)
    cv2.line(ink, (290, 250), (370, 250), 255, 6, cv2.LINE_AA)
    deriver, recipe = piece(ink)
    areas = deriver.areas(recipe)
    at = {name: int(deriver.assignment(recipe).part_of_area[areas.labels[y, x]])
          for name, (x, y) in {"plate": (150, 150), "disc": (320, 200)}.items()}
    names = {recipe.parts[row - 1].id: name for name, row in at.items()}
    parts = tuple(p.model_copy(update={"name": names[p.id]}) for p in recipe.parts)
    front = tuple(sorted(parts, key=lambda p: p.name))
    return deriver, recipe.model_copy(update={"parts": front})


DERIVER, PLAIN = overlapping()
IDS = {p.name: p.id for p in PLAIN.parts}
INK = DERIVER.ink(PLAIN)


def hide(recipe: Recipe, name: str) -> Recipe:
    return apply(recipe, ChangePart(part=IDS[name], visible=False))


def printed(recipe: Recipe, view: View = WHOLE) -> np.ndarray:
    return DERIVER.sampled(recipe, view).ink.astype(int)


def test_a_hidden_part_takes_its_lines_and_leaves_those_of_others() -> None:
    yy, xx = np.mgrid[:SIZE, :SIZE]
    away = np.hypot(xx - 320, yy - 250)
    ring, outside = (abs(away - 110) < 7), away > 122
    without_disc = printed(hide(PLAIN, "disc"))
    assert without_disc[ring & (xx > 336)].max() == 0      # against the ground
    assert without_disc[ring & (xx < 320)].max() == 0      # and against what lies behind
    assert without_disc[(away < 100)].max() == 0           # its crease
    assert (without_disc[outside] == INK[outside]).all()
    # What lies behind leaves the line between them: it belongs to the disc.
    without_plate = printed(hide(PLAIN, "plate"))
    near = away < 114
    assert (without_plate[near] == INK[near]).mean() > 0.999
    assert without_plate[outside].max() == 0
    assert printed(hide(hide(PLAIN, "disc"), "plate")).max() == 0


def test_the_cut_is_clean_and_leaves_no_crumbs() -> None:
    left = (printed(hide(PLAIN, "disc")) > 0).astype(np.uint8)
    _, _, stats, _ = cv2.connectedComponentsWithStats(left)
    assert stats[1:, cv2.CC_STAT_AREA].min() > 400
    half = printed(hide(PLAIN, "disc"), View(0, 0, SIZE, SIZE, 0.5))
    area = cv2.resize(printed(hide(PLAIN, "disc")).astype(np.float32), (240, 240),
                      interpolation=cv2.INTER_AREA)
    assert np.abs(half - area).mean() < 0.3


def test_put_behind_it_takes_less_with_it() -> None:
    """Whose line it is follows from what is in front."""
    assert DERIVER.front_to_behind(PLAIN)[0] == IDS["disc"]
    behind = apply(PLAIN, SetForm(part=IDS["disc"], form=PartForm(nearer=-4.0)))
    assert DERIVER.front_to_behind(behind)[0] == IDS["plate"]
    yy, xx = np.mgrid[:SIZE, :SIZE]
    between = (abs(np.hypot(xx - 320, yy - 250) - 110) < 4) & (xx < 300) & (INK > 200)
    assert printed(hide(PLAIN, "disc"))[between].max() == 0
    assert (printed(hide(behind, "disc"))[between] == INK[between]).mean() > 0.99
    assert printed(hide(behind, "plate"))[between].max() == 0


def test_work_on_the_areas_shows_all_lines() -> None:
    for kind in ("parts", "unclaimed", "borders"):
        shown, bare = (draw(DERIVER, r, kind, WHOLE) for r in (PLAIN, hide(PLAIN, "disc")))
        assert (shown == bare).all(), kind
    assert (draw(DERIVER, PLAIN, "lines", WHOLE) == draw(DERIVER, hide(PLAIN, "disc"), "lines",
                                                         WHOLE)).all()


@pytest.mark.parametrize("hues", [False, True])
def test_the_drawing_as_it_is_loses_them_as_well(hues: bool) -> None:
    drawn = apply(PLAIN, SetInk(ink=Inking(drawing=AsDrawn(hues=hues))))
    bare = DERIVER.picture(hide(drawn, "disc"), WHOLE)
    ground = DERIVER.picture(drawn, WHOLE)[5, 5]
    assert (bare[240:260, 380:425] == ground).all()
    assert (bare[100:240, 97:103] != ground).any()


# ---- In the file ----

INKS = {"plain": Inking(), "coloured": Inking(on=True), "half": Inking(on=True, amount=0.6,
                                                                      opacity=0.5),
        "multiplied": Inking(on=True, mode="multiply"), "weighed": Inking(weight=0.7, overlap=0.4)}


@pytest.mark.parametrize(("ink", "hidden", "clipping"),
                         product(INKS, (None, "disc", "plate"), ("limited", "masked")))
def test_lines_by_part_give_the_same_picture(ink: str, hidden: str | None, clipping: str) -> None:
    recipe = apply(PLAIN, SetInk(ink=INKS[ink])).model_copy(update={
        "delivery": Delivery(lines="by part", clipping=clipping)})
    if hidden:
        recipe = hide(recipe, hidden)
    stack = DERIVER.stack(recipe)
    shown = DERIVER.picture(recipe, WHOLE).astype(int)
    assert np.abs(flatten(stack)[..., :3] - shown).max() <= 1
    small = View.whole(SIZE, SIZE, 160)
    thumb = flatten(DERIVER.stack(recipe, small))[..., :3]
    # On screens borders that no line covers are smoothed, when all else is done.
    bare = DERIVER.store(replace(DERIVER.stages(recipe).picture(small), borders=None))
    assert np.abs(thumb - bare.astype(int)).max() <= 1
    listed = [line.name for line in stack_section(DERIVER, recipe).lines if line.kind == "layer"]
    assert listed[::-1] == [layer.name for layer in stack.layers()]
    if hidden is None:
        assert [f.message for f in check_stack(stack)] == []


def test_each_layer_holds_the_lines_of_its_part_and_together_they_are_all() -> None:
    recipe = apply(PLAIN, SetInk(ink=Inking(on=True))).model_copy(update=BY_PART)
    layers = line_layers(DERIVER.stack(recipe))
    assert set(layers) == {"disc / lines", "plate / lines"}
    covers = {name: on_sheet(layer) for name, layer in layers.items()}
    assert (np.sum(list(covers.values()), axis=0) == INK).all()
    assert ((covers["disc / lines"] > 0) & (covers["plate / lines"] > 0)).sum() == 0
    assert (covers["disc / lines"][150:350, 400:436] == INK[150:350, 400:436]).all()


def test_a_hidden_part_keeps_its_lines_in_a_layer_that_is_off() -> None:
    recipe = hide(PLAIN, "disc").model_copy(update=BY_PART)
    stack = DERIVER.stack(recipe)
    layers = line_layers(stack)
    assert not layers["disc / lines"].visible and layers["plate / lines"].visible
    total = on_sheet(layers["disc / lines"]) + on_sheet(layers["plate / lines"])
    assert np.abs(total - INK).mean() < 0.05  # but for what is soft at the cut
    # Turned on with its part, the figure is whole again.
    whole = Stack(stack.width, stack.height, [turned_on(n) for n in stack.nodes])
    shown = DERIVER.picture(PLAIN, WHOLE).astype(int)
    off = np.abs(flatten(whole)[..., :3] - shown).max(axis=2)
    assert (off > 2).mean() < 0.005


def test_light_moves_no_line_to_another_part() -> None:
    recipe = apply(PLAIN, SetInk(ink=Inking(weight=0.8))).model_copy(update=BY_PART)
    lit = apply(recipe, MoveLight(light=recipe.light.model_copy(update={"azimuth": 250.0})))
    for one in (recipe, lit):
        layers = line_layers(DERIVER.stack(one))
        assert (sum(map(on_sheet, layers.values())) == printed(one)).all()


def line_layers(stack: Stack) -> dict[str, Layer]:
    return {layer.name: layer for layer in stack.layers() if layer.name.endswith("/ lines")}


def on_sheet(layer: Layer) -> np.ndarray:
    sheet = np.zeros((SIZE, SIZE), int)
    alpha = layer.paint.alpha if isinstance(layer.paint, Tint) else layer.paint[..., 3]
    sheet[layer.y:layer.y + alpha.shape[0], layer.x:layer.x + alpha.shape[1]] = alpha
    return sheet


def turned_on(node: Node) -> Node:
    if isinstance(node, Group):
        return Group(node.name, [turned_on(n) for n in node.children], node.mode, node.opacity)
    if node.name.startswith("silhouette"):
        return node
    return Layer(node.name, node.paint, node.x, node.y, node.mode, node.opacity, node.clipped_to)
