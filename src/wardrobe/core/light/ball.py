"""What share of a ball is darker, or shinier, than a threshold: thresholds by amount."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray


@lru_cache(maxsize=1)
def _visible_ball() -> NDArray[np.float64]:
    """Normals of a ball seen from the front, evenly spaced over its disk, shape (n, 3)."""
    axis = np.linspace(-1, 1, 201)
    x, y = np.meshgrid(axis, axis)
    inside = x**2 + y**2 < 1
    x, y = x[inside], y[inside]
    return np.stack([x, y, np.sqrt(1 - x**2 - y**2)], axis=1)


@lru_cache(maxsize=256)
def _sorted_cosines(sine: float) -> NDArray[np.float64]:
    side = np.sqrt(max(0.0, 1 - sine * sine))
    return np.sort(_visible_ball() @ np.array([side, 0, sine]))


def ball_quantile(sine: float, share: float) -> float:
    """The value of N.V under which a share of the visible ball lies.

    Parameters
    ----------
    sine : float, -1..1
        z of the unit vector V; by symmetry the ball's share depends on nothing else.
    share : float, 0..1

    Returns
    -------
    float, -1..1
    """
    cosines = _sorted_cosines(round(sine, 4))
    at = share * (len(cosines) - 1)
    low = int(at)
    high = min(low + 1, len(cosines) - 1)
    return float(cosines[low] + (at - low) * (cosines[high] - cosines[low]))
