"""Coloured lines of a piece: picture, tiles and stack agree; looks, reports and mending."""

import random
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.color import rgb2lab

from tests.drawings import figure_ink, piece
from tests.tries import tries
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab, to_hex
from wardrobe.core.ink.shading import STYLES
from wardrobe.core.stack.check import check_stack
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group, Layer, mapped
from wardrobe.recipe.document.finish import Focus
from wardrobe.recipe.document.ink import AsDrawn, Inking, InkShade, MaterialInk, OwnLine
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    AddLook,
    ChangePart,
    ColourLine,
    EditRefusedError,
    FollowPiece,
    MoveLight,
    RemovePart,
    SetBackground,
    SetFocus,
    SetInk,
    apply,
    dressed,
)
from wardrobe.recipe.reports.ink import FAINT_WIDTHS, report_ink
from wardrobe.recipe.stages import Deriver

DERIVER, PLAIN = piece()
WHOLE = View.whole(480, 480)
ON = apply(PLAIN, SetInk(ink=Inking(on=True)))

hexes = st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06x}")
sides = st.sampled_from([None, "ground", "itself", "p1", "p2"])
inks = st.builds(
    Inking, on=st.just(True), amount=st.sampled_from([0.3, 0.77, 1.0]),
    darkness=st.floats(2, 70), saturation=st.floats(0, 2), light=st.floats(0, 1),
    blend=st.sampled_from([0.0, 1.5, 6.0]), opacity=st.sampled_from([0.5, 1.0]),
    mode=st.sampled_from(["normal", "multiply"]),
    weight=st.sampled_from([0.0, 0.0, 0.7]), overlap=st.sampled_from([0.0, 0.3]),
    own=st.lists(st.builds(OwnLine, part=st.sampled_from(["p1", "p2", "p3"]), beside=sides,
                           colour=hexes), max_size=2).map(tuple))


def seen(recipe: Recipe, view: View = WHOLE) -> np.ndarray:
    return DERIVER.picture(recipe, view).astype(int)


def laid(recipe: Recipe) -> np.ndarray:
    return flatten(DERIVER.stack(recipe))[..., :3].astype(int)


@settings(max_examples=tries(6, 12))
@given(inks, st.sampled_from(["limited", "masked"]))
def test_picture_tiles_and_stack_agree(ink: Inking, clipping: str) -> None:
    recipe = apply(PLAIN, SetInk(ink=ink)).model_copy(update={
        "delivery": PLAIN.delivery.model_copy(update={"clipping": clipping})})
    whole = seen(recipe)
    assert np.abs(laid(recipe) - whole).max() <= 1
    for x, y in ((120, 90), (201, 333)):
        tile = seen(recipe, View(x, y, 133, 97))
        assert (tile == whole[y:y + 97, x:x + 133]).all()
    half = seen(recipe, View(0, 0, 480, 480, 0.5))
    tile = seen(recipe, View(100, 60, 200, 240, 0.5))
    assert (tile == half[30:150, 50:150]).all()


@settings(max_examples=tries(5, 10))
@given(inks)
def test_the_colour_can_be_switched_off_in_the_file(ink: Inking) -> None:
    """Without the clipped layer, lines are as if they had never been coloured."""
    recipe = apply(PLAIN, SetInk(ink=ink))
    stack = DERIVER.stack(recipe)
    lines = next(n for n in stack.nodes if isinstance(n, Group) and n.name == "lines")
    below, colour = lines.children
    assert isinstance(below, Layer) and isinstance(colour, Layer)
    assert (colour.mode, colour.clipped_to) == ("source-atop", below.name)
    off = mapped(stack, lambda n: replace(n, visible=False) if n.name == colour.name else n)
    plain = apply(recipe, SetInk(ink=ink.model_copy(update={"on": False})))
    assert np.abs(flatten(off)[..., :3].astype(int) - seen(plain)).max() <= 1


