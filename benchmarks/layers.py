"""The same picture from layers in general-purpose libraries, and from the label map."""

import io
import time
from collections.abc import Callable

import numpy as np
import pyvips
import skia
from PIL import Image, ImageChops

from wardrobe.core.formats.png import encode_png
from wardrobe.core.layers.runs import find_runs
from wardrobe.core.stack.model import Group, Layer, Stack
from wardrobe.demo.pieces import RUNNER
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

LAYERS = 20


def best_of(call: Callable[[], object], runs: int = 5) -> float:
    """Shortest of several runs, seconds, after one warm-up."""
    call()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        call()
        times.append(time.perf_counter() - start)
    return min(times)


def runner_piece(rgba: np.ndarray) -> tuple[Deriver, Recipe]:
    """The demo's full figure."""
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=rgba.shape[1], height=rgba.shape[0]))
    edit = RUNNER.claims(rgba.shape[1])
    return deriver, recipe.model_copy(update={"parts": edit.parts, "claims": edit.claims})


def twenty_layers(stack: Stack) -> list[tuple[np.ndarray, str, float]]:
    """The stack's largest layers at full size, in order: bottom, parts' passes, lines."""
    flat: list[Layer] = []
    for node in stack.nodes:
        flat += [c for c in node.children if isinstance(c, Layer)] if isinstance(node, Group) \
            else [node]
    size = {id(layer): layer.pixels.size for layer in flat}
    kept = set(sorted(size, key=lambda k: -size[k])[:LAYERS])
    layers = []
    for layer in flat:
        if id(layer) in kept:
            full = np.zeros((stack.height, stack.width, 4), np.uint8)
            h, w = layer.pixels.shape[:2]
            full[layer.y:layer.y + h, layer.x:layer.x + w] = layer.pixels
            layers.append((full, layer.mode, layer.opacity))
    return layers


def with_skia(layers: list[tuple[np.ndarray, str, float]]) -> Callable[[], object]:
    names = {"normal": "SrcOver"}
    height, width = layers[0][0].shape[:2]
    images = [(skia.Image.fromarray(p, skia.kRGBA_8888_ColorType).makeRasterImage(), skia.Paint(
        BlendMode=getattr(skia.BlendMode, "k" + names.get(mode, mode.capitalize())), Alphaf=alpha))
        for p, mode, alpha in layers]

    def run() -> object:
        surface = skia.Surface.MakeRasterN32Premul(width, height)
        canvas = surface.getCanvas()
        for image, paint in images:
            canvas.drawImage(image, 0, 0, skia.SamplingOptions(), paint)
        return surface.makeImageSnapshot().toarray()
    return run


def with_pyvips(layers: list[tuple[np.ndarray, str, float]]) -> Callable[[], object]:
    modes = {"normal": "over"}
    images = []
    for pixels, _, alpha in layers:
        faded = pixels.copy()
        faded[..., 3] = (pixels[..., 3] * alpha).astype(np.uint8)
        images.append(pyvips.Image.new_from_array(faded, interpretation="srgb"))
    names = [modes.get(mode, mode) for _, mode, _ in layers[1:]]
    return lambda: images[0].composite(images[1:], names).cast("uchar").numpy()


def with_pillow(layers: list[tuple[np.ndarray, str, float]]) -> Callable[[], object]:
    blend = {"multiply": ImageChops.multiply, "screen": ImageChops.screen}
    images = []
    for pixels, mode, alpha in layers:
        mask = Image.fromarray((pixels[..., 3] * alpha).astype(np.uint8))
        images.append((Image.fromarray(np.ascontiguousarray(pixels[..., :3])), mask, mode))

    def run() -> object:
        canvas = Image.new("RGB", images[0][0].size)
        for colour, mask, mode in images:
            source = blend[mode](canvas, colour) if mode in blend else colour
            canvas.paste(source, (0, 0), mask)
        return np.asarray(canvas)
    return run


def measure_compose(rgba: np.ndarray) -> dict[str, float]:
    """Seconds for the full-size picture: ours, and each library's from 20 layers."""
    deriver, recipe = runner_piece(rgba)
    view = View.whole(*recipe.size)
    masks, store = deriver.masks(recipe, view), deriver.store
    stage = deriver.stages(recipe).picture(view)
    layers = twenty_layers(deriver.stack(recipe))
    return {
        "runs": best_of(lambda: find_runs(masks)),
        "painted": best_of(lambda: store(stage)),
        "masks": best_of(lambda: deriver.masks(recipe, view)),
        "skia-python": best_of(with_skia(layers), 2),
        "pyvips": best_of(with_pyvips(layers), 2),
        "Pillow": best_of(with_pillow(layers), 2),
    }


def measure_encoding(rgba: np.ndarray) -> dict[str, float]:
    """Seconds to encode a preview of 1400 px as PNG: ours, and Pillow's level 1."""
    deriver, recipe = runner_piece(rgba)
    view = View.whole(*recipe.size, 1400)
    picture = deriver.picture(recipe, view)

    def pillow() -> object:
        out = io.BytesIO()
        Image.fromarray(picture).save(out, "PNG", compress_level=1)
        return out.getvalue()

    ours = encode_png(picture)
    assert (np.asarray(Image.open(io.BytesIO(ours))) == picture).all()
    return {"ours": best_of(lambda: encode_png(picture), 12), "Pillow": best_of(pillow, 5)}
