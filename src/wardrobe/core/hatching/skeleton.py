"""The middle of the ink, one pixel wide, and the places where strokes meet on it."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.thinning import thin
from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]

SEGMENT, NODE = 1, 2
_DISC = 0.8  # a node takes the skeleton within this share of its ink's half thickness


def skeleton_roles(ink: Byte, depth: NDArray[np.float32]) -> Byte:
    """The skeleton of ink, with what lies around its junctions told from what runs between them.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 or 1.
    depth : ndarray of float32, same shape
        Distance to paper, px.

    Returns
    -------
    ndarray of uint8, same shape
        0 off the skeleton, SEGMENT along strokes, NODE within the discs of junctions.
    """
    return _mark_nodes(thin(ink), depth, _DISC)


@kernel
def _mark_nodes(skeleton: Byte, depth: NDArray[np.float32], share: float) -> Byte:
    height, width = skeleton.shape
    role = skeleton.copy()
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            if not skeleton[y, x]:
                continue
            ring = (skeleton[y - 1, x], skeleton[y - 1, x + 1], skeleton[y, x + 1],
                    skeleton[y + 1, x + 1], skeleton[y + 1, x], skeleton[y + 1, x - 1],
                    skeleton[y, x - 1], skeleton[y - 1, x - 1])
            turns = 0
            for k in range(8):
                turns += (ring[k] == 0) & (ring[(k + 1) % 8] == 1)
            if turns < 3:
                continue
            radius = max(1.5, share * depth[y, x])
            reach = int(radius)
            for v in range(max(0, y - reach), min(height, y + reach + 1)):
                for u in range(max(0, x - reach), min(width, x + reach + 1)):
                    if skeleton[v, u] and (v - y) ** 2 + (u - x) ** 2 <= radius * radius:
                        role[v, u] = NODE
    return role
