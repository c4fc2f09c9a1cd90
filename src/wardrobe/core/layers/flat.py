"""Flat pictures: one colour laid over another, one colour a label."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]


def lay_flat(picture: Byte, coverage: Byte, colour: tuple[int, int, int]) -> Byte:
    """Lay one colour over an opaque picture.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)
    coverage : ndarray of uint8, shape (height, width)
    colour : (int, int, int)
    """
    out = np.empty_like(picture)
    _lay_flat(picture, coverage, np.array(colour, np.float32), out)
    return out


@kernel
def _lay_flat(picture: Byte, coverage: Byte, colour: NDArray[np.float32], out: Byte) -> None:
    height, width = coverage.shape
    for y in range(height):
        for x in range(width):
            a = coverage[y, x] / np.float32(255)
            for c in range(3):
                v = np.float32(picture[y, x, c])
                out[y, x, c] = np.uint8(v + a * (colour[c] - v) + np.float32(0.5))


def compose_flat(labels: NDArray[np.uint16], colours: Byte, ink: Byte,
                 ink_colour: tuple[int, int, int]) -> Byte:
    """One flat colour a label, and lines over them.

    Parameters
    ----------
    labels : ndarray of uint16, shape (height, width)
    colours : ndarray of uint8, shape (labels + 1, 3)
    ink : ndarray of uint8, shape (height, width)
        Coverage of the lines.
    ink_colour : (int, int, int)

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    out = np.empty((*labels.shape, 3), np.uint8)
    _compose_flat(labels, colours, ink, np.array(ink_colour, np.float32), out)
    return out


@kernel
def _compose_flat(labels: NDArray[np.uint16], colours: Byte, ink: Byte,
                  ink_colour: NDArray[np.float32], out: Byte) -> None:
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            label, cover = labels[y, x], ink[y, x]
            for c in range(3):
                v = np.float32(colours[label, c])
                if cover:
                    v += cover / np.float32(255) * (ink_colour[c] - v)
                out[y, x, c] = np.uint8(v + np.float32(0.5))
