"""Textures: coverage that repeats without a seam. One table entry each."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.kernel import kernel, leaf
from wardrobe.core.layers.origin import Origin
from wardrobe.core.parallel import bands, each

Byte = NDArray[np.uint8]
Real = NDArray[np.float64]

SIDE = 512  # px of a tile
_SEED = 20


@dataclass(frozen=True)
class Texture:
    """A texture.

    Attributes
    ----------
    key, label : str
    levels : callable
        Gives coverage in any unit, float64 of shape (SIDE, SIDE), which repeats at its borders.
        Levels are spread evenly over 0..255 afterwards, so that all textures are as strong.
    """

    key: str
    label: str
    levels: Callable[[], Real]


def _noise(seed: int, sigma: float | tuple[float, float]) -> Real:
    """White noise blurred by a Gaussian, with a standard deviation of 1."""
    white = np.random.default_rng(_SEED + seed).standard_normal((SIDE, SIDE))
    blurred: Real = ndimage.gaussian_filter(white, sigma, mode="wrap")
    return blurred / blurred.std()


def _canvas() -> Real:
    """Plain weave: threads go over and under each other by turns."""
    y, x = np.mgrid[:SIDE, :SIDE] * (2 * np.pi / 8)
    over = np.sign(np.sin(x / 2) * np.sin(y / 2))
    threads = np.where(over > 0, np.abs(np.sin(x / 2)), np.abs(np.sin(y / 2)))
    return threads + 0.25 * _noise(4, 1.0)


def _spatter() -> Real:
    """Drops of several sizes, far apart."""
    drops = np.zeros((SIDE, SIDE))
    for size, seed in ((1.0, 7), (2.0, 8), (3.6, 9)):
        noise = _noise(seed, size)
        drops = np.maximum(drops, np.maximum(0, noise - 2.4) * 4)
    return drops + 0.02 * _noise(10, 0.8)


TEXTURES: dict[str, Texture] = {
    t.key: t
    for t in (
        Texture("grain", "Grain", lambda: _noise(0, 0.7)),
        Texture("paper", "Paper", lambda: 0.8 * _noise(1, 1.1) + _noise(2, 3.0)
                + 0.5 * _noise(3, (0.9, 5.0))),
        Texture("canvas", "Canvas", _canvas),
        Texture("bristle", "Bristle", lambda: _noise(5, (0.8, 36.0)) + 0.3 * _noise(11, 1.0)),
        Texture("clouds", "Clouds", lambda: _noise(6, 28.0) + 0.5 * _noise(12, 9.0)),
        Texture("spatter", "Spatter", _spatter),
    )
}


@lru_cache(maxsize=16)
def tile_of(texture: Texture) -> Byte:
    """One repeat, uint8 of shape (SIDE, SIDE), its levels spread evenly."""
    rank = np.argsort(np.argsort(texture.levels(), axis=None, kind="stable"), kind="stable")
    return (rank.reshape(SIDE, SIDE) * 256 // SIDE**2).astype(np.uint8)


_GRAIN, _MOST_SIDE = 16, 1024  # px: sides of a tile of one's own are multiples, and at most so many


def own_tile(picture: Byte) -> Byte:
    """A picture as a texture: how light it is, seen on black.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 4)
        Straight alpha.

    Returns
    -------
    ndarray of uint8
        Reduced to sides that can be halved again and again, so that it repeats at any size.
    """
    grey = picture[..., :3].astype(np.float32) @ np.array([0.299, 0.587, 0.114], np.float32)
    grey *= picture[..., 3] / np.float32(255)
    smaller = min(1.0, _MOST_SIDE / max(grey.shape))
    height, width = (max(1, round(n * smaller / _GRAIN)) * _GRAIN for n in grey.shape)
    return np.rint(cv2.resize(grey, (width, height), interpolation=cv2.INTER_AREA)).astype(np.uint8)


def through_texture(plane: Byte, tile: Byte, size: float, angle: float, origin: Origin) -> Byte:
    """A plane over a view, as far as a texture lets it through.

    Parameters
    ----------
    plane : ndarray of uint8, shape (height, width)
    tile : ndarray of uint8
        One repeat.
    size : float
        Picture pixels of one of its pixels.
    angle : float
        Degrees, counter-clockwise.
    origin : Origin
        Where the view lies.

    Returns
    -------
    ndarray of uint8, shape (height, width)
        The texture is interpolated linearly; where it is seen smaller than it is, its mean over
        pixels counts.
    """
    step = 1 / (size * origin.scale)  # pixels of the tile per pixel of the view
    smaller = min(max(0, int(math.log2(max(step, 1)))), int(math.log2(min(tile.shape))))
    for _ in range(smaller):
        tile = cv2.resize(tile, (tile.shape[1] // 2, tile.shape[0] // 2),
                          interpolation=cv2.INTER_AREA)
    step /= 2**smaller
    turn = math.radians(angle)
    out = np.empty_like(plane)
    c, s = step * math.cos(turn), step * math.sin(turn)
    each(lambda rows: _sample(plane[rows], tile, c, s, origin.x, origin.y + rows.start,
                              out[rows]), bands(len(plane)))
    return out


@kernel
def _sample(plane: Byte, tile: Byte, c: float, s: float, x0: float, y0: float,
            out: Byte) -> None:
    rows, columns = tile.shape
    row = np.empty(columns, np.float64)
    for j in range(out.shape[0]):
        y = y0 + j + 0.5
        if s == 0:  # rows of the view are rows of the texture: mixed once
            m, m1, fv = _place(c * y - 0.5, rows)
            for k in range(columns):
                row[k] = tile[m, k] + fv * (float(tile[m1, k]) - tile[m, k])
        for i in range(out.shape[1]):
            if plane[j, i] == 0:
                out[j, i] = 0
                continue
            x = x0 + i + 0.5
            k, k1, fu = _place(c * x - s * y - 0.5, columns)
            if s == 0:
                level = row[k] + fu * (row[k1] - row[k])
            else:
                m, m1, fv = _place(s * x + c * y - 0.5, rows)
                top = tile[m, k] + fu * (float(tile[m, k1]) - tile[m, k])
                low = tile[m1, k] + fu * (float(tile[m1, k1]) - tile[m1, k])
                level = top + fv * (low - top)
            out[j, i] = (np.int32(level + 0.5) * np.int32(plane[j, i]) + 127) // 255


@leaf
def _place(at: float, count: int) -> tuple[int, int, float]:
    """The pixel of a repeating row at a place, the next one, and how far on to that."""
    whole = np.floor(at)
    k = int(whole - np.floor(whole / count) * count)  # a remainder takes twice as long
    return k, k + 1 if k + 1 < count else 0, at - whole
