"""What the colour arithmetic proposes, and what comes of it in the picture."""

from functools import reduce

import numpy as np
import pytest

from tests.drawings import piece
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab, srgb_to_oklch
from wardrobe.recipe.document.colouring import Passes, Wash
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    ChangePart,
    ChooseColours,
    EditRefusedError,
    NudgeColour,
    SetMethod,
    SetPass,
    apply,
)
from wardrobe.recipe.reports.neighbours import alike
from wardrobe.recipe.reports.proposals import EvenOut, LightBy, Match, SpellOut, propose
from wardrobe.recipe.reports.sheet import colour_sheet

DERIVER, RECIPE = piece()
WHOLE = View.whole(480, 480)
BASES = ("#e9b690", "#3f7377", "#8a4226", "#c9b48d")


def dressed(*bases: str) -> Recipe:
    return reduce(apply, (ChangePart(part=p.id, base=b)
                          for p, b in zip(RECIPE.parts, bases, strict=False)), RECIPE)


def shade_steps(recipe: Recipe) -> list[float]:
    return [next(c.step for c in r.cells if c.name == "shade") for r in colour_sheet(recipe).rows]


@pytest.mark.parametrize("method", ["one shade", "light out of dark", "soft then hard"])
def test_evening_out_brings_the_worst_part_nearer(method: str) -> None:
    recipe = apply(dressed(*BASES), SetPass(name="shade", wash=Wash(colour="#706090",
                                                                    strength=0.8)))
    recipe = recipe.model_copy(update={"passes": recipe.passes.model_copy(
        update={"method": method})})
    before = max(abs(s - 14) for s in shade_steps(recipe))
    proposal = propose(recipe, EvenOut(wanted=14, own=False))
    after = apply(recipe, proposal.edit)
    worst = max(abs(s - 14) for s in shade_steps(after))
    assert worst < 0.6 * before and worst == pytest.approx(proposal.worst, abs=0.7)
    assert after.passes.method == method


def test_parts_that_no_wash_serves_get_their_own_and_own_choices_stay() -> None:
    recipe = dressed("#e9b690", "#100d0f", "#8a4226", "#c9b48d")
    skin, black = recipe.parts[0].id, recipe.parts[1].id
    recipe = apply(recipe, ChooseColours(part=skin, own={"shade": "#cc8866"}))
    after = apply(recipe, propose(recipe, EvenOut(wanted=14)).edit)
    own = {p.id: p.own for p in after.parts}
    assert own[skin] == {"shade": "#cc8866"} and set(own[black]) == {"light"}
    row = next(r for r in colour_sheet(after).rows if r.part == black)
    assert next(c.step for c in row.cells if c.name == "light") == pytest.approx(14, abs=1)


def test_from_one_school_to_the_other_and_back() -> None:
    recipe = dressed(*BASES)
    spelled = apply(recipe, propose(recipe, SpellOut()).edit)
    assert spelled.passes.method == "picked"
    # The same colours in other layers: the same picture, but at the edges of shapes.
    one, other = DERIVER.picture(recipe, WHOLE), DERIVER.picture(spelled, WHOLE)
    assert (np.abs(one.astype(int) - other).max(axis=2) > 1).mean() < 0.002
    matched = propose(spelled, Match())
    assert matched.worst < 1.0
    back = apply(spelled, matched.edit)
    assert back.passes.method == "one shade" and all(not p.own for p in back.parts)
    for was, now in zip(colour_sheet(recipe).rows, colour_sheet(back).rows, strict=True):
        for a, b in zip(was.cells, now.cells, strict=True):
            labs = srgb_to_lab(np.array([from_hex(a.colour), from_hex(b.colour)]) / 255)
            assert delta_e_2000(labs[0], labs[1]) < 1.5


