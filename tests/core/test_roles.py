"""What a layer is for, told by the names that artists give (common practice, no published source),
by its mode, and by what is painted."""

import numpy as np
import pytest

from tests.drawings import piece
from wardrobe.core.stack.match import match_layers
from wardrobe.core.stack.model import Group, Layer, Stack, Tint
from wardrobe.core.stack.roles import placed_layers, role_of

FULL = np.full((6, 6), 255, np.uint8)
FAINT = np.full((6, 6), 90, np.uint8)


def layer(name: str, mode: str = "normal", alpha: np.ndarray = FULL) -> Layer:
    return Layer(name, Tint(alpha, (90, 60, 30)), 0, 0, mode)


@pytest.mark.parametrize(("name", "mode", "role"), [
    ("Lineart", "normal", "lines"), ("INK 2", "multiply", "lines"), ("lines / base", "normal",
                                                                     "lines"),
    ("coat / lines", "normal", "lines"), ("coat / shade", "multiply", "shade"),
    ("Shadow2 copy", "normal", "shade"), ("hair highlights", "screen", "light"),
    ("coat / base", "normal", "flat"), ("skin flats", "normal", "flat"),
    ("background / base", "normal", "background"), ("BG", "normal", "background"),
    ("silhouette / mask", "normal", "silhouette"), ("base blush", "normal", "other"),
    ("coat base", "overlay", "other"), ("coat / shade", "destination-in", "mask"),
    # Without a word that is known, the mode tells; without that, what is painted.
    ("Layer 12", "multiply", "shade"), ("Layer 12", "color-burn", "shade"),
    ("Layer 12", "screen", "light"), ("Layer 12", "plus-lighter", "light"),
    ("Layer 12", "hue", "other"), ("Layer 12", "normal", "flat")])
def test_names_come_first_then_modes(name: str, mode: str, role: str) -> None:
    assert role_of(layer(name, mode)) == role


def test_a_layer_without_a_name_that_is_mostly_soft_is_no_flat() -> None:
    assert role_of(layer("Layer 3", alpha=FAINT)) == "other"
    assert role_of(layer("Layer 3", alpha=FULL * 0)) == "other"


def test_places_tell_of_groups_masks_and_what_is_hidden() -> None:
    mask = layer("cut", "destination-in")
    inner = Group("inner", [layer("coat / shade", "normal")], "multiply", visible=False)
    stack = Stack(6, 6, [layer("paper"), Group("coat", [layer(" "), inner, mask]), layer("ink")])
    found = {p.path: p for p in placed_layers(stack)}
    assert list(found) == ["paper", "coat / (no name)", "coat / inner / coat / shade",
                           "coat / cut", "ink"]
    shade = found["coat / inner / coat / shade"]
    assert (shade.laid, shade.shown, shade.order) == ("multiply", False, 2)
    assert shade.masks == (mask,) and found["coat / (no name)"].masks == (mask,)
    assert found["coat / cut"].masks == () == found["ink"].masks
    assert found["paper"].group == found["ink"].group == 0
    assert len({found["coat / (no name)"].group, shade.group, 0}) == 3


def test_renamed_layers_are_told_by_words_then_by_where_they_lie() -> None:
    deriver, recipe = piece()
    names = ["long coat", "scarf", "hat"]
    parts = deriver.parts_map(recipe)
    plan = deriver.plan(recipe)
    y, x = np.nonzero(parts == 1)
    box = slice(y.min(), y.max() + 1), slice(x.min(), x.max() + 1)
    mine = np.where(parts[box] == 1, np.uint8(255), np.uint8(0))
    # Half of another part: a shade may cover some of a part, a flat must fill it.
    half = mine.copy()
    half[: len(half) * 2 // 3] = 0

    def at(name: str, alpha: np.ndarray, mode: str = "normal") -> Layer:
        return Layer(name, Tint(alpha, (1, 2, 3)), int(x.min()), int(y.min()), mode)

    wanted = [(at("coats long shading", half, "multiply"), ("pass", 1, "shade", "words")),
              (at("Scarves flats", mine), ("base", 1, None, "pixels")),
              (at("scarf flat", mine), ("base", 2, None, "words")),
              (at("Layer 4", mine), ("base", 1, None, "pixels")),
              (at("Layer 5", half), ("other", None, None, "none")),
              (at("Layer 6", half, "screen"), ("pass", 1, "light", "pixels")),
              (at("ink lines", mine), ("lines", None, None, "words"))]
    for one, (kind, row, key, how) in wanted:
        stack = Stack(480, 480, [one])
        (match,) = match_layers(stack, plan, names, parts)
        assert (match.kind, match.row, match.key, match.how) == (kind, row, key, how), one.name
