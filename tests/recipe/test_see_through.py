"""Parts that are not opaque: what lies behind shows through, by W3C's source-over."""

import json
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import scene
from tests.recipe.painted import bring_home, keep
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.finish import Everywhere, FinishDraft, PlainColour
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddFinish,
    ChangePart,
    EditRefusedError,
    RemovePart,
    ReplaceParts,
    SetDelivery,
    apply,
)
from wardrobe.recipe.events.shown import _digest, changed_since, shown_of
from wardrobe.recipe.exchange.layered.extras import added_layers
from wardrobe.recipe.exchange.layered.take_back import match_returned
from wardrobe.recipe.stages.see_through import without_them
from wardrobe.recipe.stages.views import draw

DERIVER, SCENE = scene()
WHOLE = View.whole(480, 480)
SKIRT, BODY = SCENE.parts[0].id, SCENE.parts[1].id  # one before the horizon, one above it


def changed(recipe: Recipe, part: str, **what: Any) -> Recipe:
    return apply(recipe, ChangePart(part=part, **what))


def inner(recipe: Recipe, part: str) -> np.ndarray:
    """Pixels of a part, away from the lines."""
    row = [p.id for p in recipe.parts].index(part) + 1
    masks = DERIVER.masks(recipe, WHOLE)
    return cv2.erode(((masks.parts == row) & (masks.ink == 0)).astype(np.uint8),
                     np.ones((5, 5))) > 0


@given(st.floats(0.05, 0.99), st.sampled_from(["ground", BODY]))
def test_what_lies_behind_shows_through_but_not_through_lights(opacity: float,
                                                               behind: str) -> None:
    """W3C Compositing and Blending Level 1, source-over with that alpha, pixel by pixel: the
    part as it was, over the picture without it. Nothing else changes."""
    glass = changed(changed(SCENE, SKIRT, material="glass"), SKIRT, opacity=1.0)
    seen = changed(glass, SKIRT, opacity=opacity, behind=behind)
    before, now = (DERIVER.picture(r, WHOLE).astype(float) for r in (glass, seen))
    without = DERIVER.stages(seen).behind.picture(WHOLE, lines=False)
    back = DERIVER.store(without).astype(float)
    there = inner(SCENE, SKIRT)
    masks = DERIVER.masks(glass, WHOLE)
    lit = np.max([masks.levels[..., masks.keys.index(key)] for key in ("light", "glint")], axis=0)
    share = ((1 - opacity) * (1 - lit / 255.0))[..., None]
    wanted = before + share * (back - before)
    assert np.abs(now - wanted)[there].max() <= 1
    assert (lit[there] == 255).any() and np.array_equal(now[there & (lit == 255)],
                                                        before[there & (lit == 255)])
    row = masks.parts == 1
    assert np.array_equal(now[~row], before[~row])
    # The part behind goes on under it, with its own light and shade.
    base = np.array([int(SCENE.parts[1].base[k:k + 2], 16) for k in (1, 3, 5)], float)
    assert (behind == BODY) == bool((np.abs(back[there] - base).max(axis=1) <= 1).any())


@pytest.mark.parametrize("arrangement", ["by part", "by pass", "whole figure"])
@pytest.mark.parametrize("clipping", ["limited", "masked"])
def test_it_is_delivered_as_it_is_seen(arrangement: str, clipping: str) -> None:
    """With glows on the ground and over everything, in every arrangement; and a file that comes
    home unchanged changes nothing."""
    recipe = changed(changed(SCENE, SKIRT, opacity=0.4), BODY, opacity=0.7, behind=SKIRT)
    recipe = apply(recipe, AddFinish(layers=(
        FinishDraft(name="wall", shape=Everywhere(), paint=PlainColour(colour="#335577"),
                    scope="ground", strength=0.5),
        FinishDraft(name="wash", shape=Everywhere(), paint=PlainColour(colour="#cc8844"),
                    mode="overlay", scope="everything", strength=0.3))))
    recipe = apply(recipe, SetDelivery(delivery=Delivery(
        arrangement=arrangement, clipping=clipping)))
    stack = DERIVER.stack(recipe)
    picture = DERIVER.picture(recipe, WHOLE).astype(int)
    assert np.abs(flatten(stack)[..., :3].astype(int) - picture).max() <= 1
    assert any("behind" in layer.name for layer in stack.layers())
    matches = [r.match for r in match_returned(DERIVER, recipe, stack)]
    assert not bring_home(recipe, added_layers(DERIVER, recipe, stack, matches), keep)[0]


