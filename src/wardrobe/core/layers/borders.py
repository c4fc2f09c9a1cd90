"""Smooth borders between parts where no line covers them, in pictures smaller than the drawing."""

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.layers.origin import Origin

Byte = NDArray[np.uint8]
Labels = NDArray[np.uint16]

_SIDE = 4  # places along each side of a pixel at which the drawing is looked at
_AROUND = np.ones((3, 3), np.uint8)


class Borders(NamedTuple):
    """Pixels that several parts share.

    Attributes
    ----------
    at : ndarray of int64, shape (n,)
        Their numbers, row by row.
    shares : ndarray of int64, shape (n, 16)
        Pixels whose colours they are the mean of: themselves, and neighbours that belong to the
        other parts.
    """

    at: NDArray[np.int64]
    shares: NDArray[np.int64]


def bare_borders(rows: Labels, ink: Byte, labels: Labels, row_of_area: Labels,
                 origin: Origin) -> Borders:
    """Find the borders in a view that no line covers.

    Parameters
    ----------
    rows : ndarray of uint16, shape (height, width)
        The part at the middle of each pixel.
    ink : ndarray of uint8, same shape
    labels : ndarray of uint16
        Areas of the whole drawing at full size.
    row_of_area : ndarray of uint16
        The part of each area.
    origin : Origin
        Where the view lies, at a scale below 1.
    """
    differ = cv2.dilate(rows, _AROUND) != cv2.erode(rows, _AROUND)
    at = np.flatnonzero(differ & (cv2.dilate(ink, _AROUND) == 0))
    shares = np.empty((len(at), _SIDE**2), np.int64)
    _share_out(at, rows, labels, row_of_area, origin.x, origin.y, origin.scale, shares)
    return Borders(at, shares)


def smoothed(picture: Byte, borders: Borders) -> Byte:
    """A picture in which pixels that several parts share have their mean, as reducing the whole
    would give: uint8, shape (height, width, 3)."""
    out = picture.copy()
    flat = picture.reshape(-1, 3)
    means = flat[borders.shares].sum(axis=1, dtype=np.uint16)
    out.reshape(-1, 3)[borders.at] = (means + _SIDE**2 // 2) // _SIDE**2
    return out


@kernel
def _share_out(at: NDArray[np.int64], rows: Labels, labels: Labels, row_of_area: Labels,
               x0: float, y0: float, scale: float, shares: NDArray[np.int64]) -> None:
    height, width = rows.shape
    for n in range(len(at)):
        j, i = at[n] // width, at[n] % width
        for k in range(_SIDE * _SIDE):
            y = min(labels.shape[0] - 1, int((y0 + j + (k // _SIDE + 0.5) / _SIDE) / scale))
            x = min(labels.shape[1] - 1, int((x0 + i + (k % _SIDE + 0.5) / _SIDE) / scale))
            row, found, nearest = row_of_area[labels[y, x]], at[n], 9
            if row != rows[j, i]:
                for v in range(max(0, j - 1), min(height, j + 2)):
                    for u in range(max(0, i - 1), min(width, i + 2)):
                        away = (v - j) * (v - j) + (u - i) * (u - i)
                        if rows[v, u] == row and away < nearest:
                            found, nearest = v * width + u, away
            shares[n, k] = found
