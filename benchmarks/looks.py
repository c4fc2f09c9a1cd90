"""The rail of looks, against composing each picture from layers."""

import time

import numpy as np
import skia
from PIL import Image

from benchmarks.layers import runner_piece, twenty_layers, with_skia
from wardrobe.core.formats.png import encode_png
from wardrobe.recipe.edits import AddLook, MoveLight, apply
from wardrobe.recipe.reports.look_proposals import ByHarmony, propose_looks
from wardrobe.recipe.reports.rail import rail_pictures, side_by_side

LOOKS, EDGE = 12, 600


def measure_looks(rgba: np.ndarray) -> dict[str, float]:
    """Seconds: the rail after a light change, one by one in a library, proposals."""
    assert skia.__version__
    deriver, recipe = runner_piece(rgba)
    begin = time.perf_counter()
    found = propose_looks(deriver, recipe, ByHarmony(scheme="triad", count=6))
    proposed = time.perf_counter() - begin
    begin = time.perf_counter()
    propose_looks(deriver, recipe, ByHarmony(scheme="split", count=6))
    proposed = min(proposed, time.perf_counter() - begin)
    for k in range(LOOKS - 1):
        recipe = apply(recipe, AddLook(name=f"look {k}", bases=found[k % len(found)].bases))

    def rail(azimuth: float) -> float:
        turned = apply(recipe, MoveLight(light=recipe.light.model_copy(update={
            "azimuth": azimuth})))
        begin = time.perf_counter()
        shown = [turned, *(deriver.worn(turned, look) for look in turned.looks)]
        encode_png(side_by_side(rail_pictures(deriver, shown, EDGE)))
        return time.perf_counter() - begin

    rail(10.0)
    ours = min(rail(20.0 + 31 * k) for k in range(5))
    small = []
    for pixels, mode, alpha in twenty_layers(deriver.stack(recipe)):
        image = Image.fromarray(pixels)
        image.thumbnail((EDGE, EDGE))
        small.append((np.ascontiguousarray(image), mode, alpha))
    one = with_skia(small)
    one()
    begin = time.perf_counter()
    for _ in range(LOOKS):
        encode_png(np.ascontiguousarray(np.asarray(one())[..., :3]))
    return {"rail": ours, "skia": time.perf_counter() - begin, "proposed": proposed}
