"""Oklab and its cylindrical form OKLCH."""

import numpy as np
from numpy.typing import ArrayLike

from wardrobe.core.colour.srgb import Float, decode, encode

_TO_LMS = np.array([
    [0.4122214708, 0.5363325363, 0.0514459929],
    [0.2119034982, 0.6806995451, 0.1073969566],
    [0.0883024619, 0.2817188376, 0.6299787005],
])
_TO_LAB = np.array([
    [0.2104542553, 0.7936177850, -0.0040720468],
    [1.9779984951, -2.4285922050, 0.4505937099],
    [0.0259040371, 0.7827717662, -0.8086757660],
])
_FROM_LMS = np.linalg.inv(_TO_LMS)
_FROM_LAB = np.linalg.inv(_TO_LAB)


def srgb_to_oklab(srgb: ArrayLike) -> Float:
    """Encoded sRGB, shape (..., 3), 0..1, to Oklab (L 0..1, a, b).

    References
    ----------
    B. Ottosson, "A perceptual color space for image processing", 2020.
    """
    result: Float = np.cbrt(decode(srgb) @ _TO_LMS.T) @ _TO_LAB.T
    return result


def oklab_to_srgb(lab: ArrayLike) -> Float:
    """The inverse of :func:`srgb_to_oklab`; values may leave 0..1 outside the gamut."""
    linear = (np.asarray(lab, np.float64) @ _FROM_LAB.T) ** 3 @ _FROM_LMS.T
    return encode(linear)


def srgb_to_oklch(srgb: ArrayLike) -> Float:
    """Encoded sRGB to OKLCH: lightness 0..1, chroma, hue in degrees 0..360."""
    lab = srgb_to_oklab(srgb)
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return np.stack([lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue], axis=-1)


def oklch_to_srgb(lch: ArrayLike) -> Float:
    """OKLCH to encoded sRGB; what lies outside is brought in.

    Parameters
    ----------
    lch : array_like, shape (3,)
        Lightness 0..1, chroma, hue in degrees.

    Returns
    -------
    ndarray of float64, shape (3,), range 0..1

    References
    ----------
    CSS Color Module Level 4, section 13.2: gamut mapping by chroma reduction with local
    clipping where that changes a colour by less than is noticed.
    """
    lightness, chroma, hue = np.asarray(lch, np.float64)
    if lightness >= 1 or lightness <= 0:
        return np.full(3, 1.0 if lightness >= 1 else 0.0)
    direction = np.array([0, np.cos(np.radians(hue)), np.sin(np.radians(hue))])

    def at(c: float) -> Float:
        return np.array([lightness, 0, 0]) + c * direction

    low, high, low_inside = 0.0, float(chroma), True
    rgb = oklab_to_srgb(at(high))
    clipped = np.clip(rgb, 0, 1)
    if _inside(rgb) or _off(clipped, at(high)) < _NOTICED:
        return clipped
    while high - low > _EPSILON:
        middle = (low + high) / 2
        rgb = oklab_to_srgb(at(middle))
        if low_inside and _inside(rgb):
            low = middle
            continue
        clipped = np.clip(rgb, 0, 1)
        off = _off(clipped, at(middle))
        if off >= _NOTICED:
            high = middle
        elif _NOTICED - off < _EPSILON:
            break
        else:
            low, low_inside = middle, False
    return clipped


_NOTICED, _EPSILON = 0.02, 1e-4  # Oklab distances; section 13.2


def _inside(rgb: Float) -> bool:
    return bool(np.all(rgb >= -1e-6) and np.all(rgb <= 1 + 1e-6))


def _off(rgb: Float, lab: Float) -> float:
    return float(np.linalg.norm(srgb_to_oklab(rgb) - lab))
