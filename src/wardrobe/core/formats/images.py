"""Decode an uploaded picture. It is hostile until it has been decoded within the limits."""

import io
import warnings
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.svg import looks_like_svg, rasterise_svg
from wardrobe.core.stack.model import Tint

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF")
DEFAULT_LONG_EDGE = 3508


def decode_image(data: bytes, limits: ImageLimits | None = None,
                 long_edge: int = DEFAULT_LONG_EDGE) -> NDArray[np.uint8]:
    """Decode PNG, JPEG, WebP, TIFF or SVG.

    Parameters
    ----------
    data : bytes
        The file.
    limits : ImageLimits
    long_edge : int
        Pixels of the longer edge that an SVG is drawn at; other formats keep their size.

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        sRGB, straight alpha, turned upright.

    Raises
    ------
    ImageLimitError
        If the header asks for more than the limits.
    UnreadableImageError
        If the file is damaged, or of another format.
    """
    limits = limits or ImageLimits()
    _check_bytes(data, limits)
    if looks_like_svg(data):
        return rasterise_svg(data, long_edge, limits)
    with _opened(data, limits) as image:
        return _to_rgba(ImageOps.exif_transpose(image))


def decode_paint(data: bytes, limits: ImageLimits) -> Tint | NDArray[np.uint8]:
    """Decode a layer's PNG; paint of one colour stays a tint.

    Parameters
    ----------
    data : bytes
    limits : ImageLimits

    Raises
    ------
    ImageLimitError, UnreadableImageError
        As :func:`decode_image` does.
    """
    _check_bytes(data, limits)
    with _opened(data, limits) as image:
        tint = _tint_of(image) if image.mode == "P" else None
        if tint is not None:
            return tint
        rgba = _to_rgba(image)
    first = rgba[0, 0, :3]
    if (rgba[0, :, :3] == first).all() and (rgba[..., :3] == first).all():
        r, g, b = (int(v) for v in first)
        return Tint(np.ascontiguousarray(rgba[..., 3]), (r, g, b))
    return rgba


def _tint_of(image: Image.Image) -> Tint | None:
    """What a palette that only differs in alpha says."""
    palette = np.array(image.getpalette(), np.uint8).reshape(-1, 3)
    clear = image.info.get("transparency")
    if not len(palette) or (palette != palette[0]).any() or not isinstance(clear, bytes):
        return None
    alphas = np.full(256, 255, np.uint8)
    alphas[:len(clear)] = np.frombuffer(clear, np.uint8)
    numbers = np.asarray(image)
    if numbers.max() >= len(palette):
        return None
    r, g, b = (int(v) for v in palette[0])
    return Tint(alphas[numbers], (r, g, b))


def _check_bytes(data: bytes, limits: ImageLimits) -> None:
    if not data:
        raise UnreadableImageError("The file is empty.")
    if len(data) > limits.file_bytes:
        raise ImageLimitError(f"The file has {len(data) / 2**20:.0f} MB; the limit is "
                              f"{limits.file_bytes / 2**20:.0f} MB.")


@contextmanager
def _opened(data: bytes, limits: ImageLimits) -> Iterator[Image.Image]:
    """The picture, loaded; whatever its decoder raises becomes an error with a message."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as image:
                check_size(image.width, image.height, limits)
                image.load()
                yield image
    except (ImageLimitError, MemoryError):
        raise
    except (Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
        raise ImageLimitError("The picture is far larger than the limit of "
                              f"{limits.pixels / 1e6:.0f} million pixels.") from error
    except UnidentifiedImageError as error:
        raise UnreadableImageError("This is not a PNG, JPEG, WebP, TIFF or SVG picture, whatever "
                                   "its name says.") from error
    except Exception as error:  # decoders raise anything on damaged data
        raise UnreadableImageError("The picture is damaged or cut short: its header can be read, "
                                   "its pixels cannot. Try saving it again.") from error


def check_size(width: int, height: int, limits: ImageLimits) -> None:
    """Raise ImageLimitError unless the size is within the limits."""
    if min(width, height) < limits.shortest_edge:
        raise ImageLimitError(f"The picture is {width} x {height} px; at least "
                              f"{limits.shortest_edge} px on each edge are needed.")
    if max(width, height) > limits.longest_edge or width * height > limits.pixels:
        raise ImageLimitError(
            f"The picture is {width} x {height} px; the limits are {limits.longest_edge} px on "
            f"the longer edge and {limits.pixels / 1e6:.0f} million pixels in all.")


def _to_rgba(image: Image.Image) -> NDArray[np.uint8]:
    if image.mode in ("I;16", "I;16B", "I;16L", "I", "F"):
        grey = np.asarray(image, np.float64)
        top = 65535.0 if image.mode != "F" or grey.max() > 1 else 1.0
        image = Image.fromarray(np.clip(grey / top * 255, 0, 255).astype(np.uint8))
    return np.array(image if image.mode == "RGBA" else image.convert("RGBA"))
