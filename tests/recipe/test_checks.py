"""Faults that are planted are found and named; repairs take them away and nothing else."""

from dataclasses import replace
from functools import lru_cache
from pathlib import Path

import cv2
import numpy as np
import pytest

from tests.figures import Drawing, Planted, figure
from tests.planted import FAULTS, Fault
from tests.tries import tries
from wardrobe.recipe.checks import CHECKS, QUESTIONS
from wardrobe.recipe.checks.finding import Noticed, literal, told
from wardrobe.recipe.checks.report import Dismissed, Finding, check_piece, middle_of
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddLook, ChangePart, apply
from wardrobe.recipe.stages import Deriver

SEED = 2  # light skin, on a light ground
# Weaker, such a layer shows more of what it covered.
_UNCOVERS = {"clipping"}


@lru_cache(maxsize=8)
def clean(how: Drawing | None = None, seed: int = SEED) -> Planted:
    return figure(seed, how)


def findings(p: Planted) -> list[Finding]:
    return check_piece(p.deriver, p.recipe, card=p.card)


def same(one: Finding, other: Finding) -> bool:
    return (one.check, one.ids) == (other.check, other.ids) and (
        bool(one.ids) or middle_of(one) == middle_of(other))


@pytest.mark.parametrize("seed", range(tries(2, 4)))
def test_nothing_is_found_where_nothing_is_wrong(seed: int) -> None:
    assert [f.words for f in findings(clean(seed=seed))] == []


@pytest.mark.parametrize("fault", FAULTS, ids=lambda f: f.name)
def test_a_planted_fault_is_found_and_its_repair_takes_it_away(fault: Fault) -> None:
    planted = fault.plant(clean(fault.how))
    before = findings(planted)
    found = [f for f in before if f.check == fault.check]
    assert found, [f.check for f in before]
    worst = found[0]
    check = CHECKS[worst.check]
    assert worst.question == check.question and (worst.limit, worst.unit) == (
        check.limit.value, check.limit.unit)
    assert 0 <= worst.weight <= 1 and "{" not in worst.words
    width, height = planted.recipe.size
    for x, y in (p for line in worst.marks for p in line):
        assert -5 <= x <= width + 5 and -5 <= y <= height + 5
    if worst.repair is None:
        return
    mended = planted.edited()
    mended.recipe = apply(planted.recipe, worst.repair.edit)
    after = findings(mended)
    assert not [f.words for f in after if same(f, worst)]
    # That a colour then differs from the card is for whoever keeps the card.
    assert fault.check in _UNCOVERS or not [
        f.words for f in after if f.check != "drifted"
        and (f.check, f.ids) not in {(g.check, g.ids) for g in before}]


PAINTED = ("coat on its like", "paper in the crook", "loud boots")
CUT = ("unpainted white", "speck", "unclaimed boot")


@pytest.mark.parametrize("name", PAINTED + CUT)
def test_a_repair_with_a_place_changes_nothing_outside_of_it(name: str) -> None:
    fault = next(f for f in FAULTS if f.name == name)
    planted = fault.plant(clean(fault.how))
    worst = next(f for f in findings(planted) if f.check == fault.check)
    assert worst.repair and worst.box
    view = View.whole(*planted.recipe.size)
    mended = apply(planted.recipe, worst.repair.edit)
    moved = (planted.deriver.picture(planted.recipe, view)
             != planted.deriver.picture(mended, view)).any(axis=2)
    assert moved.any()
    x, y, w, h = (int(v) for v in worst.box)
    place = np.zeros(moved.shape, np.uint8)
    place[max(0, y):y + h + 1, max(0, x):x + w + 1] = 1
    # What is laid on fades out beyond what it mends.
    reach = round(0.09 * max(planted.recipe.size)) | 1
    near = cv2.dilate(place, np.ones((2 * reach + 1,) * 2, np.uint8)) > 0
    # What the figure is made of has a say in its form, and so in where all of its shade begins.
    assert np.mean(moved & ~near) <= (0.01 if name in CUT else 0)