def test_opaque_parts_are_as_ever_and_what_is_behind_is_told_by_name() -> None:
    assert np.array_equal(DERIVER.picture(changed(changed(SCENE, SKIRT, opacity=0.3), SKIRT,
                                                  opacity=1.0), WHOLE),
                          DERIVER.picture(SCENE, WHOLE))
    seen = changed(SCENE, SKIRT, opacity=0.5, behind=BODY)
    # What is gone cannot show through, and no part shows through itself, nor does scenery.
    assert apply(seen, RemovePart(part=BODY)).parts[0].behind is None
    assert changed(seen, SKIRT, behind="ground").parts[0].behind is None
    for wrong in (SKIRT, "p999"):
        with pytest.raises(EditRefusedError):
            changed(SCENE, SKIRT, behind=wrong)
    with pytest.raises(EditRefusedError, match="not there"):
        apply(SCENE, ReplaceParts(parts=(SCENE.parts[0].model_copy(
            update={"opacity": 0.5, "behind": "p77"}),), claims=()))
    # A hidden one shows nothing through, and is not drawn.
    assert np.array_equal(DERIVER.picture(changed(seen, SKIRT, visible=False), WHOLE),
                          DERIVER.picture(changed(SCENE, SKIRT, visible=False), WHOLE))


def test_parts_behind_each_other_end_at_the_ground() -> None:
    """Two that name each other are both before the ground; in a row they show the last one."""
    ring = changed(changed(SCENE, SKIRT, opacity=0.5, behind=BODY), BODY, opacity=0.5, behind=SKIRT)
    assert {SKIRT, BODY} <= {p.id for p in without_them(ring).parts if not p.visible}
    row = changed(changed(SCENE, SKIRT, opacity=0.5, behind=BODY), BODY, opacity=0.5)
    assert {SKIRT, BODY} <= {p.id for p in without_them(row).parts if not p.visible}


def test_the_view_of_bases_shows_it_as_well() -> None:
    half = changed(SCENE, SKIRT, opacity=0.5)
    plain, seen = (draw(DERIVER, r, "bases", WHOLE).astype(float) for r in (SCENE, half))
    there = inner(SCENE, SKIRT)
    rows = DERIVER.store(DERIVER.stages(half).behind.parts_seen(WHOLE))
    bases = np.array([[int(c[k:k + 2], 16) for k in (1, 3, 5)] for c in
                      (SCENE.background, *(p.base for p in SCENE.parts))], float)
    assert np.abs(seen - (plain + bases[rows]) / 2)[there].max() <= 1
    assert {"sky"} <= {SCENE.parts[row - 1].name for row in rows[there]}
    others = DERIVER.masks(SCENE, WHOLE).parts != 1
    assert np.array_equal(seen[others], plain[others])


def test_scenery_goes_on_behind_what_it_shows_through() -> None:
    """A skirt before sky and floor shows each of them on its side of the horizon, the same in a
    tile and in a smaller view; without scenery it is the background."""
    sky, floor = SCENE.parts[-2:]
    clear = changed(SCENE, SKIRT, opacity=0.05)
    skirt = 1

    def rows(view: View) -> np.ndarray:
        behind = DERIVER.stages(clear).behind
        found: np.ndarray = DERIVER.store(behind.parts_seen(view))
        return found

    whole, there = rows(WHOLE), DERIVER.masks(SCENE, WHOLE).parts == skirt
    ids = np.array(["", *(p.id for p in SCENE.parts)])
    assert set(ids[whole[there]]) == {sky.id, floor.id}
    above, below = (np.nonzero(there & (ids[whole] == p.id))[0].mean() for p in (sky, floor))
    assert above < below
    assert np.array_equal(rows(View(100, 120, 240, 200)), whole[120:320, 100:340])
    assert np.array_equal(whole[~there], DERIVER.masks(SCENE, WHOLE).parts[~there])
    one = changed(SCENE, SKIRT, opacity=0.5, behind=floor.id)
    through = DERIVER.store(DERIVER.stages(one).behind.parts_seen(WHOLE))
    assert set(ids[through[there]]) == {floor.id}


def test_a_piece_shown_before_there_was_opacity_has_not_changed_since() -> None:
    """What is kept of a piece that was shown is the same while all of its parts are opaque."""
    old = shown_of(SCENE)
    assert changed_since(old, SCENE) == []
    assert [s.part for s in changed_since(old, changed(SCENE, SKIRT, opacity=0.5))] == [SKIRT]
    dumped = json.loads(SCENE.parts[0].model_dump_json(exclude={"name", "base", "own"}))
    del dumped["opacity"], dumped["behind"]
    text = json.dumps(dumped, separators=(",", ":"), ensure_ascii=False)
    assert old.parts[0].rest == _digest(text)
