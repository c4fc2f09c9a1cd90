"""Proposed colours keep what they claim; colour vision as published."""

import colour
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.tries import tries
from wardrobe.core.colour import delta_e_2000, srgb_to_lab, srgb_to_oklch
from wardrobe.core.looks.compare import look_distances, stands_out
from wardrobe.core.looks.schemes import SCHEMES
from wardrobe.core.looks.tone import toned
from wardrobe.core.looks.vary import (
    ENOUGH,
    KEPT_SHARE,
    VALUE_SLACK,
    Palette,
    Variation,
    limited,
    vary,
    vary_by_palette,
)
from wardrobe.core.looks.vision import VISIONS, seen_with


def random_palette(seed: int, most: int = 12) -> Palette:
    rng = np.random.default_rng(seed)
    count = int(rng.integers(1, most + 1))
    bases = np.rint(rng.random((count, 3)) * 255) / 255
    if rng.random() < 0.3:  # dark, pale and grey figures, too
        bases = np.rint(255 * (bases * 0.25 + rng.choice([0.02, 0.7]))) / 255
    pairs = np.array([(i, j) for i in range(count) for j in range(i + 1, count)
                      if rng.random() < 4 / count]).reshape(-1, 2).astype(np.int64)
    return Palette(bases, rng.random(count) ** 2 + 1e-3, pairs, rng.random(count) < 0.25)


def keeps_its_word(palette: Palette, one: Variation) -> None:
    before, after = srgb_to_lab(palette.bases), srgb_to_lab(one.bases)
    assert np.abs(before[:, 0] - after[:, 0]).max() <= VALUE_SLACK
    clear = before[:, None, 0] - before[None, :, 0] > 2 * VALUE_SLACK
    assert (after[:, None, 0] > after[None, :, 0])[clear].all()  # the order of values
    if len(palette.pairs):
        a, b = palette.pairs.T
        need = KEPT_SHARE * np.minimum(delta_e_2000(before[a], before[b]), ENOUGH)
        assert (delta_e_2000(after[a], after[b]) >= need - 1e-6).all()
    assert (one.bases[palette.locked] == palette.bases[palette.locked]).all()
    assert one.value_shift == pytest.approx(np.abs(before[:, 0] - after[:, 0]).max())
    assert np.allclose(one.bases * 255, np.rint(one.bases * 255))


@settings(max_examples=tries(150, 1000))
@given(st.integers(0, 10**9), st.sampled_from(sorted(SCHEMES)))
def test_proposals_keep_values_and_contrasts(seed: int, scheme: str) -> None:
    palette = random_palette(seed)
    for one in vary(palette, scheme, 1, seed % 1000):
        keeps_its_word(palette, one)


@settings(max_examples=tries(30, 100))
@given(st.integers(0, 10**9))
def test_so_do_those_by_a_palette(seed: int) -> None:
    palette, other = random_palette(seed), random_palette(seed + 1)
    for one in vary_by_palette(palette, other.bases, 2, seed % 1000):
        keeps_its_word(palette, one)


@pytest.mark.parametrize(("scheme", "angles"), [
    ("near", (0, 30, 330)), ("opposite", (0, 180)), ("split", (0, 150, 210)),
    ("triad", (0, 120, 240))])
def test_harmonies_have_their_angles_in_oklch(scheme: str, angles: tuple[float, ...]) -> None:
    bases = np.rint(255 * toned(np.linspace(35, 75, 9), np.full(9, 0.09),
                                np.linspace(0, 320, 9))) / 255
    palette = Palette(bases, np.linspace(1, 0.1, 9), np.zeros((0, 2), np.int64),
                      np.zeros(9, bool))
    (one,) = vary(palette, scheme, 1, 3, lead=40.0)
    hues = srgb_to_oklch(one.bases)
    coloured = hues[:, 1] > 0.04
    apart = (hues[coloured, 2][:, None] - hues[coloured, 2][None, :]) % 360
    allowed = np.array([(a - b) % 360 for a in angles for b in angles] + [360])
    assert coloured.sum() >= 7
    assert np.abs(apart[..., None] - allowed).min(axis=-1).max() < 4  # whole bytes turn hues
    lead = hues[np.argmax(palette.areas), 2]  # the largest part is near the hue that was asked for
    assert min(abs((lead - 40 - a + 180) % 360 - 180) for a in angles) <= 24


def test_many_proposals_differ_from_each_other() -> None:
    palette = random_palette(5)
    found = vary(palette, "triad", 6, 1)
    away = look_distances(np.array([v.bases for v in found]), palette.areas)
    assert len(found) == 6 and np.sort(away[np.triu_indices(6, 1)])[3] > 2
    assert all((a.bases == b.bases).all() for a, b in zip(found, vary(palette, "triad", 6, 1),
                                                          strict=True))


@given(st.floats(1, 99), st.floats(0, 0.3), st.floats(0, 360))
def test_toned_colours_have_their_value(value: float, chroma: float, hue: float) -> None:
    found = toned(value, chroma, hue)
    # A byte is up to half an L* in the dark, and colours may be out of reach of bytes there.
    assert abs(srgb_to_lab(found)[0] - value) < 0.65
    lch = srgb_to_oklch(found)
    if 25 < value < 90 and lch[1] > 0.05:
        assert abs((lch[2] - hue + 180) % 360 - 180) < 4 and lch[1] < chroma + 0.01


def test_few_colours_stand_for_many() -> None:
    rng = np.random.default_rng(2)
    reds, blues = (toned(rng.uniform(30, 70, 8), np.full(8, 0.1), h + rng.uniform(-8, 8, 8))
                   for h in (30.0, 250.0))
    few = limited(np.concatenate([reds, blues]), np.ones(16), 2)
    hues = sorted(srgb_to_oklch(few)[:, 2])
    assert len(few) == 2 and abs(hues[0] - 30) < 12 and abs(hues[1] - 250) < 12


@pytest.mark.parametrize(("key", "name"), [
    ("protan", "Protanomaly"), ("deutan", "Deuteranomaly"), ("tritan", "Tritanomaly")])
def test_colour_vision_is_as_published(key: str, name: str) -> None:
    """colour-science holds the tables of Machado, Oliveira and Fernandes (2009)."""
    published = colour.blindness.CVD_MATRICES_MACHADO2010[name][1.0]
    assert np.abs(VISIONS[key].matrix - published).max() < 1e-6
    grey = np.linspace(0, 1, 9)[:, None].repeat(3, axis=1)
    assert np.abs(seen_with(grey, key) - grey).max() < 0.005  # greys stay grey


def test_distances_and_grounds() -> None:
    looks = np.array([[[0.2, 0.3, 0.4], [0.9, 0.8, 0.7]], [[0.2, 0.3, 0.4], [0.5, 0.2, 0.2]]])
    away = look_distances(looks, np.array([3.0, 1.0]))
    labs = srgb_to_lab(looks[:, 1])
    assert away[0, 1] == pytest.approx(delta_e_2000(labs[0], labs[1]) / 4)
    assert away[0, 0] == 0 and away[0, 1] == away[1, 0]
    paper, night = stands_out(np.ones((1, 3)), np.ones(1))
    assert paper == pytest.approx(5, abs=0.01) and night == pytest.approx(85, abs=0.01)