@pytest.mark.parametrize("batch", range(tries(1, 4)))
def test_every_line_of_random_figures_can_be_seen(batch: int) -> None:
    """200 figures of random colours, light and dark grounds: no stretch longer than three line
    widths is less than a step of 8 from either side, wherever the light stands."""
    dice = random.Random(batch)
    for _ in range(50):
        recipe = apply(ON, SetBackground(colour=f"#{dice.randrange(2**24):06x}"))
        for part in PLAIN.parts:
            recipe = apply(recipe, ChangePart(
                part=part.id, base=f"#{dice.randrange(2**24):06x}",
                material=dice.choice(["plain", "metal", "skin", "leather"])))
        recipe = apply(recipe, MoveLight(light=recipe.light.model_copy(update={
            "azimuth": dice.uniform(0, 360), "height": dice.uniform(0, 80)})))
        report = report_ink(DERIVER, recipe)
        assert not [s for s in report.stretches if s.mend], recipe
        assert report.mended is None


def test_a_colour_of_a_part_is_that_of_its_lines_at_once() -> None:
    """And only that is worked out anew: which line is whose does not change."""
    green = apply(ON, ChangePart(part="p1", base="#2f8f3f"))
    before, after = DERIVER.stages(ON), DERIVER.stages(green)
    assert before.line_image(WHOLE).shares.name == after.line_image(WHOLE).shares.name
    assert before.line_image(WHOLE).facing.name == after.line_image(WHOLE).facing.name
    stretches = DERIVER.store(after.stretches)
    outline = stretches.labels[300, (240 - 110)]  # of the body, against the ground
    assert stretches.pairs[outline].tolist() == [0, 1]
    r, g, b = seen(green)[300, 130]
    assert g > r + 10 and g > b + 10
    assert seen(ON)[300, 130].tolist() != [r, g, b]
    # Nothing but lines is touched.
    clear = DERIVER.ink(ON) == 0
    assert (seen(ON)[clear] == seen(PLAIN)[clear]).all()


@given(inks, st.floats(0.2, 1), st.tuples(st.integers(90, 390), st.integers(90, 390)))
@settings(max_examples=6)
def test_lines_are_darker_where_the_eye_goes(ink: Inking, share: float,
                                             at: tuple[int, int]) -> None:
    """Nothing but lines changes, none of them beyond twice the radius; the delivered layers say
    the same."""
    ink = ink.model_copy(update={"weight": 0.0, "overlap": 0.0})  # lines as they are drawn
    base = apply(apply(PLAIN, SetInk(ink=ink)), SetFocus(places=(Focus(at=at, radius=70),)))
    near = apply(base, SetInk(ink=ink.model_copy(update={"focus": share})))
    before, after = seen(base), seen(near)
    changed = (before != after).any(axis=-1)
    y, x = np.nonzero(changed)
    assert (np.hypot(x + 0.5 - at[0], y + 0.5 - at[1]) < 141).all()
    assert not changed[DERIVER.ink(base) == 0].any()
    assert np.abs(laid(near) - after).max() <= 1
    nowhere = SetFocus(places=())
    assert (seen(apply(near, nowhere)) == seen(apply(base, nowhere))).all()


def test_lines_are_the_darker_the_nearer_the_focus() -> None:
    """By the L* of scikit-image: no pixel is brighter, those in the middle are clearly darker."""
    ink = Inking(on=True, darkness=35, light=0, blend=0)
    focus = SetFocus(places=(Focus(at=(240, 150), radius=110),))
    before = rgb2lab(seen(apply(apply(PLAIN, SetInk(ink=ink)), focus)) / 255)[..., 0]
    last = before
    for share in (0.3, 0.6, 0.9):
        recipe = apply(apply(PLAIN, SetInk(ink=ink.model_copy(update={"focus": share}))), focus)
        now = rgb2lab(seen(recipe) / 255)[..., 0]
        assert (now <= last + 0.6).all()
        last = now
    y, x = np.nonzero(DERIVER.ink(PLAIN) == 255)
    away = np.hypot(x - 240, y - 150)
    darker = (before - last)[y, x]
    middle, rim = (darker[(away > low) & (away < high)].mean()
                   for low, high in ((0, 80), (190, 230)))
    assert middle > 6 > 2 > rim


