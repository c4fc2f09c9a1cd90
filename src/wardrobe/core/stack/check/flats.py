"""Flats: one colour, opaque, complete."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.stack.check.canvas import EDGE, FAINT, Canvas
from wardrobe.core.stack.check.finding import Mask, StackFinding, about, box_of, grown, pieces
from wardrobe.core.stack.model import Layer, Tint
from wardrobe.core.stack.roles import Placed

_PINHOLE = 20  # px: an unpainted place below this is a pinhole, a larger one was forgotten
_ONE_COLOUR = 0.985  # share of a flat layer that its colour must have
_SECOND = 0.01  # share from which another colour is a colour of its own

Rgb = tuple[int, int, int]


def main_colour(layer: Layer) -> Rgb:
    """The colour that most of a layer has."""
    if isinstance(layer.paint, Tint):
        return layer.paint.colour
    colours, _ = _colours(layer.pixels[layer.alpha > 127])
    r, g, b = (int(v) for v in colours[0]) if len(colours) else (0, 0, 0)
    return r, g, b


def has_colour(layer: Layer, colour: Rgb, least: float = 0.05) -> bool:
    """Whether a share of a layer has a colour."""
    if isinstance(layer.paint, Tint):
        return layer.paint.colour == colour
    pixels = layer.pixels[layer.alpha > 127][:, :3]
    return bool(len(pixels)) and float((pixels == colour).all(axis=1).mean()) >= least


def see_through(layer: Layer) -> Mask:
    """Where a flat is not opaque though it lies inside."""
    inner = grown(layer.alpha > FAINT, -EDGE)
    return inner & (layer.alpha < 255 - FAINT)


def specks(layer: Layer) -> Mask:
    """Tiny spots of another colour inside a flat, away from its edge."""
    if isinstance(layer.paint, Tint):
        return np.zeros(layer.shape, bool)
    inner = grown(layer.alpha > FAINT, -EDGE)
    other = inner & (layer.paint[..., :3] != main_colour(layer)).any(axis=-1)
    numbers, sizes = pieces(other)
    found: Mask = ((sizes > 0) & (sizes <= _PINHOLE))[numbers]
    return found


def check_flats(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Flats that are not opaque, hold two colours, specks, or shading."""
    for placed in layers:
        layer = placed.layer
        if placed.role != "flat" or layer.name.casefold().endswith("pattern"):
            continue
        thin = see_through(layer)
        if thin.any():
            yield about(placed, "semi-transparent", int(thin.sum()), "It is not opaque inside: "
                        "what lies below shines through, and selections made from it are soft.",
                        box_of(thin, layer.x, layer.y))
        if not isinstance(layer.paint, Tint):
            yield from _colours_of(placed, layer.paint)


def _colours_of(placed: Placed, pixels: NDArray[np.uint8]) -> Iterator[StackFinding]:
    layer = placed.layer
    painted = layer.alpha > FAINT
    inner = grown(painted, -EDGE)
    colours, counts = _colours(pixels[inner & (layer.alpha > 127)])
    if len(counts) < 2:
        return
    if counts[0] >= _ONE_COLOUR * counts.sum():
        spots = specks(layer)
        if spots.any():
            yield about(placed, "speck", int(spots.sum()), "Tiny spots of another colour lie in "
                        "it.", box_of(spots, layer.x, layer.y))
        return
    others = int(counts.sum() - counts[0])
    strong = int((counts >= _SECOND * counts.sum()).sum())
    box = box_of(painted & (pixels[..., :3] != colours[0]).any(axis=-1), layer.x, layer.y)
    if strong <= 4 and counts[:strong].sum() > 0.9 * counts.sum():
        yield about(placed, "two-colours", others, f"{strong} colours lie on one layer: neither "
                    "can be selected or changed alone.", box)
    else:
        yield about(placed, "not-flat", others, "Shading is painted into the base: it cannot be "
                    "changed any more.", box)


def _colours(pixels: NDArray[np.uint8]) -> tuple[NDArray[np.uint8], NDArray[np.int64]]:
    """Distinct colours, the most frequent first."""
    rgb = pixels[..., :3].reshape(-1, 3).astype(np.uint32)
    values, counts = np.unique(rgb[:, 0] << 16 | rgb[:, 1] << 8 | rgb[:, 2], return_counts=True)
    order = np.argsort(-counts)
    values = values[order]
    return (np.stack([values >> 16, values >> 8 & 255, values & 255], axis=1).astype(np.uint8),
            counts[order])


def bare(canvas: Canvas) -> tuple[Mask, Mask]:
    """Pinholes and forgotten places inside the figure; lines cover the seams between flats."""
    numbers, sizes = pieces(canvas.figure & ~canvas.flats & ~canvas.lines)
    return ((sizes > 0) & (sizes <= _PINHOLE))[numbers], (sizes > _PINHOLE)[numbers]


def check_complete(layers: list[Placed], canvas: Canvas) -> Iterator[StackFinding]:
    """Places inside the figure that no flat covers."""
    if not canvas.flats.any():
        return
    holes, forgotten = bare(canvas)
    for code, mask, message in (
            ("pinhole", holes, "Tiny places inside the figure are not painted."),
            ("unclaimed", forgotten, "Places inside the figure belong to no flat: the ground "
             "shows through.")):
        if mask.any():
            yield StackFinding(code, "", box_of(mask), int(mask.sum()), message)
