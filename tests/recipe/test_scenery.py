"""Scenery: parts that lie around the figure hold the outside, and are no part of the figure."""

from dataclasses import replace

import numpy as np
import pytest
from numpy.testing import assert_array_equal

from tests.drawings import scene
from wardrobe.core.stack.model import Layer, Tint, mapped
from wardrobe.recipe.document.finish import FinishDraft, OfParts, PlainColour
from wardrobe.recipe.document.lighting import GroundShadow
from wardrobe.recipe.document.model import Recipe, farthest_first
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddFinish,
    AddPart,
    ArrangePart,
    ChangePart,
    ClaimAreas,
    EditRefusedError,
    apply,
)
from wardrobe.recipe.exchange.layered.take_back import match_returned
from wardrobe.recipe.reports.gestures import meaning
from wardrobe.recipe.reports.scenery import share_ground
from wardrobe.recipe.reports.section import stack_section
from wardrobe.recipe.reports.sheet import colour_sheet

DERIVER, SCENE = scene()
WHOLE = View.whole(480, 480)
SKY, FLOOR = SCENE.parts[-2:]


def bare(recipe: Recipe) -> Recipe:
    """The same without its scenery, on its ground."""
    return apply(recipe, ClaimAreas(to="ground", strokes=(
        ((20, 20),), ((20, 460),), ((460, 460),))))


def test_the_figure_is_the_same_before_any_scenery() -> None:
    """Silhouette, form, shapes of passes and completeness do not know of it."""
    without = bare(SCENE)
    assert_array_equal(DERIVER.silhouette(SCENE), DERIVER.silhouette(without))
    one, other = (DERIVER.masks(r, WHOLE) for r in (SCENE, without))
    assert_array_equal(one.levels, other.levels)
    figure = (one.parts > 0) & (one.parts <= len(SCENE.parts) - 2)
    assert_array_equal(figure, other.parts > 0)
    one_picture, other_picture = (DERIVER.picture(r, WHOLE) for r in (SCENE, without))
    assert_array_equal(one_picture[figure], other_picture[figure])
    assert (one_picture[~figure] != other_picture[~figure]).any()
    stages = [DERIVER.stages(r) for r in (SCENE, without)]
    counts = [DERIVER.store(s.completed)[0] for s in stages]
    assert counts[0] == counts[1]


def test_the_outside_is_painted_to_the_last_pixel() -> None:
    """Free of ink, what is around the figure has the colour of the sky or of the floor, and
    their border runs where the horizon was drawn."""
    picture = DERIVER.picture(SCENE, WHOLE)
    assert tuple(picture[20, 20]) == (0x9D, 0xB8, 0xD6)
    assert tuple(picture[460, 20]) == (0x8A, 0x7A, 0x5C) == tuple(picture[460, 460])
    # The curve goes through (4, 330): above it is sky, below it floor, to the edge.
    for x, y in ((0, 330), (60, 323), (470, 339)):
        assert tuple(picture[y - 6, x]) == (0x9D, 0xB8, 0xD6), (x, y)
        assert tuple(picture[y + 6, x]) == (0x8A, 0x7A, 0x5C), (x, y)


def test_scenery_takes_the_shadow_on_the_ground_by_its_plane() -> None:
    """What is thrown falls on the floor as it did on the background, and not on the sky."""
    light = SCENE.light.model_copy(update={"ground": GroundShadow(drop=0.9)})
    lit = SCENE.model_copy(update={"light": light, "finish": ()})
    before, after = DERIVER.picture(SCENE, WHOLE), DERIVER.picture(lit, WHOLE)
    darker = (after < before).any(axis=2)
    masks = DERIVER.masks(lit, WHOLE)
    sky, floor = (masks.parts == len(SCENE.parts) - k for k in (1, 0))
    level = masks.level("ground")
    assert (darker == ((level > 0) & floor & (after != before).any(axis=2)))[floor].all()
    assert darker[floor].any() and not darker[sky].any()
    assert (level[sky] > 0).any()  # the sky is spared by its plane, not by chance