def test_chosen_colours_of_borders_come_before_those_of_parts() -> None:
    recipe = apply(ON, ColourLine(part="p1", beside=None, colour="#1122cc"))
    recipe = apply(recipe, ColourLine(part="p1", beside="ground", colour="#cc2211"))
    recipe = apply(recipe, SetInk(ink=recipe.ink.model_copy(update={"blend": 0.0})))
    report = {(s.part, s.beside): s for s in report_ink(DERIVER, recipe).stretches}
    assert report["p1", "ground"].colour == "#cc2211" and report["p1", "ground"].own
    assert "#1122cc" in {s.colour for (part, beside), s in report.items()
                         if part == "p1" and beside != "ground"}
    # A border is the same, whichever of its sides is said first.
    (a, b), other = next((k, s) for k, s in report.items() if k[1].startswith("p"))
    turned = apply(recipe, ColourLine(part=b, beside=a, colour="#10a020"))
    now = {(s.part, s.beside): s.colour for s in report_ink(DERIVER, turned).stretches}
    assert now[a, b] == "#10a020" != other.colour
    back = apply(turned, ColourLine(part=a, beside=b, colour=None))
    assert back == recipe


def test_lines_of_a_material_may_take_their_colours_otherwise() -> None:
    worn = apply(ON, ChangePart(part="p1", material="leather"))
    rule = MaterialInk(material="leather", darkness=60, saturation=0, light=0)
    otherwise = apply(worn, SetInk(ink=Inking(on=True, materials=(rule,))))
    before, after = (DERIVER.store(DERIVER.stages(r).line_table) for r in (worn, otherwise))
    owners = DERIVER.store(DERIVER.stages(worn).line_table.owners)
    row = [p.id for p in worn.parts].index("p1") + 1
    changed = (before != after).any(axis=(1, 2))
    assert changed.any() and (owners[changed, 0] == row).all()
    grey = after[changed].astype(int)
    assert (grey.max(axis=-1) - grey.min(axis=-1) <= 12).all()
    # What is said last of a material counts; a material that no part has does nothing.
    twice = Inking(on=True, materials=(rule, rule.model_copy(update={"darkness": 8.0})))
    last = Inking(on=True, materials=(rule.model_copy(update={"darkness": 8.0}),))
    glass = Inking(on=True, materials=(MaterialInk(material="glass", darkness=60),))
    assert (seen(apply(worn, SetInk(ink=twice))) == seen(apply(worn, SetInk(ink=last)))).all()
    assert (seen(apply(worn, SetInk(ink=glass))) == seen(worn)).all()


def test_what_cannot_be_seen_is_told_and_mended_at_once() -> None:
    base = from_hex(PLAIN.parts[0].base)
    lost = apply(ON, ColourLine(part="p1", beside=None, colour=to_hex(tuple(
        min(255, v + 4) for v in base))))
    report = report_ink(DERIVER, lost)
    faint = [s for s in report.stretches if s.mend]
    assert faint and faint == list(report.stretches[:len(faint)])  # first of all
    width = DERIVER.areas(lost).line_width
    for stretch in faint:
        assert stretch.part == "p1" and stretch.step < 8 and stretch.own
        assert FAINT_WIDTHS * width < stretch.faint <= stretch.length
        assert float(delta_e_2000(*(srgb_to_lab(np.array(c) / 255) for c in (
            from_hex(stretch.mend or ""), base)))) >= 8
        ink = DERIVER.ink(lost)
        assert all(ink[int(y), int(x)] > 0 for x, y in stretch.places)
    assert report.mended is not None
    mended = apply(lost, SetInk(ink=report.mended))
    assert not [s for s in report_ink(DERIVER, mended).stretches if s.mend]
    # One colour for all of them is told of, too, and colouring them mends it.
    black = apply(PLAIN, ChangePart(part="p2", base="#1a1719"))
    report = report_ink(DERIVER, black)
    assert [s.part for s in report.stretches if s.mend] and report.mended and report.mended.on
    # So are lines that are laid on thinly.
    thin = apply(ON, SetInk(ink=Inking(on=True, opacity=0.05)))
    report = report_ink(DERIVER, thin)
    assert report.mended and report.mended.opacity == 1


