"""Why a place is in shade, a piece as a lesson, and blend modes in words that are true."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import piece
from wardrobe.core.composite.explained import EXPLAINED
from wardrobe.core.composite.modes import MODES
from wardrobe.core.geometry.outline import outlines_of
from wardrobe.core.light.cast import FRONT, cast_shadow, caster_at
from wardrobe.core.light.rig import KeyLight
from wardrobe.recipe.document.strokes import DrawnStroke
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import EditRefusedError, MoveLight, TouchUpPass, apply
from wardrobe.recipe.reports.practice import practise
from wardrobe.recipe.reports.why import why

DERIVER, RECIPE = piece()
WHOLE = View.whole(*RECIPE.size)


@given(st.integers(0, 2**31), st.floats(0, 360), st.floats(5, 80))
@settings(max_examples=40, deadline=None)
def test_what_throws_a_shadow_is_found_wherever_one_lies(seed: int, azimuth: float,
                                                         height: float) -> None:
    random = np.random.default_rng(seed)
    labels = np.zeros((40, 48), np.int32)
    for form in range(1, 6):
        y, x = random.integers(0, 30, 2)
        labels[y:y + random.integers(4, 16), x:x + random.integers(4, 18)] = form
    depth = random.uniform(-1, 1, 6).astype(np.float32)
    lift = random.uniform(0, 9, (6, 6)).astype(np.float32)
    key = KeyLight(azimuth, height)
    cast, _ = cast_shadow(labels, depth, lift, key)
    for y in range(0, 40, 3):
        for x in range(0, 48, 3):
            by = caster_at(labels, depth, lift, key, (y, x))
            assert bool(by) == bool(cast[y, x]), (y, x)
            assert not by or depth[by] - depth[labels[y, x]] > FRONT


def places() -> list[tuple[int, int]]:
    parts = DERIVER.parts_map(RECIPE)
    core = DERIVER.areas(RECIPE).core
    ys, xs = np.nonzero((parts > 0) & core)
    take = np.random.default_rng(5).choice(len(ys), 60, replace=False)
    return [(int(xs[k]), int(ys[k])) for k in take]


def test_reasons_agree_with_what_is_drawn() -> None:
    masks, parts = DERIVER.masks(RECIPE, WHOLE), DERIVER.parts_map(RECIPE)
    said = set()
    for x, y in places():
        found = why(DERIVER, RECIPE, x, y)
        assert found.part == RECIPE.parts[parts[y, x] - 1].id
        assert found.turned is not None and found.begins is not None
        assert {r.name for r in found.reasons} <= set(masks.keys)
        for reason in found.reasons:
            assert reason.here == (masks.level(reason.name)[y, x] > 127)
            assert reason.because.endswith(".") and "  " not in reason.because
        shade = next(r for r in found.reasons if r.name == "shade")
        said.add((shade.here, "turns" in shade.because))
        if shade.because.startswith("It turns"):
            assert shade.here and found.turned > found.begins
        if shade.because.startswith("It faces the light") and "joined" not in shade.because:
            assert not shade.here and found.turned <= found.begins
        if shade.because.startswith("In the shadow of"):
            assert shade.here and any(f"of {p.name}:" in shade.because for p in RECIPE.parts)
    assert {(True, True), (False, False)} <= said
    assert why(DERIVER, RECIPE, 3, 3).part is None and why(DERIVER, RECIPE, 3, 3).reasons == ()


def test_most_shade_is_where_the_form_turns_away() -> None:
    """Lambert's law: the reasons are those of the shapes, but for what is made simple."""
    right = 0
    for x, y in places():
        found = why(DERIVER, RECIPE, x, y)
        shade = next(r for r in found.reasons if r.name == "shade")
        assert found.turned is not None and found.begins is not None
        right += shade.here == (found.turned > found.begins or "shadow of" in shade.because)
    assert right >= 54


