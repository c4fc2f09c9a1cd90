"""Check a layered file as an orderly artist would: is it named, clipped, flat, clean, in order?"""

import re
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.composite.modes import luminosity_of
from wardrobe.core.composite.reference import composite
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.core.stack.roles import Placed, placed_layers

Mask = NDArray[np.bool_]
Box = tuple[int, int, int, int]

_FAINT = 8  # alpha up to which a pixel counts as not painted
_LEFTOVER = 5  # px: a piece of paint below this was left by mistake (common practice)
_PINHOLE = 20  # px: an unpainted place below this is a pinhole, a larger one was forgotten
_EDGE = 2  # px along edges in which anti-aliasing is expected
_ONE_COLOUR = 0.985  # share of a flat layer that its colour must have
_SECOND = 0.01  # share from which another colour is a colour of its own
_MATTERS = 0.002  # share of the picture from which a hidden layer is worth a word
_GENERIC = re.compile(r"(layer|group|copy|new|untitled|paint|[\s#\d._()-])*", re.IGNORECASE)


@dataclass(frozen=True)
class Finding:
    """Something that was noticed.

    Attributes
    ----------
    code : str
        What, for programs.
    layer : str
        Path of the layer, or "" for the whole stack.
    box : (int, int, int, int) or None
        x, y, width, height of the place.
    count : int
        Pixels, pieces or layers.
    message : str
        What, and why it matters.
    """

    code: str
    layer: str
    box: Box | None
    count: int
    message: str


def check_stack(stack: Stack) -> list[Finding]:
    """All findings, in the order of the questions: names, order, flats, passes, leftovers.

    Parameters
    ----------
    stack : Stack
    """
    layers = placed_layers(stack)
    canvas = _Canvas.of(stack, layers)
    return [finding for check in _CHECKS for finding in check(layers, canvas)]


@dataclass(frozen=True)
class _Canvas:
    """What the flats cover, and the figure: the silhouette, or the flats and what they enclose."""

    shape: tuple[int, int]
    flats: Mask
    figure: Mask

    @classmethod
    def of(cls, stack: Stack, layers: list[Placed]) -> "_Canvas":
        shape = stack.height, stack.width
        flats, silhouette = np.zeros(shape, bool), np.zeros(shape, bool)
        for placed in layers:
            if placed.role in ("flat", "silhouette") and placed.shown:
                where, alpha = alpha_on(placed.layer, shape)
                (flats if placed.role == "flat" else silhouette)[where] |= alpha > 127
        known = silhouette.any()
        figure = silhouette if known else np.asarray(ndimage.binary_fill_holes(flats), bool)
        return cls(shape, flats, figure)


Where = tuple[slice, slice]


def alpha_on(layer: Layer, shape: tuple[int, int]) -> tuple[Where, NDArray[np.uint8]]:
    """Where a layer lies on the canvas, and its alpha there; what lies beside it is cut off."""
    height, width = layer.pixels.shape[:2]
    left, top = min(max(0, layer.x), shape[1]), min(max(0, layer.y), shape[0])
    right = max(left, min(shape[1], layer.x + width))
    bottom = max(top, min(shape[0], layer.y + height))
    return ((slice(top, bottom), slice(left, right)),
            layer.pixels[top - layer.y:bottom - layer.y, left - layer.x:right - layer.x, 3])


def _grown(mask: Mask, reach: int) -> Mask:
    """Larger by some pixels, or smaller by as many below 0; beyond the edge it goes on."""
    kernel = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))
    work = cv2.dilate if reach > 0 else cv2.erode
    return work(mask.astype(np.uint8), kernel, iterations=abs(reach)) > 0