def test_looks_have_line_colours_of_their_own_and_follow_again() -> None:
    recipe = apply(ON, AddLook(name="Evening", bases={"p1": "#20304f"}))
    alike = seen(dressed(recipe, "k1"))
    assert (alike != seen(recipe)).any()  # lines follow the look's bases
    recipe = apply(recipe, SetInk(ink=Inking(on=False), targets=("k1",)))
    assert recipe.ink.on and not dressed(recipe, "k1").ink.on
    recipe = apply(recipe, ColourLine(part="p1", colour="#112233", targets=("k1", "piece")))
    assert [o.colour for o in recipe.ink.own] == ["#112233"]
    gone = apply(recipe, RemovePart(part="p1"))
    assert gone.ink.own == () and gone.looks[0].ink and gone.looks[0].ink.own == ()
    back = apply(recipe, FollowPiece(looks=("k1",), what=("ink",)))
    assert back.looks[0].ink is None and dressed(back, "k1").ink == recipe.ink


def test_lines_of_parts_that_are_not_there_are_refused() -> None:
    for wrong in (ColourLine(part="p9", colour="#112233"),
                  ColourLine(part="p1", beside="p9", colour="#112233"),
                  SetInk(ink=Inking(own=(OwnLine(part="p9", colour="#112233"),)))):
        with pytest.raises(EditRefusedError):
            apply(ON, wrong)
    many = tuple(OwnLine(part="p1", colour="#112233") for _ in range(200))
    full = apply(ON, SetInk(ink=Inking(own=many)))
    with pytest.raises(EditRefusedError, match="own"):
        apply(full, ColourLine(part="p2", colour="#112233"))


def test_a_check_finds_nothing_wrong_with_coloured_lines() -> None:
    assert check_stack(DERIVER.stack(ON)) == []


@pytest.mark.parametrize("drawing", [AsDrawn(), AsDrawn(tint="#402018", doubled=True),
                                     AsDrawn(hues=True, paper=0.2)])
def test_the_drawing_as_it_is_lies_over_everything(drawing: AsDrawn) -> None:
    """A soft pencil shading inside of a part darkens what is below, and bounds nothing; picture,
    tiles and file agree."""
    ink = figure_ink()
    soft = np.zeros_like(ink)
    cv2.circle(soft, (240, 330), 40, 70, -1)  # paler than what counts as ink
    rgb = 255 - np.maximum(ink, cv2.GaussianBlur(soft, (0, 0), 8))
    rgba = np.dstack([rgb, rgb, rgb, np.full_like(rgb, 255)])
    deriver = Deriver(lambda asset: rgba)
    plain = PLAIN.model_copy(update={"lines": PLAIN.lines.model_copy(update={
        "threshold": 0.7, "kind": "black on white"})})
    recipe = apply(plain, SetInk(ink=Inking(drawing=drawing, opacity=0.9)))
    whole = deriver.picture(recipe, WHOLE).astype(int)
    before = deriver.picture(apply(recipe, SetInk(ink=Inking(drawing=drawing, opacity=0))),
                             WHOLE).astype(int)
    assert deriver.areas(recipe).count == deriver.areas(plain).count
    assert (whole[330, 240] < before[330, 240] - 8).any() and (whole <= before).all()
    assert (whole[20, 20] == before[20, 20]).all()  # paper leaves the ground as it is
    tile = deriver.picture(recipe, View(100, 80, 200, 220)).astype(int)
    assert (tile == whole[80:300, 100:300]).all()
    stack = deriver.stack(recipe)
    assert np.abs(flatten(stack)[..., :3].astype(int) - whole).max() <= 1
    layer = next(n for n in stack.nodes if n.name == "lines / drawing")
    assert (layer.mode, layer.opacity) == ("multiply", 0.9)
    assert check_stack(stack) == [] and report_ink(deriver, recipe).stretches == ()


