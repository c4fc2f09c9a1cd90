"""Layered TIFF: the picture first, then every layer as a page of its own."""

from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import tifffile
from numpy.typing import NDArray
from zlib_ng import zlib_ng

from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.stack.model import Layer, Stack

Byte = NDArray[np.uint8]

_STRIP = 256  # rows
_LEVEL = 3
_PAGE_NAME = 285
_DEFLATE = 8


def write_tiff(path: Path, stack: Stack, merged: Byte, dpi: int,
               on_progress: Callable[[float], None] = lambda share: None) -> None:
    """Write a stack's picture and its layers as pages.

    Parameters
    ----------
    path : Path
    stack : Stack
    merged : ndarray of uint8, shape (height, width, 3)
        The flattened picture, which readers of a single page show.
    dpi : int
    on_progress : callable
        Called with a share 0..1; may raise to cancel.

    References
    ----------
    TIFF 6.0: PageName (285) holds the layer's name; pages are as large as the picture, so that
    they lie on each other. TIFF has no blend modes: the ImageDescription says them in words.
    """
    layers = list(stack.layers())
    with tifffile.TiffWriter(path) as tiff:
        _page(tiff, _strips(merged), merged.shape, "picture", "the picture, flat", dpi)
        for done, layer in enumerate(layers, start=1):
            shape = stack.height, stack.width, 4
            told = (f"{layer.name}; mode {layer.mode}; opacity {layer.opacity:.4g}; "
                    f"{'shown' if layer.visible else 'hidden'}")
            _page(tiff, _layer_strips(layer, shape), shape, layer.name, told, dpi)
            on_progress(done / len(layers))


def _page(tiff: tifffile.TiffWriter, strips: Iterator[bytes], shape: tuple[int, ...], name: str,
          told: str, dpi: int) -> None:
    tiff.write(strips, shape=shape, dtype=np.uint8, photometric="rgb", rowsperstrip=_STRIP,
               compression=_DEFLATE, extrasamples=["unassalpha"] if shape[2] == 4 else None,
               description=told.encode(), metadata=None, iccprofile=srgb_profile(),
               resolution=(dpi, dpi), resolutionunit="INCH", software=False,
               extratags=[(_PAGE_NAME, 2, None, name.encode(), True)])


def _strips(pixels: Byte) -> Iterator[bytes]:
    for top in range(0, len(pixels), _STRIP):
        yield zlib_ng.compress(np.ascontiguousarray(pixels[top:top + _STRIP]), _LEVEL)


def _layer_strips(layer: Layer, shape: tuple[int, int, int]) -> Iterator[bytes]:
    """The layer on the whole canvas, strip by strip; what lies beside it is cut off."""
    height, width = shape[:2]
    pixels = layer.pixels
    left, right = max(0, layer.x), min(width, layer.x + pixels.shape[1])
    for top in range(0, height, _STRIP):
        strip = np.zeros((min(_STRIP, height - top), width, 4), np.uint8)
        first, last = max(top, layer.y), min(top + len(strip), layer.y + pixels.shape[0])
        if last > first and right > left:
            strip[first - top:last - top, left:right] = \
                pixels[first - layer.y:last - layer.y, left - layer.x:right - layer.x]
        yield zlib_ng.compress(strip, _LEVEL)
