"""What pictures of a series share, parts that are carried over to them, and how they drift."""

import random

import numpy as np
import pytest

from tests.drawings import figure_ink, piece, transparent
from tests.tries import tries
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.lighting import CastPair, Light
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import (
    ChangePart,
    ClaimAreas,
    EditRefusedError,
    KeepParts,
    MoveLight,
    SetBackground,
    SetDelivery,
    SetFill,
    SetLines,
    SetPasses,
    TouchUpPass,
    apply,
)
from wardrobe.recipe.events import CarriedParts, DoubtfulArea, claims_digest
from wardrobe.recipe.events.carried import last_carried
from wardrobe.recipe.events.kinds import noted
from wardrobe.recipe.series.carry import carry_over, path_of
from wardrobe.recipe.series.drift import drift, measure
from wardrobe.recipe.series.film import frames
from wardrobe.recipe.series.shared import (
    FOLLOWED,
    Scene,
    Shared,
    follow,
    follow_change,
    of_its_own,
    shared_from,
)
from wardrobe.recipe.stages import Deriver

DERIVER, RECIPE = piece()
PATHS = [path_of(RECIPE.parts, p.id) for p in RECIPE.parts]


def any_shared(dice: random.Random) -> Shared:
    """Something shared, some of it left to each picture."""
    def maybe(value: object) -> object:
        return value if dice.random() < 0.7 else None

    lines = RECIPE.lines.model_copy(update={"weight": dice.uniform(-2, 2)})
    return Shared.model_validate({
        "lines": maybe(lines.model_dump()), "fill": maybe(dice.choice(
            ["under the line", "to the line"])),
        "passes": maybe(Passes(tones=dice.choice([2, 3]), over_figure=dice.random() < 0.5)
                        .model_dump()),
        "delivery": maybe(RECIPE.delivery.model_copy(update={"dpi": dice.randint(72, 600)})
                          .model_dump()),
        "scenes": [{"name": "dusk", "background": maybe("#88aacc"),
                    "light": maybe(Light(azimuth=dice.uniform(0, 359)).model_dump())}]})


@pytest.mark.parametrize("seed", range(tries(4, 8)))
def test_pictures_follow_but_for_what_they_have_of_their_own(seed: int) -> None:
    """Whatever is shared, and then shared otherwise: what followed goes on to, what did not
    stays, and what is left to each stays as it was."""
    dice = random.Random(seed)
    before, after = any_shared(dice), any_shared(dice)
    edit = follow(RECIPE, before, "dusk")
    following = apply(RECIPE, edit) if edit else RECIPE
    assert of_its_own(following, before, "dusk") == ()
    assert follow(following, before, "dusk") is None
    own = apply(following, dice.choice([
        SetFill(fill="to the line" if following.fill == "under the line" else "under the line"),
        SetBackground(colour="#010203"), MoveLight(light=Light(azimuth=1.5)),
        SetPasses(passes=Passes(off=("glint",))),
        SetLines(lines=following.lines.model_copy(update={"strengthen": 1.5})),
        SetDelivery(delivery=following.delivery.model_copy(update={"dpi": 36}))]))
    its = of_its_own(own, before, "dusk")
    change = follow_change(own, (before, "dusk"), (after, "dusk"))
    now = apply(own, change) if change else own
    for what, followed in FOLLOWED.items():
        said = after.said(what, "dusk")
        if what in its or said is None or said == before.said(what, "dusk"):
            assert followed.of(now) == followed.of(own), what
        else:
            assert followed.of(now) == said, what


def test_a_scene_has_one_light_and_leaves_each_picture_its_pairs() -> None:
    ids = [p.id for p in RECIPE.parts[:2]]
    pair = CastPair(caster=ids[0], receiver=ids[1], length=0.5)
    lit = apply(RECIPE, MoveLight(light=Light(azimuth=10, pairs=(pair,))))
    shared = shared_from(lit, Shared(), ["light"], "noon")
    assert shared.scene("noon") == Scene(name="noon", light=Light(azimuth=10))
    assert of_its_own(lit, shared, "noon") == ()
    edit = follow(apply(lit, MoveLight(light=Light(azimuth=200, pairs=(pair,)))), shared, "noon")
    assert edit
    assert apply(lit, edit).light == Light(azimuth=10, pairs=(pair,))
    # Another scene, in which nothing is said, leaves it alone.
    assert follow(lit, shared, "night") is None
    with pytest.raises(ValueError, match="same name"):
        Shared(scenes=(Scene(name="Noon"), Scene(name="noon")))


def moved_piece(dx: int, dy: int) -> tuple[Deriver, Recipe]:
    """The same figure elsewhere on its paper, as it has just come in, sharing one deriver."""
    ink = np.roll(figure_ink(), (dy, dx), axis=(0, 1))
    rgba = transparent(ink)
    pictures = {RECIPE.source.asset: transparent(figure_ink()), "a" * 64: rgba}
    source = RECIPE.source.model_copy(update={"asset": "a" * 64, "original": None})
    return Deriver(pictures.__getitem__), Recipe(source=source)


