"""A stack without modes that a format does not have."""

from collections.abc import Collection, Sequence

import numpy as np

from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Group, Layer, Node, Stack

_ALL = 0.99
_NEVER = 2  # alpha, of 255, below which a colour is not known well enough to matter


def baked(stack: Stack, modes: Collection[str]) -> Stack:
    """The same picture, in which a layer whose mode is none of those given is laid on normally, in
    the colours that it came to over what lies below it in its group.

    Parameters
    ----------
    stack : Stack
    modes : collection of str
        That may be kept; ``normal`` is one of them. Groups keep theirs, or are laid on normally.
    """
    return Stack(stack.width, stack.height, _nodes(stack, stack.nodes, modes))


def _nodes(stack: Stack, nodes: Sequence[Node], modes: Collection[str]) -> list[Node]:
    done: list[Node] = []
    for node in nodes:
        if isinstance(node, Group):
            mode = node.mode if node.mode in modes else "normal"
            done.append(Group(node.name, _nodes(stack, node.children, modes), mode, node.opacity,
                              node.visible))
        elif node.mode in modes:
            done.append(node)
        else:
            done.append(_laid(stack, done, node))
    return done


def _laid(stack: Stack, below: Sequence[Node], layer: Layer) -> Layer:
    """A layer as it comes out over what lies below, laid on normally."""
    before, after = (flatten(Stack(stack.width, stack.height, some))
                     for some in (below, [*below, layer]))
    height, width = layer.shape
    y0, x0 = max(0, layer.y), max(0, layer.x)
    y1, x1 = min(stack.height, layer.y + height), min(stack.width, layer.x + width)
    was = before[y0:y1, x0:x1].astype(np.float64) / 255
    now = after[y0:y1, x0:x1].astype(np.float64) / 255
    cover = layer.alpha[y0 - layer.y:y1 - layer.y, x0 - layer.x:x1 - layer.x] / 255 * layer.opacity
    # What is laid on normally with some cover gives ``now``: solved for the cover, which is seen
    # where there is not all below and elsewhere needs to reach as far as the colours go, and for
    # the colour.
    under = was[..., 3]
    up = (now - was)[..., :3] / np.maximum(1 - was[..., :3], 1e-6)
    down = (was - now)[..., :3] / np.maximum(was[..., :3], 1e-6)
    reach = np.clip(np.maximum(up, down).max(axis=2), cover, 1)
    alone = np.clip((now[..., 3] - under) / np.maximum(1 - under, 1e-6), 0, 1)
    cover = np.where(under > _ALL, reach, alone) * (cover > 0)
    a, b = cover[..., None], was[..., 3:]
    colour = (now[..., :3] * now[..., 3:] - was[..., :3] * b * (1 - a)) / np.maximum(a, 1e-6)
    paint = np.zeros((*cover.shape, 4), np.uint8)
    paint[..., :3] = np.clip(colour * 255 + 0.5, 0, 255)
    paint[..., 3] = np.where(cover * 255 < _NEVER, 0, cover * 255 + 0.5)
    return Layer(layer.name, paint, x0, y0, "normal", 1.0, layer.clipped_to, layer.visible)
