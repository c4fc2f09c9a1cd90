"""The paper under a drawing: its light, evened out, and its noise."""

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

_EDGE = 420  # long edge at which the light is estimated, px
_REACH = 35  # widest solid mark that is not taken for paper, at that size
_SPREAD = 11.0


def paper_light(luma: Byte) -> Real:
    """Estimate the luma that blank paper has at every pixel.

    Parameters
    ----------
    luma : ndarray of uint8, shape (height, width)

    Returns
    -------
    ndarray of float32, same shape
        At least 1. Marks are bridged by a morphological closing; then the luma of what lies near
        that estimate, which is paper, is averaged (normalised convolution, Knutsson and Westin,
        1993), so that neither marks nor noise pull it to one side.
    """
    height, width = luma.shape
    scale = min(1.0, _EDGE / max(height, width))
    size = (max(8, round(width * scale)), max(8, round(height * scale)))
    small = cv2.resize(luma, size, interpolation=cv2.INTER_AREA)
    small = cv2.medianBlur(small, 3)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (_REACH, _REACH))
    bridged = cv2.GaussianBlur(cv2.morphologyEx(small, cv2.MORPH_CLOSE, disc), (0, 0), _SPREAD)
    light = bridged.astype(np.float32)
    for tolerance in (0.12, 0.07):
        near = (np.abs(small - light) < tolerance * light).astype(np.float32)
        weight = cv2.GaussianBlur(near, (0, 0), _SPREAD)
        mean = cv2.GaussianBlur(near * small, (0, 0), _SPREAD) / np.maximum(weight, 1e-3)
        light = np.where(weight > 0.02, mean, light)
    full = cv2.resize(light, (width, height), interpolation=cv2.INTER_LINEAR)
    return np.maximum(full, 1).astype(np.float32)


def relative_darkness(luma: Byte, light: Real | float, soften: float = 0.0) -> Byte:
    """Darkness against the paper: 0 paper and lighter, 255 black.

    Parameters
    ----------
    luma : ndarray of uint8, shape (height, width)
    light : ndarray of float32, same shape, or float
    soften : float
        Standard deviation of a blur against noise, px.
    """
    if soften:
        luma = cv2.GaussianBlur(luma, (0, 0), soften)
    if isinstance(light, float):
        ramp = np.clip(255 * (1 - np.arange(256) / light), 0, 255)
        return cv2.LUT(luma, np.rint(ramp).astype(np.uint8))
    share = cv2.divide(luma.astype(np.float32), light)
    return cv2.convertScaleAbs(np.maximum(1 - share, 0), alpha=255)


def paper_noise(darkness: Byte) -> float:
    """Standard deviation of the paper's darkness, 0..1, from the half that is darker than it.

    The median of values between 0 and the paper's spread belongs to paper alone as long as
    marks cover less than a fifth of the picture (they are left out above 0.15).
    """
    histogram = np.bincount(darkness.ravel()[::7], minlength=256)[:39].astype(np.float64)
    upper = histogram[1:]
    if upper.sum() < 16:
        return 0.0
    # Half of a normal distribution: its median lies at 0.6745 standard deviations.
    middle = 1 + float(np.searchsorted(np.cumsum(upper), upper.sum() / 2))
    return middle / 0.6745 / 255
