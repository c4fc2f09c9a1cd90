"""Coloured lines: whose line it is, how far it faces the light, and a colour that can be seen."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage
from skimage.color import deltaE_ciede2000, rgb2lab

from tests.drawings import figure_ink, piece
from wardrobe.core.colour import srgb_to_oklch
from wardrobe.core.ink.draw import draw_lines, shares_of
from wardrobe.core.ink.facing import facing_seen, line_facing
from wardrobe.core.ink.rule import LEAST_STEP, LEVELS, Rule, Side, line_colours, stood_off
from wardrobe.core.ink.stretches import find_stretches, in_front, lumps, taken_away
from wardrobe.core.ink.tones import Tones, against_paper, print_tones
from wardrobe.core.ink.weight import weighed
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.lines.stroke import change_weight

colours = st.tuples(*[st.integers(0, 255)] * 3)
rules = st.builds(Rule, darkness=st.floats(2, 70), saturation=st.floats(0, 2),
                  light=st.floats(0, 1))


def steps_from(table: np.ndarray, side: tuple[int, int, int]) -> np.ndarray:
    """CIEDE2000 by scikit-image, under its white point D65."""
    return deltaE_ciede2000(rgb2lab(table / 255), rgb2lab(np.full(table.shape, side) / 255))


@settings(max_examples=200)
@given(colours, colours, rules, st.booleans())
def test_a_line_stands_off_both_of_its_sides(front: tuple[int, int, int],
                                             behind: tuple[int, int, int], rule: Rule,
                                             metal: bool) -> None:
    """Facing the light or not; no grey fails only where one side is black and the other white."""
    table = line_colours([Side(behind), Side(front, metal)], np.array([[1, 0], [1, 1]]), rule)
    assert steps_from(table[0], front).min() >= LEAST_STEP
    assert steps_from(table[0], behind).min() >= LEAST_STEP
    assert steps_from(table[1], front).min() >= LEAST_STEP


@settings(max_examples=200)
@given(colours, colours, st.floats(8, 40), st.floats(0, 1))
def test_its_hue_is_that_of_the_part_in_front(front: tuple[int, int, int],
                                              behind: tuple[int, int, int], darkness: float,
                                              light: float) -> None:
    """Within 10 degrees (OKLCH) wherever the colours have enough chroma to have a hue, which
    bytes of a dark colour leave it."""
    table = line_colours([Side(behind), Side(front)], np.array([[1, 0]]),
                         Rule(darkness, 1.0, light))[0]
    _, chroma, hue = srgb_to_oklch(np.array(front) / 255)
    lines = srgb_to_oklch(table / 255)
    told = (lines[:, 1] > 0.05) & (lines[:, 0] > 0.2) & (chroma > 0.05)
    assert (np.abs((lines[told, 2] - hue + 180) % 360 - 180) <= 10.5).all()


@settings(max_examples=60)
@given(st.lists(st.tuples(colours, st.one_of(st.none(), rules)), min_size=2, max_size=5), rules)
def test_a_side_with_a_rule_of_its_own_is_coloured_by_it(
        parts: list[tuple[tuple[int, int, int], Rule | None]], rule: Rule) -> None:
    """And the others as if there were none: a line's rule is that of the part that owns it."""
    sides = [Side(base, rule=own) for base, own in parts]
    count = len(parts)
    pairs = np.array([(a, b) for a in range(1, count) for b in range(count)])
    table = line_colours(sides, pairs, rule)
    for front, (_, own) in enumerate(parts):
        rows = pairs[:, 0] == front
        alone = line_colours([Side(base) for base, _ in parts], pairs[rows], own or rule)
        assert (table[rows] == alone).all()


def test_lines_are_dark_and_lighter_where_they_face_the_light() -> None:
    """Common practice, no published source: much darker than the base, still saturated, lighter
    and warmer in the light; near black around eyes and between two dark parts; on metal bright."""
    teal, ground, dark, brass = (64, 113, 120), (240, 230, 215), (38, 28, 30), (184, 143, 77)
    sides = [Side(ground), Side(teal), Side(dark), Side(dark), Side(brass, metal=True),
             Side((250, 250, 250), black=True)]
    table = line_colours(sides, np.array([[1, 0], [2, 3], [4, 2], [4, 0], [5, 1]]), Rule())
    value = rgb2lab(table / 255)[..., 0]
    coat, two_dark, metal_on_dark, metal_on_light, eye = value
    assert coat[-1] < rgb2lab(np.array(teal) / 255)[0] - 15 and (np.diff(coat) >= 0).all()
    assert coat[-1] > coat[0] + 5
    assert srgb_to_oklch(table[0] / 255)[:, 1].min() > 0.03
    assert metal_on_dark[0] < 30 < 65 < metal_on_dark[-1]
    assert metal_on_light.max() < 40
    assert eye.max() < 12
    # Black beside black cannot be told apart: the line gives way to the light side.
    assert steps_from(table[1], dark).min() >= LEAST_STEP and two_dark.max() < 45


