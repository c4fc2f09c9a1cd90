"""The arithmetic of shade and light against published sources, SciPy and colour-science."""

import colour as colour_science
import numpy as np
import pytest
from colour.temperature import CCT_to_xy_CIE_D
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import differential_evolution

from tests.reference.test_colour import SHARMA
from tests.tries import tries
from wardrobe.core.colour import delta_e_2000, from_hex, oklch_to_srgb, srgb_to_lab, srgb_to_oklch
from wardrobe.core.colour.nudge import NUDGES, STEP, nudge
from wardrobe.core.errors import ColourError
from wardrobe.core.passes.methods.rules import Ink
from wardrobe.core.passes.picking import picked_light, picked_shade, turned
from wardrobe.core.shades.even import even_out, lay, match
from wardrobe.core.shades.illumination import (
    LIGHTS,
    ambient_for,
    daylight_xy,
    light_colour,
    planckian_xy,
)
from wardrobe.core.shades.kernels import difference, lab_of, oklab_of
from wardrobe.core.shades.practice import practice_span, wide_bases
from wardrobe.core.shades.search import Hues, nearest_factor
from wardrobe.core.shades.steps import SPANS, judge

RNG = np.random.default_rng(20)
colours = st.tuples(*[st.integers(0, 255)] * 3)
# What is usually laid over everything, at 36 to 100 %: common practice, no published source.
USUAL_SHADES = [np.array(from_hex(c)) / 255
                for c in ("#8a94a6", "#5b6ea8", "#7a5fa0", "#c9879f")]  # grey, blue, purple, pink
STRENGTHS = (0.36, 0.5, 0.64, 0.82, 1.0)


def steps(bases: np.ndarray, factor: np.ndarray) -> np.ndarray:
    return delta_e_2000(srgb_to_lab(bases), srgb_to_lab(bases * factor))


def test_the_compiled_formulas_are_those_of_the_published_pairs_and_their_twins() -> None:
    for row in SHARMA:
        assert difference(*row[:6]) == pytest.approx(row[6], abs=6e-5)
    for rgb in RNG.random((200, 3)):
        assert lab_of(*rgb) == pytest.approx(srgb_to_lab(rgb), abs=1e-9)
        lightness, chroma, hue = srgb_to_oklch(rgb)
        a, b = chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))
        assert oklab_of(*rgb) == pytest.approx((lightness, a, b), abs=1e-9)


@pytest.mark.parametrize("key", ["shade", "deep shade", "light"])
def test_limits_follow_from_common_practice(key: str) -> None:
    """20 to 30 % of HSB brightness (common practice) over a wide set of bases."""
    assert len(wide_bases()) > 400
    derived, held = practice_span(key), SPANS[key]
    assert (held.wanted, held.faint, held.heavy) == pytest.approx(
        (derived.wanted, derived.faint, derived.heavy), abs=0.35)


def test_where_multiply_fails_it_is_said() -> None:
    """A part's own colour as its shade: faint on light skin, black on dark hair (common
    practice); the usual shade on a middle tone is neither."""
    ink = from_hex("#1e1a22")

    def own_colour(base: str) -> tuple[tuple[int, int, int], tuple[int, int, int]]:
        rgb = np.array(from_hex(base)) / 255
        r, g, b = np.rint(255 * rgb * rgb).astype(int).tolist()
        return from_hex(base), (r, g, b)

    assert judge("shade", *own_colour("#fdf3ec"), ink).mark == "faint"
    assert judge("shade", *own_colour("#3a2a24"), ink).mark == "in the line"
    assert judge("shade", from_hex("#a06040"), from_hex("#7c4432"), ink).mark is None


def test_picked_colours_by_hand() -> None:
    """HSB (A. R. Smith 1978) worked by hand: 200 100 50 is hue 20, saturation .75, brightness
    .784; a quarter darker and 8 degrees nearer to red is hue 12, brightness .588."""
    assert picked_shade((200, 100, 50), 0.25, 0, 8) == (150, 60, 38)
    # Hue 0 turns to yellow by 10 degrees; brightness .8 x 1.2 = .96.
    assert picked_light((204, 0, 0), 0.2, 10) == (245, 41, 0)
    assert turned(350, 0, 8) == 358 and turned(4, 0, 8) == 0 and turned(200, 60, 8) == 192


def test_one_wash_beats_the_usual_shades_on_any_set() -> None:
    usual = np.array([1 - s + s * c for c in USUAL_SHADES for s in STRENGTHS])
    for bases in RNG.integers(0, 256, (tries(200, 1000), 8, 3)):
        start = bases / 255
        shaded = start[None] * usual[:, None]
        worst = np.abs(delta_e_2000(srgb_to_lab(start)[None], srgb_to_lab(shaded)) - 16).max(1)
        found = np.abs(steps(start, nearest_factor(start, np.full(8, 16.0))) - 16).max()
        assert found < worst.min()


@pytest.mark.parametrize("seed", range(5))
def test_no_general_purpose_optimiser_does_better(seed: int) -> None:
    bases = np.random.default_rng(seed).random((8, 3))

    def worst(factor: np.ndarray) -> float:
        return float(np.abs(steps(bases, factor) - 16).max())

    best = differential_evolution(worst, [(0, 1)] * 3, seed=1, tol=1e-8, maxiter=120).fun
    assert worst(nearest_factor(bases, np.full(8, 16.0))) <= best + 0.15


