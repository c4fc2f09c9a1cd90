"""The picture as the checks see it: small, with and without its lines."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.kinds import kinds
from wardrobe.core.colour.lab import srgb_to_lab

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Seen:
    """A picture and what lies where in it.

    Attributes
    ----------
    whole, bare : ndarray of uint8, shape (height, width, 3)
        sRGB as it is seen, and without the lines.
    lab : ndarray of float32, shape (height, width, 3)
        CIELAB of ``bare``.
    parts : ndarray of uint16, shape (height, width)
        Row of each pixel's part; 0 for the background.
    figure : ndarray of bool, shape (height, width)
        Where the figure is: parts that are no scenery.
    ink : ndarray of uint8, shape (height, width)
        Coverage of the lines.
    scale : float
        Of its pixels per picture pixel.
    line_width : float
        Median, in its own pixels.
    """

    whole: Byte
    bare: Byte
    lab: Real
    parts: NDArray[np.uint16]
    figure: NDArray[np.bool_]
    ink: Byte
    scale: float
    line_width: float


def lab_of(picture: Byte) -> Real:
    """CIELAB of a picture; each colour that occurs is worked out once.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3)

    Returns
    -------
    ndarray of float32, shape (height, width, 3)
    """
    occurring, back = kinds(picture.reshape(-1, 3))
    found: Real = srgb_to_lab(occurring / 255).astype(np.float32)[back].reshape(picture.shape)
    return found
