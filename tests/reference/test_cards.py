"""Colour cards in open formats, and the colours that ship."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.colour.starters import STARTERS
from wardrobe.core.formats.tokens import (
    CardColour,
    CardFormatError,
    read_csv,
    read_tokens,
    read_washes,
    write_csv,
    write_tokens,
)

# The colour examples of the W3C Design Tokens Community Group's "Color Module" and "Format
# Module" (2025.10): an object with components, one with a hex fallback, a group's type that its
# tokens inherit, and an alias. Copied from memory.
PUBLISHED = """{
  "Majestic magenta": {"$type": "color", "$value": {
    "colorSpace": "srgb", "components": [1, 0, 1], "alpha": 1, "hex": "#ff00ff"}},
  "Translucent shadow": {"$type": "color", "$value": {
    "colorSpace": "srgb", "components": [0, 0, 0], "alpha": 0.5}},
  "brand": {"$type": "color",
    "color": {"acid green": {"$value": {"colorSpace": "srgb-linear", "components": [0, 1, 0]}},
              "primary": {"$value": "{brand.color.acid green}"}}},
  "spacing": {"$type": "dimension", "small": {"$value": {"value": 4, "unit": "px"}}}
}"""


def test_published_tokens_are_read() -> None:
    assert [(c.name, c.colour) for c in read_tokens(PUBLISHED)] == [
        ("Majestic magenta", "#ff00ff"), ("Translucent shadow", "#000000"),
        ("acid green", "#00ff00"), ("primary", "#00ff00")]


@given(st.lists(st.tuples(st.text(st.characters(codec="utf-8", exclude_categories=["C", "Z"]),
                                  min_size=1, max_size=20), st.integers(0, 0xffffff),
                          st.sampled_from([None, "skin", "leather"]),
                          st.dictionaries(st.sampled_from(["shade", "light"]),
                                          st.integers(0, 0xffffff), max_size=2)),
                min_size=1, max_size=12, unique_by=lambda r: r[0].casefold()))
def test_a_card_survives_both_formats(
        rows: list[tuple[str, int, str | None, dict[str, int]]]) -> None:
    card = [CardColour(name, f"#{value:06x}", material,
                       {key: f"#{v:06x}" for key, v in sorted(passes.items())[::-1]})
            for name, value, material, passes in rows]
    washes = {"shade": {"colour": "#a0789a", "strength": 0.7}}
    text = write_tokens(card, "a {card} of. names", washes)
    assert read_tokens(text) == card and read_washes(text) == washes
    group = next(iter(json.loads(text).values()))
    for key, token in group.items():
        if not key.startswith("$"):  # as the Format Module wants names: no $ first, no { } .
            assert not set(key) & set("{}.") and token["$value"]["colorSpace"] == "srgb"
    assert read_csv(write_csv(card)) == card


@pytest.mark.parametrize(("read", "text", "says"), [
    (read_tokens, "{", "not JSON"), (read_tokens, "[1]", "object"),
    (read_tokens, '{"a": {"$type": "color", "$value": "{b}"}}', "no token"),
    (read_tokens, '{"a": {"$type": "color", "$value": "{a}"}}', "circle"),
    (read_tokens, '{"a": {"$type": "color", "$value": {"colorSpace": "srgb", "components": '
                  '["x", 0, 0]}}}', "not a colour"),
    (read_tokens, '{"a": {"$type": "dimension", "$value": 3}}', "no colour"),
    (read_tokens, '{"a":' * 200 + "1" + "}" * 200, "nested"),
    (read_csv, "coat,#123456\nhat", "Line 2"), (read_csv, "coat,#123456\nhat,puce", "Line 2"),
    (read_csv, "\n\n", "no colour"),
])
def test_a_card_that_cannot_be_read_says_where(read: object, text: str, says: str) -> None:
    assert callable(read)
    with pytest.raises(CardFormatError, match=says):
        read(text)


def test_starters_span_a_wide_range_and_light_skins_are_light() -> None:
    """Light skin sits in the brightest 20 % of values: common practice, no published source."""
    labs = {s.name: srgb_to_lab(np.array(from_hex(s.colour)) / 255) for s in STARTERS}
    for family in {s.family for s in STARTERS}:
        names = [s.name for s in STARTERS if s.family == family]
        for k, one in enumerate(names):
            assert all(delta_e_2000(labs[one], labs[two]) > 4 for two in names[:k]), one
    skins = [labs[s.name][0] for s in STARTERS if s.family == "skin"]
    assert sum(light >= 80 for light in skins) >= 3  # three light ones and more
    assert min(skins) < 30 < 40 < sorted(skins)[3] < 60
    assert all(b - a < 14 for a, b in zip(sorted(skins), sorted(skins)[1:], strict=False))
