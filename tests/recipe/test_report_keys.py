"""A report's key stands for its answer: the same key, the same answer, whatever is edited."""

import random
from collections.abc import Callable

import pytest
from pydantic import TypeAdapter

from tests.drawings import piece
from tests.recipes import edit_of, kinds
from tests.tries import tries
from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import ChangePart, EditRefusedError, KeepParts, MoveLight, apply
from wardrobe.recipe.reports.figure import offer_figure
from wardrobe.recipe.reports.finishes import ready_finishes
from wardrobe.recipe.reports.gaps import report_gaps
from wardrobe.recipe.reports.hatching import report_hatching
from wardrobe.recipe.reports.joins import joined_parts
from wardrobe.recipe.reports.keys import ReportName, report_keys
from wardrobe.recipe.reports.light import report_light
from wardrobe.recipe.reports.looks import report_looks
from wardrobe.recipe.reports.neighbours import alike
from wardrobe.recipe.reports.palettes import first_palettes
from wardrobe.recipe.reports.section import stack_section
from wardrobe.recipe.reports.sheet import colour_sheet
from wardrobe.recipe.stages import Deriver

Answer = Callable[[Deriver, Recipe], object]

ANSWERS: dict[ReportName, Answer] = {
    "cut": lambda d, r: (d.areas(r).seeds.tolist(), d.areas(r).pixels.tolist(),
                         d.assignment(r).part_of_area.tolist(), d.assignment(r).ground.tolist(),
                         d.darkness(r).kind, [p.id for p in r.parts]),
    "gaps": report_gaps,
    "figure": offer_figure,
    "hatching": report_hatching,
    "joins": joined_parts,
    "palettes": first_palettes,
    "completeness": lambda d, r: d.completeness(r)[0],
    "sheet": lambda d, r: colour_sheet(r),
    "neighbours": alike,
    "light": report_light,
    "finishes": ready_finishes,
    "looks": report_looks,
    "stack": stack_section,
}
_TOLD: TypeAdapter[object] = TypeAdapter(object)


def _told(answer: Answer, deriver: Deriver, recipe: Recipe) -> bytes:
    try:
        return _TOLD.dump_json(answer(deriver, recipe))
    except WardrobeError as error:
        return str(error).encode()


@pytest.mark.parametrize("seed", range(tries(1, 3)))
def test_where_a_key_stays_the_answer_stays(seed: int) -> None:
    """Every kind of edit in some order: an answer may change only where its key does."""
    dice = random.Random(seed)
    deriver, recipe = piece()
    order = kinds() * tries(1, 2)
    dice.shuffle(order)
    known = {name: (report_keys(deriver.stages(recipe))[name], _told(answer, deriver, recipe))
             for name, answer in ANSWERS.items()}
    stayed = 0
    for kind in order:
        edit = edit_of(kind, recipe, dice)
        try:
            after = apply(recipe, edit) if edit else recipe
        except EditRefusedError:
            continue
        if after is recipe:
            continue
        keys = report_keys(deriver.stages(after))
        for name, answer in ANSWERS.items():
            told = _told(answer, deriver, after)
            if keys[name] == known[name][0]:
                stayed += 1
                assert told == known[name][1], (kind, name)
            known[name] = keys[name], told
        recipe = after
    assert stayed > 50


def _changed(edit: object) -> set[str]:
    deriver, recipe = piece()
    recipe = apply(recipe, KeepParts()) if recipe.proposed else recipe
    before = report_keys(deriver.stages(recipe))
    after = report_keys(deriver.stages(apply(recipe, edit)))  # type: ignore[arg-type]
    return {name for name in before if before[name] != after[name]}


def test_what_an_edit_leaves_alone_is_not_asked_for_again() -> None:
    _, recipe = piece()
    part = recipe.parts[0]
    colour = _changed(ChangePart(part=part.id, base="#123456"))
    assert not colour & {"cut", "gaps", "figure", "hatching", "completeness", "areas"}
    assert {"sheet", "neighbours", "looks", "finishes"} <= colour
    name = _changed(ChangePart(part=part.id, name="something else"))
    assert not name & {"cut", "figure", "hatching", "completeness", "areas"}
    light = _changed(MoveLight(light=recipe.light.model_copy(update={"azimuth": 12.0})))
    assert not light & {"cut", "gaps", "figure", "hatching", "joins", "palettes", "neighbours",
                        "completeness", "areas"}
    assert {"light", "finishes"} <= light
