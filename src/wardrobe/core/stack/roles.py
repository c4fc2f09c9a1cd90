"""What a layer is for, by its name, its mode and its pixels."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.stack.model import Group, Layer, Node, Stack

Role = Literal["lines", "flat", "shade", "light", "silhouette", "background", "mask", "other"]

# Words in the names that artists give (common practice, no published source); the first that is
# found counts, from the end of the name.
_WORDS: dict[Role, str] = {
    "lines": "line lines lineart ink inks inking outline contour",
    "shade": "shade shades shading shadow shadows occlusion cast dark",
    "light": "light lights lighting highlight highlights glint glints rim bounce glow shine gloss",
    "silhouette": "silhouette mask",
    "background": "background bg backdrop paper ground scenery",
    "other": "gradient gradients wash washes blush texture textures effect effects",
    "flat": "flat flats base bases fill fills local values colour colours color colors pattern",
}
_ROLE_OF = {word: role for role, words in _WORDS.items() for word in words.split()}
MASK_MODE = "destination-in"
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
    laid : str
        Mode by which it meets what lies below: its own, or that of the group around it.
    masks : tuple of Layer
        Masks of the groups around it.
    """

    layer: Layer
    path: str
    group: int
    order: int
    shown: bool
    role: Role
    laid: str = "normal"
    masks: tuple[Layer, ...] = ()


def placed_layers(stack: Stack) -> list[Placed]:
    """All layers, bottom to top."""
    groups = order = 0

    def walk(nodes: Sequence[Node], path: str, group: int, shown: bool, laid: str,
             masks: tuple[Layer, ...]) -> Iterator[Placed]:
        nonlocal groups, order
        for at, node in enumerate(nodes):
            name = f"{path}{node.name.strip() or '(no name)'}"
            how = node.mode if laid == "normal" else laid
            seen = shown and node.visible
            over = tuple(m for m in nodes[at + 1:] if isinstance(m, Layer) and m.visible
                         and m.mode == MASK_MODE)
            if isinstance(node, Group):
                groups += 1
                yield from walk(node.children, f"{name} / ", groups, seen, how, (*masks, *over))
            else:
                yield Placed(node, name, group, order, seen, role_of(node), how, (*masks, *over))
                order += 1

    return list(walk(stack.nodes, "", 0, True, "normal", ()))


def role_of(layer: Layer) -> Role:
    """What a layer is for."""
    if layer.mode == MASK_MODE:
        return "mask"
    words = re.findall(r"[a-z]+", layer.name.casefold())
    # “background / base” is a background, and “lines / base” are lines.
    first = _ROLE_OF.get(words[0]) if words else None
    if first in ("background", "silhouette", "lines"):
        return first
    for word in reversed(words):
        if word in _ROLE_OF:
            role = _ROLE_OF[word]
            return "other" if role == "flat" and layer.mode != "normal" else role
    if layer.mode in _DARKENING:
        return "shade"
    if layer.mode in _LIGHTENING:
        return "light"
    return "flat" if layer.mode == "normal" and _opaque(layer.alpha) else "other"


def _opaque(alpha: NDArray[np.uint8]) -> bool:
    painted = alpha > 0
    return bool(painted.any() and (alpha[painted] == 255).mean() > 0.6)
