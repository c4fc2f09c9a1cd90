"""Colours of a given value: another hue and chroma, and the same L*."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.colour.oklab import oklab_to_srgb

Float = NDArray[np.float64]

_HALVINGS = 14


def _linear_oklab(lightness: Float, chroma: Float, hue: Float) -> Float:
    return np.stack([lightness, chroma * np.cos(np.radians(hue)),
                     chroma * np.sin(np.radians(hue))], axis=-1)


def _inside(lightness: Float, chroma: Float, hue: Float) -> NDArray[np.bool_]:
    rgb = oklab_to_srgb(_linear_oklab(lightness, chroma, hue))
    found: NDArray[np.bool_] = np.all((rgb > -1e-6) & (rgb < 1 + 1e-6), axis=-1)
    return found


def _in_gamut(lightness: Float, chroma: Float, hue: Float) -> Float:
    """The chroma, or the largest that sRGB has at this lightness and hue."""
    low, high = np.zeros_like(chroma), chroma.copy()
    fits = _inside(lightness, chroma, hue)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        inside = _inside(lightness, middle, hue)
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    return np.where(fits, chroma, low)


def toned(value: ArrayLike, chroma: ArrayLike, hue: ArrayLike) -> Float:
    """Colours of given values.

    Parameters
    ----------
    value : array_like, 0..100
        CIELAB L*, which the results have to within rounding.
    chroma, hue : array_like
        OKLCH; hue in degrees. Chroma that sRGB does not have at this value is reduced.

    Returns
    -------
    ndarray of float64, shape (..., 3), range 0..1
        Encoded sRGB in whole bytes.
    """
    wanted, chroma, hue = (np.array(v, np.float64) for v in np.broadcast_arrays(
        value, chroma, hue))
    low, high = np.zeros_like(wanted), np.ones_like(wanted)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        rgb = oklab_to_srgb(_linear_oklab(middle, _in_gamut(middle, chroma, hue), hue))
        dark = srgb_to_lab(np.clip(rgb, 0, 1))[..., 0] < wanted
        low, high = np.where(dark, middle, low), np.where(dark, high, middle)
    lightness = (low + high) / 2
    rgb = oklab_to_srgb(_linear_oklab(lightness, _in_gamut(lightness, chroma, hue), hue))
    found: Float = np.rint(255 * np.clip(rgb, 0, 1)) / 255
    return found
