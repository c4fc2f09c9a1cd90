"""Layers and groups."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Layer:
    """A picture in a stack.

    Attributes
    ----------
    name : str
    pixels : ndarray of uint8, shape (h, w, 4)
        Straight alpha, cropped to what is painted.
    x, y : int
        Where its top left pixel lies.
    mode : str
        W3C blend mode.
    opacity : float, 0..1
    clipped_to : str or None
        Name of the layer to whose alpha this one has been limited.
    visible : bool
        A hidden layer is delivered for use as a selection.
    """

    name: str
    pixels: NDArray[np.uint8]
    x: int = 0
    y: int = 0
    mode: str = "normal"
    opacity: float = 1.0
    clipped_to: str | None = None
    visible: bool = True


@dataclass(frozen=True)
class Group:
    """An isolated group: its children, bottom to top, are composited apart and then laid down."""

    name: str
    children: list["Layer | Group"] = field(default_factory=list)
    mode: str = "normal"
    opacity: float = 1.0
    visible: bool = True


@dataclass(frozen=True)
class Stack:
    """A whole picture; ``nodes`` run from bottom to top."""

    width: int
    height: int
    nodes: list[Layer | Group]
