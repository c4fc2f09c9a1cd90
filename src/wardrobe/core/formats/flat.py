"""Flat pictures as files: PNG, TIFF, WebP and JPEG, with their size on paper and their profile."""

import io
from collections.abc import Sequence
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from wardrobe.core.errors import ImageLimitError
from wardrobe.core.formats.png import encode_png
from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.parallel import each

Byte = NDArray[np.uint8]
FlatFormat = Literal["png", "tiff", "webp", "jpeg"]

WEBP_EDGE = 16_383  # px, by its specification
_LOSSLESS_EFFORT = 2
_JPEG_QUALITY, _FULL_COLOUR = 92, 90  # from the second, colours keep their resolution
_BAND = 128  # rows


def encode_flat(picture: Byte, form: FlatFormat, dpi: int, quality: int | None = None) -> bytes:
    """Encode a picture.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3 or 4)
        sRGB, straight alpha.
    form : str
    dpi : int
        Pixels per inch; WebP has no place for it.
    quality : int, 1..100, optional
        Of a WebP that may lose something, without it nothing is lost; of a JPEG, 92 without it.

    Raises
    ------
    ImageLimitError
        If the format cannot hold so large a picture.
    """
    if form == "png":
        return encode_png(picture, 3, dpi, srgb_profile())
    image, out = Image.fromarray(picture), io.BytesIO()
    if form == "tiff":
        image.save(out, "TIFF", compression="tiff_adobe_deflate", dpi=(dpi, dpi),
                   icc_profile=srgb_profile())
    elif form == "jpeg":
        best = quality or _JPEG_QUALITY
        image.save(out, "JPEG", quality=best, dpi=(dpi, dpi), optimize=True,
                   subsampling=0 if best >= _FULL_COLOUR else 2, icc_profile=srgb_profile())
    else:
        check_webp(picture.shape[1], picture.shape[0])
        image.save(out, "WEBP", lossless=quality is None, quality=quality or 40,
                   method=_LOSSLESS_EFFORT, exact=True, icc_profile=srgb_profile())
    return out.getvalue()


def check_webp(width: int, height: int) -> None:
    """Raise ImageLimitError if a WebP cannot be so large."""
    if max(width, height) > WEBP_EDGE:
        raise ImageLimitError(f"A WebP has at most {WEBP_EDGE} px on an edge; this would have "
                              f"{max(width, height)}. Choose PNG, or a smaller size.")


def resized(picture: Byte, long_edge: int) -> Byte:
    """A picture at another size: averaged when smaller, by Lanczos when larger.

    Parameters
    ----------
    picture : ndarray of uint8, shape (height, width, 3 or 4)
    long_edge : int
        Pixels of the longer edge.
    """
    height, width = picture.shape[:2]
    scale = long_edge / max(width, height)
    if scale == 1:
        return picture
    size = max(1, round(width * scale)), max(1, round(height * scale))
    how = cv2.INTER_AREA if scale < 1 else cv2.INTER_LANCZOS4
    if picture.shape[2] == 3:
        return np.asarray(cv2.resize(picture, size, interpolation=how), np.uint8)
    return _resized_clear(picture, size, how)


def _resized_clear(picture: Byte, size: tuple[int, int], how: int) -> Byte:
    """As :func:`resized`, for RGBA: the colour of clear pixels must not bleed in."""
    width, height = size
    out = np.empty((height, width, 4), np.uint8)
    alpha = picture[..., 3]
    planes = [alpha, *(_weighted(picture[..., k], alpha) for k in range(3))]
    if how == cv2.INTER_AREA:
        scaled = [cv2.resize(plane, size, interpolation=how) for plane in planes]
        _straighten(out, [np.asarray(p, np.float32) for p in scaled])
        return out
    # Enlarged in bands: as floats the whole would take five times the room of the result.
    images = [Image.fromarray(np.asarray(plane, np.float32)) for plane in planes]
    step = picture.shape[0] / height

    def enlarge(rows: slice) -> None:
        box = (0, rows.start * step, picture.shape[1], rows.stop * step)
        _straighten(out[rows], [np.asarray(i.resize((width, rows.stop - rows.start),
                                                    Image.Resampling.LANCZOS, box))
                                for i in images])

    each(enlarge, [slice(top, min(top + _BAND, height)) for top in range(0, height, _BAND)])
    return out


def _weighted(colour: Byte, alpha: Byte) -> NDArray[np.float32]:
    """A channel as it shows, 0..255."""
    return np.asarray(colour * (alpha / np.float32(255)), np.float32)


def _straighten(out: Byte, planes: Sequence[NDArray[np.float32]]) -> None:
    """Write alpha and weighted channels as straight RGBA."""
    alpha = np.clip(planes[0], 0, 255)
    share = np.float32(255) / np.maximum(alpha, np.float32(1e-3))
    for k in range(3):
        out[..., k] = np.clip(planes[k + 1] * share + np.float32(0.5), 0, 255)
    out[..., 3] = alpha + np.float32(0.5)
