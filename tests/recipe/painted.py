"""A piece, its file as it is painted on elsewhere, and the piece after that has come home."""


import hashlib
from collections.abc import Callable, Sequence
from dataclasses import replace

import cv2
import numpy as np

from tests.drawings import figure_ink, piece, transparent
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.core.stack.model import Group, Layer, Node, Stack
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    apply,
)
from wardrobe.recipe.exchange.layered.extras import added_layers, bring_home
from wardrobe.recipe.exchange.layered.home import Wishes, come_home
from wardrobe.recipe.exchange.layered.take_back import match_returned
from wardrobe.recipe.stages import Deriver

PICTURES = {"0" * 64: transparent(figure_ink())}
DERIVER = Deriver(PICTURES.__getitem__)
RECIPE = piece()[1]


def keep(pixels: np.ndarray) -> PlacedPicture:
    name = hashlib.sha256(pixels.tobytes() + bytes(str(pixels.shape), "ascii")).hexdigest()
    PICTURES[name] = pixels.copy()
    return PlacedPicture(asset=name, width=pixels.shape[1], height=pixels.shape[0])


def brush(seed: int, name: str, mode: str, opacity: float = 1.0, soft: float = 4) -> Layer:
    """A stroke in changing colours, cropped."""
    rng = np.random.default_rng(seed)
    alpha = np.zeros((480, 480), np.uint8)
    points = rng.integers(120, 360, (5, 2))
    cv2.polylines(alpha, [points.astype(np.int32)], False, 255, 26, cv2.LINE_AA)
    alpha = cv2.GaussianBlur(alpha, (0, 0), soft)
    y, x = np.mgrid[:480, :480]
    paint = np.dstack([x * 255 // 480, y * 255 // 480, np.full_like(x, 90), alpha]).astype(np.uint8)
    x0, y0, w, h = cv2.boundingRect(alpha)
    return Layer(name, np.ascontiguousarray(paint[y0:y0 + h, x0:x0 + w]), x0, y0, mode, opacity)


def place(nodes: list[Node], layer: Layer, where: str) -> list[Node]:
    """The stack with a layer over all, under the lines, or in a part's group."""
    if where == "over all":
        return [*nodes, layer]
    if where == "under the lines":
        k = next(k for k, n in enumerate(nodes) if n.name.startswith("lines"))
        return [*nodes[:k], layer, *nodes[k:]]
    return [replace(n, children=[*n.children, layer]) if isinstance(n, Group) and n.name == where
            else n for n in nodes]


PART = RECIPE.parts[0]
def home(recipe, stack):  # type: ignore[no-untyped-def]
    matches = [r.match for r in match_returned(DERIVER, recipe, stack)]
    edits, notes = bring_home(recipe, added_layers(DERIVER, recipe, stack, matches), keep)
    return edits[0] if edits else None, notes


def come(recipe, stack, **wishes):  # type: ignore[no-untyped-def]
    """The piece after a file has come home, and what came of it."""
    matches = [r.match for r in match_returned(DERIVER, recipe, stack)]
    new = {a.placed.order for a in added_layers(DERIVER, recipe, stack, matches)}
    edit, brought = come_home(DERIVER, recipe, stack, on_white(flatten(stack)), matches, new,
                              Wishes(**wishes), keep)
    return (apply(recipe, edit) if edit else recipe), brought


def changed(stack: Stack, by_name: dict[str, Callable[[Layer], Layer | None]]) -> Stack:
    """A file in which layers of these names are made others, or taken away."""
    def walk(nodes: Sequence[Node]) -> list[Node]:
        found: list[Node] = []
        for node in nodes:
            if isinstance(node, Group):
                found.append(replace(node, children=walk(node.children)))
            elif node.name not in by_name:
                found.append(node)
            elif (new := by_name[node.name](node)) is not None:
                found.append(new)
        return found
    return Stack(stack.width, stack.height, walk(stack.nodes))


def whole(layer: Layer) -> np.ndarray:
    """A layer's pixels on the canvas, RGBA."""
    canvas = np.zeros((480, 480, 4), np.uint8)
    h, w = layer.alpha.shape
    canvas[layer.y:layer.y + h, layer.x:layer.x + w] = layer.pixels
    return canvas


def filled(mask: np.ndarray, rgb: tuple[int, int, int]) -> Callable[[Layer], Layer]:
    """Filled in a colour where a mask is set, as a bucket fills."""
    def paint(layer: Layer) -> Layer:
        pixels = whole(layer)
        pixels[mask] = (*rgb, 255)
        return replace(layer, paint=pixels, x=0, y=0)
    return paint


def erased(mask: np.ndarray) -> Callable[[Layer], Layer]:
    def paint(layer: Layer) -> Layer:
        pixels = whole(layer)
        pixels[mask] = 0
        return replace(layer, paint=pixels, x=0, y=0)
    return paint


def picture(recipe) -> np.ndarray:  # type: ignore[no-untyped-def]
    return DERIVER.picture(recipe, View.whole(*recipe.size)).astype(int)


def part_masks(recipe) -> dict[str, np.ndarray]:  # type: ignore[no-untyped-def]
    parts = DERIVER.parts_map(recipe)
    return {p.name: parts == k for k, p in enumerate(recipe.parts, start=1)}


def finished():  # type: ignore[no-untyped-def]
    """The piece with three finish layers that were brought in before."""
    stack = DERIVER.stack(RECIPE)
    nodes = list(stack.nodes)
    for name, mode, where in (("dust", "multiply", "under the lines"),
                              ("glow", "screen", "under the lines"),
                              ("sparks", "normal", "over all")):
        nodes = place(nodes, brush(len(name) + ord(name[0]), name, mode, 0.8), where)
    recipe, _ = come(RECIPE, Stack(480, 480, nodes))
    assert [f.name for f in recipe.finish] == ["dust", "glow", "sparks"]
    return recipe


def full_name(recipe, name: str) -> str:  # type: ignore[no-untyped-def]
    return next(n.name for n in DERIVER.stack(recipe).layers() if name in n.name)