def test_what_was_done_by_hand_says_so() -> None:
    x, y = places()[0]
    part = why(DERIVER, RECIPE, x, y).part
    ring = tuple((x + 0.5 + dx, y + 0.5 + dy) for dx, dy in ((-5, -5), (5, -5), (5, 5), (-5, 5)))
    touched = apply(RECIPE, TouchUpPass(name="shade", act="put in", part=part, points=ring))
    assert next(r for r in why(DERIVER, touched, x, y).reasons
                if r.name == "shade").because == "Put in by hand."
    penned = apply(touched, TouchUpPass(name="shade", act="take out", part=None, points=(
        (x + 0.5, y + 0.5), (x + 2.5, y + 0.5)), widths=(6, 6)))
    reason = next(r for r in why(DERIVER, penned, x, y).reasons if r.name == "shade")
    assert reason.because == "Taken out by hand." and not reason.here


def strokes_of(mask: np.ndarray) -> list[tuple[DrawnStroke, bool]]:
    return [(DrawnStroke(points=tuple(map(tuple, outline.tolist()))), False)
            for outline in outlines_of(mask, 4)]


@pytest.mark.parametrize("row", [1, 2])
def test_a_part_is_a_lesson_whose_measure_is_what_is_drawn(row: int) -> None:
    part = RECIPE.parts[row - 1].id
    masks = DERIVER.masks(RECIPE, WHOLE)
    shade = (masks.level("shade") > 127) & (masks.parts == row)
    found = practise(DERIVER, RECIPE, part, "shade", strokes_of(shade))
    assert found.verdict.score >= 98 and found.edit is None
    assert found.verdict.azimuth_error == pytest.approx(0, abs=2)
    # As another light would have it: by so many degrees, and what is kept is what was drawn.
    light = RECIPE.light.model_copy(update={"azimuth": (RECIPE.light.azimuth + 40) % 360})
    other = DERIVER.masks(apply(RECIPE, MoveLight(light=light)), WHOLE)
    drawn = (other.level("shade") > 127) & (masks.parts == row)
    found = practise(DERIVER, RECIPE, part, "shade", strokes_of(drawn))
    assert found.verdict.score < 90
    assert found.verdict.azimuth_error == pytest.approx(40, abs=15)
    assert found.edit is not None
    kept = DERIVER.masks(apply(RECIPE, found.edit), WHOLE)
    same = (kept.level("shade") > 127) == drawn
    assert same[(masks.parts == row) & DERIVER.areas(RECIPE).core].mean() > 0.985
    rest = (masks.parts != row) & DERIVER.areas(RECIPE).core
    assert (kept.level("shade") == masks.level("shade"))[rest].all()


def test_lessons_that_cannot_be_are_refused() -> None:
    for part, name in (("p99", "shade"), (RECIPE.parts[0].id, "rim")):
        with pytest.raises(EditRefusedError):
            practise(DERIVER, RECIPE, part, name, [])


@pytest.mark.parametrize("name", [m for m, e in EXPLAINED.items() if "10.2" not in e.formula])
def test_formulas_in_words_are_those_that_are_computed(name: str) -> None:
    """Each formula as it is shown, worked out for random channels, is what the mode does."""
    random = np.random.default_rng(2)
    pairs = np.vstack([random.uniform(0, 1, (300, 2)), [(a, b) for a in (0, 0.25, 0.5, 1)
                                                        for b in (0, 0.5, 1)]])
    for cb, cs in pairs.tolist():
        shown = eval(EXPLAINED[name].formula, {"min": min, "max": max, "abs": abs},
                     {"cb": cb, "cs": cs})
        done = cb + cs if name == "plus-lighter" else float(
            MODES[name].blend(np.array([cb] * 3), np.array([cs] * 3))[0])
        assert shown == pytest.approx(min(1.0, done), abs=1e-6), (cb, cs)


def test_every_mode_is_explained() -> None:
    assert EXPLAINED.keys() == MODES.keys()
