"""The methods: every colour a coat shows, against the readable W3C compositor; own choices."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wardrobe.core.colour import srgb_to_hsb, srgb_to_lab
from wardrobe.core.composite.reference import composite
from wardrobe.core.passes.layers import Coat, PassLayer
from wardrobe.core.passes.methods import AMOUNTS, METHODS, Ink, Rules
from wardrobe.core.passes.own import with_own
from wardrobe.core.passes.seen import in_bytes, shapes_of
from wardrobe.core.passes.seen import seen as inside
from wardrobe.core.passes.table import PASSES

USUAL = {name: s.usual for name, s in AMOUNTS.items()}
colours = st.tuples(*[st.integers(0, 255)] * 3)
inks = st.builds(Ink, colours, st.floats(0, 1))
rules = st.builds(
    Rules, st.fixed_dictionaries({k: inks for k in ("shade", "deep shade", "light", "glint",
                                                    "wash")}),
    st.just(USUAL), colours, st.sampled_from(["red", "ambient"]), st.sampled_from([2, 3]))


def by_w3c(coat: Coat, base: tuple[int, int, int], full: set[str]) -> np.ndarray:
    """What W3C Compositing and Blending Level 1 gives for opaque layers where some shapes are
    full, straight colour 0..1."""
    def rgba(colour: tuple[int, int, int]) -> np.ndarray:
        return np.array([*colour, 255]) / 255

    def shown(layer: PassLayer) -> bool:
        return layer.shape is None or (layer.shape in full) != layer.outside

    out = rgba(coat.ground)
    for layer in coat.layers:
        if layer.tones:
            source = np.zeros(4)
            for tone in filter(shown, layer.tones):
                source = composite(source, rgba(tone.colour), tone.mode, tone.strength)
        elif shown(layer):
            source = rgba(base if layer.printed else layer.colour)
        else:
            continue
        out = composite(out, source, layer.mode, layer.strength)
    return out[:3]


@pytest.mark.parametrize("method", METHODS)
@given(base=colours, given_rules=rules)
def test_what_is_seen_is_what_the_layers_composite_to(
        method: str, base: tuple[int, int, int], given_rules: Rules) -> None:
    coat = METHODS[method].coat(base, given_rules)
    for key in ("base", *shapes_of([coat])):
        full = {key, *(PASSES[key].within if key in PASSES else ())}
        expected = 255 * by_w3c(coat, base, full)
        assert np.abs(255 * inside(coat, base, key) - expected).max() < 1e-3, key


@pytest.mark.parametrize("method", METHODS)
@given(base=colours, given_rules=rules, own=st.dictionaries(
    st.sampled_from(["shade", "deep shade", "light", "glint"]), colours, min_size=1))
def test_an_own_choice_is_seen_exactly_in_every_method(
        method: str, base: tuple[int, int, int], given_rules: Rules,
        own: dict[str, tuple[int, int, int]]) -> None:
    coat = with_own(METHODS[method].coat(base, given_rules), base, own)
    for key, colour in own.items():
        assert in_bytes(inside(coat, base, key)) == colour


def test_an_own_shade_that_multiply_can_give_stays_on_multiply() -> None:
    """So that a pattern beneath it shows."""
    washes = dict.fromkeys(("shade", "deep shade", "light", "glint", "wash"),
                           Ink((150, 120, 160), 0.7))
    plain = METHODS["one shade"].coat((200, 150, 120), Rules(washes, USUAL))
    darker = with_own(plain, (200, 150, 120), {"shade": (150, 90, 80)})
    assert [layer.mode for layer in darker.layers] == ["multiply", "multiply", "screen", "screen"]
    bluer = with_own(plain, (200, 150, 120), {"shade": (90, 90, 140)})
    assert bluer.layers[0].mode == "normal" and bluer.layers[1].mode == "multiply"


def test_each_method_does_what_its_school_says() -> None:
    washes = {"shade": Ink((150, 120, 165), 0.7), "deep shade": Ink((140, 110, 160), 0.6),
              "light": Ink((255, 240, 205), 0.3), "glint": Ink((255, 255, 255), 0.7),
              "wash": Ink((160, 140, 175), 0.2)}
    base = (210, 150, 110)

    def seen(method: str, key: str, **more: object) -> tuple[int, int, int]:
        coat = METHODS[method].coat(base, Rules(washes, USUAL, **more))  # type: ignore[arg-type]
        return in_bytes(inside(coat, base, key))

    def hsb(colour: tuple[int, int, int]) -> tuple[float, float, float]:
        return srgb_to_hsb([v / 255 for v in colour])

    def value(colour: tuple[int, int, int]) -> float:
        return float(srgb_to_lab(np.array(colour) / 255)[0])

    # Picked: 25 % less brightness, hue 8 degrees nearer to red; the deep shade more saturated.
    hue, _, brightness = hsb(base)
    shade, deep = hsb(seen("picked", "shade")), hsb(seen("picked", "deep shade"))
    assert shade[2] == pytest.approx(0.75 * brightness, abs=0.01)
    assert hue - shade[0] == pytest.approx(8, abs=1) and deep[1] > shade[1] + 0.05
    # Towards the ambient colour the hue turns the other way if that is nearer.
    assert hsb(seen("picked", "shade", turn_to="ambient", ambient=(90, 160, 90)))[0] > hue
    # Light out of dark: from the shade up to none in equal-looking tones, in order.
    tones = [value(seen("light out of dark", k, tones=3))
             for k in ("shade", "low light", "half light", "base")]
    assert tones == sorted(tones) and min(np.diff(tones)) > 3
    assert seen("light out of dark", "base") == base
    # Soft first: the hard shade adds to what the soft ones did.
    soft = [value(seen("soft then hard", k)) for k in ("base", "gradient", "soft shade", "shade")]
    assert soft == sorted(soft, reverse=True)
    # Values first: the base's value under its colour, and the wash over all.
    assert value(seen("values first", "base")) < value(base)
    assert seen("values first", "base", off=frozenset({"wash"})) == pytest.approx(base, abs=1)
    # A pass that is off leaves nothing.
    for method in METHODS:
        assert seen(method, "glint", off=frozenset({"glint", "light"})) == seen(method, "base")
