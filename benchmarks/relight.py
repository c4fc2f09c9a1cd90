"""Time to light the demo's full figure again, against the same steps in SciPy."""

import time
from itertools import count

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from benchmarks.layers import best_of, runner_piece
from wardrobe.core.form import Form, solve_form
from wardrobe.core.formats.png import encode_png
from wardrobe.core.light.simplify import BLUR_LINE_WIDTHS, CLOSE_LINE_WIDTHS, OPEN_LINE_WIDTHS
from wardrobe.recipe.document.lighting import SideLight
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View

_SCREEN = 520_000  # pixels that the screen asks for while the light is dragged
_PASSES = 4


def lit(recipe: Recipe, azimuth: float, **more: object) -> Recipe:
    light = recipe.light.model_copy(update={"azimuth": azimuth, **more})
    return recipe.model_copy(update={"light": light})


def measure_relight(rgba: NDArray[np.uint8]) -> dict[str, float]:
    """Seconds: a picture while the light is dragged, and its shapes alone; the steps of these
    shapes with SciPy; all passes at full size; the form."""
    deriver, recipe = runner_piece(rgba)
    width, height = recipe.size
    dragged = View(0, 0, width, height, (_SCREEN / (width * height)) ** 0.5)
    whole = View.whole(width, height)
    turns = count(3, 3)

    def drag() -> None:
        encode_png(deriver.picture(lit(recipe, next(turns) % 360), dragged, draft=True))

    sides = {"rim": SideLight(azimuth=10, height=-15, colour="#ffffff", strength=0.7),
             "bounce": SideLight(azimuth=290, height=10, colour="#e9b27a", strength=0.3)}
    areas = deriver.areas(recipe)
    form = deriver.form(recipe)
    traits = deriver.traits(recipe)
    for _ in range(6):
        drag()
    return {
        "drag": median_of(drag, 30),
        "shapes": median_of(lambda: deriver.shapes(lit(recipe, next(turns) % 360), draft=True),
                            30),
        "scipy": best_of(lambda: with_scipy(form.coarser()), 3),
        "all passes": best_of(lambda: deriver.masks(lit(recipe, next(turns) % 360, **sides),
                                                    whole), 3),
        "form": best_of(lambda: solve_form(areas.labels, deriver.coverage(recipe),
                                           areas.line_width, traits), 3),
    }


def median_of(call: object, runs: int) -> float:
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        call()  # type: ignore[operator]
        times.append(time.perf_counter() - start)
    return float(np.median(times))


def with_scipy(form: Form) -> list[NDArray[np.float32]]:
    """Open, close and blur one threshold a pass inside every form, as SciPy does it."""
    light = np.array([-0.5, -0.63, 0.59], np.float32)
    lw = form.grid.line_width
    fields = []
    for k in range(_PASSES):
        raw = form.normals @ light < 0.1 * k
        field = np.zeros(raw.shape, np.float32)
        for label, box in enumerate(ndimage.find_objects(form.labels), start=1):
            if box is None:
                continue
            inside = form.labels[box] == label
            shape = ndimage.binary_opening(raw[box] & inside, iterations=max(
                1, round(OPEN_LINE_WIDTHS * lw)))
            shape = ndimage.binary_closing(shape, iterations=max(1, round(CLOSE_LINE_WIDTHS * lw)))
            pieces, _ = ndimage.label(shape)
            sizes = np.bincount(pieces.ravel())
            shape &= (sizes >= 12 * lw**2)[pieces]
            sigma = max(1.8, BLUR_LINE_WIDTHS * lw)
            share = ndimage.gaussian_filter(inside.astype(np.float32), sigma)
            blurred = ndimage.gaussian_filter((shape & inside).astype(np.float32), sigma)
            field[box][inside] = (blurred / np.maximum(share, 1e-6))[inside]
        fields.append(field)
    return fields
