"""Forms, touch-ups and the report on the light, through recipes."""

import hashlib
import subprocess
import sys

import numpy as np
import pytest

from tests.drawings import piece
from wardrobe.core import parallel
from wardrobe.recipe.document.lighting import CastPair, PartForm
from wardrobe.recipe.document.model import Frame, Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    EditRefusedError,
    KeepTouchUps,
    MoveLight,
    RemovePart,
    RemoveTouchUps,
    ReplaceParts,
    SetForm,
    SetFrame,
    TouchUpPass,
    TurnPicture,
    apply,
)
from wardrobe.recipe.reports.light import report_light
from wardrobe.recipe.stages.views import upto

DERIVER, RECIPE = piece()
WHOLE = View.whole(480, 480)
HEAD = next(p.id for row, p in enumerate(RECIPE.parts, start=1)
            if DERIVER.assignment(RECIPE).part_of_area[DERIVER.areas(RECIPE).labels[110, 240]]
            == row)
ROUND = tuple((240 + 66 * float(np.cos(a)), 110 + 66 * float(np.sin(a)))
              for a in np.linspace(0, 6.2, 40))


def test_a_part_lit_from_elsewhere_is_found_and_the_others_are_not() -> None:
    report = report_light(DERIVER, RECIPE)
    assert not any(p.astray for p in report.parts)
    assert np.median([abs(p.away) for p in report.parts]) < 6
    # Painted as if lit from the opposite side: shade on the upper left of the head.
    half = tuple((240 + 66 * float(np.cos(a)), 110 + 66 * float(np.sin(a)))
                 for a in np.radians(np.arange(137, 318, 5)))
    wrong = RECIPE
    for act, points in (("take out", ROUND), ("put in", half)):
        wrong = apply(wrong, TouchUpPass(name="shade", act=act, part=HEAD, points=points))
    found = {p.part: p for p in report_light(DERIVER, wrong).parts}
    assert found[HEAD].astray and abs(found[HEAD].away) > 150
    assert not any(p.astray for part, p in found.items() if part != HEAD)


def test_touch_ups_stay_when_the_light_moves_and_are_offered_for_review() -> None:
    touched = apply(RECIPE, TouchUpPass(name="shade", act="put in", part=HEAD, points=ROUND))
    light = RECIPE.light
    for turn, offered in ((5, []), (90, [1])):
        moved = apply(touched, MoveLight(light=light.model_copy(
            update={"azimuth": light.azimuth + turn})))
        assert report_light(DERIVER, moved).elsewhere == offered
        assert (DERIVER.masks(moved, WHOLE).level("shade")[60:160, 200:280] > 127).all()
    assert report_light(DERIVER, apply(moved, KeepTouchUps(ids=(1,)))).elsewhere == []
    assert apply(moved, RemoveTouchUps(ids=(1,))).touch_ups == ()
    with pytest.raises(EditRefusedError):
        apply(moved, RemoveTouchUps(ids=(1, 2)))
    with pytest.raises(EditRefusedError):
        apply(RECIPE, TouchUpPass(name="shade", act="put in", part="p999", points=ROUND))
    anywhere = apply(RECIPE, TouchUpPass(name="shade", act="put in", points=ROUND))
    assert [t.part for t in anywhere.touch_ups] == [None]
    for wrong in ({"points": ROUND[:2]}, {"act": "soften"}, {"widths": (3.0,)},
                  {"widths": (0.0,) * len(ROUND)}):
        with pytest.raises(ValueError, match=r"point|soften|greater"):
            TouchUpPass(**{"name": "shade", "act": "put in", "points": ROUND, **wrong})