def whose(deriver: Deriver, recipe: Recipe) -> dict[tuple[int, int], str]:
    """Name of the part at the innermost place of each area of the figure."""
    areas, assigned = deriver.areas(recipe), deriver.assignment(recipe)
    return {tuple(areas.seeds[a].tolist()): recipe.parts[assigned.part_of_area[a] - 1].name
            for a in range(1, areas.count + 1) if assigned.part_of_area[a]}


def test_parts_their_colours_and_touch_ups_are_carried_over() -> None:
    dx, dy = 24, -12
    deriver, fresh = moved_piece(dx, dy)
    touched = apply(RECIPE, TouchUpPass(name="shade", act="put in", part=RECIPE.parts[0].id,
                                        points=((220, 90), (260, 90), (240, 130))))
    found = carry_over(deriver, [touched], fresh)
    made = apply(fresh, found.edit)
    assert made.proposed and [p.base for p in made.parts] == [p.base for p in RECIPE.parts]
    before, after = whose(deriver, touched), whose(deriver, made)
    assert len(after) == len(before)
    for (x, y), name in before.items():
        near = min(after, key=lambda p: np.hypot(p[0] - x - dx, p[1] - y - dy))
        assert after[near] == name
    assert found.strokes == 1 and found.left == 0 and found.sure > 0.8
    points = np.array(made.touch_ups[0].points) - np.array(touched.touch_ups[0].points)
    assert np.abs(points - [dx, dy]).max() < 6
    # Carried over again, nothing is doubled.
    again = carry_over(deriver, [touched], made)
    assert again.strokes == 0 and len(apply(made, again.edit).touch_ups) == 1


def test_several_sources_are_put_together_by_the_names_of_their_parts() -> None:
    deriver, fresh = moved_piece(10, 10)
    behind = RECIPE.parts[1]
    other = apply(RECIPE, ChangePart(part=RECIPE.parts[0].id, name="visor", base="#102030",
                                     opacity=0.5, behind=behind.id))
    made = apply(fresh, carry_over(deriver, [RECIPE, other], fresh).edit)
    visor = next(p for p in made.parts if p.name == "visor")
    assert visor.opacity == 0.5 and visor.behind == next(
        p.id for p in made.parts if p.name == behind.name)
    assert {path_of(made.parts, p.id) for p in made.parts} == {*PATHS, ("visor",)}
    assert len({p.id for p in made.parts}) == len(made.parts)
    with pytest.raises(EditRefusedError, match="Colour one"):
        carry_over(deriver, [Recipe(source=RECIPE.source)], fresh)


def test_doubts_stand_while_the_parts_are_a_proposal() -> None:
    doubt = DoubtfulArea(place=(1, 1), part=None, second="p1", chance=0.4, pixels=9)
    events = noted([])
    told = CarriedParts(
        pieces=(1,),
        doubts=(doubt,),
        claims=len(RECIPE.claims),
        made=claims_digest(RECIPE.claims),
    )
    happened = [type(e)(**e.model_dump()) for e in events] + noted([told.model_dump()])
    proposed = RECIPE.model_copy(update={"proposed": True})
    assert last_carried(happened, proposed) == told
    assert last_carried(happened, apply(proposed, KeepParts())) is None
    undone = proposed.model_copy(update={"claims": RECIPE.claims[:-1]})
    assert last_carried(happened, undone) is None


def test_drift_is_measured_against_what_is_usual() -> None:
    """Colours by CIEDE2000 (Sharma, Wu and Dalal 2005, checked elsewhere), light in degrees,
    shade by counting the pixels of a picture."""
    part = RECIPE.parts[0]
    recoloured = apply(RECIPE, ChangePart(part=part.id, base="#20e0d0"))
    relit = apply(RECIPE, MoveLight(light=RECIPE.light.model_copy(update={
        "azimuth": RECIPE.light.azimuth + 40})))
    darker = apply(RECIPE, MoveLight(light=RECIPE.light.model_copy(update={"amount": 0.69})))
    told = [(k, "dusk", measure(DERIVER, r)) for k, r in enumerate(
        (RECIPE, RECIPE, RECIPE, recoloured, relit, darker))]
    found = drift(told)
    by = {(d.piece, d.what, d.part) for d in found}
    path = path_of(RECIPE.parts, part.id)
    assert (3, "colour", path) in by and (4, "light", ()) in by
    assert {d.piece for d in found if d.what == "shade"} == {5}
    colour = next(d for d in found if d.what == "colour")
    labs = srgb_to_lab(np.array([from_hex(part.base), from_hex("#20e0d0")]) / 255)
    assert colour.by == pytest.approx(float(delta_e_2000(*labs)), abs=0.06)
    assert next(d.by for d in found if d.what == "light") == pytest.approx(40, abs=1)
    # In another scene its light is its own.
    assert not [d for d in drift([(0, "noon", told[0][2]), (4, "dusk", told[4][2])])
                if d.what == "light"]


def test_frames_have_one_size_and_stay_as_long_as_they_are_held() -> None:
    cropped = apply(RECIPE, ClaimAreas(to="none", strokes=(((240.0, 110.0),),)))
    given = [(lambda: RECIPE, 2), (lambda: cropped, 1)]
    shown = list(frames(DERIVER, given, 200))
    assert [hold for _, hold in shown] == [2, 1]
    assert {p.shape for p, _ in shown} == {(200, 200, 3)}
    assert (shown[0][0] != shown[1][0]).any()
