"""Finish layers: the picture, its tiles and the delivered stack agree, whatever is laid on."""

import random
from functools import cache
from itertools import product

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from pydantic import ValidationError
from scipy import ndimage

from tests.drawings import piece, scene
from tests.tries import tries
from wardrobe.core.composite.modes import MODES
from wardrobe.core.finish import textures
from wardrobe.core.finish.textures import TEXTURES, Texture
from wardrobe.core.layers import operators
from wardrobe.core.layers.operators import OPERATORS, Offset, OperatorKind
from wardrobe.core.setting import Setting
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.finish import (
    ColourGradient,
    Contact,
    Everywhere,
    FinishDraft,
    FinishLayer,
    Focus,
    FormGradient,
    GivenOff,
    InPass,
    LaidPattern,
    OfLines,
    OfParts,
    Operation,
    PlainColour,
    Sparks,
    Spots,
    SpotStroke,
    Stop,
    TextureUse,
)
from wardrobe.recipe.document.lighting import GroundShadow, SideLight
from wardrobe.recipe.document.model import Halo, Recipe
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddFinish,
    AddLook,
    ChangePart,
    apply,
    dressed,
)
from wardrobe.recipe.reports.section import stack_section

DERIVER, PLAIN = piece()
SIDE = SideLight(azimuth=0, height=0, colour="#ffddaa", strength=0.5)
LIT = PLAIN.model_copy(update={"halo": Halo(width=2), "light": PLAIN.light.model_copy(update={
    "rim": SIDE, "ground": GroundShadow()})})
SCENE_DERIVER, SCENE = scene()
SCENERY = SCENE.model_copy(update={"light": LIT.light})
WHOLE = View.whole(480, 480)
PEN = SpotStroke(points=((100, 120), (220, 260)), widths=(30, 50))
SHAPES = [Everywhere(), InPass(name="shade"), InPass(name="shade", outside=True),
          InPass(name="ground"), InPass(name="bounce"), OfParts(), OfParts(parts=("p1",)),
          OfLines(), Spots(strokes=(PEN, SpotStroke(
              points=((150, 150), (190, 160), (170, 200)), erases=True))),
          GivenOff(parts=("p1",), reach=120, height=40), Contact(width=25),
          Sparks(at=(200, 200), radius=200, count=90, size=9, seed=4)]
STOPS = (Stop(at=0, colour="#203060"), Stop(at=0.6, colour="#d06030"),
         Stop(at=1, colour="#ffe9b0"))
FADING = (Stop(at=0, colour="#203060", opacity=0), Stop(at=1, colour="#ffe9b0"))
PAINTS = [PlainColour(colour="#c04020"),
          ColourGradient(ends=((60, 40), (400, 430)), stops=STOPS),
          ColourGradient(ends=((200, 200), (200, 400)), round=True, stops=FADING),
          LaidPattern(at=(240, 240), pattern=Pattern(motif="dots", period=31, strength=0.7)),
          LaidPattern(at=(140, 200), pattern=Pattern(motif="checks", period=51), blur=4.5),
          FormGradient(way="light", stops=STOPS), FormGradient(way="viewer", stops=FADING)]
OPERATIONS = [(), (Operation(kind="blur", amounts={"by": 9}),),
              (Operation(kind="spread", amounts={"by": 7.5}), Operation(kind="blur")),
              (Operation(kind="offset", amounts={"dx": 12, "dy": -5}), Operation(kind="invert")),
              (Operation(kind="fringe"),), (Operation(kind="band", amounts={"by": 11}),)]
FOCUS = (Focus(at=(230, 130), radius=60), Focus(at=(90, 400), radius=150))


def draft_of(dice: random.Random, k: int) -> FinishDraft:
    scope = dice.choice(["everything", "figure", "ground", "parts"])
    texture = TextureUse(key=dice.choice(list(TEXTURES)), size=dice.uniform(0.3, 3),
                         angle=dice.uniform(-180, 180), amount=dice.random())
    return FinishDraft(
        name=f"layer {k}", paint=dice.choice(PAINTS), shape=dice.choice(SHAPES),
        operations=dice.choice(OPERATIONS), texture=dice.choice([None, None, texture]),
        mode=dice.choice(["normal", "multiply", "screen", "overlay", "soft-light",
                          "plus-lighter", "darken"]),
        strength=round(dice.uniform(0.1, 1), 2), scope=scope,
        parts=("p2",) if scope == "parts" else (), over_lines=dice.random() < 0.3,
        visible=dice.random() < 0.9, focus=dice.choice(["as it is", "as it is", "there", "away"]))