def test_touch_ups_and_edges_move_with_the_picture_and_go_with_their_part() -> None:
    edge = ((180.0, 100.0), (300.0, 110.0))
    recipe = apply(RECIPE, TouchUpPass(name="light", act="put in", part=HEAD, points=ROUND))
    recipe = apply(recipe, SetForm(part=HEAD, form=PartForm(volume="folded", edges=(edge,))))
    other = next(p.id for p in RECIPE.parts if p.id != HEAD)
    pair = CastPair(caster=HEAD, receiver=other, length=2)
    recipe = apply(recipe, MoveLight(light=recipe.light.model_copy(update={"pairs": (pair,)})))
    cropped = apply(recipe, SetFrame(frame=Frame(crop=(30, 20, 400, 400))))
    part = next(p for p in cropped.parts if p.id == HEAD)
    assert np.allclose(part.form.edges[0], np.array(edge) - (30, 20))
    assert np.allclose(cropped.touch_ups[0].points, np.array(ROUND) - (30, 20), atol=0.02)
    whole, piece_of_it = (DERIVER.masks(r, v).level("light") for r, v in (
        (recipe, View(30, 20, 400, 400, 1.0)), (cropped, View.whole(400, 400))))
    assert (np.abs(whole.astype(int) - piece_of_it) > 40).mean() < 0.01
    turned = apply(recipe, TurnPicture(clockwise=True))
    assert turned.touch_ups[0].azimuth == pytest.approx((recipe.light.azimuth - 90) % 360)
    strangers = tuple(p.model_copy(update={"name": f"other {k}"})
                      for k, p in enumerate(recipe.parts))
    assert apply(recipe, ReplaceParts(parts=strangers, claims=recipe.claims)).touch_ups == ()
    gone = apply(recipe, RemovePart(part=HEAD))
    assert gone.touch_ups == () and gone.light.pairs == ()


def test_every_control_of_a_part_changes_that_part_only() -> None:
    before = DERIVER.picture(RECIPE, WHOLE)
    rows = DERIVER.masks(RECIPE, WHOLE).parts
    row = next(k for k, p in enumerate(RECIPE.parts, start=1) if p.id == HEAD)
    for change in ({"volume": "flat"}, {"depth": 0.4}, {"soft": 0.6}, {"highlight": 1.5}):
        form = PartForm(**change)
        after = DERIVER.picture(apply(RECIPE, SetForm(part=HEAD, form=form)), WHOLE)
        changed = (after != before).any(axis=-1)
        assert changed[rows == row].any(), change
        assert not changed[(rows != row) & (DERIVER.masks(RECIPE, WHOLE).ink == 0)].any(), change


def test_passes_are_laid_on_one_after_the_other() -> None:
    """The last of them is the whole picture; each adds only where its shape is."""
    masks = DERIVER.masks(RECIPE, WHOLE)
    names = [name for name in masks.keys if name in ("shade", "deep shade", "light", "glint")]
    pictures = [DERIVER.picture(upto(RECIPE, name), WHOLE) for name in names]
    assert (pictures[-1] == DERIVER.picture(RECIPE, WHOLE)).all()
    for name, one, two in zip(names[1:], pictures, pictures[1:], strict=False):
        assert not (one != two).any(axis=-1)[masks.level(name) == 0].any()


def _digest(recipe: Recipe) -> str:
    deriver, _ = piece()
    picture = deriver.picture(recipe, View.whole(480, 480, 400))
    return hashlib.sha256(picture.tobytes()).hexdigest()


def test_the_same_recipe_gives_the_same_pixels(monkeypatch: pytest.MonkeyPatch) -> None:
    """In another process, and on one thread."""
    expected = _digest(RECIPE)
    other = subprocess.run(
        [sys.executable, "-c", "from tests.recipe.test_lighting import RECIPE, _digest;"
         " print(_digest(RECIPE))"], capture_output=True, text=True, check=True)
    assert other.stdout.strip() == expected
    monkeypatch.setattr(parallel, "_WORKERS", 1)
    assert _digest(RECIPE) == expected
    monkeypatch.setattr(parallel, "_WORKERS", 7)
    assert _digest(RECIPE) == expected
