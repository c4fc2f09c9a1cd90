"""Where the eye is to go, as a plane."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.layers.origin import Origin

Byte = NDArray[np.uint8]


def focus_plane(places: Sequence[tuple[float, float, float]], origin: Origin,
                shape: tuple[int, int]) -> Byte:
    """How near each pixel is to where the eye should go.

    Parameters
    ----------
    places : sequence of (float, float, float)
        x, y and radius, picture pixels.
    origin : Origin
    shape : (int, int)

    Returns
    -------
    ndarray of uint8, shape ``shape``
        Of the nearest place 255 in its middle, 128 at its radius, 0 from twice that on, falling
        as a squared cosine.
    """
    height, width = shape
    y, x = np.ogrid[:height, :width]
    nearest = np.full(shape, 2, np.float32)
    for at_x, at_y, radius in places:
        away = np.hypot((x + origin.x + 0.5) / origin.scale - at_x,
                        (y + origin.y + 0.5) / origin.scale - at_y)
        np.minimum(nearest, away / radius, out=nearest, casting="same_kind")
    return np.rint(255 * np.cos(nearest * (np.pi / 4)) ** 2).astype(np.uint8)
