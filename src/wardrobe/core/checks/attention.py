"""Where the eye is drawn to: contrast in bands of size, and colour against its surroundings."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Real = NDArray[np.float32]
_CHROMA_SHARE = 0.5  # what a step of chroma counts beside one of lightness
_OCTAVES = (4, 5, 6)  # from the size of a head to that of an eye
_DARKEST = 0.02  # of white: below this no contrast is told


def contrast_bands(luminance: Real, octaves: tuple[int, ...]) -> list[Real]:
    """Local band-limited contrast: a band of one octave over what lies below it.

    Parameters
    ----------
    luminance : ndarray of float32, shape (height, width)
        Linear, 0..1.
    octaves : tuple of int
        k is the band around 2**k cycles per longer edge.

    Returns
    -------
    list of ndarray of float32, same shape
        Contrast c = a / l, band over low-pass, one a band.

    References
    ----------
    E. Peli, "Contrast in complex images", Journal of the Optical Society of America A 7 (10),
    1990: cosine-log filters of one octave (eq. 4), contrast as band over low-pass (eq. 8).
    """
    height, width = luminance.shape
    edge = max(height, width)
    spectrum = np.fft.rfft2(luminance)
    cycles = np.hypot(np.fft.fftfreq(height)[:, None], np.fft.rfftfreq(width)) * edge
    octave = np.log2(np.maximum(cycles, 2.0**-20))  # the mean lies below all bands

    def back(weights: NDArray[np.float64]) -> Real:
        picture: Real = np.fft.irfft2(spectrum * weights, luminance.shape).astype(np.float32)
        return picture

    found = []
    for k in octaves:
        band = np.where(np.abs(octave - k) < 1, 0.5 * (1 + np.cos(np.pi * (octave - k))), 0)
        # All bands below, with the mean: what is left falls off as the first of them does.
        low = np.where(octave <= k - 1, 1.0, np.where(
            octave < k, 0.5 * (1 + np.cos(np.pi * (octave - k + 1))), 0.0))
        below = back(low)
        below[below < _DARKEST] = _DARKEST
        found.append(back(band) / below)
    return found


def attention(lab: Real, luminance: Real) -> Real:
    """How strongly each place draws the eye, by local contrast at several sizes.

    The RMS of each band over about its own size, and colour against its surroundings, added up;
    1 is about what black beside white comes to.

    Parameters
    ----------
    lab : ndarray of float32, shape (height, width, 3)
    luminance : ndarray of float32, shape (height, width)
        Linear, 0..1.
    """
    edge = max(luminance.shape)
    total = np.zeros(luminance.shape, np.float32)
    for k, band in zip(_OCTAVES, contrast_bands(luminance, _OCTAVES), strict=True):
        sigma = max(edge / 64, edge / 2.0**k / 2)
        total += np.sqrt(cv2.GaussianBlur(np.minimum(band * band, 1), (0, 0), sigma))
    wide = np.dstack([cv2.GaussianBlur(np.ascontiguousarray(lab[..., c]), (0, 0), edge / 16)
                      for c in (1, 2)])
    colour = np.hypot(*np.moveaxis(lab[..., 1:] - wide, -1, 0)) / 100
    total += _CHROMA_SHARE * len(_OCTAVES) * cv2.GaussianBlur(
        colour.astype(np.float32), (0, 0), edge / 64)
    drawn: Real = total / np.float32(len(_OCTAVES))
    return drawn


@dataclass(frozen=True)
class Draw:
    """A place that draws the eye.

    Attributes
    ----------
    x, y : float
        px.
    strength : float
        Against the strongest within the focus.
    """

    x: float
    y: float
    strength: float


def rivals(drawn: Real, focus: Real, limit: float, apart: float) -> list[Draw]:
    """Places away from the focus that draw the eye more than what is in it.

    Parameters
    ----------
    drawn : ndarray of float32, shape (height, width)
        As :func:`attention` gives it.
    focus : ndarray of float32, same shape
        1 within where the eye should go, falling to 0.
    limit : float
        How strong a place must be against the strongest in the focus to be told.
    apart : float
        Least distance between two of them, px.

    Returns
    -------
    list of Draw
        The strongest first.
    """
    inside = focus > 0.5
    best = float(drawn[inside].max()) if inside.any() else 0.0
    if best <= 0:
        return []
    size = 2 * int(apart) + 1
    peak = drawn >= cv2.dilate(drawn, np.ones((size, size), np.uint8)) - 1e-9
    y, x = np.nonzero(peak & (focus < 0.05) & (drawn > limit * best))
    order = np.argsort(-drawn[y, x], kind="stable")
    return [Draw(float(x[k]) + 0.5, float(y[k]) + 0.5, float(drawn[y[k], x[k]]) / best)
            for k in order]
