"""Time to cut areas and to change the cut at full size, against a watershed of scikit-image."""

from functools import reduce

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.segmentation import watershed

from benchmarks.layers import best_of
from wardrobe.core.areas.segment import segment
from wardrobe.core.lines.coverage import read_darkness
from wardrobe.demo.pieces import RUNNER
from wardrobe.recipe.document.model import Lines, Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ClaimAreas, apply
from wardrobe.recipe.reports.gestures import meaning
from wardrobe.recipe.stages import Deriver, prepare_lines
from wardrobe.recipe.stages.views import draw


def measure_parts(rgba: NDArray[np.uint8]) -> dict[str, float]:
    """Seconds: cutting areas, a watershed, and a claim and a split up to the picture shown."""
    coverage = prepare_lines(read_darkness(rgba), Lines())
    free = (coverage < 128).astype(np.uint8)
    distance = cv2.distanceTransform(free, cv2.DIST_L2, 5)
    markers = cv2.connectedComponents((distance > 12).astype(np.uint8))[1]
    height, width = coverage.shape
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=width, height=height))
    recipe = apply(recipe, RUNNER.claims(width))
    view = View.whole(width, height, 1400)
    draw(deriver, recipe, "parts", view)
    scale = width / RUNNER.units[0]
    heights = iter(range(700, 800, 5))  # a new stroke each time: what is known is not cut again

    def claim() -> None:
        spot = ((493 * scale, (457 + next(heights) / 100) * scale),)
        draw(deriver, apply(recipe, ClaimAreas(to="p1", strokes=(spot,))), "parts", view)

    def split() -> None:
        y = next(heights)
        edit = meaning(deriver, recipe, "split", [(430 * scale, y * scale), (600 * scale,
                                                                             (y + 6) * scale)])
        draw(deriver, reduce(apply, [edit], recipe), "parts", view)

    return {
        "cut": best_of(lambda: segment(coverage)),
        "watershed": best_of(lambda: watershed(-distance, markers, mask=free > 0), 2),
        "claim": best_of(claim, 4), "split": best_of(split, 4),
    }
