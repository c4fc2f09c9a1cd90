"""What a layer is for, by its name, its mode and its pixels."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.stack.model import Group, Layer, Stack

Role = Literal["lines", "flat", "shade", "light", "silhouette", "background", "other"]

# Words in the names that artists give (common practice, no published source); the first that is
# found counts, from the end of the name.
_WORDS: dict[Role, str] = {
    "lines": "line lines lineart ink inks inking outline contour",
    "shade": "shade shades shading shadow shadows occlusion cast dark",
    "light": "light lights lighting highlight highlights glint glints rim bounce glow shine gloss",
    "silhouette": "silhouette mask",
    "background": "background bg backdrop paper ground scenery",
    "flat": "flat flats base bases fill fills local values colour colours color colors pattern",
}
_ROLE_OF = {word: role for role, words in _WORDS.items() for word in words.split()}
_DARKENING = {"multiply", "darken", "color-burn"}
_LIGHTENING = {"screen", "lighten", "color-dodge", "plus-lighter"}


@dataclass(frozen=True)
class Placed:
    """A layer with its place in the stack.

    Attributes
    ----------
    layer : Layer
    path : str
        Names of the groups around it and its own, joined by ``/``.
    group : int
        Number of the group that it lies in; 0 is the stack itself.
    order : int
        From the bottom.
    shown : bool
        Whether it and all groups around it are visible.
    role : Role
    """

    layer: Layer
    path: str
    group: int
    order: int
    shown: bool
    role: Role


def placed_layers(stack: Stack) -> list[Placed]:
    """All layers, bottom to top."""
    groups = 0

    def walk(nodes: Sequence[Layer | Group], path: str, group: int,
             shown: bool) -> Iterator[tuple[Layer, str, int, bool]]:
        nonlocal groups
        for node in nodes:
            name = f"{path}{node.name.strip() or '(no name)'}"
            if isinstance(node, Group):
                groups += 1
                yield from walk(node.children, f"{name} / ", groups, shown and node.visible)
            else:
                yield node, name, group, shown and node.visible

    return [Placed(layer, path, group, order, shown, role_of(layer))
            for order, (layer, path, group, shown) in enumerate(walk(stack.nodes, "", 0, True))]


def role_of(layer: Layer) -> Role:
    """What a layer is for."""
    words = re.findall(r"[a-z]+", layer.name.casefold())
    # “background / base” is a background, and “lines / base” are lines.
    first = _ROLE_OF.get(words[0]) if words else None
    if first in ("background", "silhouette", "lines"):
        return first
    for word in reversed(words):
        if word in _ROLE_OF:
            return _ROLE_OF[word]
    if layer.mode in _DARKENING:
        return "shade"
    if layer.mode in _LIGHTENING:
        return "light"
    return "flat" if layer.mode == "normal" and _opaque(layer.pixels) else "other"


def _opaque(pixels: NDArray[np.uint8]) -> bool:
    alpha = pixels[..., 3]
    painted = alpha > 0
    return bool(painted.any() and (alpha[painted] == 255).mean() > 0.6)
