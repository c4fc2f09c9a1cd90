"""How far apart looks are, and how they stand on their ground."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.looks.vision import VISIONS, seen_with

Float = NDArray[np.float64]

LIGHT_GROUND, DARK_GROUND = 95.0, 15.0  # L*
DISTINCT = 8.0  # area-weighted CIEDE2000 from which two looks are told apart at a glance


def look_distances(looks: Float, areas: Float) -> Float:
    """Area-weighted colour difference of every two looks.

    Parameters
    ----------
    looks : ndarray of float64, shape (looks, parts, 3), range 0..1
        Bases, encoded sRGB.
    areas : ndarray of float64, shape (parts,)
        Weights; they need not sum to 1.

    Returns
    -------
    ndarray of float64, shape (looks, looks)
        CIEDE2000.
    """
    labs = srgb_to_lab(looks)
    count = len(labs)
    steps = delta_e_2000(labs[:, None], labs[None, :]) if count else np.zeros((0, 0, 1))
    weights = areas / max(1e-9, float(areas.sum()))
    found: Float = (steps * weights).sum(axis=-1)
    return found


def distances_seen_with(looks: Float, areas: Float) -> dict[str, Float]:
    """The same as people with a colour-vision deficiency see it, by its key."""
    return {key: look_distances(seen_with(looks, key), areas) for key in VISIONS}


def stands_out(bases: Float, borders: Float) -> tuple[float, float]:
    """Contrast of a figure's outer parts against a light and a dark ground.

    Parameters
    ----------
    bases : ndarray of float64, shape (parts, 3), range 0..1
    borders : ndarray of float64, shape (parts,)
        Length of each part's border with the ground.

    Returns
    -------
    (float, float)
        Mean difference of L* along the outline: on light (L* 95) and on dark (L* 15).
    """
    lightness = srgb_to_lab(bases)[:, 0]
    weights = borders / max(1e-9, float(borders.sum()))
    light = float((np.abs(lightness - LIGHT_GROUND) * weights).sum())
    return light, float((np.abs(lightness - DARK_GROUND) * weights).sum())
