"""Looks are differences: they follow the piece in all that they do not say."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.drawings import piece
from wardrobe.core.formats.page import Text, pages_to_pdf
from wardrobe.recipe.document.colouring import Wash
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddLook,
    ChangeLook,
    ChangePart,
    ChooseColours,
    EditRefusedError,
    FollowPiece,
    MoveLight,
    MoveLook,
    NudgeColour,
    RemoveLook,
    RemovePart,
    SetBackground,
    SetPass,
    SetPasses,
    SetPattern,
    Several,
    StoredEdit,
    apply,
    dressed,
)
from wardrobe.recipe.exchange.handout.contact_sheet import Sheet, contact_pages
from wardrobe.recipe.reports.look_proposals import (
    ByFew,
    ByHarmony,
    ByPalette,
    ByTime,
    propose_looks,
)
from wardrobe.recipe.reports.looks import report_looks
from wardrobe.recipe.reports.rail import rail_pictures

DERIVER, PLAIN = piece()
SMALL = View.whole(480, 480, 160)
RED = apply(PLAIN, AddLook(name="Red", bases={"p1": "#aa3322"}))
BOTH = apply(RED, AddLook(name="Blue", like="k1", bases={"p2": "#2244aa"}))


def shown(recipe: Recipe, look: str) -> np.ndarray:
    return DERIVER.picture(dressed(recipe, look), SMALL)


def test_a_look_holds_only_what_differs() -> None:
    told = json.loads(BOTH.looks[1].model_dump_json(exclude_defaults=True))
    assert told == {"id": "k2", "name": "Blue", "bases": {"p1": "#aa3322", "p2": "#2244aa"}}
    assert [p.base for p in dressed(BOTH, "k2").parts][2:] == [p.base for p in PLAIN.parts][2:]


def test_what_a_look_does_not_say_follows_the_piece() -> None:
    turned = apply(BOTH, MoveLight(light=BOTH.light.model_copy(update={"azimuth": 20.0})))
    for look in ("piece", "k1", "k2"):
        assert (shown(turned, look) != shown(BOTH, look)).any()
        masks = DERIVER.masks(dressed(turned, look), SMALL)
        assert (masks.levels == DERIVER.masks(turned, SMALL).levels).all()
    recoloured = apply(BOTH, ChangePart(part="p3", base="#123456"))
    assert dressed(recoloured, "k2").parts[2].base == "#123456"
    kept = apply(BOTH, ChangePart(part="p1", base="#123456"))
    assert dressed(kept, "k2").parts[0].base == "#aa3322"
    other = apply(BOTH, MoveLight(targets=("k2",), light=BOTH.light.model_copy(update={
        "azimuth": 300.0})))
    assert dressed(other, "k2").light.azimuth == 300 and dressed(other, "k1").light == BOTH.light
    back = apply(other, FollowPiece(looks=("k2",), what=("light",)))
    assert back == BOTH


def test_a_part_that_goes_leaves_looks_valid() -> None:
    patterned = apply(BOTH, SetPattern(part="p1", pattern=Pattern()))
    plain = apply(apply(patterned, ChangePart(targets=("k2",), part="p1", material="metal")),
                  SetPattern(targets=("k2",), part="p1", pattern=None))
    assert plain.looks[1].materials == {"p1": "metal"} and plain.looks[1].plain == ("p1",)
    without = apply(plain, RemovePart(part="p1"))
    assert without.looks[0].bases == {} and without.looks[1].bases == {"p2": "#2244aa"}
    assert without.looks[1].materials == {} and without.looks[1].plain == ()
    assert shown(without, "k2").shape == (160, 160, 3)
    assert Recipe.model_validate_json(without.model_dump_json()) == without


def test_a_change_goes_to_one_to_several_or_to_all() -> None:
    one = apply(BOTH, ChangePart(targets=("k1",), part="p3", base="#111111"))
    assert [dressed(one, k).parts[2].base for k in ("piece", "k1", "k2")] \
        == [PLAIN.parts[2].base, "#111111", PLAIN.parts[2].base]
    every = apply(BOTH, ChangePart(targets=("piece", "k1", "k2"), part="p1", base="#222222"))
    assert {dressed(every, k).parts[0].base for k in ("piece", "k1", "k2")} == {"#222222"}
    given_back = apply(every, FollowPiece(looks=("k1",), parts=("p1",), what=("base",)))
    assert "p1" not in given_back.looks[0].bases
    # What is as in the piece is not said, so that it goes on following.
    assert all("p1" not in k.bases for k in every.looks)
    all_lighter = apply(BOTH, NudgeColour(targets=("k1", "piece", "k2"), part="p3", name="base",
                                          to="lighter"))
    assert {dressed(all_lighter, k).parts[2].base for k in ("k1", "k2")} \
        == {all_lighter.parts[2].base} and all_lighter.parts[2].base != BOTH.parts[2].base
    assert all("p3" not in k.bases for k in all_lighter.looks)
    nudged = apply(BOTH, Several(edits=tuple(
        NudgeColour(targets=("k1", "k2"), part=p, name="base", to="warmer", times=2)
        for p in ("p1", "p2"))))
    assert nudged.looks[0].bases.keys() == {"p1", "p2"} and nudged.parts == BOTH.parts
    with pytest.raises(EditRefusedError):
        apply(BOTH, ChangePart(targets=("k9",), part="p1", base="#111111"))
    with pytest.raises(EditRefusedError):
        apply(BOTH, ChangePart(targets=("k1",), part="p99", base="#111111"))


def test_any_edit_of_colour_or_light_can_be_made_on_a_look() -> None:
    """What it makes of the piece dressed in the look is what the look shows afterwards."""
    base = apply(apply(BOTH, SetPattern(part="p1", pattern=Pattern(period=40))),
                 ChooseColours(part="p2", own={"shade": "#443322"}))
    passes = base.passes.model_copy(update={"method": "picked"})
    for edit in (ChangePart(part="p4", base="#118822"), ChangePart(part="p3", material="glass"),
                 ChooseColours(part="p1", own={"light": "#ffeecc"}),
                 ChooseColours(part="p2", own={"shade": None}),
                 NudgeColour(part="p1", name="shade", to="darker", times=3),
                 SetPattern(part="p1", pattern=None), SetBackground(colour="#101820"),
                 MoveLight(light=base.light.model_copy(update={"azimuth": 12.0})),
                 SetPasses(passes=passes),
                 SetPass(name="shade", wash=Wash(colour="#335577", strength=0.5))):
        made = apply(base, edit.model_copy(update={"targets": ("k2",)}))
        wanted = apply(dressed(base, "k2"), edit)
        got = dressed(made, "k2")
        assert got.model_dump(exclude={"proposed", "looks"}) == wanted.model_dump(
            exclude={"proposed", "looks"}), edit
        assert made.parts == base.parts and made.looks[0] == base.looks[0]
        assert made.light == base.light and made.passes == base.passes
        assert Recipe.model_validate_json(made.model_dump_json()) == made
    for edit in (ChangePart(part="p1", name="Other"), ChangePart(part="p1", visible=False),
                 SetPattern(part="p1", pattern=Pattern(period=70))):
        with pytest.raises(EditRefusedError):
            apply(base, edit.model_copy(update={"targets": ("k1",)}))


def test_edits_of_earlier_versions_are_understood() -> None:
    """Histories and archives hold them for ever."""
    stored = TypeAdapter(StoredEdit)
    base = apply(BOTH, SetPattern(part="p1", pattern=Pattern(period=40)))

    def after(**edit: object) -> Recipe:
        return apply(base, stored.validate_python(edit))

    every = after(kind="dress", looks=["k2", "piece"], bases={"p1": "#222222", "p3": "#333333"})
    assert [p.base for p in every.parts][:3] == ["#222222", base.parts[1].base, "#333333"]
    assert "p1" not in every.looks[1].bases and every.looks[0] == base.looks[0]
    assert "p1" not in after(kind="dress", looks=["k1"], bases={"p1": None}).looks[0].bases
    nudged = after(kind="dress_nudge", looks=["k1", "piece"], parts=["p3"], to="lighter")
    assert nudged.parts[2].base != base.parts[2].base and "p3" not in nudged.looks[0].bases
    own = after(kind="dress_part", looks=["k1"], part="p1", material="metal", plain=True,
                own={"shade": "#550000"})
    assert (own.looks[0].materials, own.looks[0].plain, own.looks[0].own) == (
        {"p1": "metal"}, ("p1",), {"p1": {"shade": "#550000"}})
    light = base.light.model_copy(update={"azimuth": 300.0})
    told = after(kind="change_look", look="k1", name="New", background="#000000",
                 light=light.model_dump())
    assert (told.looks[0].name, told.looks[0].background, told.looks[0].light) == (
        "New", "#000000", light)
    back = apply(told, stored.validate_python(
        {"kind": "change_look", "look": "k1", "background": "piece", "light": "piece"}))
    assert back.looks[0] == base.looks[0].model_copy(update={"name": "New"})
    both = after(kind="several", edits=[
        {"kind": "dress", "looks": ["k1"], "bases": {"p1": "#222222", "p2": "#333333"}},
        {"kind": "set_background", "colour": "#abcdef"}])
    assert both.looks[0].bases == {"p1": "#222222", "p2": "#333333"}
    assert both.background == "#abcdef"


def test_looks_are_ordered_retired_and_thrown_away() -> None:
    moved = apply(BOTH, MoveLook(look="k2", before="k1"))
    assert [k.id for k in moved.looks] == ["k2", "k1"]
    assert apply(moved, MoveLook(look="k2")).looks == BOTH.looks
    retired = apply(BOTH, ChangeLook(look="k1", retired=True, name="Old"))
    assert retired.looks[0].retired and retired.looks[0].name == "Old"
    assert report_looks(DERIVER, retired).looks[2].nearest == "piece"
    assert [k.id for k in apply(BOTH, RemoveLook(look="k1")).looks] == ["k2"]
    again = apply(apply(BOTH, RemoveLook(look="k1")), AddLook(name="New"))
    assert [k.id for k in again.looks] == ["k2", "k3"]


def test_own_choices_were_for_the_base_and_patterns_move_along() -> None:
    chosen = apply(apply(PLAIN, ChooseColours(part="p1", own={"shade": "#004400"})),
                   SetPattern(part="p1", pattern=Pattern(colour="#d8e8d8", period=30)))
    look = apply(chosen, AddLook(name="Red", bases={"p1": "#aa3322"}))
    part = dressed(look, "k1").parts[0]
    assert part.own == {} and part.pattern is not None and part.pattern.colour != "#d8e8d8"
    same = apply(chosen, AddLook(name="Same", bases={"p2": "#aa3322"}))
    assert dressed(same, "k1").parts[0] is chosen.parts[0]
    own = apply(look, ChooseColours(targets=("k1",), part="p1", own={"shade": "#550000"}))
    assert dressed(own, "k1").parts[0].own == {"shade": "#550000"}


@given(st.lists(st.dictionaries(st.sampled_from(["p1", "p2", "p3", "p4"]), st.integers(
    0, 0xffffff).map(lambda v: f"#{v:06x}"), max_size=4), min_size=1, max_size=5))
def test_the_rail_shows_what_single_pictures_show(bases: list[dict[str, str]]) -> None:
    recipe = apply(PLAIN, SetPattern(part="p2", pattern=Pattern(period=40)))
    for k, one in enumerate(bases):
        recipe = apply(recipe, AddLook(name=f"look {k}", bases=one,
                                       background="#223344" if k % 2 else None))
    worn = [recipe, *(dressed(recipe, k.id) for k in recipe.looks)]
    for picture, one in zip(rail_pictures(DERIVER, worn, 160), worn, strict=True):
        assert (picture == DERIVER.picture(one, SMALL)).all()


def test_proposals_say_what_they_keep_and_can_be_hung() -> None:
    for wish in (ByHarmony(scheme="triad", locked=("p1",), count=3),
                 ByPalette(colours=("#aa3322", "#22aa55"), count=2), ByFew(colours=2, count=2)):
        found = propose_looks(DERIVER, BOTH, wish)
        assert found and all("Keeps values" in p.said for p in found)
        assert len({p.name for p in found}) == len(found)
        recipe = apply(BOTH, AddLook(name=found[0].name, bases=found[0].bases))
        assert shown(recipe, "k3").shape == (160, 160, 3)
        if isinstance(wish, ByHarmony):
            assert all("p1" not in p.bases for p in found)
            more = propose_looks(DERIVER, BOTH, wish.model_copy(update={"lead": found[0].lead}))
            assert all(p.lead is not None for p in more)
    times = propose_looks(DERIVER, BOTH, ByTime(start="k1"))
    assert len(times) >= 4 and all(p.bases == {} and p.passes for p in times)
    with pytest.raises(EditRefusedError, match="unlock"):
        propose_looks(DERIVER, BOTH, ByHarmony(locked=tuple(p.id for p in BOTH.parts)))


def test_the_report_tells_what_is_alike() -> None:
    twin = apply(BOTH, AddLook(name="Twin", like="k1", bases={"p3": "#44485a"}))
    report = report_looks(DERIVER, twin)
    assert abs(sum(report.areas.values()) - 1) < 0.01
    lines = {line.name: line for line in report.looks}
    assert lines["Red"].changed == ["p1"] and lines["Red"].more == []
    assert lines["Twin"].apart is not None and lines["Blue"].apart is not None
    assert set(lines["Twin"].seen_with) == {"deutan", "protan", "tritan"}
    assert report_looks(DERIVER, PLAIN).looks[0].nearest is None


def test_contact_sheets_hold_every_look_with_its_colours() -> None:
    looks = [("The piece", BOTH), *((k.name, dressed(BOTH, k.id)) for k in BOTH.looks)]
    areas = report_looks(DERIVER, BOTH).areas
    for count in (1, 3, 20):
        many = (looks * 7)[:count]
        pages = contact_pages(DERIVER, many, "Figure", areas, Sheet(swatches=4, approval=True))
        said = [i.text for page in pages for i in page.items if isinstance(i, Text)]
        assert sum(t == "chosen" for t in said) == count
        if count > 1:
            assert any("#aa3322" in t for t in said)
        for page in pages:
            assert all(i.x >= 0 and i.y <= page.height for i in page.items)
        assert pages_to_pdf(pages, "Figure").startswith(b"%PDF")


def test_a_look_keeps_its_own_colours_until_its_base_is_another() -> None:
    own = apply(RED, ChooseColours(part="p1", own={"shade": "#224466"}, targets=("k1",)))
    assert own.looks[0].own["p1"] == {"shade": "#224466"}
    striped = apply(own, SetPattern(part="p1", pattern=Pattern(colour="#2f6f5f"),
                                    targets=("k1",)))
    assert striped.looks[0].own["p1"] == {"shade": "#224466"}
    other = apply(striped, ChangePart(part="p1", base="#33aa22", targets=("k1",)))
    assert "p1" not in other.looks[0].own  # it was chosen for the base before
    assert other.looks[0].bases["p1"] == "#33aa22"