def _pieces(mask: Mask) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Connected pieces, and their sizes by number; 0 is the rest."""
    _, numbers, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    sizes = stats[:, cv2.CC_STAT_AREA].copy()
    sizes[0] = 0
    return numbers, sizes


def _box(mask: Mask, x: int = 0, y: int = 0) -> Box:
    rows, columns = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    return (int(columns[0]) + x, int(rows[0]) + y, int(columns[-1] - columns[0]) + 1,
            int(rows[-1] - rows[0]) + 1)


def _names(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    for placed in layers:
        if _GENERIC.fullmatch(placed.layer.name.strip()):
            yield Finding("unnamed", placed.path, None, 1, "It has no name of its own: nobody "
                          "can tell what it is for.")
    for path, count in Counter(p.path for p in layers).items():
        if count > 1:
            yield Finding("duplicate-name", path, None, count, f"{count} layers have this name: "
                          "painting on the wrong one is easily done.")


def _empty(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    for placed in layers:
        if not (placed.layer.pixels[..., 3] > 0).any():
            yield Finding("empty", placed.path, None, 1, "Nothing is painted on it.")


def _lines_on_top(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    for placed in layers:
        if placed.role != "lines" or not placed.shown:
            continue
        ink = np.zeros(canvas.shape, bool)
        where, alpha = alpha_on(placed.layer, canvas.shape)
        ink[where] = alpha > 127
        for above in layers[placed.order + 1:]:
            if above.role not in ("flat", "shade") or not above.shown:
                continue
            where, alpha = alpha_on(above.layer, canvas.shape)
            over = ink[where] & (alpha > 127)
            if over.sum() > 0.02 * max(1, ink.sum()):
                box = _box(over, where[1].start, where[0].start)
                yield Finding("lines-not-on-top", placed.path, box, int(over.sum()),
                              f"“{above.path}” lies over the lines and covers them.")


def _flat_layers(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    for placed in layers:
        layer = placed.layer
        if placed.role != "flat" or layer.name.casefold().endswith("pattern"):
            continue
        alpha = layer.pixels[..., 3]
        painted = alpha > _FAINT
        if not painted.any():
            continue
        inner = _grown(painted, -_EDGE)
        thin = inner & (alpha < 255 - _FAINT)
        if thin.any():
            yield Finding("semi-transparent", placed.path, _box(thin, layer.x, layer.y),
                          int(thin.sum()), "It is not opaque inside: what lies below shines "
                          "through, and selections made from it are soft.")
        colours, counts = _colours(layer.pixels[inner & (alpha > 127)])
        if len(counts) < 2 or counts[0] >= _ONE_COLOUR * counts.sum():
            continue
        others = int(counts.sum() - counts[0])
        strong = int((counts >= _SECOND * counts.sum()).sum())
        different = painted & (layer.pixels[..., :3] != colours[0]).any(axis=-1)
        if strong <= 4 and counts[:strong].sum() > 0.9 * counts.sum():
            yield Finding("two-colours", placed.path, _box(different, layer.x, layer.y), others,
                          f"{strong} colours lie on one layer: neither can be selected or "
                          "changed alone.")
        else:
            yield Finding("not-flat", placed.path, _box(different, layer.x, layer.y), others,
                          "Shading is painted into the base: it cannot be changed any more.")


def _colours(pixels: NDArray[np.uint8]) -> tuple[NDArray[np.uint8], NDArray[np.int64]]:
    """Distinct colours, the most frequent first."""
    rgb = pixels[..., :3].reshape(-1, 3).astype(np.uint32)
    values, counts = np.unique(rgb[:, 0] << 16 | rgb[:, 1] << 8 | rgb[:, 2], return_counts=True)
    order = np.argsort(-counts)
    values = values[order]
    return (np.stack([values >> 16, values >> 8 & 255, values & 255], axis=1).astype(np.uint8),
            counts[order])


def _unpainted(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    if not canvas.flats.any():
        return
    # Lines cover the seams between flats.
    covered = canvas.flats.copy()
    for placed in layers:
        if placed.role == "lines" and placed.shown:
            where, alpha = alpha_on(placed.layer, canvas.shape)
            covered[where] |= alpha > 127
    pieces, sizes = _pieces(canvas.figure & ~covered)
    for code, chosen, message in (
            ("pinhole", (sizes > 0) & (sizes <= _PINHOLE),
             "Tiny places inside the figure are not painted."),
            ("unclaimed", sizes > _PINHOLE, "Places inside the figure belong to no flat: the "
             "ground shows through.")):
        if chosen.any():
            bare = chosen[pieces]
            yield Finding(code, "", _box(bare), int(bare.sum()), message)


def _bounds(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    """Paint beside the figure, and passes beside their base."""
    bases: dict[int, list[Layer]] = defaultdict(list)
    for placed in layers:
        if placed.role == "flat":
            bases[placed.group].append(placed.layer)
    figure = _grown(canvas.figure, _EDGE)
    for placed in layers:
        if not placed.shown or placed.role not in ("flat", "shade", "light"):
            continue
        where, alpha = alpha_on(placed.layer, canvas.shape)
        painted = alpha > _FAINT
        x, y = where[1].start, where[0].start
        beside = painted & ~figure[where]
        if beside.any():
            yield Finding("outside-silhouette", placed.path, _box(beside, x, y),
                          int(beside.sum()), "Paint lies outside the figure.")
        if placed.role == "flat" or placed.group == 0 or not bases[placed.group]:
            continue
        based = np.zeros(canvas.shape, bool)
        for base in bases[placed.group]:
            there, cover = alpha_on(base, canvas.shape)
            based[there] |= cover > 0
        beyond = painted & ~_grown(based[where], 1)
        if beyond.any():
            multiply = placed.layer.mode == "multiply"
            yield Finding("not-clipped" if multiply else "outside-base", placed.path,
                          _box(beyond, x, y), int(beyond.sum()),
                          "It reaches beyond its base and darkens what lies beside it."
                          if multiply else "It reaches beyond its base.")


def _direction(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    """A shade must darken what it lies on, a light brighten it."""
    for placed in layers:
        if placed.role not in ("shade", "light") or not placed.shown:
            continue
        under = [p for p in layers[:placed.order] if p.role == "flat" and p.shown
                 and (placed.group in (p.group, 0))]
        if not under:
            continue
        change, count = _change(placed.layer, [p.layer for p in under], canvas.shape)
        wrong = change > 0.01 if placed.role == "shade" else change < -0.01
        if count and wrong:
            yield Finding(f"{placed.role}-wrong-way", placed.path, None, count,
                          "A shade that is brighter than what it lies on."
                          if placed.role == "shade" else
                          "A light that is darker than what it lies on.")


def _change(layer: Layer, bases: list[Layer], shape: tuple[int, int]) -> tuple[float, int]:
    """Mean change of luminosity where a layer is painted on its bases, from a sample."""
    where, alpha = alpha_on(layer, shape)
    ys, xs = np.nonzero(alpha > 127)
    if not len(ys):
        return 0.0, 0
    ys, xs = ys + where[0].start, xs + where[1].start
    pick = np.random.default_rng(0).permutation(len(ys))[:4000]
    ys, xs = ys[pick], xs[pick]
    backdrop = np.zeros((len(ys), 4))
    for base in bases:
        backdrop = composite(backdrop, _at(base, ys, xs), base.mode, base.opacity)
    solid = backdrop[:, 3] > 0.5
    if not solid.any():
        return 0.0, 0
    laid = composite(backdrop, _at(layer, ys, xs), layer.mode, layer.opacity)
    change = luminosity_of(laid[solid, :3]) - luminosity_of(backdrop[solid, :3])
    return float(change.mean()), int(solid.sum())


def _at(layer: Layer, ys: NDArray[np.int64], xs: NDArray[np.int64]) -> NDArray[np.float64]:
    """A layer's pixels at places of the canvas; clear outside."""
    height, width = layer.pixels.shape[:2]
    v, u = ys - layer.y, xs - layer.x
    inside = (v >= 0) & (u >= 0) & (v < height) & (u < width)
    out = np.zeros((len(ys), 4))
    out[inside] = layer.pixels[v[inside], u[inside]] / 255
    return out


