"""Colour formulas against published values and colour-science."""

import colour as colour_science
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wardrobe.core.colour import (
    decode,
    delta_e_2000,
    encode,
    hsb_to_srgb,
    oklch_to_srgb,
    srgb_to_hsb,
    srgb_to_lab,
    srgb_to_oklab,
    srgb_to_oklch,
)
from wardrobe.core.colour.oklab import lab_d50_to_oklab, oklch_within_gamut

# Sharma, Wu, Dalal 2005, table 1: L1 a1 b1, L2 a2 b2, CIEDE2000.
SHARMA = np.array([
    [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
    [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
    [50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412], [50, -1.3802, -84.2814, 50, 0, -82.7485, 1],
    [50, -1.1848, -84.8006, 50, 0, -82.7485, 1], [50, -0.9009, -85.5211, 50, 0, -82.7485, 1],
    [50, 0, 0, 50, -1, 2, 2.3669], [50, -1, 2, 50, 0, 0, 2.3669],
    [50, 2.4900, -0.0010, 50, -2.4900, 0.0009, 7.1792],
    [50, 2.4900, -0.0010, 50, -2.4900, 0.0010, 7.1792],
    [50, 2.4900, -0.0010, 50, -2.4900, 0.0011, 7.2195],
    [50, 2.4900, -0.0010, 50, -2.4900, 0.0012, 7.2195],
    [50, -0.0010, 2.4900, 50, 0.0009, -2.4900, 4.8045],
    [50, -0.0010, 2.4900, 50, 0.0010, -2.4900, 4.8045],
    [50, -0.0010, 2.4900, 50, 0.0011, -2.4900, 4.7461],
    [50, 2.5, 0, 50, 0, -2.5, 4.3065], [50, 2.5, 0, 73, 25, -18, 27.1492],
    [50, 2.5, 0, 61, -5, 29, 22.8977], [50, 2.5, 0, 56, -27, -3, 31.9030],
    [50, 2.5, 0, 58, 24, 15, 19.4535], [50, 2.5, 0, 50, 3.1736, 0.5854, 1],
    [50, 2.5, 0, 50, 3.2972, 0, 1], [50, 2.5, 0, 50, 1.8634, 0.5757, 1],
    [50, 2.5, 0, 50, 3.2592, 0.3350, 1],
    [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
    [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630],
    [61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731],
    [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
    [22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373],
    [36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
    [90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441],
    [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
    [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
    [2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082],
])
COLOURS = np.random.default_rng(3).random((500, 3))


def test_ciede2000_on_the_published_pairs() -> None:
    assert len(SHARMA) == 34
    assert delta_e_2000(SHARMA[:, :3], SHARMA[:, 3:6]) == pytest.approx(SHARMA[:, 6], abs=6e-5)


def test_srgb_transfer_function() -> None:
    """IEC 61966-2-1; round trip, and colour-science's."""
    assert decode(0.04045) == pytest.approx(0.04045 / 12.92)
    assert encode(decode(COLOURS)) == pytest.approx(COLOURS, abs=1e-9)
    assert decode(COLOURS) == pytest.approx(colour_science.eotf(COLOURS, "sRGB"), abs=1e-6)


def test_cielab_and_oklab_equal_colour_science() -> None:
    d65 = colour_science.RGB_COLOURSPACES["sRGB"].whitepoint
    xyz = colour_science.sRGB_to_XYZ(COLOURS)
    assert srgb_to_lab(COLOURS) == pytest.approx(colour_science.XYZ_to_Lab(xyz, d65), abs=0.03)
    assert srgb_to_oklab(COLOURS) == pytest.approx(colour_science.XYZ_to_Oklab(xyz), abs=2e-4)


def test_colours_of_profiles_are_the_same_in_oklab() -> None:
    """CIELAB under D50 by colour-science's Bradford adaptation, against Oklab straight."""
    xyz = colour_science.sRGB_to_XYZ(COLOURS)
    whites = [colour_science.xy_to_XYZ(colour_science.CCS_ILLUMINANTS[
        "CIE 1931 2 Degree Standard Observer"][name]) for name in ("D65", "D50")]
    adapted = colour_science.adaptation.chromatic_adaptation_VonKries(xyz, *whites, "Bradford")
    lab = colour_science.XYZ_to_Lab(adapted, colour_science.XYZ_to_xy(whites[1]))
    assert lab_d50_to_oklab(lab) == pytest.approx(srgb_to_oklab(COLOURS), abs=1e-3)


def test_oklab_published_values() -> None:
    """Red, as CSS Color Module Level 4 gives it in its examples: oklch(0.628 0.258 29.2)."""
    assert srgb_to_oklch([1, 0, 0]) == pytest.approx([0.628, 0.258, 29.2], abs=0.05)
    assert srgb_to_oklab([1, 1, 1]) == pytest.approx([1, 0, 0], abs=1e-3)


def test_oklch_round_trip_and_gamut() -> None:
    for rgb in COLOURS[:50]:
        assert oklch_to_srgb(srgb_to_oklch(rgb)) == pytest.approx(rgb, abs=2e-3)
    vivid = oklch_to_srgb([0.7, 0.4, 150])
    assert vivid.min() >= 0 and vivid.max() <= 1
    # CSS Color 4, section 13.2: within 0.02 of a colour of this lightness and hue.
    light, chroma, hue = srgb_to_oklch(vivid)
    assert np.hypot(light - 0.7, chroma * np.sin(np.radians(hue - 150))) < 0.0201


def test_hsb_published_values() -> None:
    """W3C CSS Color 3, section 4.2.4 and common tables: pure hues lie 60 degrees apart."""
    assert srgb_to_hsb((1, 1, 0)) == (60, 1, 1)
    assert hsb_to_srgb((210, 0.5, 0.8)) == pytest.approx((0.4, 0.6, 0.8))


@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0, 0.4), st.floats(-720, 720)), min_size=1,
                max_size=20))
def test_chroma_is_given_up_as_far_as_the_gamut_asks(
        lch: list[tuple[float, float, float]]) -> None:
    """Lightness and hue stay (colour-science, Ottosson 2020), and no more than a thirty-second of
    the chroma is lost without need."""
    wanted = np.array(lch)
    found = oklch_within_gamut(*wanted.T)
    assert found.min() >= 0 and found.max() <= 1

    def linear(light: np.ndarray, chroma: np.ndarray, hue: np.ndarray) -> np.ndarray:
        angle = np.radians(hue)
        oklab = np.stack([light, chroma * np.cos(angle), chroma * np.sin(angle)], axis=-1)
        return colour_science.XYZ_to_sRGB(colour_science.Oklab_to_XYZ(oklab),
                                         apply_cctf_encoding=False)

    light, chroma, hue = wanted.T
    kept = np.array([np.linalg.norm(srgb_to_oklab(encode(rgb))[1:]) for rgb in found])
    inside = ((linear(light, chroma, hue) > 1e-4) & (linear(light, chroma, hue) < 1 - 1e-4)).all(-1)
    # The library's matrices have four digits.
    assert np.abs(found - linear(light, chroma, hue))[inside].max(initial=0) < 1e-3
    # What was given up was needed: a little more would be out of the gamut.
    more = linear(light, np.minimum(chroma, kept + chroma / 32 + 1e-3), hue)
    lost = (chroma - kept > chroma / 32 + 2e-3) & (light > 0.02) & (light < 0.98)
    assert ((more[lost] < 1e-3) | (more[lost] > 1 - 1e-3)).any(axis=-1).all()
    seen = srgb_to_oklab(encode(found))
    near = (light > 0.05) & (light < 0.95)
    assert np.abs(seen[near, 0] - light[near]).max(initial=0) < 1e-3
