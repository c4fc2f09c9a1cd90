"""A picture with finish layers on it, twenty at full size and ten while one is dragged."""

import time

import numpy as np

from benchmarks.layers import best_of, runner_piece, with_skia
from wardrobe.core.stack.model import Layer
from wardrobe.recipe.document.finish import FinishDraft
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import AddFinish, ChangeFinish, apply
from wardrobe.recipe.reports.finishes import ready_finishes

_LAYERS, _DRAGGED = 20, 10  # at full size, and in a preview
_PREVIEW_PIXELS = 520_000  # of a drag on the screen


def measure_finish(rgba: np.ndarray) -> dict[str, float]:
    """Seconds: the first picture at full size, one after a change of colour, a dragged layer,
    and the same layers in skia-python from decoded pixels."""
    first = []
    for _ in range(2):
        deriver, recipe = runner_piece(rgba)
        view = View.whole(*recipe.size)
        deriver.picture(recipe, view)
        offered = [layer for finish in ready_finishes(deriver, recipe) for layer in finish.layers]
        recipe = apply(recipe, AddFinish(layers=tuple(offered[:_LAYERS])))
        begin = time.perf_counter()
        deriver.picture(recipe, view)
        first.append(time.perf_counter() - begin)
    stage = deriver.stages(recipe).picture(view)
    names = {f"{half} / {f.name}" for f in recipe.finish for half in ("finish", "background")}
    layers = []
    for node in deriver.stack(recipe).nodes:
        if isinstance(node, Layer) and node.name in names:
            full = np.zeros((*view.shape, 4), np.uint8)
            h, w = node.pixels.shape[:2]
            full[node.y:node.y + h, node.x:node.x + w] = node.pixels
            layers.append((full, node.mode, node.opacity))
    recipe = recipe.model_copy(update={"finish": recipe.finish[:_DRAGGED]})
    shown = View(0, 0, *recipe.size, (_PREVIEW_PIXELS / (view.width * view.height))**0.5)
    deriver.picture(recipe, shown)
    glow = next(f for f in recipe.finish if f.operations)
    drags = []
    for k in range(12):
        to = FinishDraft(**{n: getattr(glow, n) for n in FinishDraft.model_fields}).model_copy(
            update={"operations": tuple(o.model_copy(update={"amounts": {"by": 8 + 0.5 * k}})
                                        for o in glow.operations)})
        begin = time.perf_counter()
        deriver.picture(apply(recipe, ChangeFinish(layer=glow.id, to=to)), shown)
        drags.append(time.perf_counter() - begin)
    return {"layers": _LAYERS, "first": min(first),
            "painted": best_of(lambda: deriver.store(stage), 3),
            "drag": float(np.median(drags)), "skia": best_of(with_skia(layers), 2)}
