"""Small sparks, scattered by rule."""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.layers.origin import Origin

Byte = NDArray[np.uint8]


class Scatter(NamedTuple):
    """How sparks are scattered.

    Attributes
    ----------
    at : (float, float)
        Picture pixels; they lie the closer the nearer to it.
    radius : float
        Two standard deviations of how far away they lie, px.
    number : int
    size : float
        Radius of the largest, px.
    spread : float, 0..1
        At 0 all are as large, at 1 the smallest are a tenth of the largest.
    seed : int
    """

    at: tuple[float, float]
    radius: float
    number: int
    size: float
    spread: float
    seed: int


def sparks_plane(scatter: Scatter, origin: Origin, shape: tuple[int, int]) -> Byte:
    """Sparks over a view: each bright in its middle and fading to its edge.

    Returns
    -------
    ndarray of uint8, shape ``shape``
    """
    dice = np.random.default_rng(scatter.seed)
    places = np.array(scatter.at) + dice.standard_normal((scatter.number, 2)) * scatter.radius / 2
    # Few large ones, many small ones.
    sizes = scatter.size * (1 - 0.9 * scatter.spread * np.sqrt(dice.random(scatter.number)))
    bright = 1 - 0.5 * scatter.spread * dice.random(scatter.number)
    plane = np.zeros(shape, np.float32)
    for (x, y), size, most in zip(places * origin.scale - (origin.x, origin.y),
                                  np.maximum(0.6, sizes * origin.scale), bright, strict=True):
        box = tuple(slice(max(0, math.floor(c - size)), max(0, min(n, math.ceil(c + size))))
                    for c, n in ((y, shape[0]), (x, shape[1])))
        v, u = np.ogrid[box]
        away = np.hypot(u + 0.5 - x, v + 0.5 - y) / size
        level = most * np.minimum(1, 1.8 * np.clip(1 - away, 0, 1)) ** 2
        plane[box] = np.maximum(plane[box], level)
    return np.rint(255 * plane).astype(np.uint8)
