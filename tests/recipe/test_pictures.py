"""The fast picture, the delivered stack and the sheet give the same pixels."""


import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import piece
from tests.tries import tries
from wardrobe.core.colour import from_hex
from wardrobe.core.form import VOLUMES
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.methods import AMOUNTS, METHODS
from wardrobe.core.passes.table import PASSES
from wardrobe.core.pattern.motifs import MOTIFS
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.colouring import Passes, Wash
from wardrobe.recipe.document.lighting import (
    CastPair,
    GroundShadow,
    Light,
    PartForm,
    SideLight,
    TouchUp,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.sheet import colour_sheet

WHOLE = View.whole(480, 480)
DERIVER, RECIPE = piece()

hexes = st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06x}")
washes = st.builds(Wash, colour=hexes, strength=st.floats(0, 1).map(lambda v: round(v, 3)))


patterns = st.none() | st.builds(
    Pattern, motif=st.sampled_from(sorted(MOTIFS)), colour=hexes,
    share=st.floats(0.1, 0.9), period=st.floats(6, 200), angle=st.floats(-180, 180),
    dx=st.floats(-50, 50), follow=st.booleans(), strength=st.floats(0, 1))


methods = st.sampled_from(sorted(METHODS))
inner = st.sampled_from(["shade", "deep shade", "light", "glint"])
passes = st.builds(
    Passes, method=methods, shade=washes, deep_shade=washes, light=washes, glint=washes,
    wash=washes, turn_to=st.sampled_from(["red", "ambient"]), tones=st.sampled_from([2, 3]),
    over_figure=st.booleans(), off=st.lists(st.sampled_from([*PASSES, "wash"]), max_size=3),
    amounts=st.sampled_from(sorted(AMOUNTS)).flatmap(lambda name: st.floats(
        AMOUNTS[name].low, AMOUNTS[name].high).map(lambda v: {name: v})))


sides = st.none() | st.builds(
    SideLight, azimuth=st.integers(0, 359), height=st.integers(-30, 60), colour=hexes,
    strength=st.floats(0, 1), width=st.floats(1, 8))


forms = st.builds(
    PartForm, volume=st.sampled_from(sorted(VOLUMES)), depth=st.floats(0, 3),
    soft=st.just(0.0) | st.floats(0, 1), highlight=st.none() | st.floats(0, 4),
    nearer=st.floats(-4, 4),
    edges=st.just(()) | st.just((((120.0, 240.0), (360.0, 250.0)),)))


grounds = st.none() | st.builds(
    GroundShadow, colour=hexes, strength=st.floats(0, 1), soft=st.just(0.0) | st.floats(0, 1),
    pitch=st.floats(0.02, 1), drop=st.floats(-40, 40))


places = st.tuples(st.floats(-20, 500), st.floats(-20, 500))


@st.composite
def touch_ups(draw: st.DrawFn) -> TouchUp:
    act = draw(st.sampled_from(["put in", "take out", "soften"]))
    points = tuple(draw(st.lists(places, min_size=3, max_size=6)))
    width = st.floats(1, 60)
    pen = act == "soften" or draw(st.booleans())
    return TouchUp(
        id=1, name=draw(st.sampled_from(sorted(PASSES))), act=act, azimuth=0, height=40,
        part=draw(st.none() | st.sampled_from([p.id for p in RECIPE.parts])), points=points,
        widths=tuple(draw(st.lists(width, min_size=len(points), max_size=len(points))))
        if pen else ())


@st.composite
def recipes(draw: st.DrawFn) -> Recipe:
    """The test figure in other colours, methods and another light; some parts choose their own."""
    parts = tuple(p.model_copy(update={
        "base": draw(hexes), "pattern": draw(patterns), "form": draw(forms),
        "method": draw(st.none() | methods),
        "own": draw(st.just({}) | st.dictionaries(inner, hexes, max_size=2))})
        for p in RECIPE.parts)
    return RECIPE.model_copy(update={
        "parts": parts, "background": draw(hexes), "passes": draw(passes),
        "touch_ups": tuple(draw(st.lists(touch_ups(), max_size=3))),
        "light": Light(azimuth=draw(st.integers(0, 359)), height=draw(st.integers(-20, 90)),
                       ambient=draw(hexes), rim=draw(sides), bounce=draw(sides),
                       ground=draw(grounds),
                       amount=draw(st.floats(0.1, 0.7)), simple=draw(st.floats(0, 1)),
                       cast=draw(st.floats(0, 3)),
                       depth=draw(st.sampled_from(["guessed", "as listed"]))),
        "lines": RECIPE.lines.model_copy(update={"colour": draw(hexes)}),
    })


@settings(max_examples=tries(12, 40), deadline=None)
@given(recipes())
def test_flattening_the_stack_gives_the_picture(recipe: Recipe) -> None:
    flat = flatten(DERIVER.stack(recipe))
    assert (flat[..., 3] == 255).all()
    picture = DERIVER.picture(recipe, WHOLE)
    assert np.abs(flat[..., :3].astype(int) - picture).max() <= 1


