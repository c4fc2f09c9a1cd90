"""How colours are spread within a part, and values within a picture."""

import numpy as np
from numpy.typing import NDArray

Real = NDArray[np.float32]


def varied(lab: Real, step: float = 2.0) -> float:
    """Share of colours that differ from the middle one.

    Parameters
    ----------
    lab : ndarray of float32, shape (n, 3)
    step : float
        CIELAB distance (CIE76) from which one differs.

    Returns
    -------
    float, 0..1
    """
    if not len(lab):
        return 0.0
    away = np.linalg.norm(lab - np.median(lab, axis=0), axis=1)
    return float(np.mean(away > step))


def clipped(below: NDArray[np.uint8], picture: NDArray[np.uint8]) -> NDArray[np.bool_]:
    """Where a channel came to 0 or 255 that was not there before, of two pictures."""
    found = np.zeros(below.shape[:2], bool)
    for end in (0, 255):
        found |= ((picture == end) & (below != end)).any(axis=2)
    return found


def value_range(lightness: Real) -> tuple[float, float]:
    """The L* between which all but a hundredth at either end lie."""
    if not lightness.size:
        return 0.0, 0.0
    low, high = np.percentile(lightness, (1, 99))
    return float(low), float(high)
