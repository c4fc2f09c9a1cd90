"""Flatten a stack as any reader of layered files would."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.kernels import Buffer, lay, to_bytes
from wardrobe.core.composite.operators import OPERATORS, apply_operator
from wardrobe.core.parallel import each
from wardrobe.core.stack.model import Layer, Node, Stack


def flatten(stack: Stack) -> NDArray[np.uint8]:
    """Composite a stack.

    Parameters
    ----------
    stack : Stack

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Straight alpha.
    """
    out = np.empty((stack.height, stack.width, 4), np.uint8)

    # In bands: a group needs a buffer of its own, sixteen bytes a pixel.
    def draw(rows: slice) -> None:
        out[rows] = to_bytes(_composite(stack.nodes, rows, stack.width))

    each(draw, [slice(top, min(top + _BAND, stack.height))
                for top in range(0, stack.height, _BAND)])
    return out


def on_white(flat: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A flat picture laid on white.

    Parameters
    ----------
    flat : ndarray of uint8, shape (height, width, 4)
        Straight alpha.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    out = np.empty((*flat.shape[:2], 3), np.uint8)

    def lay_down(rows: slice) -> None:
        colour, alpha = flat[rows, :, :3], flat[rows, :, 3:]
        if (alpha == 255).all():
            out[rows] = colour
            return
        alpha = alpha.astype(np.uint16)
        out[rows] = (colour * alpha + (255 - alpha) * np.uint16(255) + np.uint16(127)) // 255

    each(lay_down, [slice(top, top + _BAND) for top in range(0, flat.shape[0], _BAND)])
    return out


_BAND = 512  # rows


def _composite(nodes: Sequence[Node], rows: slice, width: int) -> Buffer:
    buffer = np.zeros((rows.stop - rows.start, width, 4), np.float32)
    for node in nodes:
        if not node.visible:
            continue
        y = 0
        source: NDArray[np.uint8] | Buffer
        if isinstance(node, Layer):
            top = max(0, rows.start - node.y)
            source = _pixels(node, slice(top, max(top, rows.stop - node.y)))
            x, y = node.x, node.y + top - rows.start
        else:
            source, x = _composite(node.children, rows, width), 0
        if node.mode in OPERATORS:
            apply_operator(buffer, source, x, y, node.mode, node.opacity)
        else:
            lay(buffer, source, x, y, node.mode, node.opacity)
    return buffer


def _pixels(layer: Layer, rows: slice) -> NDArray[np.uint8]:
    paint = layer.paint
    if isinstance(paint, np.ndarray):
        return paint[rows]
    pixels = np.empty((*paint.alpha[rows].shape, 4), np.uint8)
    pixels[..., :3] = paint.colour
    pixels[..., 3] = paint.alpha[rows]
    return pixels
