"""A stack as SVG: curves where a layer is flat, pictures where it is not."""

import base64
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from pathlib import Path
from xml.sax.saxutils import escape, quoteattr

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import to_hex
from wardrobe.core.composite.modes import MODES
from wardrobe.core.formats.openraster import encode_layer
from wardrobe.core.geometry.contours import contours
from wardrobe.core.geometry.curves import fitted
from wardrobe.core.parallel import each
from wardrobe.core.stack.baked import baked
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint

Byte = NDArray[np.uint8]

TOLERANCE = 0.1  # px
_SOFT = 1.5  # half covered pixels to a px of contour from which an edge is not sharp
_HARD = 0.05  # and to which it has steps, which lie under a line
_HIDDEN = 0.25  # px that a curve may leave such an edge
_BEYOND = 8  # px beyond the picture
_STEPS = 0.8  # px by which steps are evened out
_FAINT = 60  # levels of the fullest pixel from which a layer is worth drawing with curves


@dataclass(frozen=True)
class Curves:
    """How layers become curves.

    Attributes
    ----------
    tolerance : float
        px that a curve may lie off the edge.
    exact : collection of str
        Names of layers that stay pictures, to the last level of each pixel.
    """

    tolerance: float = TOLERANCE
    exact: Collection[str] = ()


def write_layered_svg(path: Path, stack: Stack, title: str, dpi: int, how: Curves,
                      on_progress: Callable[[float], None] = lambda share: None) -> None:
    """Write a stack as SVG, a group for each group, named.

    Parameters
    ----------
    path : Path
    stack : Stack
    title : str
    dpi : int
        Pixels to an inch: how large it is on paper.
    how : Curves
    on_progress : callable
        Called with a share 0..1; may raise to cancel.

    References
    ----------
    SVG 2; Compositing and Blending Level 1: ``mix-blend-mode`` and ``isolation``; Level 2 for
    ``plus-lighter``.
    """
    stack = baked(stack, MODES)
    layers = list(stack.layers())
    done = 0

    def draw(layer: Layer) -> str:
        nonlocal done
        drawn = _drawn(layer, how, (stack.width, stack.height))
        done += 1
        on_progress(0.95 * done / max(1, len(layers)))
        return drawn

    bodies = dict(zip(map(id, layers), each(draw, layers), strict=True))
    mm = 25.4 / dpi
    with path.open("w", encoding="utf-8") as file:
        file.write(
            '<?xml version="1.0" encoding="UTF-8"?>\n'
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{stack.width * mm:.4f}mm" '
            f'height="{stack.height * mm:.4f}mm" viewBox="0 0 {stack.width} {stack.height}">\n'
            f"<title>{escape(title)}</title>\n"
            '<g style="isolation:isolate">\n')
        _write(file.write, stack.nodes, bodies)
        file.write("</g>\n</svg>\n")
    on_progress(1.0)


def _write(write: Callable[[str], object], nodes: Sequence[Node], bodies: dict[int, str]) -> None:
    for node in nodes:
        look = []
        if node.mode != "normal":
            look.append(f"mix-blend-mode:{node.mode}")
        if isinstance(node, Group):
            look.append("isolation:isolate")
        if not node.visible:
            look.append("display:none")
        style = f' style="{";".join(look)}"' if look else ""
        opacity = "" if node.opacity == 1 else f' opacity="{node.opacity:.4g}"'
        write(f"<g aria-label={quoteattr(node.name)}{opacity}{style}>"
              f"<title>{escape(node.name)}</title>\n")
        if isinstance(node, Group):
            _write(write, node.children, bodies)
        else:
            write(bodies[id(node)])
        write("</g>\n")


def _drawn(layer: Layer, how: Curves, size: tuple[int, int]) -> str:
    if not layer.alpha.any():
        return ""
    path = _path(layer, how, size) if isinstance(layer.paint, Tint) else None
    if path is None:
        png = base64.b64encode(encode_layer(layer)).decode()
        h, w = layer.shape
        return (f'<image x="{layer.x}" y="{layer.y}" width="{w}" height="{h}" '
                f'preserveAspectRatio="none" href="data:image/png;base64,{png}"/>\n')
    return path


def _path(layer: Layer, how: Curves, size: tuple[int, int]) -> str | None:
    """A layer of one colour as a path; None if its edges are soft, or are to stay as they are."""
    paint = layer.paint
    assert isinstance(paint, Tint)
    alpha = paint.alpha
    if layer.name in how.exact:
        return None
    peak = int(alpha.max())
    if peak < _FAINT:
        return None
    if peak < 255:
        alpha = np.clip(alpha.astype(np.float32) * (255 / peak) + 0.5, 0, 255).astype(np.uint8)
    padded = np.pad(alpha, 1)
    edge = int((cv2.morphologyEx((padded >= 128).astype(np.uint8), cv2.MORPH_GRADIENT,
                                 np.ones((2, 2), np.uint8)) > 0).sum())
    part = ((alpha > 8) & (alpha < 247)).sum() / max(1, edge)
    if part > _SOFT:
        return None
    tolerance = how.tolerance
    if part < _HARD:
        tolerance = max(tolerance, _HIDDEN)
    # What reaches the edge of the picture goes on beyond it, so that no corner is rounded there.
    beyond = [_BEYOND * bool(at) for at in (
        layer.y <= 0, layer.y + alpha.shape[0] >= size[1], layer.x <= 0,
        layer.x + alpha.shape[1] >= size[0])]
    rings = contours(np.pad(alpha, (beyond[:2], beyond[2:]), mode="edge"), _STEPS)
    shape = "".join(_ring(fitted(ring, tolerance), layer.x - beyond[2], layer.y - beyond[0])
                    for ring in rings)
    if not shape:
        return None
    opacity = "" if peak == 255 else f' fill-opacity="{peak / 255:.4f}"'
    return f'<path fill="{to_hex(paint.colour)}"{opacity} fill-rule="evenodd" d="{shape}"/>\n'


def _ring(curves: NDArray[np.float64], x: int, y: int) -> str:
    """A closed line of curves in whole hundredths, each from where the last ended."""
    if not len(curves):
        return ""
    points = np.round((curves + np.array([x, y])) * 100).astype(np.int64)
    at = points[0, 0]
    out = [f"M{_number(at[0])} {_number(at[1])}c"]
    for curve in points:
        numbers = (curve[1:] - at).ravel().tolist()
        text = "".join(t if t[0] == "-" else f" {t}" for t in map(_number, numbers))
        out.append(text)
        at = curve[3]
    return "".join(out) + "z"


def _number(hundredths: int) -> str:
    """A number of hundredths as short as it can be."""
    sign, whole = ("-", -hundredths) if hundredths < 0 else ("", int(hundredths))
    units, rest = divmod(int(whole), 100)
    if not rest:
        return f"{sign}{units}"
    decimals = f"{rest:02d}".rstrip("0")
    return f"{sign}{units or ''}.{decimals}"