def finished(*layers: FinishDraft, recipe: Recipe = LIT) -> Recipe:
    return apply(recipe, AddFinish(layers=layers))


@settings(max_examples=tries(8, 25))
@given(st.integers(0, 2**32), st.integers(1, 6),
       st.sampled_from(list(product(("by part", "by pass", "whole figure"),
                                    ("limited", "masked")))), st.booleans(), st.booleans())
def test_picture_tiles_and_stack_agree(seed: int, count: int, how: tuple[str, str],
                                       hide: bool, around: bool) -> None:
    """Any layers: the stack flattens to the picture within 1/255, a tile is that of the whole."""
    dice = random.Random(seed)
    deriver, base = (SCENE_DERIVER, SCENERY) if around else (DERIVER, LIT)
    recipe = finished(*(draft_of(dice, k) for k in range(count)), recipe=base)
    recipe = recipe.model_copy(update={
        "delivery": Delivery(arrangement=how[0], clipping=how[1]), "focus": FOCUS,
        "finish_amount": dice.choice([1.0, 0.6])})
    if hide:
        recipe = apply(recipe, ChangePart(part="p2", visible=False))
    picture = deriver.picture(recipe, WHOLE)
    stack = deriver.stack(recipe)
    off = np.abs(flatten(stack)[..., :3].astype(int) - picture)
    assert off.max() <= 1
    listed = [line.name for line in stack_section(deriver, recipe).lines if line.kind == "layer"]
    assert listed[::-1] == [layer.name for layer in stack.layers()]
    x, y = dice.randrange(400), dice.randrange(400)
    tile = View(x, y, dice.randrange(20, 80), dice.randrange(20, 80)).within(480, 480)
    assert np.array_equal(deriver.picture(recipe, tile), picture[tile.slices])
    half = View(2 * (x // 2), 2 * (y // 2), 60, 60, 0.5).within(480, 480)
    small = deriver.picture(recipe, View(0, 0, 480, 480, 0.5))
    there = small[half.y // 2:half.y // 2 + half.shape[0], half.x // 2:half.x // 2 + half.shape[1]]
    off = np.abs(deriver.picture(recipe, half).astype(int) - there)
    assert np.quantile(off, 0.99) <= 1  # shapes drawn for a scaled tile may differ at an edge


def test_light_given_off_spares_what_gives_it_and_falls_on_the_rest() -> None:
    lamp = FinishDraft(name="lamp", paint=PlainColour(colour="#ffcc66"), mode="screen",
                       shape=GivenOff(parts=("p1",), reach=150, height=40))
    night = LIT.model_copy(update={"background": "#303440"})
    before, after = (DERIVER.picture(r, WHOLE).astype(int)
                     for r in (night, finished(lamp, recipe=night)))
    parts, brighter = DERIVER.masks(LIT, WHOLE).parts, (after - before).sum(axis=2)
    assert not brighter[parts == 1].any()
    y, x = (int(v) for v in ndimage.center_of_mass(parts == 1))
    away = np.hypot(*(np.mgrid[:480, :480] - np.array([y, x])[:, None, None]))
    ground = parts == 0
    rings = [brighter[ground & (away > r) & (away < r + 25)].mean() for r in (130, 170, 210, 240)]
    assert rings == sorted(rings, reverse=True) and rings[0] > 30  # fainter the farther away
    hidden = apply(finished(lamp), ChangePart(part="p1", visible=False))
    dark = apply(LIT, ChangePart(part="p1", visible=False))
    assert np.array_equal(DERIVER.picture(hidden, WHOLE), DERIVER.picture(dark, WHOLE))


def test_a_lamp_too_small_to_be_met_shines_all_the_same() -> None:
    """A spark of a lamp, 12 px across in 2400: the ground beside it is brighter than far away."""
    ink = np.zeros((2400, 2400), np.uint8)
    cv2.circle(ink, (600, 900), 7, 255, 2)
    cv2.circle(ink, (1700, 1200), 400, 255, 6)
    deriver, recipe = piece(ink)
    owner, labels = deriver.assignment(recipe).part_of_area, deriver.areas(recipe).labels
    tiny = recipe.parts[owner[labels[900, 600]] - 1].id
    lamp = FinishDraft(name="lamp", paint=PlainColour(colour="#ffffff"), mode="screen",
                       shape=GivenOff(parts=(tiny,), reach=200, height=80))
    night = recipe.model_copy(update={"background": "#202020"})
    shown = deriver.picture(apply(night, AddFinish(layers=(lamp,))), View.whole(2400, 2400, 600))
    assert shown[225, 160].mean() > 120 > 40 > shown[590, 10].mean()


def test_a_blurred_picture_is_as_scipy_blurs_it() -> None:
    """Within 2 levels of SciPy's Gaussian on colours weighed by their cover."""
    at = LaidPattern(at=(240, 240), pattern=Pattern(motif="dots", period=60, colour="#d04010"))
    def image(blur: float) -> np.ndarray:
        layer = FinishLayer(id="f1", name="x", paint=at.model_copy(update={"blur": blur}))
        stage = DERIVER.stages(finished(layer)).finish_image(layer, WHOLE, False)
        return DERIVER.store(stage).astype(float)

    sharp, soft = image(0), image(7)
    cover = ndimage.gaussian_filter(sharp[..., 3], 7, mode="nearest")
    assert np.abs(soft[..., 3] - cover).max() <= 1.5
    seen = soft[..., 3] > 40
    # A colour that is a sixth there has been rounded six times as much.
    assert np.abs(soft[..., :3][seen] - (0xD0, 0x40, 0x10)).max() <= 6


def test_what_is_off_is_not_there() -> None:
    """To the last bit, in picture and stack."""
    for shape in SHAPES:
        off = finished(FinishDraft(name="x", paint=PAINTS[0], shape=shape, visible=False))
        assert np.array_equal(DERIVER.picture(off, WHOLE), DERIVER.picture(LIT, WHOLE))
        assert [n.name for n in DERIVER.stack(off).layers()] \
            == [n.name for n in DERIVER.stack(LIT).layers()]


@cache
def _soft_patch() -> NDArray[np.float64]:
    """The share of the pen's stroke by hand: a cone of discs between its ends, blurred by SciPy's
    Gaussian."""
    y, x = np.mgrid[:480, :480] + 0.5
    fine = np.zeros((480, 480))
    for t in np.linspace(0, 1, 400):
        away = np.hypot(x - (100 + 120 * t), y - (120 + 140 * t))
        fine = np.maximum(fine, np.clip((30 + 20 * t) / 2 + 0.5 - away, 0, 1))
    return np.asarray(ndimage.gaussian_filter(fine, 6))


@pytest.mark.parametrize("mode", MODES)
def test_a_layer_is_composited_as_w3c_says(mode: str) -> None:
    """W3C Compositing and Blending Level 1: a soft patch on the figure, by hand in float64."""
    layer = FinishDraft(name="x", paint=PlainColour(colour="#40a0d0"), shape=Spots(strokes=(PEN,)),
                        operations=(Operation(kind="blur", amounts={"by": 6}),), mode=mode,
                        strength=0.6, scope="figure")
    below = DERIVER.picture(PLAIN, WHOLE) / 255
    masks = DERIVER.masks(PLAIN, WHOLE)
    picture = DERIVER.picture(finished(layer, recipe=PLAIN), WHOLE)
    share = (0.6 * _soft_patch() * (masks.parts > 0))[..., None]
    source = np.array([0x40, 0xA0, 0xD0]) / 255
    laid = np.minimum(1, below + share * source) if mode == "plus-lighter" else \
        below + share * (MODES[mode].blend(below, np.broadcast_to(source, below.shape)) - below)
    inside = masks.ink == 0
    assert np.abs(picture - 255 * laid)[inside].max() <= 2.5
    assert np.array_equal(picture[masks.parts == 0],
                          DERIVER.picture(PLAIN, WHOLE)[masks.parts == 0])


def test_a_gradient_takes_one_step_at_a_time() -> None:
    """Two colours over 400 px: no step between neighbours over 1 level, both ends reached."""
    layer = FinishDraft(name="sky", paint=ColourGradient(
        ends=((0, 40), (0, 440)), stops=(Stop(at=0, colour="#203060"),
                                         Stop(at=1, colour="#d0a080"))))
    column = DERIVER.picture(finished(layer), WHOLE)[:, 5].astype(int)
    assert np.abs(np.diff(column, axis=0)).max() <= 1
    assert (column[0] == (0x20, 0x30, 0x60)).all() and (column[-1] == (0xD0, 0xA0, 0x80)).all()
    wanted = np.interp((np.arange(480) + 0.5 - 40) / 400, (0, 1), (0x20, 0xD0))
    assert np.abs(column[:, 0] - wanted).max() <= 0.6


def test_the_ground_lies_behind_and_the_rest_over_it() -> None:
    """Layers on the ground alone are delivered under the figure as long as nothing is below."""
    def named(scope: str, name: str) -> FinishDraft:
        return FinishDraft(name=name, paint=PAINTS[1], scope=scope)

    recipe = finished(named("ground", "sky"), named("everything", "haze"),
                      named("ground", "pool"), named("figure", "tint"))
    names = [layer.name for layer in DERIVER.stack(recipe).layers()]
    assert names.index("background / sky") < names.index("silhouette / base")
    assert names.index("finish / haze") < names.index("finish / pool") \
        < names.index("finish / tint") < names.index("lines / ink")


def test_textures_are_evenly_spread_and_seamless() -> None:
    """Every level as often as any other, and the seam is no step."""
    for texture in TEXTURES.values():
        tile = textures.tile_of(texture)
        assert np.ptp(np.bincount(tile.ravel(), minlength=256)) == 0
        inside = np.abs(np.diff(tile.astype(int), axis=1)).mean()
        seam = np.abs(tile[:, 0].astype(int) - tile[:, -1]).mean()
        assert seam <= 1.25 * inside + 1
        small = textures.through_texture(np.full((64, 64), 255, np.uint8), tile, 0.25, 0,
                                         textures.Origin(0, 0, 0.5))
        assert abs(small.mean() - 127.5) < 12  # seen from far it keeps its tone


def test_a_texture_and_an_operator_are_one_entry(monkeypatch: pytest.MonkeyPatch) -> None:
    """Added to their tables they are drawn, delivered, carried by looks, and checked."""
    monkeypatch.setitem(TEXTURES, "halves", Texture("halves", "Halves", lambda: np.where(
        np.mgrid[:512, :512][1] < 256, 0.0, 1.0)))
    monkeypatch.setitem(OPERATORS, "aside", OperatorKind(
        "aside", "Aside", (Setting("far", "Far", 0, 99, 10, "px"),),
        lambda a, scale: Offset(round(a["far"] * scale), 0)))
    assert operators.OPERATORS is OPERATORS
    layer = FinishDraft(name="x", paint=PlainColour(colour="#ff0000"), shape=OfParts(parts=("p1",)),
                        operations=(Operation(kind="aside", amounts={"far": 20}),))
    recipe = apply(finished(layer), AddLook(name="other"))
    picture, bare = DERIVER.picture(recipe, WHOLE), DERIVER.picture(LIT, WHOLE)
    masks = DERIVER.masks(LIT, WHOLE)
    moved = np.roll(masks.parts == 1, 20, axis=1)
    under = masks.ink == 0
    assert (picture[moved & under] == (255, 0, 0)).all()
    assert np.array_equal(picture[~moved], bare[~moved])
    assert np.array_equal(DERIVER.picture(dressed(recipe, "k1"), WHOLE), picture)
    assert np.abs(flatten(DERIVER.stack(recipe))[..., :3].astype(int) - picture).max() <= 1
    grained = layer.model_copy(update={"operations": (), "texture": TextureUse(key="halves")})
    picture = DERIVER.picture(finished(grained), WHOLE)
    left = (masks.parts == 1) & under & (np.mgrid[:480, :480][1] < 200)
    assert np.abs(picture[left].astype(int) - bare[left]).mean() < 130
    with pytest.raises(ValidationError):
        Operation(kind="aside", amounts={"far": 100})
    with pytest.raises(ValidationError):
        Operation(kind="blur", amounts={"far": 1})
