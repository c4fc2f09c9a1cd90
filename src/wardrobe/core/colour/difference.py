"""Colour difference."""

from math import atan2, cos, degrees, exp, hypot, radians, sin, sqrt

import numpy as np
from numpy.typing import ArrayLike

from wardrobe.core.colour.srgb import Float
from wardrobe.core.kernel import kernel


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
    one, other = np.broadcast_arrays(np.asarray(lab1, np.float64), np.asarray(lab2, np.float64))
    result: Float = _differences(np.ascontiguousarray(one).reshape(-1, 3),
                                 np.ascontiguousarray(other).reshape(-1, 3))
    return result.reshape(one.shape[:-1])


@kernel
def _differences(lab1: Float, lab2: Float) -> Float:
    out = np.empty(len(lab1))
    for k in range(len(lab1)):
        out[k] = _difference(lab1[k, 0], lab1[k, 1], lab1[k, 2],
                             lab2[k, 0], lab2[k, 1], lab2[k, 2])
    return out


@kernel
def _difference(l1: float, a1: float, b1: float, l2: float, a2: float, b2: float) -> float:
    c7 = ((hypot(a1, b1) + hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - sqrt(c7 / (c7 + 25.0**7)))
    a1, a2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = hypot(a1, b1), hypot(a2, b2)
    h1 = degrees(atan2(b1, a1)) % 360
    h2 = degrees(atan2(b2, a2)) % 360
    dl, dc = l2 - l1, c2 - c1
    dh, h_mean = 0.0, h1 + h2
    if c1 * c2 != 0:
        dh_deg = (h2 - h1 + 180) % 360 - 180
        if dh_deg == -180:  # the published test data sends an exact half turn to +180
            dh_deg = 180.0
        dh = 2 * sqrt(c1 * c2) * sin(radians(dh_deg) / 2)
        if abs(h1 - h2) > 180:
            h_mean += 360 if h_mean < 360 else -360
        h_mean /= 2
    l_mean, c_mean = (l1 + l2) / 2, (c1 + c2) / 2
    t = (1 - 0.17 * cos(radians(h_mean - 30)) + 0.24 * cos(radians(2 * h_mean))
         + 0.32 * cos(radians(3 * h_mean + 6)) - 0.20 * cos(radians(4 * h_mean - 63)))
    c7 = c_mean**7
    rotation = -2 * sqrt(c7 / (c7 + 25.0**7)) * sin(
        radians(60 * exp(-(((h_mean - 275) / 25) ** 2))))
    sl = 1 + 0.015 * (l_mean - 50) ** 2 / sqrt(20 + (l_mean - 50) ** 2)
    sc, sh = 1 + 0.045 * c_mean, 1 + 0.015 * c_mean * t
    tl, tc, th = dl / sl, dc / sc, dh / sh
    return sqrt(tl**2 + tc**2 + th**2 + rotation * tc * th)
