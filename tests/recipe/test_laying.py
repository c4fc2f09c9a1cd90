"""How a pass is laid on: in any blend mode, with edges as soft as they are told."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drawings import piece
from wardrobe.core.colour import from_hex
from wardrobe.core.composite.modes import MODES
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.document.delivery import Delivery
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.sheet import colour_sheet

DERIVER, PLAIN = piece()
WHOLE = View.whole(480, 480)


@settings(max_examples=20)
@given(st.sampled_from(list(MODES)), st.sampled_from(["shade", "light"]), st.sampled_from(
    ["by part", "by pass", "whole figure"]))
def test_a_pass_is_laid_on_in_any_mode(mode: str, name: str, arrangement: str) -> None:
    """W3C Compositing and Blending Level 1, by hand, inside of the pass; the sheet shows the
    colour, the stack delivers the mode and flattens to the picture."""
    passes = PLAIN.passes.model_copy(update={"modes": {name: mode}, "off": ("deep shade", "glint")})
    recipe = PLAIN.model_copy(update={"passes": passes, "delivery": Delivery(
        arrangement=arrangement)})
    picture = DERIVER.picture(recipe, WHOLE)
    masks = DERIVER.masks(recipe, WHOLE)
    wash = passes.wash_of(name)
    source = np.array(from_hex(wash.colour)) / 255
    others = "light" if name == "shade" else "shade"
    rows = {row.part: {c.name: c.colour for c in row.cells} for row in colour_sheet(recipe).rows}
    for row, part in enumerate(PLAIN.parts, start=1):
        here = (masks.parts == row) & (masks.ink == 0) & (masks.level(name) == 255) \
            & (masks.level(others) == 0)
        if not here.any():
            continue
        base = np.array(from_hex(part.base)) / 255
        laid = np.minimum(1, base + wash.strength * source) if mode == "plus-lighter" else \
            base + wash.strength * (MODES[mode].blend(base, source) - base)
        assert np.abs(picture[here] - 255 * laid).max() <= 1
        assert np.abs(np.array(from_hex(rows[part.id][name])) - 255 * laid).max() <= 1
    stack = DERIVER.stack(recipe)
    assert np.abs(flatten(stack)[..., :3].astype(int) - picture).max() <= 1
    modes = {layer.mode for layer in stack.layers() if layer.name.endswith(f"/ {name}")} \
        if arrangement == "by part" else {mode}
    assert modes <= {mode}


def test_the_edge_of_a_pass_is_as_soft_as_it_is_told() -> None:
    """Softer edges are wider, of that pass alone; at 0 it is as it was, to the bit."""
    def level(name: str, softness: float) -> np.ndarray:
        passes = PLAIN.passes.model_copy(update={"softness": {"shade": softness}})
        return DERIVER.masks(PLAIN.model_copy(update={"passes": passes}), WHOLE).level(name)

    def between(plane: np.ndarray) -> int:
        return int(np.count_nonzero((plane > 12) & (plane < 243)))

    hard = DERIVER.masks(PLAIN, WHOLE)
    assert np.array_equal(level("shade", 0), hard.level("shade"))
    widths = [between(level("shade", s)) for s in (0, 0.25, 0.6, 1)]
    assert widths == sorted(widths) and widths[-1] > 4 * widths[0]
    # The same area, softened: as much shade as before.
    assert level("shade", 1).mean() == pytest.approx(hard.level("shade").mean(), rel=0.12)
    assert between(level("light", 1)) <= between(hard.level("light")) * 1.3 + 50