def test_what_was_dismissed_stays_so_until_what_it_measured_changes() -> None:
    p = next(f for f in FAULTS if f.name == "bases alike").plant(clean())
    (worst,) = (f for f in findings(p) if f.check == "run together")
    left = Dismissed(3, worst.check, "piece", worst.ids, worst.measured, middle_of(worst), "so")

    def asked(planted: Planted, look: str = "piece") -> list[Finding]:
        return [f for f in check_piece(planted.deriver, planted.recipe, look=look,
                                       dismissals=[left]) if f.check == "run together"]

    assert asked(p)[0].dismissed == left
    elsewhere = p.edited(ChangePart(part=p.ids["boots"], base="#70402a"))
    assert asked(elsewhere)[0].dismissed == left
    closer = p.edited(ChangePart(part=p.ids["sleeves"], base=p.base("coat")))
    assert asked(closer)[0].dismissed is None
    dressed = p.edited(AddLook(name="night", bases={p.ids["boots"]: "#204060"}))
    assert asked(dressed, "k1")[0].dismissed is None  # it was dismissed for the piece


def test_a_look_is_judged_as_it_is_worn_and_repaired_by_itself() -> None:
    p = clean()
    coat = p.base("coat")
    worn = p.edited(AddLook(name="one", bases={p.ids["sleeves"]: coat}))
    assert not [f for f in check_piece(worn.deriver, worn.recipe) if f.check == "run together"]
    (found,) = (f for f in check_piece(worn.deriver, worn.recipe, look="k1")
                if f.check == "run together")
    assert found.repair
    mended = apply(worn.recipe, found.repair.edit)
    assert mended.parts == worn.recipe.parts and mended.looks != worn.recipe.looks
    assert not [f for f in check_piece(worn.deriver, mended, look="k1")
                if f.check == "run together"]


def test_names_may_hold_any_signs() -> None:
    """What stands for a name in a sentence is never taken from the name itself."""
    p = next(f for f in FAULTS if f.name == "bases alike").plant(clean())
    named = p.edited(ChangePart(part=p.ids["coat"], name="{1} coat {x}"))
    (found,) = (f for f in findings(named) if f.check == "run together")
    assert "{1} coat {x}" in found.words
    text = "between {0} and {x}"
    assert told(Noticed("place", (), 1.0, literal(text), 0.5), {}) == text


def test_one_question_is_a_part_of_all() -> None:
    p = next(f for f in FAULTS if f.name == "hidden scarf").plant(clean())
    everything = findings(p)
    apart = [f for q in QUESTIONS for f in check_piece(p.deriver, p.recipe, q, card=p.card)]
    assert sorted(f.words for f in everything) == sorted(f.words for f in apart)
    quick = check_piece(p.deriver, p.recipe, card=p.card, repairs=False)
    assert quick == [replace(f, repair=None) for f in everything]
    assert [f.weight for f in everything] == sorted((f.weight for f in everything), reverse=True)


def test_a_drawing_without_a_closed_area_has_nothing_to_judge_yet() -> None:
    p = figure(0)
    empty = np.zeros((100, 120, 4), np.uint8)
    empty[50, 20:100, 3] = 255
    recipe = Recipe(source=Source(asset="0" * 64, width=120, height=100))
    assert check_piece(Deriver(lambda asset: empty), recipe, card=p.card) == []


def test_the_table_is_told_in_the_docs() -> None:
    told = Path("docs/checks.md").read_text()
    for check in CHECKS.values():
        assert check.question in QUESTIONS and len(check.why) > 20
        assert f"| {check.label} | {check.why} | {check.limit.value:g} {check.limit.unit} |" in told
        assert check.limit.source == "own" or len(check.limit.basis) > 10


def test_nothing_that_was_planted_is_left_out_of_the_table() -> None:
    """Each check has a fault that it finds, but those that no edit can bring about."""
    assert set(CHECKS) - {f.check for f in FAULTS} == {"pixels"}
    assert len({f.check for f in FAULTS}) >= 25