def test_a_match_is_exact_where_glints_lie_on_some_parts_only() -> None:
    """One shade for all, spelled out, is found again: the washes that made it are there."""
    recipe = apply(dressed(*BASES), ChangePart(part=RECIPE.parts[1].id, material="metal"))
    spelled = apply(recipe, propose(recipe, SpellOut()).edit)
    assert propose(spelled, Match()).worst < 1.0


def test_a_grey_background_gives_a_grey_shade() -> None:
    grey = dressed(*BASES).model_copy(update={"background": "#b4b4b4"})
    after = apply(grey, propose(grey, LightBy(from_background=True)).edit)
    assert srgb_to_oklch(np.array(from_hex(after.passes.shade.colour)) / 255)[1] < 0.02


def test_a_light_by_name_colours_light_and_shade_alike() -> None:
    recipe = dressed(*BASES)
    golden = apply(recipe, propose(recipe, LightBy(light="golden hour")).edit)
    assert golden.light.azimuth == recipe.light.azimuth
    assert golden.passes.light.colour == golden.light.colour
    light, shade = (srgb_to_oklch(np.array(from_hex(c)) / 255)[2]
                    for c in (golden.light.colour, golden.passes.shade.colour))
    assert 40 < light < 90 and 230 < shade < 300  # warm light, shade lit by a blue sky
    assert propose(recipe, LightBy(light=4300)).edit.edits
    # By a green ground the shade is lit green, and the light stays.
    grounded = recipe.model_copy(update={"background": "#3f8f4a"})
    after = apply(grounded, propose(grounded, LightBy(from_background=True)).edit)
    assert after.light.ambient == "#3f8f4a" and after.light.colour == recipe.light.colour
    assert 120 < srgb_to_oklch(np.array(from_hex(after.passes.shade.colour)) / 255)[2] < 170
    with pytest.raises(EditRefusedError, match="candle"):
        propose(recipe, LightBy(light="disco"))


def test_what_cannot_be_worked_out_is_said() -> None:
    picked = dressed(*BASES).model_copy(update={"passes": Passes(method="picked")})
    with pytest.raises(EditRefusedError, match="works on washes"):
        propose(picked, EvenOut())
    with pytest.raises(EditRefusedError, match="no parts"):
        propose(RECIPE.model_copy(update={"parts": ()}), EvenOut())


def test_a_nudge_moves_what_is_seen_and_a_method_of_its_own_is_kept() -> None:
    recipe, part = dressed(*BASES), RECIPE.parts[0].id
    seen = colour_sheet(recipe).rows[0].colour("shade")
    nudged = apply(recipe, NudgeColour(part=part, name="shade", to="lighter", times=2))
    now = colour_sheet(nudged).rows[0].colour("shade")
    labs = srgb_to_lab(np.array([from_hex(seen), from_hex(now)]) / 255)
    assert delta_e_2000(labs[0], labs[1]) == pytest.approx(4, abs=0.6) and labs[1, 0] > labs[0, 0]
    own = apply(nudged, SetMethod(part=part, method="values first"))
    assert [r.method for r in colour_sheet(own).rows][:2] == ["values first", "one shade"]
    assert colour_sheet(own).rows[0].colour("shade") == now
    with pytest.raises(EditRefusedError, match="half light"):
        apply(recipe, NudgeColour(part=part, name="half light", to="darker"))


def test_neighbours_that_look_alike_are_found_and_weighed_by_their_border() -> None:
    same = dressed("#808080", "#858585", "#3f7377", "#e9d8a0")
    pairs = alike(DERIVER, same)
    assert pairs[0].mark == "colours alike" and set(pairs[0].parts) == {"p1", "p2"}
    assert pairs[0].step == pytest.approx(2, abs=0.5) and 0.1 < pairs[0].share <= 1
    values = alike(DERIVER, dressed("#b05050", "#4d7d50", "#20242c", "#f0ead8"))
    assert {p.mark for p in values} == {"values alike"}
    assert alike(DERIVER, dressed("#101010", "#f0f0f0", "#a03030", "#707070")) == []
