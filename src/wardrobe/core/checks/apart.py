"""How far colours are apart, for everybody and for some eyes."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.looks.vision import VISIONS, seen_with

Float = NDArray[np.float64]


def lightness_apart(one: Float, other: Float) -> Float:
    """Difference of L* of sRGB colours, 0..1, shapes (..., 3)."""
    found: Float = np.abs(srgb_to_lab(one)[..., 0] - srgb_to_lab(other)[..., 0])
    return found


def colours_apart(one: Float, other: Float) -> Float:
    """CIEDE2000 of sRGB colours, 0..1, shapes (..., 3)."""
    return delta_e_2000(srgb_to_lab(one), srgb_to_lab(other))


def least_told(one: Float, other: Float) -> Float:
    """CIEDE2000 for those who can tell them apart the least, by colour-vision deficiency."""
    found: Float = np.min([colours_apart(np.clip(seen_with(one, key), 0, 1),
                                         np.clip(seen_with(other, key), 0, 1))
                           for key in VISIONS], axis=0)
    return found
