"""What the trade's figures amount to in colour differences, over a wide set of bases."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.colour.oklab import oklab_to_srgb
from wardrobe.core.colour.starters import STARTERS
from wardrobe.core.passes.layers import Rgb
from wardrobe.core.passes.picking import RED, picked_light, picked_shade
from wardrobe.core.shades.steps import Span

GENTLE, USUAL, STRONG = 0.20, 0.25, 0.30  # change of HSB brightness; common practice
_TURN = 8.0  # degrees; "slightly", common practice
_RICHER = 1.15


@lru_cache(maxsize=1)
def wide_bases() -> tuple[Rgb, ...]:
    """Starters of all materials, and an even grid of OKLCH as far as sRGB reaches."""
    lightness, chroma, hue = np.meshgrid(np.arange(0.15, 0.99, 0.07), np.arange(0, 0.21, 0.04),
                                         np.radians(np.arange(0, 360, 30)), indexing="ij")
    grid = oklab_to_srgb(np.stack([lightness, chroma * np.cos(hue), chroma * np.sin(hue)],
                                  axis=-1).reshape(-1, 3))
    inside = ((grid >= 0) & (grid <= 1)).all(axis=1)
    found = {from_hex(s.colour) for s in STARTERS}
    found |= {(r, g, b) for r, g, b in np.rint(255 * grid[inside]).astype(int).tolist()}
    return tuple(sorted(found))


def practice_steps(key: str, change: float) -> NDArray[np.float64]:
    """CIEDE2000 steps of a pass over all wide bases, for a change of HSB brightness."""
    def one(base: Rgb) -> Rgb:
        if key == "light":
            return picked_light(base, change, _TURN)
        shade = picked_shade(base, change, RED, _TURN)
        return shade if key == "shade" else picked_shade(shade, change, RED, _TURN, _RICHER)

    bases = np.array(wide_bases()) / 255
    after = np.array([one(base) for base in wide_bases()]) / 255
    return delta_e_2000(srgb_to_lab(bases), srgb_to_lab(after))


def practice_span(key: str) -> Span:
    """The wanted step and its limits, as :data:`~wardrobe.core.shades.steps.SPANS` has them."""
    return Span(float(np.median(practice_steps(key, USUAL))),
                float(np.percentile(practice_steps(key, GENTLE), 25)),
                float(np.percentile(practice_steps(key, STRONG), 95)))
