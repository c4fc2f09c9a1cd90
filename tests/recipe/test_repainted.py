"""Flats that were repainted elsewhere: areas that change hands, cuts, parts of their own."""


from dataclasses import replace

import cv2
import numpy as np
import pytest

from tests.recipe.painted import (
    DERIVER,
    RECIPE,
    changed,
    come,
    erased,
    filled,
    keep,
    part_masks,
    picture,
    place,
)
from wardrobe.core.colour import from_hex
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Layer, Stack, Tint
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.edits import (
    ClaimAreas,
    SetDelivery,
    apply,
)
from wardrobe.recipe.exchange.layered.home import Wishes, come_home
from wardrobe.recipe.exchange.layered.take_back import match_returned


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
