"""Colour difference."""

import numpy as np
from numpy.typing import ArrayLike

from wardrobe.core.colour.srgb import Float


def delta_e_2000(lab1: ArrayLike, lab2: ArrayLike) -> Float:
    """CIEDE2000 colour difference with unit weights.

    Parameters
    ----------
    lab1, lab2 : array_like, shape (..., 3)
        CIELAB colours; broadcast against each other.

    Returns
    -------
    ndarray of float64, shape (...)

    References
    ----------
    G. Sharma, W. Wu, E. N. Dalal, "The CIEDE2000 color-difference formula: implementation
    notes, supplementary test data, and mathematical observations", Color Res. Appl. 30, 2005.
    """
    l1, a1, b1 = np.moveaxis(np.asarray(lab1, np.float64), -1, 0)
    l2, a2, b2 = np.moveaxis(np.asarray(lab2, np.float64), -1, 0)
    c7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - np.sqrt(c7 / (c7 + 25.0**7)))
    a1, a2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1 = np.degrees(np.arctan2(b1, a1)) % 360
    h2 = np.degrees(np.arctan2(b2, a2)) % 360

    dl, dc = l2 - l1, c2 - c1
    grey = c1 * c2 == 0
    dh_deg = (h2 - h1 + 180) % 360 - 180
    # The published test data sends an exact half turn to +180, the modulo sends it to -180.
    dh_deg = np.where(dh_deg == -180, 180.0, dh_deg)
    dh = np.where(grey, 0, 2 * np.sqrt(c1 * c2) * np.sin(np.radians(dh_deg) / 2))

    l_mean, c_mean = (l1 + l2) / 2, (c1 + c2) / 2
    far = np.abs(h1 - h2) > 180
    h_sum = h1 + h2
    h_mean = np.where(far, np.where(h_sum < 360, h_sum + 360, h_sum - 360), h_sum) / 2
    h_mean = np.where(grey, h_sum, h_mean)

    t = (1 - 0.17 * np.cos(np.radians(h_mean - 30)) + 0.24 * np.cos(np.radians(2 * h_mean))
         + 0.32 * np.cos(np.radians(3 * h_mean + 6)) - 0.20 * np.cos(np.radians(4 * h_mean - 63)))
    c7 = c_mean**7
    rotation = -2 * np.sqrt(c7 / (c7 + 25.0**7)) * np.sin(
        np.radians(60 * np.exp(-(((h_mean - 275) / 25) ** 2))))
    sl = 1 + 0.015 * (l_mean - 50) ** 2 / np.sqrt(20 + (l_mean - 50) ** 2)
    sc, sh = 1 + 0.045 * c_mean, 1 + 0.015 * c_mean * t
    tl, tc, th = dl / sl, dc / sc, dh / sh
    result: Float = np.sqrt(tl**2 + tc**2 + th**2 + rotation * tc * th)
    return result
