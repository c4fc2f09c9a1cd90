"""Edits: what they change, what they refuse, what survives."""

from collections.abc import Callable
from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from tests.drawings import piece
from wardrobe.recipe.document.model import Closing, Lines, OpenGap, Recipe, ShareArea
from wardrobe.recipe.edits import (
    AddPart,
    AskAgain,
    ChangePart,
    ChangeShares,
    ClaimAreas,
    Edit,
    EditRefusedError,
    InkClosing,
    RemoveClosing,
    RemovePart,
    SetLines,
    apply,
)

DERIVER, RECIPE = piece()
HEAD = ((240.0, 110.0),)


def owner(recipe: Recipe, x: int = 240, y: int = 110) -> str | None:
    """Name of the part at a point."""
    row = DERIVER.assignment(recipe).part_of_area[DERIVER.areas(recipe).labels[y, x]]
    return recipe.parts[row - 1].name if row else None


def hat() -> Recipe:
    made = apply(RECIPE, AddPart(name="hat", material="leather", base="#abc"))
    return apply(made, ClaimAreas(to=made.parts[-1].id, strokes=(HEAD,)))


def test_a_claim_gives_an_area_and_another_takes_it_away() -> None:
    assert owner(hat()) == "hat"
    assert hat().parts[-1].base == "#aabbcc"
    assert owner(apply(hat(), ClaimAreas(to="none", strokes=(HEAD,)))) is None
    assert piece()[1] == RECIPE  # edits leave the recipe they are given alone


def test_claims_survive_a_new_cut() -> None:
    assert owner(apply(hat(), SetLines(lines=Lines(threshold=0.3, weight=3)))) == "hat"


def test_ground_can_be_toggled() -> None:
    recipe = apply(hat(), ClaimAreas(to="ground", strokes=(HEAD,)))
    assert owner(recipe) is None
    assert DERIVER.assignment(recipe).ground[DERIVER.areas(recipe).labels[110, 240]]
    back = apply(recipe, ClaimAreas(to="figure", strokes=(HEAD,)))
    assert not DERIVER.assignment(back).ground[DERIVER.areas(back).labels[110, 240]]
    outside = apply(hat(), ClaimAreas(to=hat().parts[-1].id, strokes=(((3.0, 3.0),),)))
    assert owner(outside, 3, 3) is None  # ground is not claimed by accident


def test_removing_a_part_frees_its_areas_and_never_reuses_its_id() -> None:
    recipe = hat()
    gone = recipe.parts[-1].id
    recipe = apply(recipe, RemovePart(part=gone))
    assert owner(recipe) is None
    assert apply(recipe, AddPart(name="new")).parts[-1].id != recipe.parts[-1].id


@pytest.mark.parametrize("edit", [
    AddPart(name="HAT"), ChangePart(part="p999", name="x"), RemovePart(part="p999"),
    ClaimAreas(to="p999", strokes=(HEAD,)), ChangePart(part="p1", name="hat"),
    RemoveClosing(index=0), InkClosing(index=3, inked=True), AskAgain(index=0),
])
def test_edits_that_do_not_fit_are_refused(edit: Edit) -> None:
    with pytest.raises(EditRefusedError):
        apply(hat(), edit)


CLOSINGS = tuple(Closing(points=((10.0 * k, 5.0), (10.0 * k + 4, 9.0))) for k in range(5))
SIDES = tuple(OpenGap(ends=((10.0 * k, 5.0), (10.0 * k + 4, 9.0)),
                      sides=((10.0 * k, 1.0), (10.0 * k, 11.0))) for k in range(5))
SHARES = tuple(ShareArea(places=((10.0 * k, 5.0), (10.0 * k + 4, 9.0))) for k in range(5))
PLACES = ((1.0, 1.0), (2.0, 2.0), (3.0, 3.0))


@pytest.mark.parametrize("index", range(5))
@pytest.mark.parametrize(("field", "edit", "there"), [
    ("closings", lambda k: InkClosing(index=k, inked=True),
     lambda old: (old.model_copy(update={"inked": True}),)),
    ("closings", lambda k: RemoveClosing(index=k), lambda old: ()),
    ("left_open", lambda k: AskAgain(index=k), lambda old: ()),
    ("recuts", lambda k: ChangeShares(index=k, places=PLACES),
     lambda old: (ShareArea(places=PLACES),)),
])
def test_an_entry_that_is_named_by_its_place_changes_alone(
        field: str, edit: Callable[[int], Edit], there: Callable[[Any], tuple[Any, ...]],
        index: int) -> None:
    full = RECIPE.model_copy(update={"closings": CLOSINGS, "left_open": SIDES, "recuts": SHARES})
    after = apply(full, edit(index))
    old = getattr(full, field)
    assert getattr(after, field) == (*old[:index], *there(old[index]), *old[index + 1:])
    for other in {"closings", "left_open", "recuts", "parts", "claims"} - {field}:
        assert getattr(after, other) == getattr(full, other)
    with pytest.raises(EditRefusedError, match="no longer there"):
        apply(full, edit(5))


@pytest.mark.parametrize("document", [
    {"kind": "add_part", "name": "   "}, {"kind": "add_part", "name": "a/b"},
    {"kind": "add_part", "name": ".."}, {"kind": "add_part", "name": "a\u200bb"},
    {"kind": "add_part", "name": "a\x07"}, {"kind": "add_part", "name": "\ud800"},
    {"kind": "several", "edits": [{"kind": "several", "edits": []}]},
    {"kind": "set_pattern", "part": "p1", "pattern": {"motif": "paisley"}},
    {"kind": "set_pattern", "part": "p1", "pattern": {"period": 0}},
    {"kind": "add_recut", "recut": {"kind": "split", "stroke": [[1, 1]]}},
    {"kind": "add_part", "name": "x" * 61}, {"kind": "add_part", "name": "x", "base": "blue-ish"},
    {"kind": "add_part", "name": "x", "material": "cheese"},
    {"kind": "set_lines", "lines": {"threshold": 2}},
    {"kind": "set_lines", "lines": {"weight": float("inf")}},
    {"kind": "close_gaps", "closings": [{"points": [[1, 1]]}]},
    {"kind": "move_light", "light": {"azimuth": float("nan"), "height": 3}},
    {"kind": "claim_areas", "to": "p1", "strokes": [[]]}, {"kind": "paint"},
    {"kind": "set_background", "colour": "#ffffff", "more": 1},
])
def test_malformed_edits_do_not_validate(document: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        TypeAdapter(Edit).validate_python(document)


def test_a_name_is_kept_tidy_and_once() -> None:
    made = apply(RECIPE, AddPart(name="  cafe\u0301   coat "))
    assert made.parts[-1].name == "caf\u00e9 coat"
    with pytest.raises(EditRefusedError, match="already"):
        apply(made, AddPart(name="CAF\u00c9 coat"))


def test_a_recipe_survives_json() -> None:
    assert Recipe.model_validate_json(hat().model_dump_json()) == hat()
