"""Layers and groups."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Rgb = tuple[int, int, int]


@dataclass(frozen=True, eq=False)
class Tint:
    """Paint of one colour: what most layers of a coloured figure are, in a quarter of the room.

    Attributes
    ----------
    alpha : ndarray of uint8, shape (h, w)
    colour : (int, int, int)
        0..255.
    """

    alpha: Byte
    colour: Rgb

    @property
    def shape(self) -> tuple[int, int]:
        """Height and width."""
        return self.alpha.shape[0], self.alpha.shape[1]

    def pixels(self) -> Byte:
        """As RGBA, shape (h, w, 4)."""
        pixels = np.empty((*self.alpha.shape, 4), np.uint8)
        pixels[..., :3] = self.colour
        pixels[..., 3] = self.alpha
        return pixels


@dataclass(frozen=True, eq=False)
class Layer:
    """A picture in a stack.

    Attributes
    ----------
    name : str
    paint : Tint or ndarray of uint8, shape (h, w, 4)
        Straight alpha, cropped to what is painted.
    x, y : int
        Where its top left pixel lies.
    mode : str
        W3C blend mode, or an operator in OPERATORS.
    opacity : float, 0..1
    clipped_to : str or None
        Name of the layer to whose alpha this one has been limited.
    visible : bool
        A hidden layer is delivered for use as a selection.
    """

    name: str
    paint: Tint | Byte
    x: int = 0
    y: int = 0
    mode: str = "normal"
    opacity: float = 1.0
    clipped_to: str | None = None
    visible: bool = True

    @property
    def pixels(self) -> Byte:
        """RGBA, shape (h, w, 4); made anew at every call for a tint."""
        return self.paint.pixels() if isinstance(self.paint, Tint) else self.paint

    @property
    def alpha(self) -> Byte:
        """Shape (h, w)."""
        return self.paint.alpha if isinstance(self.paint, Tint) else self.paint[..., 3]

    @property
    def shape(self) -> tuple[int, int]:
        """Height and width."""
        return self.paint.shape[0], self.paint.shape[1]

    @property
    def nbytes(self) -> int:
        """Bytes that its paint takes."""
        return (self.paint.alpha if isinstance(self.paint, Tint) else self.paint).nbytes


@dataclass(frozen=True, eq=False)
class Group:
    """An isolated group: its children, bottom to top, are composited apart and then laid down."""

    name: str
    children: Sequence["Layer | Group"] = field(default_factory=list)
    mode: str = "normal"
    opacity: float = 1.0
    visible: bool = True


Node = Layer | Group


@dataclass(frozen=True, eq=False)
class Stack:
    """A whole picture; ``nodes`` run from bottom to top."""

    width: int
    height: int
    nodes: Sequence[Node]

    def layers(self) -> Iterator[Layer]:
        """All layers, bottom to top."""
        yield from _layers(self.nodes)


def _layers(nodes: Sequence[Node]) -> Iterator[Layer]:
    for node in nodes:
        if isinstance(node, Group):
            yield from _layers(node.children)
        else:
            yield node


Changed = Layer | Sequence[Layer] | None


def mapped(stack: Stack, change: Callable[[Layer], Changed]) -> Stack:
    """The stack with every layer changed, or several in its place; those that become None are
    left out, and groups that hold nothing any more with them.

    Parameters
    ----------
    stack : Stack
    change : callable
        Called with every layer, from bottom to top.
    """
    return replace(stack, nodes=_mapped(stack.nodes, change))


def _mapped(nodes: Sequence[Node], change: Callable[[Layer], Changed]) -> list[Node]:
    found: list[Node] = []
    for node in nodes:
        if isinstance(node, Layer):
            changed: Any = change(node)
        else:
            children = _mapped(node.children, change)
            changed = replace(node, children=children) if children or not node.children else None
        if changed is not None:
            found += changed if isinstance(changed, Sequence) else [changed]
    return found