def test_layers_on_figure_and_ground_tell_scenery_from_parts() -> None:
    """A layer on the ground lies on scenery, one on the figure does not, and the shape of the
    whole figure leaves it out."""
    plain = DERIVER.picture(SCENE, WHOLE)
    parts = DERIVER.masks(SCENE, WHOLE).parts
    around = (parts == 0) | (parts > len(SCENE.parts) - 2)
    free = DERIVER.masks(SCENE, WHOLE).ink == 0
    for layer, where in (
            (FinishDraft(name="g", paint=PlainColour(colour="#ff0000"), scope="ground"), around),
            (FinishDraft(name="f", paint=PlainColour(colour="#ff0000"), scope="figure"), ~around),
            (FinishDraft(name="o", paint=PlainColour(colour="#ff0000"), shape=OfParts()), ~around)):
        changed = (DERIVER.picture(apply(SCENE, AddFinish(layers=(layer,))), WHOLE)
                   != plain).any(axis=2)
        assert_array_equal(changed[free], where[free])


def test_the_stack_holds_scenery_under_the_figure_the_farthest_first() -> None:
    recipe = SCENE.model_copy(update={"light": SCENE.light.model_copy(
        update={"ground": GroundShadow()})})
    assert [recipe.parts[row - 1].name for row in farthest_first(recipe.parts)] == ["sky", "floor"]
    names = [line.name for line in stack_section(DERIVER, recipe).lines[::-1]
             if line.kind == "layer"]
    at = [names.index(n) for n in ("background / base", "sky / base", "floor / base",
                                   "silhouette / base", "part 1 / base")]
    assert at == sorted(at)
    assert "floor / ground shadow" in names and "sky / ground shadow" not in names


def test_the_sheet_gives_scenery_its_base_only() -> None:
    rows = {row.part: [c.name for c in row.cells] for row in colour_sheet(SCENE).rows}
    assert rows[SKY.id] == rows[FLOOR.id] == ["base"]
    assert len(rows["p1"]) > 1


def test_what_becomes_scenery_and_what_becomes_figure_again() -> None:
    """A part of the figure that becomes scenery leaves the silhouette; back again it is as before;
    and scenery that becomes figure lets go of the outside."""
    gone = apply(SCENE, ChangePart(part="p1", scenery="near"))
    assert np.count_nonzero(DERIVER.silhouette(gone)) < np.count_nonzero(DERIVER.silhouette(SCENE))
    back = apply(gone, ChangePart(part="p1", scenery="figure"))
    assert_array_equal(DERIVER.picture(back, WHOLE), DERIVER.picture(SCENE, WHOLE))
    inside = apply(SCENE, ChangePart(part=SKY.id, scenery="figure"))
    assert (DERIVER.masks(inside, WHOLE).parts[20, 20]) == 0
    # Parts of the figure take no outside, scenery any area, and hands it on.
    assert DERIVER.masks(apply(SCENE, ClaimAreas(to="p1", strokes=(((20, 20),),))),
                         WHOLE).parts[20, 20] == len(SCENE.parts) - 1
    head = apply(SCENE, ClaimAreas(to=SKY.id, strokes=(((240, 110),),)))
    assert DERIVER.masks(head, WHOLE).parts[110, 240] == len(SCENE.parts) - 1
    given = apply(head, ClaimAreas(to="p2", strokes=(((240, 110),),)))
    assert DERIVER.masks(given, WHOLE).parts[110, 240] == 2


def test_scenery_stands_by_itself() -> None:
    with pytest.raises(EditRefusedError, match="belongs to no part"):
        apply(SCENE, ArrangePart(part=SKY.id, parent="p1"))
    with pytest.raises(EditRefusedError, match="belongs to no part"):
        apply(SCENE, ArrangePart(part="p1", parent=SKY.id))
    child = apply(SCENE, ArrangePart(part="p2", parent="p1"))
    freed = apply(child, ChangePart(part="p1", scenery="near"))
    assert next(p for p in freed.parts if p.id == "p2").parent is None


