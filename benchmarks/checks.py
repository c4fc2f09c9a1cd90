"""How long it takes until all is known that the checks say; and to tell a picture apart."""

import time

import numpy as np
from skimage.color import deltaE_ciede2000, rgb2lab
from skimage.segmentation import felzenszwalb

from benchmarks.layers import best_of, runner_piece
from wardrobe.core.flats import separate
from wardrobe.recipe.checks.report import check_piece
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddFinish, ChangePart, MoveLight, apply
from wardrobe.recipe.reports.finishes import ready_finishes
from wardrobe.recipe.stages import Deriver

_LAYERS = 19
_SHOWN = 0.25  # of full size, as the screen has drawn it before the checks begin
_EDGE = 700  # px at which pictures are judged
_COLOURS = ("#a03050", "#3050a0", "#50a030", "#806040")


def _after(deriver: Deriver, recipe: Recipe, repairs: bool) -> float:
    deriver.picture(recipe, View(0, 0, *recipe.size, _SHOWN))
    begin = time.perf_counter()
    check_piece(deriver, recipe, repairs=repairs)
    return time.perf_counter() - begin


def measure_checks(rgba: np.ndarray) -> dict[str, float]:
    """Seconds: all checks after a change of colour, plain and with finish layers, with repairs,
    and after the light was moved; CIEDE2000 between two pictures of their size in scikit-image;
    a picture told apart, and cut into regions by scikit-image."""
    deriver, recipe = runner_piece(rgba)
    offered = [layer for finish in ready_finishes(deriver, recipe) for layer in finish.layers]
    finished = apply(recipe, AddFinish(layers=tuple(offered[:_LAYERS])))
    part = recipe.parts[3].id
    found: dict[str, float] = {"layers": _LAYERS}
    for name, piece, repairs in (("plain", recipe, False), ("finished", finished, False),
                                 ("repairs", finished, True)):
        _after(deriver, piece, repairs)
        found[name] = min(_after(deriver, apply(piece, ChangePart(part=part, base=c)), repairs)
                          for c in _COLOURS)
    light = finished.light
    found["light"] = min(_after(deriver, apply(finished, MoveLight(light=light.model_copy(
        update={"azimuth": light.azimuth + turn}))), False) for turn in (7, 16, 29))
    view = View.whole(*recipe.size, _EDGE)
    one, other = (rgb2lab(deriver.picture(r, view)) for r in (recipe, finished))
    found["ciede2000"] = best_of(lambda: deltaE_ciede2000(one, other), 3)
    half = View(0, 0, *recipe.size, 0.5)
    rgb = deriver.picture(recipe, half)
    picture = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    found["told"] = best_of(lambda: separate(picture), 3)
    begin = time.perf_counter()
    felzenszwalb(rgb, scale=100, sigma=0.5, min_size=20)
    found["regions"] = time.perf_counter() - begin
    return found
