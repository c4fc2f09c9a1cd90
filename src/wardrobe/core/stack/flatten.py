"""Flatten a stack as any reader of layered files would."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.kernels import Buffer, lay, to_bytes
from wardrobe.core.stack.model import Group, Layer, Stack


def flatten(stack: Stack) -> NDArray[np.uint8]:
    """Composite a stack.

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Straight alpha.
    """
    return to_bytes(_composite(stack.nodes, stack.height, stack.width))


def _composite(nodes: Sequence[Layer | Group], height: int, width: int) -> Buffer:
    buffer = np.zeros((height, width, 4), np.float32)
    for node in nodes:
        if not node.visible:
            continue
        if isinstance(node, Group):
            inner = _composite(node.children, height, width)
            lay(buffer, inner, mode=node.mode, opacity=node.opacity)
        else:
            lay(buffer, node.pixels, node.x, node.y, node.mode, node.opacity)
    return buffer