@settings(max_examples=tries(15, 60), deadline=None)
@given(recipes())
def test_the_sheet_shows_the_colours_of_the_picture_exactly(recipe: Recipe) -> None:
    """In every method, inside every pass: where its mask, and those it lies in, are full and
    those that it does not lie in are empty."""
    plain = tuple(p.model_copy(update={"pattern": None}) for p in recipe.parts)
    recipe = recipe.model_copy(update={"parts": plain})
    masks = DERIVER.masks(recipe, WHOLE)
    picture = DERIVER.picture(recipe, WHOLE)
    for number, (part, row) in enumerate(zip(plain, colour_sheet(recipe).rows, strict=True), 1):
        inside = (masks.parts == number) & (masks.ink == 0)
        for cell in row.cells:
            full = {cell.name, *(PASSES[cell.name].within if cell.name in PASSES else ())}
            where = inside
            for key in masks.keys:
                # A shape that this part has no layer for does not matter to it.
                if key in {c.name for c in row.cells}:
                    where = where & (masks.level(key) == (255 if key in full else 0))
            assert (picture[where] == from_hex(cell.colour)).all(), (row.method, cell)
            if cell.own:
                assert cell.colour == part.own[cell.name]


def test_a_crop_is_a_piece_of_the_whole() -> None:
    whole = DERIVER.picture(RECIPE, WHOLE)
    crop = DERIVER.picture(RECIPE, View(101, 57, 200, 180, 1.0))
    assert (crop == whole[57:237, 101:301]).all()


def test_every_part_has_shade_and_each_shiny_one_light() -> None:
    masks = DERIVER.masks(RECIPE, WHOLE)
    shade, light = masks.level("shade"), masks.level("light")
    for number in range(1, len(RECIPE.parts) + 1):
        inside = masks.parts == number
        assert 0.1 < (shade[inside] > 127).mean() < 0.75
        shiny = MATERIALS[RECIPE.parts[number - 1].material].highlight > 0
        assert (light[inside] > 127).any() == shiny


def test_a_draft_shows_nearly_the_same_shapes() -> None:
    fine, draft = DERIVER.masks(RECIPE, WHOLE), DERIVER.masks(RECIPE, WHOLE, draft=True)
    assert ((fine.levels > 127) != (draft.levels > 127)).mean((0, 1)).max() < 0.02


@pytest.mark.parametrize("edge", [64, 200])
def test_small_views_keep_the_picture(edge: int) -> None:
    small = DERIVER.picture(RECIPE, View.whole(480, 480, edge))
    assert small.shape == (edge, edge, 3)
    whole = DERIVER.picture(RECIPE, WHOLE)
    assert np.abs(small.mean((0, 1)) - whole.mean((0, 1))).max() < 3


def pieces_of(mask: np.ndarray) -> int:
    return cv2.connectedComponents((mask > 127).astype(np.uint8))[0] - 1


def test_simplifying_leaves_fewer_and_larger_shapes() -> None:
    def shade(simple: float) -> np.ndarray:
        light = Light(azimuth=60, height=20, cast=2, simple=simple)
        return DERIVER.masks(RECIPE.model_copy(update={"light": light}), WHOLE).level("shade")

    islands = [pieces_of(shade(s)) for s in (0, 0.35, 0.7, 1)]
    holes = [pieces_of(255 - shade(s)) for s in (0, 0.35, 0.7, 1)]
    assert islands == sorted(islands, reverse=True) and holes == sorted(holes, reverse=True)


def test_more_shade_is_more_shade_and_casts_can_be_off() -> None:
    def shaded(**change: object) -> int:
        recipe = RECIPE.model_copy(update={"light": RECIPE.light.model_copy(update=change)})
        return int((DERIVER.masks(recipe, WHOLE).level("shade") > 127).sum())

    amounts = [shaded(amount=a, cast=0) for a in (0.15, 0.3, 0.45, 0.6)]
    assert amounts == sorted(amounts) and amounts[-1] > 2 * amounts[0]
    listed_too = {"depth": "as listed"}
    assert shaded(cast=0, **listed_too) < shaded(cast=1, **listed_too) \
        <= shaded(cast=2.5, **listed_too)
    # Switched off one pair after the other, nothing of them is left.
    ids = [p.id for p in RECIPE.parts]
    listed = {"depth": "as listed", "cast": 2.0}
    off = tuple(CastPair(caster=a, receiver=b, length=0) for a in ids for b in ids if a != b)
    assert shaded(cast=0, **listed_too) == shaded(**listed, pairs=off)
    assert shaded(**listed, pairs=off) < shaded(**listed, pairs=off[3:]) <= shaded(**listed)


def test_a_rim_follows_the_silhouette_on_its_side_and_bounce_stays_in_the_shade() -> None:
    side = SideLight(azimuth=0, height=-10, colour="#ffffff", strength=1, width=4)
    light = Light(azimuth=170, height=30, rim=side,
                  bounce=side.model_copy(update={"azimuth": 330, "height": 15}))
    masks = DERIVER.masks(RECIPE.model_copy(update={"light": light}), WHOLE)
    rim, bounce = masks.level("rim") > 127, masks.level("bounce") > 127
    assert rim.sum() > 100 and bounce.any()
    assert not (rim & (masks.parts == 0)).any()
    assert not (rim & (masks.level("shade") > 127)).any()
    from_ground = cv2.distanceTransform((masks.parts > 0).astype(np.uint8), cv2.DIST_L2, 5)
    assert from_ground[rim].max() < 6 * DERIVER.areas(RECIPE).line_width
    figure = np.nonzero(masks.parts > 0)[1].mean()
    assert np.nonzero(rim)[1].mean() > figure + 40
    assert (masks.level("shade")[bounce] > 127).all()
