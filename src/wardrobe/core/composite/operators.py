"""Operators that layered files use besides blend modes: one table entry each.

They change what lies below by the shape of a layer, or lay it down only where something lies.
Formulas: W3C Compositing and Blending Level 1, section 9.1 (Porter and Duff).
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.kernels import Buffer, lay

Plane = NDArray[np.float32]
Source = NDArray[Any]


@dataclass(frozen=True)
class Operator:
    """A compositing operator.

    Attributes
    ----------
    name : str
        W3C name.
    keeps : callable or None
        What is left of the backdrop's alpha for the source's; None where the source is laid down.
    openraster : str
        Value of ``composite-op`` in OpenRaster.
    """

    name: str
    keeps: Callable[[Plane], Plane] | None
    openraster: str


OPERATORS: dict[str, Operator] = {
    o.name: o
    for o in (
        Operator("destination-in", lambda alpha: alpha, "svg:dst-in"),
        Operator("destination-out", lambda alpha: np.float32(1) - alpha, "svg:dst-out"),
        Operator("source-atop", None, "svg:src-atop"),
        Operator("destination-atop", None, "svg:dst-atop"),
    )
}


def apply_operator(buffer: Buffer, source: Source, x: int, y: int, name: str,
                   opacity: float) -> None:
    """Apply a layer to a buffer by an operator, in place.

    Parameters
    ----------
    buffer : ndarray of float32, shape (height, width, 4), range 0..1
        Straight alpha. Outside the source its alpha counts as 0.
    source : ndarray of uint8 (0..255) or float32 (0..1), shape (h, w, 4)
    x, y : int
        Where the source's top left pixel goes.
    name : str
        A key of OPERATORS.
    opacity : float, 0..1
    """
    keeps = OPERATORS[name].keeps
    if name == "source-atop":
        lay(buffer, source, x, y, "normal", opacity, clip=True)
    elif keeps is not None:
        buffer[..., 3] *= keeps(_alpha(buffer, source, x, y, opacity))
    else:  # destination-atop: the source, and over it what lies there already
        below = np.zeros_like(buffer)
        lay(below, source, x, y, "normal", opacity)
        lay(below, buffer, clip=True)
        buffer[:] = below


def _alpha(buffer: Buffer, source: Source, x: int, y: int, opacity: float) -> Plane:
    """The source's alpha on the whole buffer."""
    height, width = buffer.shape[:2]
    plane = np.zeros((height, width), np.float32)
    left, top = max(x, 0), max(y, 0)
    right, bottom = min(x + source.shape[1], width), min(y + source.shape[0], height)
    if right > left and bottom > top:
        scale = opacity / 255 if source.dtype == np.uint8 else opacity
        plane[top:bottom, left:right] = source[top - y:bottom - y, left - x:right - x, 3] * scale
    return plane
