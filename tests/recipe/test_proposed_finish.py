"""Finish layers that are worked out: where they lie, and that their steps are those wanted."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import piece, scene
from wardrobe.core.colour import from_hex, srgb_to_lab
from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.composite.modes import MODES
from wardrobe.core.finish.strength import laid_on, strength_for
from wardrobe.core.words.parts import gives_light
from wardrobe.recipe.document.finish import Spots
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddFinish, ChangePart, SetFocus, apply
from wardrobe.recipe.reports.finishes import ready_finishes
from wardrobe.recipe.reports.finishes.lay_out import Finish
from wardrobe.recipe.stages import Deriver

colours = st.tuples(*[st.integers(0, 255)] * 3)


def face() -> tuple[Deriver, Recipe]:
    """A head with two eyes, and a cap on it."""
    ink = np.zeros((700, 600), np.uint8)
    cv2.ellipse(ink, (300, 380), (200, 260), 0, 0, 360, 255, 6, cv2.LINE_AA)
    cv2.ellipse(ink, (300, 240), (196, 60), 0, 0, 180, 255, 6, cv2.LINE_AA)
    for x in (220, 380):
        cv2.ellipse(ink, (x, 360), (38, 24), 0, 0, 360, 255, 5, cv2.LINE_AA)
    deriver, recipe = piece(ink)
    areas = deriver.areas(recipe)
    owner = deriver.assignment(recipe).part_of_area
    told = {(300, 480): ("skin", "skin", "#e8b893"), (300, 180): ("hair", "hair", "#6a4030"),
            (220, 360): ("eye whites", "wet", "#f5f1e8"), (380, 360): ("eyes", "wet", "#f5f1e8")}
    for (x, y), (name, material, base) in told.items():
        part = recipe.parts[owner[areas.labels[y, x]] - 1].id
        recipe = apply(recipe, ChangePart(part=part, name=name, material=material, base=base))
    return deriver, recipe


DERIVER, FACE = face()
WHOLE = View.whole(*FACE.size)


def offered(deriver: Deriver, recipe: Recipe) -> dict[str, Finish]:
    return {f.key: f for f in ready_finishes(deriver, recipe) if not f.mood}


@given(colours, colours, st.sampled_from(list(MODES)), st.floats(0.5, 40))
def test_the_least_strength_gives_the_step(base: tuple[int, ...], colour: tuple[int, ...],
                                           mode: str, step: float) -> None:
    """CIEDE2000 of W3C's formulas: at that strength the step is reached, at none below; where it
    cannot be reached, all of it is told."""
    one, other = np.array(base) / 255, np.array(colour) / 255
    strength, reached = strength_for(one, other, mode, step)

    def at(share: float) -> float:
        laid = laid_on(one, other, mode, np.array([share]))
        return float(delta_e_2000(srgb_to_lab(one), srgb_to_lab(laid)))

    assert reached == pytest.approx(at(strength), abs=1e-6)
    below = [at(k / 400) for k in range(0, round(400 * strength), 7)]
    assert all(s < step for s in below)
    assert reached >= step or strength == 1


def test_cheeks_nose_and_chin_are_warmed_by_the_step_that_is_wanted() -> None:
    """They lie on the skin, below the eyes, either side alike; about 6.5 in their middle."""
    layer = offered(DERIVER, FACE)["warm cheeks"].layers[0]
    assert isinstance(layer.shape, Spots)
    skin = next(p for p in FACE.parts if p.name == "skin")
    assert layer.parts == (skin.id,)
    places = [s.points[0] for s in layer.shape.strokes]
    (lx, ly), (rx, ry), nose, chin = places
    assert lx + rx == pytest.approx(600, abs=12) and ly == pytest.approx(ry, abs=6)
    assert 400 < ly < 520 and nose[0] == pytest.approx(300, abs=6) and chin[1] > nose[1] + 60
    rows = DERIVER.masks(FACE, WHOLE).parts
    row = FACE.parts.index(skin) + 1
    assert all(rows[int(y), int(x)] == row for x, y in places)
    plain = FACE.model_copy(update={"passes": FACE.passes.model_copy(
        update={"off": ("shade", "deep shade", "light", "glint")})})
    before = DERIVER.picture(plain, WHOLE)
    after = DERIVER.picture(apply(plain, AddFinish(layers=(layer,))), WHOLE)
    for x, y in places[:2]:
        step = float(delta_e_2000(*(srgb_to_lab(p[int(y), int(x)] / 255) for p in (before, after))))
        assert 4.5 < step < 7.5
    # Redder, not only darker.
    assert (after[int(ly), int(lx)] < before[int(ly), int(lx)]).sum() >= 2
    assert np.array_equal(after[rows != row], before[rows != row])


def test_large_plain_parts_are_broken_up_and_hair_is_dark_in_its_middle() -> None:
    layers = {layer.name: layer for layer in offered(DERIVER, FACE)["broken up"].layers}
    assert {"skin broken up", "hair broken up"} == set(layers)  # eyes are small, and no irises
    plain = FACE.model_copy(update={"passes": FACE.passes.model_copy(
        update={"off": ("shade", "deep shade", "light", "glint")})})
    before = DERIVER.picture(plain, WHOLE)
    rows, ink = DERIVER.masks(FACE, WHOLE).parts, DERIVER.masks(FACE, WHOLE).ink
    for name, wanted in (("skin", 5.0), ("hair", 7.0)):
        after = DERIVER.picture(apply(plain, AddFinish(layers=(layers[f"{name} broken up"],))),
                                WHOLE)
        row = [p.name for p in FACE.parts].index(name) + 1
        mine = (rows == row) & (ink == 0)
        steps = delta_e_2000(srgb_to_lab(before[mine] / 255), srgb_to_lab(after[mine] / 255))
        assert steps.max() == pytest.approx(wanted, abs=1.2)
        assert steps.min() < 0.5
        y = np.nonzero(mine)[0]
        if name == "hair":
            third = np.quantile(y, [0.1, 0.9])
            assert steps[(y > third[0]) & (y < third[1])].mean() > steps[y < third[0]].mean()


def test_what_the_piece_has_nothing_for_is_not_offered() -> None:
    deriver, recipe = piece()
    assert "warm cheeks" not in offered(deriver, recipe)
    assert "air" not in offered(deriver, recipe)
    lamp = apply(recipe, ChangePart(part="p2", name="old lantern"))
    found = offered(deriver, lamp)
    assert "light from p2" in found and len(found["light from p2"].layers) == 3
    bare = recipe.model_copy(update={"parts": ()})
    assert set(offered(deriver, bare)) <= {"focus"}
    scene_deriver, around = scene()
    hills = apply(around, ChangePart(part=around.parts[-1].id, scenery="far"))
    air = offered(scene_deriver, hills)["air"].layers
    assert [layer.parts for layer in air] == [(around.parts[-1].id,)]


def test_the_focus_is_set_where_the_eyes_are_unless_it_was_said() -> None:
    focus = offered(DERIVER, FACE)["focus"].focus
    assert len(focus) == 1
    assert focus[0].at[0] == pytest.approx(300, abs=8) and 330 < focus[0].at[1] < 420
    said = apply(FACE, SetFocus(places=focus))
    assert offered(DERIVER, said)["focus"].focus == ()


def test_names_tell_what_gives_light() -> None:
    for name in ("lamp", "old lantern", "Candle", "the moon", "left torch"):
        assert gives_light(name)
    for name in ("lampshade", "sunhat", "lamp brass", "", "coat", from_hex.__name__):
        assert not gives_light(name)
