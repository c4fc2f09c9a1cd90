"""Coloured lines and passes in ink: what a change of colour costs, and the work behind it."""

import time

import numpy as np
from skimage.segmentation import expand_labels

from benchmarks.layers import best_of, runner_piece
from wardrobe.core.ink.screens import line_screen
from wardrobe.core.ink.stretches import find_stretches
from wardrobe.recipe.document.ink import Inking, InkShade
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, SetInk, apply

_EDGE = 1400  # px of a preview


def measure_ink(rgba: np.ndarray) -> dict[str, float]:
    """Seconds: a change of colour in a preview with lines in one colour and coloured; stretches
    of a drawing, and the labels of its ink spread by scikit-image; a hatched preview anew; a
    full page of parallel lines, and the same in numpy."""
    deriver, plain = runner_piece(rgba)
    shown = View.whole(*plain.size, _EDGE)

    def recoloured(recipe: Recipe) -> float:
        deriver.picture(recipe, shown)
        times = []
        for k in range(12):
            changed = apply(recipe, ChangePart(part=recipe.parts[k].id, base=f"#4466{90 + k:02x}"))
            begin = time.perf_counter()
            deriver.picture(changed, shown)
            times.append(time.perf_counter() - begin)
        return float(np.median(times))

    one = recoloured(plain)
    coloured = recoloured(apply(plain, SetInk(ink=Inking(on=True))))
    areas, ink = deriver.areas(plain), deriver.ink(plain)
    parts = deriver.assignment(plain).part_of_area[areas.labels]
    hatched = []
    for k in range(6):
        shade = InkShade(name="shade", style="crossed", follow="across", spacing=18 + k)
        recipe = apply(plain, SetInk(ink=Inking(shades=(shade,))))
        begin = time.perf_counter()
        deriver.picture(recipe, shown)
        hatched.append(time.perf_counter() - begin)
    height, width = ink.shape
    across = (np.arange(width, dtype=np.float32)[None] * np.float32(0.5)
              + np.arange(height, dtype=np.float32)[:, None] * np.float32(0.8))
    tone = np.full(ink.shape, 0.4, np.float32)

    def in_numpy() -> np.ndarray:
        away = np.abs((across / 16) % 1 - 0.5) * 16
        return (np.clip(0.4 * 8 - away + 0.5, 0, 1) * 255 + 0.5).astype(np.uint8)

    return {"one": one, "coloured": coloured,
            "stretches": best_of(lambda: find_stretches(parts, ink, areas.line_width), 2),
            "spread": best_of(lambda: expand_labels(np.where(ink > 127, 0, parts), 20), 1),
            "hatched": float(np.median(hatched[1:])),
            "lines": best_of(lambda: line_screen(tone, across, 16.0), 3),
            "numpy": best_of(in_numpy, 3)}