@settings(max_examples=150)
@given(colours, colours, colours)
def test_a_chosen_colour_moves_no_farther_than_it_must(
        colour: tuple[int, int, int], front: tuple[int, int, int],
        behind: tuple[int, int, int]) -> None:
    mended = stood_off(colour, (front, behind))
    before = min(steps_from(np.array([colour]), s)[0] for s in (front, behind))
    assert min(steps_from(np.array([mended]), s)[0] for s in (front, behind)) >= LEAST_STEP
    if before >= LEAST_STEP + 2:
        assert mended == colour


def test_stretches_are_those_of_the_nearest_border() -> None:
    """Against SciPy's exact distance transform, on a drawing whose parts meet under its lines."""
    deriver, recipe = piece()
    stretches = deriver.store(deriver.stages(recipe).stretches)
    parts = deriver.assignment(recipe).part_of_area[deriver.areas(recipe).labels].astype(int)
    ink = deriver.ink(recipe) > 127
    assert stretches.pairs[0].tolist() == [0, 0]
    pairs = stretches.pairs[stretches.labels].astype(int)
    for row in np.unique(parts):
        mine = ink & (parts == row)
        away, (y, x) = ndimage.distance_transform_edt(parts == row, return_indices=True)
        close = mine & (away < 3)  # the line is 6 px thick, and the border in its middle
        across = parts[y, x][close]
        other = pairs[close].sum(axis=1) - row
        # Where three parts meet, two of them are equally near.
        assert (other == across).mean() > 0.985
        assert ((pairs[close] == row).any(axis=1)).mean() > 0.985
    # A line that ends inside of a part is the part's own.
    drawn = figure_ink()
    cv2.line(drawn, (225, 330), (265, 380), 255, 4)
    deriver, recipe = piece(drawn)
    stretches = deriver.store(deriver.stages(recipe).stretches)
    a, b = stretches.pairs[stretches.labels[355, 245]].tolist()
    assert a == b > 0


def test_blank_and_whole_pictures_have_one_stretch() -> None:
    for row in (0, 3):
        found = find_stretches(np.full((20, 30), row, np.uint16), np.full((20, 30), 255, np.uint8),
                               4.0)
        assert (found.pairs[found.labels] == row).all()


def test_the_part_in_front_owns_the_line() -> None:
    pairs = np.array([[0, 1], [1, 2], [2, 2]], np.uint16)
    assert in_front(pairs, np.array([-9.0, 1, 3])).tolist() == [[1, 0], [2, 1], [2, 2]]
    assert in_front(pairs, np.array([-9.0, 3, 1])).tolist() == [[1, 0], [1, 2], [2, 2]]


@pytest.mark.parametrize("seed", range(6))
def test_what_goes_with_a_part_does_not_depend_on_what_is_far_from_it(seed: int) -> None:
    dice = np.random.default_rng(seed)
    ink = np.zeros((300, 340), np.uint8)
    for _ in range(9):
        cv2.ellipse(ink, tuple(dice.integers(40, 260, 2).tolist()),
                    tuple(dice.integers(15, 90, 2).tolist()), 0, 0, 280, 255, 6, cv2.LINE_AA)
    gone = np.zeros(ink.shape, bool)
    x, y = dice.integers(60, 160, 2)
    gone[y:y + 80, x:x + 90] = True
    away = taken_away(gone, ink, 6.0)
    room = int(dice.integers(50, 90))
    wide = taken_away(np.pad(gone, room), np.pad(ink, room), 6.0)
    assert (wide[room:-room, room:-room] == away).all()
    # All of what goes, but for the soft cut; nothing far from it but crumbs.
    inner = ndimage.binary_erosion(gone, iterations=6)
    outer = ~ndimage.binary_dilation(gone, iterations=30)
    assert (away[inner] == 255).all() and not away[outer].any()
    left = (ink > 0) & (away < 128)
    pieces, count = ndimage.label(left, np.ones((3, 3)))
    touched = np.unique(pieces[ndimage.binary_dilation(away >= 128, np.ones((3, 3))) & left])
    sizes = ndimage.sum(left, pieces, touched)
    assert count == 0 or (sizes[touched > 0] > 2.5 * 36).all()
    assert not taken_away(gone & False, ink, 6.0).any()


