"""A figure that stops in mid-air: one closing across makes its base."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.lines.ends import Ends

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]

_DOWN = 0.5  # cosine of the angle to straight down
_NARROWEST = 10.0  # line widths
_SAMPLES = 15


def base_pair(framed: Byte, ends: Ends, line_width: float, widest: float) -> tuple[int, int] | None:
    """The two ends between which a bust is open below.

    Parameters
    ----------
    framed : ndarray of uint8, shape (height, width)
        Coverage within a frame of ink of one pixel.
    ends : Ends
    line_width : float
        Px.
    widest : float
        How far above the edge an end must stop not to be closed by the edge, px.

    Returns
    -------
    (int, int) or None
        Numbers of the leftmost and the rightmost end that run down with nothing below them, if
        closing them divides what is above from what is below.
    """
    height = framed.shape[0]
    ink = framed >= 128
    down = []
    for k in range(1, ends.count + 1):
        x, y = np.rint(ends.tip[k]).astype(int)
        if ends.direction[k, 1] > _DOWN and height - y > widest \
                and not ink[y + int(line_width) + 1:-1, x].any():
            down.append(k)
    if len(down) < 2:
        return None
    left = min(down, key=lambda k: float(ends.tip[k, 0]))
    right = max(down, key=lambda k: float(ends.tip[k, 0]))
    one, two = ends.tip[left], ends.tip[right]
    if two[0] - one[0] < _NARROWEST * line_width:
        return None
    free = (~ink).astype(np.uint8)
    cv2.line(free, np.rint(one).astype(int).tolist(), np.rint(two).astype(int).tolist(), 0, 1)
    labels: Int = cv2.connectedComponents(free, connectivity=4)[1]
    x, y = np.rint(np.linspace(one, two, _SAMPLES + 2)[1:-1]).astype(int).T
    above, below = labels[np.maximum(y - 3, 0), x], labels[np.minimum(y + 3, height - 1), x]
    divided = (above != below) & (above > 0) & (below > 0)
    return (left, right) if divided.mean() > 0.6 else None