def test_evening_out_says_what_each_part_gets_and_spares_what_no_wash_can_serve() -> None:
    bases = [from_hex(c) for c in ("#e9b690", "#3f7377", "#8a4226", "#0d0b0c", "#c9b48d")]
    one = even_out(bases, 16)
    assert one.worst == pytest.approx(max(abs(p.step - 16) for p in one.parts), abs=1e-3)
    for part in one.parts:
        seen = lay(np.array(part.base) / 255, one.wash)
        assert part.result == pytest.approx(255 * seen, abs=0.51)
    spared = even_out(bases, 16, spare=True)
    assert spared.worst < one.worst - 3
    assert [p.own is not None for p in spared.parts] == [False, False, False, True, False]
    own = spared.parts[3].own
    assert own and own.name == "light" and own.mode == "normal" and own.step == pytest.approx(
        16, abs=1)


@pytest.mark.parametrize("wanted", [9.0, 12.0, 20.0])
def test_a_part_is_spared_when_its_step_is_out_of_reach_and_only_then(wanted: float) -> None:
    """The limits of what is faint or heavy go along with the step that is wanted."""
    alike = [from_hex(c) for c in ("#c98f4a", "#7d9077", "#b5553f", "#4f6f8f", "#9a86a5")]
    limits = SPANS["shade"]
    together = even_out(alike, wanted, spare=True)
    assert [p.own for p in together.parts] == [None] * len(alike)
    mixed = even_out([*alike, (13, 11, 12)], wanted, spare=True)
    assert [p.own is not None for p in mixed.parts] == [False] * len(alike) + [True]
    for part in (*together.parts, *mixed.parts[:-1]):
        assert limits.faint <= part.step * limits.wanted / wanted <= limits.heavy


def test_hues_are_kept_to() -> None:
    bases = [from_hex(c) for c in ("#e9b690", "#3f7377", "#8a4226", "#c9b48d")]
    for middle in (20.0, 140.0, 260.0, 320.0):
        wash = even_out(bases, 14, hues=Hues(middle, 15, 0.03, 0.08)).wash
        _, chroma, hue = srgb_to_oklch(np.array(wash.colour) / 255)
        assert abs((hue - middle + 180) % 360 - 180) < 17 and 0.027 < chroma < 0.083
        glow = even_out(bases, 11, screen=True, hues=Hues(middle, 15, 0.03, 0.08)).wash
        assert max(glow.colour) >= 253  # a light is as bright as it can be


@given(st.lists(colours, min_size=2, max_size=6), colours.filter(lambda c: min(c) > 60),
       st.booleans())
def test_matching_finds_the_wash_that_made_the_colours(
        bases: list[tuple[int, int, int]], wash: tuple[int, int, int], screen: bool) -> None:
    made = np.rint(255 * lay(np.array(bases) / 255, Ink(wash, 0.7), screen)).astype(int)
    found = match(bases, [(r, g, b) for r, g, b in made.tolist()], screen)
    assert found.worst < 1.0  # not noticed


def test_light_colours_are_those_of_black_bodies_and_of_daylight() -> None:
    """Planck's law integrated over the CIE 1931 observer, and the CIE D illuminants, both by
    colour-science."""
    for kelvin in (1800, 2500, 3300, 4500):
        body = colour_science.sd_to_XYZ(colour_science.sd_blackbody(kelvin))
        assert planckian_xy(kelvin) == pytest.approx(colour_science.XYZ_to_xy(body), abs=2e-3)
        linear = np.maximum(0, np.linalg.solve(
            colour_science.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ, body))
        expected = 255 * colour_science.cctf_encoding(linear / linear.max(), function="sRGB")
        assert light_colour(kelvin) == pytest.approx(expected, abs=4)
    for kelvin in (5000, 6504, 9000, 20_000):
        assert daylight_xy(kelvin) == pytest.approx(CCT_to_xy_CIE_D(kelvin), abs=1e-9)
    assert light_colour(6504) == pytest.approx((255, 255, 255), abs=1)  # the picture's white


def test_lights_and_what_fills_their_shades() -> None:
    for light in LIGHTS.values():
        assert max(light.key) == max(light.ambient) == 255 or light.name == "neon pair"
    for warm in (1900.0, 3300.0):  # a warm light's shade is lit by the sky, and the other way
        assert ambient_for(warm)[2] > ambient_for(warm)[0]
    assert ambient_for(15_000.0)[0] > ambient_for(15_000.0)[2]
    with pytest.raises(ColourError, match="1700 to 25000 K"):
        light_colour(500)


@given(colours, st.sampled_from(sorted(NUDGES)))
def test_nudges_are_even_steps_in_the_direction_they_name(base: tuple[int, int, int],
                                                          to: str) -> None:
    moved = nudge(base, to)
    start, end = (srgb_to_oklch(np.array(c) / 255) for c in (base, moved))
    far = float(delta_e_2000(srgb_to_lab(np.array(base) / 255), srgb_to_lab(np.array(moved) / 255)))
    if start[0] < 0.3:  # whole bytes, and dark colours have few of them
        return
    assert far <= STEP + 0.8
    axis, sign = {"lighter": (0, 1), "darker": (0, -1), "richer": (1, 1),
                  "duller": (1, -1)}.get(to, (0, 0))
    if sign and start[0] < 0.9 and 0.04 < start[1] < 0.15:
        assert sign * (end[axis] - start[axis]) > -0.002  # at the edge of sRGB it stays


def test_many_nudges_come_back() -> None:
    colour = tuple(int(v) for v in np.rint(255 * oklch_to_srgb([0.6, 0.08, 150])))
    for to, back in (("lighter", "darker"), ("richer", "duller")):
        there = nudge(colour, to, 4)
        assert np.abs(np.array(nudge(there, back, 4)) - colour).max() <= 6
        assert there != colour