@pytest.mark.parametrize("seed", range(8))
def test_lines_that_ran_together_are_left_as_thick_as_they_are_elsewhere(seed: int) -> None:
    """A ball that touches a bar is hidden: the bar is left as if it had been drawn alone."""
    dice = np.random.default_rng(seed)
    width, tilt = int(dice.integers(6, 14)), float(dice.uniform(-30, 30))
    radius, lap = int(dice.integers(40, 80)), float(dice.uniform(-1.2, 0.2)) * width
    bar = cv2.boxPoints(((200.0, 200.0), (50.0, 320.0), tilt))
    out = np.array([np.cos(np.radians(tilt)), np.sin(np.radians(tilt))])
    ball = (200 - (25 + radius - lap) * out).round().astype(int).tolist()
    alone, both = np.zeros((400, 400), np.uint8), np.zeros((400, 400), np.uint8)
    cv2.circle(both, ball, radius, 255, width, cv2.LINE_AA)
    for ink in (alone, both):
        cv2.polylines(ink, [bar.round().astype(np.int32)], True, 255, width, cv2.LINE_AA)
    filled = np.zeros(both.shape, np.uint8)
    cv2.circle(filled, ball, radius - width // 2, 1, -1)
    cv2.fillPoly(filled, [bar.round().astype(np.int32)], 2)
    seeds = np.where((both < 128) | (filled > 0), filled, 9).astype(np.uint8)
    _, near = cv2.distanceTransformWithLabels((seeds == 9).astype(np.uint8), cv2.DIST_L2, 5,
                                              labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(near.max() + 1, np.uint16)
    table[near[seeds != 9]] = seeds[seeds != 9]
    parts = table[near]
    found = find_stretches(parts, both, width)
    owners = in_front(found.pairs, np.array([-9.0, 1, 2]))
    gone = (owners[:, 0] == 1)[found.labels] | lumps(found, owners, (1,), parts, both, width)
    left = cv2.multiply(both, 255 - taken_away(gone, both, width), scale=1 / 255) >= 128
    bar_ink = alone >= 128
    assert (left & ndimage.binary_dilation(bar_ink, iterations=width // 3 + 1)).sum() \
        >= 0.99 * left.sum()
    assert (left & bar_ink).sum() >= 0.97 * bar_ink.sum()


@pytest.mark.parametrize("azimuth", [0, 90, 128, 250])
def test_the_outline_of_a_ball_faces_the_light_as_its_normal_does(azimuth: int) -> None:
    """A sphere: on its outline N.L is the cosine between the directions, times that of the
    light's height."""
    ink = np.zeros((400, 400), np.uint8)
    cv2.circle(ink, (200, 200), 130, 255, 6, cv2.LINE_AA)
    deriver, recipe = piece(ink)
    form, key = deriver.form(recipe), KeyLight(azimuth, 30)
    facing = line_facing(form, form.depth, key)
    seen = facing_seen(facing, form, 0, 0, 1.0, (400, 400)) / 255
    angles = np.radians(np.arange(0, 360, 5))
    x, y = (200 + 130 * np.cos(angles)).astype(int), (200 - 130 * np.sin(angles)).astype(int)
    received = np.cos(angles - np.radians(azimuth)) * np.cos(np.radians(30))
    wanted = np.clip((received + 0.3) / 1.05, 0, 1)
    assert np.abs(seen[y, x] - wanted).max() < 0.16  # smoothed by a line's width
    assert np.corrcoef(seen[y, x], wanted)[0, 1] > 0.98
    # The same of a crop, and of a smaller picture.
    crop = facing_seen(facing, form, 100, 60, 1.0, (200, 220)) / 255
    np.testing.assert_allclose(crop, seen[60:260, 100:320], atol=0.02)
    half = facing_seen(facing, form, 0, 0, 0.5, (200, 200)) / 255
    np.testing.assert_allclose(half, seen.reshape(200, 2, 200, 2).mean(axis=(1, 3)), atol=0.05)


@settings(max_examples=40)
@given(st.integers(0, 2**32 - 1), st.integers(0, 9))
def test_shares_are_those_of_the_lines_around(seed: int, radius: int) -> None:
    """Against a plain sum; what is far from a border has one colour, pure."""
    dice = np.random.default_rng(seed)
    stretches = np.kron(dice.integers(0, 3, (4, 4)), np.ones((10, 10))).astype(np.uint16)
    ink = (dice.random((40, 40)) < 0.4).astype(np.uint8) * dice.integers(1, 256, (40, 40),
                                                                         dtype=np.uint8)
    shares = shares_of(stretches, ink, radius)
    assert (shares.at == np.flatnonzero(ink)).all()
    assert (shares.parts.sum(axis=1, dtype=int) == 255).all()
    step = max(1, -(-2 * radius // 6))
    side = min(6, 2 * radius // step)
    for n in dice.integers(0, len(shares.at), 12):
        y, x = divmod(int(shares.at[n]), 40)
        said = np.zeros(3)
        for i in range(-side, side + 1):
            for j in range(-side, side + 1):
                v, u = y + i * step, x + j * step
                if 0 <= v < 40 and 0 <= u < 40:
                    said[stretches[v, u]] += (side + 1 - abs(i)) * (side + 1 - abs(j)) \
                        * float(ink[v, u])
        got = np.zeros(3)
        np.add.at(got, shares.stretches[n], shares.parts[n])
        np.testing.assert_allclose(got / 255, said / said.sum(), atol=0.015)
    if radius == 0:
        assert (shares.stretches[:, 0] == stretches.ravel()[shares.at]).all()


def test_lines_are_drawn_between_levels_and_shares() -> None:
    dice = np.random.default_rng(1)
    table = dice.integers(100, 130, (3, LEVELS, 3)).astype(np.uint8)
    stretches = np.array([[0, 1, 2, 2]], np.uint16)
    ink, facing = np.array([[255, 9, 0, 255]], np.uint8), np.array([[0, 255, 80, 100]], np.uint8)
    image = draw_lines(shares_of(stretches, ink, 0), facing, table)[0]
    assert image[:, 3].tolist() == [255, 255, 0, 255]
    assert image[0, :3].tolist() == table[0, 0].tolist()
    assert image[1, :3].tolist() == table[1, -1].tolist()
    low, part = divmod(100 * (LEVELS - 1) / 255, 1)
    wanted = (1 - part) * table[2, int(low)] + part * table[2, int(low) + 1].astype(float)
    assert np.abs(image[3, :3] - wanted).max() <= 1
    # Where a line turns from dark to bright, it does so at once: what lies between is not seen.
    table[2, int(low)], table[2, int(low) + 1] = 20, 220
    ways = [draw_lines(shares_of(stretches, ink, 0), np.full((1, 4), level, np.uint8), table)[0, 3]
            for level in range(int(low * 255 / (LEVELS - 1)) + 1,
                               int((low + 1) * 255 / (LEVELS - 1)))]
    between = [w for w in ways if 40 < w[0] < 200]
    assert len(between) <= len(ways) / 8 and len(ways) > 20


def test_the_weightiest_few_share_a_pixel() -> None:
    """Of five stretches in reach the three with most ink, in proportion; all of them colour it."""
    stretches = np.array([[0, 1, 1, 2, 3, 3, 3, 4]], np.uint16)
    ink = np.array([[10, 90, 90, 200, 120, 120, 120, 30]], np.uint8)
    shares = shares_of(stretches, ink, 3)
    said = np.zeros(5)
    for x in range(8):
        said[stretches[0, x]] += (7 - abs(x - 3)) * float(ink[0, x]) if abs(x - 3) <= 6 else 0
    heaviest = np.argsort(-said)[:3]
    assert set(shares.stretches[3].tolist()) == set(heaviest.tolist())
    order = [heaviest.tolist().index(k) for k in shares.stretches[3]]
    part = said[heaviest] / said[heaviest].sum()
    np.testing.assert_allclose(shares.parts[3] / 255, part[order], atol=0.02)
    table = np.zeros((5, LEVELS, 3), np.uint8)
    table[:] = np.array([[10, 0, 0], [0, 200, 0], [200, 0, 0], [0, 0, 200], [0, 9, 9]])[:, None]
    image = draw_lines(shares, np.zeros((1, 8), np.uint8), table)
    wanted = (shares.parts[3][:, None] / 255 * table[shares.stretches[3], 0]).sum(axis=0)
    assert np.abs(image[0, 3, :3] - wanted).max() <= 1 and (wanted > 20).all()


def scan(steps: int, uneven: float) -> tuple[np.ndarray, list[tuple[slice, slice]], np.ndarray]:
    """A scan of grey patches and lines on paper of a warm tone, whose light falls off; where the
    patches lie, and their reflectance against the paper."""
    shares = np.linspace(0, 1, steps)
    paper = np.ones((900, 1200), np.float32)
    boxes = []
    for k, share in enumerate(shares):
        y, x = 120 + 300 * (k // 6), 90 + 180 * (k % 6)
        boxes.append((slice(y + 12, y + 58), slice(x + 12, x + 58)))
        paper[y:y + 70, x:x + 70] = share
    cv2.line(paper, (60, 700), (1100, 820), 0.0, 6)
    fall = 1 - uneven * np.linspace(0, 1, 1200, dtype=np.float32)[None]
    luma = paper[..., None] * fall[..., None] * np.array([244, 238, 224], np.float32)
    noise = np.random.default_rng(3).normal(0, 1.0, luma.shape)
    rgb = np.clip(luma + noise, 0, 255).astype(np.uint8)
    return np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)]), boxes, shares


@pytest.mark.parametrize(("uneven", "hues"), [(0.0, False), (0.35, False), (0.35, True)])
def test_a_scan_keeps_its_tones(uneven: float, hues: bool) -> None:
    """Twelve steps of grey come out as twelve, in their order and in their places between black
    and paper, however the light fell; a broad pale tone may count as paper in shade, in part."""
    rgba, boxes, shares = scan(12, uneven)
    printed = print_tones(against_paper(rgba, True, hues), Tones(paper=0.02))
    values = np.array([printed[box][..., :3].mean() for box in boxes]) / 255
    assert (np.diff(values) > 0.025).all()
    assert np.abs(values - shares)[:-2].max() < 0.03 and np.abs(values - shares).max() < 0.07
    assert values[-1] > 0.985 and (printed[20:100, ::7, :3] > 245).mean() > 0.99
    assert (printed[..., 3] == 255).all()
    # Hues of the paper are taken out, those of the drawing stay.
    assert np.ptp(printed[20:100, :, :3].astype(int), axis=-1).mean() < (12 if hues else 1)


def test_prints_are_tinted_doubled_and_laid_on_white() -> None:
    grey = np.full((80, 256, 4), 255, np.uint8)  # paper, and a ramp on it
    grey[:20, :, :3] = np.arange(256, dtype=np.uint8)[None, :, None]
    value = against_paper(grey, False, False)
    plain = print_tones(value, Tones())[0, :, :3].astype(int)
    assert np.abs(plain - np.arange(256)[:, None]).max() <= 1
    doubled = print_tones(value, Tones(doubled=True))[0, :, 0]
    # Multiplied by itself: W3C Compositing and Blending Level 1, section 5.8.2.
    assert np.abs(doubled - np.arange(256.0) ** 2 / 255).max() <= 1
    tinted = print_tones(value, Tones(tint=(90, 20, 40)))[0]
    assert tinted[0, :3].tolist() == [90, 20, 40] and tinted[-1, :3].tolist() == [255] * 3
    clear = np.zeros((30, 30, 4), np.uint8)
    clear[10, 10] = 0, 0, 0, 255
    printed = print_tones(against_paper(clear, False, False), Tones())
    assert printed[0, 0].tolist() == [255] * 4 and printed[10, 10, :3].tolist() == [0] * 3


def test_lines_are_as_heavy_as_their_light_asks() -> None:
    """The width of a vertical line, row by row, while the light on it turns from shade to full;
    a thin one never goes under a pixel."""
    ink = np.zeros((256, 120), np.uint8)
    ink[:, 50:60], ink[:, 100:102] = 255, 255
    knots = [(by, change_weight(ink, by)) for by in np.arange(-5, 9) * 1.25]
    facing = np.repeat(np.arange(256, dtype=np.uint8)[:, None], 120, axis=1)
    bare = np.zeros(ink.shape, bool)
    drawn = weighed(knots, facing, 5.0, 0.0, bare).astype(float) / 255
    widths = drawn[:, 30:80].sum(axis=1)
    wanted = 10 + 5 * (1 - 2 * np.arange(256) / 255)
    assert np.abs(widths - wanted)[12:-12].max() < 1.1 and (np.diff(widths) <= 1e-6).all()
    assert drawn[8:-8, 95:107].sum(axis=1).min() >= 1
    over = weighed(knots, facing, 5.0, 2.5, ~bare).astype(float) / 255
    assert abs((over - drawn)[60:200, 30:80].sum(axis=1).mean() - 2.5) < 0.4
    same = weighed(knots, facing, 0.0, 0.0, bare)
    assert (same == ink).all()
