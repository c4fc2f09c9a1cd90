"""The edge of the picture: where it is free, and what cutting a figure off there costs."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Int = NDArray[np.int64]

NEVER = 1e6
_BELOW = 0.005  # a px of the lower edge, which often cuts figures off
ASIDE = 0.12  # a px of the left or right edge
_ROUND_CORNER = 0.04  # the same, where a lower corner is cut off with it


@dataclass(frozen=True)
class Run:
    """A stretch of the picture's edge between two places where ink meets it.

    Attributes
    ----------
    x, y : ndarray of int64
        Its pixels, clockwise.
    cost : float
        Of a px, if the figure goes on beyond it; NEVER along the upper edge.
    """

    x: Int
    y: Int
    cost: float


def runs(ink: Byte) -> list[Run]:
    """The free stretches of the picture's edge.

    Parameters
    ----------
    ink : ndarray of uint8, shape (height, width)
        0 free, 1 ink.
    """
    height, width = ink.shape
    across, down = np.arange(width), np.arange(height)
    x = np.concatenate([across, np.full(height - 1, width - 1), across[-2::-1],
                        np.zeros(max(height - 2, 0), np.int64)])
    y = np.concatenate([np.zeros(width, np.int64), down[1:], np.full(width - 1, height - 1),
                        down[-2:0:-1]])
    inked = ink[y, x] > 0
    if inked.all():
        return []
    if not inked.any():
        return [Run(x, y, NEVER)]
    start = int(np.flatnonzero(inked)[0])
    x, y, inked = np.roll(x, -start), np.roll(y, -start), np.roll(inked, -start)
    turns = np.flatnonzero(np.diff(np.concatenate([[True], inked, [True]])))
    return [_run(x[a:b], y[a:b], height) for a, b in zip(turns[::2], turns[1::2], strict=True)]


def _run(x: Int, y: Int, height: int) -> Run:
    if (y == 0).any():
        return Run(x, y, NEVER)
    low = float((y == height - 1).mean())
    return Run(x, y, _BELOW * low + _ROUND_CORNER * (1 - low) if low else ASIDE)


def flood(ink: Byte) -> NDArray[np.bool_]:
    """Free pixels that are reached from the picture's edge, in rows and columns."""
    free = cv2.copyMakeBorder(1 - ink, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=1)
    cv2.floodFill(free, None, (0, 0), 2)
    return np.asarray(free[1:-1, 1:-1] == 2)


def cut_flush(ink: Byte, line_width: float) -> tuple[int, int, int]:
    """How many px of empty paper lie left, right and below of where a drawing was cut off.

    Lines that stop on one straight row of pixels, at their full width, were cut by the edge of a
    picture that was laid on paper afterwards. That edge is then the edge that counts.
    """
    ys, xs = np.nonzero(ink)
    height, width = ink.shape
    left, right, below = int(xs.min()), width - 1 - int(xs.max()), height - 1 - int(ys.max())
    low = _cuts(ink[::-1], below, line_width)
    least = 1 if low >= 2 else 2
    return (left if left and _cuts(ink.T, left, line_width) >= least else 0,
            right if right and _cuts(ink.T[::-1], right, line_width) >= least else 0,
            below if below and low >= 2 else 0)


def _cuts(ink: Byte, row: int, line_width: float) -> int:
    """Lines that start on a row at the width that they have a little farther on."""
    deeper = row + max(2, round(0.7 * line_width))
    if deeper >= len(ink):
        return 0
    edges = np.diff(np.concatenate([[0], ink[row].astype(np.int8), [0]]))
    inside = np.diff(np.concatenate([[0], ink[deeper].astype(np.int8), [0]]))
    wide = list(zip(np.flatnonzero(inside > 0), np.flatnonzero(inside < 0), strict=True))
    count = 0
    for a, b in zip(np.flatnonzero(edges > 0), np.flatnonzero(edges < 0), strict=True):
        if b - a < 0.6 * line_width or b - a > 3 * line_width:
            continue
        beyond = [d - c for c, d in wide if c < b + line_width and d > a - line_width]
        count += any(0.7 * w <= b - a <= 1.3 * w for w in beyond)
    return count