def test_a_stroke_for_scenery_runs_behind_the_figure() -> None:
    """Drawn with a piece of scenery chosen, a split parts the ground and no area of the figure;
    each piece stays with whom it had."""
    count = DERIVER.areas(SCENE).count
    stroke = [(8.0, 200.0), (470.0, 210.0)]
    behind = apply(SCENE, meaning(DERIVER, SCENE, "split", stroke, SKY.id))
    through = apply(SCENE, meaning(DERIVER, SCENE, "split", stroke, "p1"))
    parts = DERIVER.masks(behind, WHOLE).parts
    assert_array_equal(parts, DERIVER.masks(SCENE, WHOLE).parts)
    grounds = DERIVER.assignment(behind).ground
    assert DERIVER.areas(behind).count > count
    assert np.count_nonzero(~grounds) == np.count_nonzero(~DERIVER.assignment(SCENE).ground)
    assert np.count_nonzero(~DERIVER.assignment(through).ground) > np.count_nonzero(~grounds)
    hills = apply(behind, AddPart(name="hills", scenery="far"))
    given = apply(hills, ClaimAreas(to=hills.parts[-1].id, strokes=(((20, 240),), ((460, 240),))))
    parts = DERIVER.masks(given, WHOLE).parts
    assert parts[190, 20] == len(SCENE.parts) - 1 and parts[240, 20] == len(SCENE.parts) + 1
    with pytest.raises(EditRefusedError, match="from edge to edge"):
        meaning(DERIVER, SCENE, "split", [(200.0, 100.0), (280.0, 110.0)], SKY.id)


def test_ground_that_is_left_goes_to_what_lies_beside_it() -> None:
    """The hole under the sleeve shows the sky, as what is beside it; nothing is left, and what
    had its scenery keeps it."""
    areas, before = DERIVER.areas(SCENE), DERIVER.assignment(SCENE)
    holed = apply(SCENE, ClaimAreas(to="ground", strokes=(((240, 110),), ((240, 410),))))
    shared = apply(holed, share_ground(DERIVER, holed))
    after = DERIVER.assignment(shared)
    sky, floor = len(SCENE.parts) - 1, len(SCENE.parts)
    assert after.scenery[areas.labels[110, 240]] == sky
    assert after.scenery[areas.labels[410, 240]] == floor
    kept = before.scenery > 0
    assert_array_equal(after.scenery[kept], before.scenery[kept])
    with pytest.raises(EditRefusedError, match="All of the ground"):
        share_ground(DERIVER, shared)
    with pytest.raises(EditRefusedError, match="large areas"):
        share_ground(DERIVER, bare(SCENE))
    with pytest.raises(EditRefusedError, match="no scenery"):
        share_ground(DERIVER, SCENE.model_copy(update={"parts": SCENE.parts[:-2]}))


def test_scenery_comes_home_as_it_went_and_with_a_new_colour() -> None:
    """Its layers are known by name; unchanged they change nothing, painted over they give the
    base another colour; what was painted beside the figure is no touch-up on scenery."""
    lit = SCENE.model_copy(update={"light": SCENE.light.model_copy(
        update={"ground": GroundShadow()})})
    stack = DERIVER.stack(lit)
    found = match_returned(DERIVER, lit, stack)
    assert all(r.how == "name" and not (r.put_in or r.taken_out or r.colour) for r in found)
    bases = {r.match.part for r in found if r.match.kind == "base"}
    assert {SKY.id, FLOOR.id, "p1"} <= bases and not any(r.repainted for r in found)

    def repaint(layer: Layer) -> Layer:
        assert isinstance(layer.paint, Tint)
        return replace(layer, paint=Tint(layer.paint.alpha, (0x20, 0x40, 0x60)))

    dusk = mapped(stack, lambda layer: repaint(layer) if layer.name == "sky / base" else layer)
    changed = [r for r in match_returned(DERIVER, lit, dusk) if r.colour]
    assert [(r.match.part, r.colour) for r in changed] == [(SKY.id, "#204060")]