def _like(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    """Passes of one name have one mode and one opacity."""
    alike: dict[str, list[Placed]] = defaultdict(list)
    for placed in layers:
        last = placed.layer.name.rpartition("/")[2].strip().casefold()
        if placed.role in ("shade", "light"):
            alike[last].append(placed)
    for name, found in alike.items():
        settings = Counter((p.layer.mode, round(p.layer.opacity, 3)) for p in found)
        if len(found) < 3 or len(settings) < 2:
            continue
        (mode, opacity), most = settings.most_common(1)[0]
        if most < 0.6 * len(found):
            continue
        for placed in found:
            mine = placed.layer.mode, round(placed.layer.opacity, 3)
            if mine != (mode, opacity):
                yield Finding("differs", placed.path, None, 1, f"{mine[0]} at {mine[1]:.0%}, "
                              f"while most layers named “{name}” are {mode} at {opacity:.0%}.")


def _leftovers(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    for placed in layers:
        layer = placed.layer
        if placed.role in ("lines", "silhouette"):
            continue
        pieces, sizes = _pieces(layer.pixels[..., 3] > 0)
        small = (sizes > 0) & (sizes < _LEFTOVER)
        if small.any() and len(sizes) > 2:
            yield Finding("leftover", placed.path, _box(small[pieces], layer.x, layer.y),
                          int(small.sum()), f"{small.sum()} pieces of less than {_LEFTOVER} px "
                          "were left behind.")


def _hidden(layers: list[Placed], canvas: _Canvas) -> Iterator[Finding]:
    size = canvas.shape[0] * canvas.shape[1]
    for placed in layers:
        if placed.shown or placed.role in ("silhouette", "background"):
            continue
        where, alpha = alpha_on(placed.layer, canvas.shape)
        painted = alpha > _FAINT
        if painted.sum() > _MATTERS * size:
            box = _box(painted, where[1].start, where[0].start)
            yield Finding("hidden", placed.path, box, int(painted.sum()),
                          "It is hidden, but would change the picture: whoever shows all layers "
                          "gets another one.")


_CHECKS: tuple[Callable[[list[Placed], _Canvas], Iterator[Finding]], ...] = (
    _names, _empty, _lines_on_top, _flat_layers, _unpainted, _bounds, _direction, _like,
    _leftovers, _hidden)
