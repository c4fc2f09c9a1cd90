"""The same picture from layers in general-purpose libraries, and from the label map."""

import io
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pyvips
import skia
from PIL import Image, ImageChops

from wardrobe.core.formats.png import encode_png
from wardrobe.core.layers.layer import Flat, Gradient, Layer
from wardrobe.core.layers.layer import Image as Picture
from wardrobe.core.layers.paint import paint
from wardrobe.core.layers.runs import find_runs
from wardrobe.core.stack.model import Group, Stack
from wardrobe.core.stack.model import Layer as StackLayer
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
    flat: list[StackLayer] = []
    for node in stack.nodes:
        flat += [c for c in node.children if isinstance(c, StackLayer)] if isinstance(node, Group) \
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
    names = {"normal": "SrcOver", "soft-light": "SoftLight"}
    height, width = layers[0][0].shape[:2]
    images = [(skia.Image.fromarray(p, skia.kRGBA_8888_ColorType).makeRasterImage(), skia.Paint(
        BlendMode=getattr(skia.BlendMode, "k" + names.get(mode, mode.capitalize())), Alphaf=alpha))
        for p, mode, alpha in layers]

    def run() -> object:
        surface = skia.Surface.MakeRasterN32Premul(width, height)
        canvas = surface.getCanvas()
        for image, how in images:
            canvas.drawImage(image, 0, 0, skia.SamplingOptions(), how)
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


def measure_many_layers(rgba: np.ndarray) -> dict[str, float]:
    """Seconds to paint more layers at full size than a piece has: flat ones, and all kinds."""
    deriver, recipe = runner_piece(rgba)
    masks = deriver.masks(recipe, View.whole(*recipe.size))
    height, width = masks.parts.shape
    dice, rows = np.random.default_rng(1), len(recipe.parts) + 1
    y, x = np.mgrid[:height, :width]
    soft = {"glow": (127 + 127 * np.sin(x / 200)).astype(np.uint8),
            "mist": (127 + 127 * np.cos((x + y) / 300)).astype(np.uint8)}
    shapes: list[tuple[tuple[str, bool], ...]] = [(), *(((key, False),) for key in masks.keys)]

    def flat(mode: str, planes: tuple[str, ...] = (), share: float = 0.3) -> Layer:
        return Layer(Flat(dice.integers(0, 256, (rows, 3)).astype(float)),
                     np.full(rows, share) * (dice.random(rows) < 0.5), mode,
                     shapes[dice.integers(0, len(shapes))], planes)

    ground = Layer(Flat(dice.integers(0, 256, (rows, 3)).astype(float)), np.ones(rows))
    many = [ground, *(flat(("normal", "multiply", "screen")[k % 3]) for k in range(38))]
    stops = ((0.0, (250, 200, 120, 200)), (1.0, (20, 60, 140, 60)))
    kinds = [Layer(Gradient(((1 / width, 0.0, 0.0),), stops), np.full(rows, 0.6), "multiply"),
             Layer(Gradient(((2 / width, 0.0, -1.0), (0.0, 2 / width, -1.0)), stops),
                   np.full(rows, 0.5), "screen", shapes[1]),
             flat("screen", ("glow",)), flat("multiply", ("mist",)),
             Layer(Picture("paper"), np.full(rows, 0.2), "multiply")]
    paper = {"paper": dice.integers(160, 256, (512, 512, 4), np.uint8)}
    runs = find_runs(replace(masks, soft=soft))
    return {"39 flat": best_of(lambda: paint(runs, many)),
            "40 of all kinds": best_of(lambda: paint(runs, [*many[:35], *kinds], paper))}


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