shades = st.builds(
    InkShade, name=st.sampled_from(["shade", "deep shade", "light"]),
    parts=st.sampled_from([(), ("p1",), ("p2", "p3")]), style=st.sampled_from(sorted(STYLES)),
    angle=st.integers(-180, 180), spacing=st.sampled_from([5.0, 9.5, 17.0]),
    tone=st.floats(0.1, 1), pressure=st.floats(0, 1), taper=st.sampled_from([0.0, 2.0]),
    follow=st.sampled_from(["straight", "along", "across"]),
    gap=st.sampled_from([0.0, 1.0]), colour=st.none() | hexes, instead=st.booleans())


@settings(max_examples=tries(6, 12))
@given(st.lists(shades, min_size=1, max_size=3).map(tuple))
def test_passes_in_ink_agree_in_picture_tiles_and_stack(drawn: tuple[InkShade, ...]) -> None:
    recipe = apply(PLAIN, SetInk(ink=Inking(shades=drawn)))
    whole = seen(recipe)
    assert np.abs(laid(recipe) - whole).max() <= 1
    tile = seen(recipe, View(131, 207, 120, 90))
    assert np.abs(tile - whole[207:297, 131:251]).max() <= 1
    names = [layer.name for layer in DERIVER.stack(recipe).layers()]
    assert len(set(names)) == len(names)
    assert sum(" in ink" in name for name in names) == len(drawn)
    assert {f.code for f in check_stack(DERIVER.stack(recipe))} <= {"empty"}  # and truly so


def test_ink_takes_the_place_of_a_pass_where_it_is_drawn() -> None:
    shade = InkShade(name="shade", parts=("p1",), style="solid", gap=0)
    inked = apply(PLAIN, SetInk(ink=Inking(shades=(shade,))))
    masks = DERIVER.masks(inked, WHOLE)
    level, ink = masks.level("shade"), masks.ink
    black = np.array(from_hex(PLAIN.lines.colour))
    mine = (masks.parts == 1) & (level == 255) & (ink == 0)
    other = (masks.parts == 2) & (ink == 0)
    assert mine.sum() > 100 and (seen(inked)[mine] == black).all()
    assert (seen(inked)[other] == seen(PLAIN)[other]).all()
    both = apply(PLAIN, SetInk(ink=Inking(shades=(
        shade.model_copy(update={"style": "dots", "instead": False}),))))
    free = (masks.parts == 1) & (level == 255) & (ink == 0)
    # Between the dots there is the pass's own colour, or only the base.
    assert (seen(both)[free] == seen(PLAIN)[free]).all(-1).mean() > 0.3
    dots = apply(PLAIN, SetInk(ink=Inking(shades=(shade.model_copy(update={"style": "dots"}),))))
    base = np.array(from_hex(PLAIN.parts[0].base))
    assert (seen(dots)[free] == base).all(-1).mean() > 0.3
    gone = apply(inked, RemovePart(part="p1"))
    assert gone.ink.shades == ()
    with pytest.raises(EditRefusedError):
        apply(PLAIN, SetInk(ink=Inking(shades=(shade.model_copy(update={"parts": ("p9",)}),))))


def test_weight_follows_the_light_and_leaves_the_areas() -> None:
    heavy = apply(PLAIN, SetInk(ink=Inking(weight=0.6, overlap=0.4)))
    stages, before = DERIVER.stages(heavy), DERIVER.stages(PLAIN)
    assert stages.areas.name == before.areas.name and stages.form.name == before.form.name
    ink = DERIVER.store(stages.small_ink(WHOLE)).astype(float) / 255
    plain = DERIVER.ink(PLAIN).astype(float) / 255
    # The light comes from the upper left: the head's outline is thinner there than below right.
    for dx, dy, heavier in ((-1, -1, False), (1, 1, True)):
        y, x = 110 + dy * 50, 240 + dx * 50
        box = slice(y - 16, y + 17), slice(x - 16, x + 17)
        assert (ink[box].sum() > 1.2 * plain[box].sum()) == heavier
        assert heavier or ink[box].sum() < 0.8 * plain[box].sum()
    turned = apply(heavy, MoveLight(light=heavy.light.model_copy(update={"azimuth": 308.0})))
    other = DERIVER.store(DERIVER.stages(turned).small_ink(WHOLE)).astype(float) / 255
    assert other[44:77, 174:207].sum() > 1.3 * ink[44:77, 174:207].sum()
