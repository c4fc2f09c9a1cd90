"""Fast lossless PNG writers. Flat colour packs best without row filters, which also cost most."""

import struct
import zlib
from collections.abc import Iterable
from pathlib import Path

import numpy as np
from isal import isal_zlib
from numpy.typing import NDArray
from zlib_ng import zlib_ng

Byte = NDArray[np.uint8]

_SIGNATURE = b"\x89PNG\r\n\x1a\n"
_COLOUR_TYPE = {1: 0, 2: 4, 3: 2, 4: 6}
_PALETTE = 3
_TINT_LEVEL, _PAINT_LEVEL = 6, 5
_SAMPLE_ROWS, _SAMPLES = 16, 8
_BAND = 256  # rows


def _chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def _file(width: int, height: int, depth: int, colour_type: int, data: bytes,
          *chunks: tuple[bytes, bytes]) -> bytes:
    header = struct.pack(">IIBBBBB", width, height, depth, colour_type, 0, 0, 0)
    parts = [(b"IHDR", header), *chunks, (b"IDAT", data), (b"IEND", b"")]
    return _SIGNATURE + b"".join(_chunk(kind, body) for kind, body in parts)


def _unfiltered(rows: Byte) -> Byte:
    """Rows of bytes with filter type 0 before each."""
    out = np.zeros((rows.shape[0], 1 + rows.shape[1]), np.uint8)
    out[:, 1:] = rows
    return out


def _from_above(rows: Byte) -> Byte:
    """Rows as differences from the row above, filter type 2."""
    out = np.empty((rows.shape[0], 1 + rows.shape[1]), np.uint8)
    out[:, 0] = 2
    out[0, 1:] = rows[0]
    np.subtract(rows[1:], rows[:-1], out=out[1:, 1:])
    return out


def encode_png(image: Byte, level: int = 1, dpi: int | None = None,
               profile: bytes | None = None) -> bytes:
    """Encode 8-bit pixels quickly.

    Parameters
    ----------
    image : ndarray of uint8, shape (height, width) or (height, width, 2), (.., 3) or (.., 4)
        Grey, grey with straight alpha, RGB, or RGB with straight alpha.
    level : int, 0..3
        Effort of the DEFLATE library.
    dpi : int, optional
        Resolution to record, pixels per inch.
    profile : bytes, optional
        ICC profile to embed; without it the file says that it is sRGB.

    Returns
    -------
    bytes

    References
    ----------
    W3C Portable Network Graphics, third edition: filter type 0 on every row.
    """
    height, width = image.shape[:2]
    channels = 1 if image.ndim == 2 else image.shape[2]
    rows = image.reshape(height, width * channels)
    # In bands: a second copy of a large picture is not needed.
    packer = isal_zlib.compressobj(level)
    data = b"".join([*(packer.compress(_unfiltered(rows[top:top + _BAND]))
                       for top in range(0, height, _BAND)), packer.flush()])
    return _file(width, height, 8, _COLOUR_TYPE[channels], data, *_told(dpi, profile))


def write_png(path: Path, bands: Iterable[Byte], width: int, height: int, dpi: int,
              profile: bytes | None = None) -> None:
    """Write 8-bit pixels that come a few rows at a time, RGB; as :func:`encode_png`, without ever
    holding them all.

    Parameters
    ----------
    path : Path
    bands : iterable of ndarray of uint8, shape (rows, width, 3)
    width, height : int
    dpi : int
    profile : bytes, optional
    """
    packer = isal_zlib.compressobj(3)
    with path.open("wb") as file:
        file.write(_SIGNATURE)
        header = struct.pack(">IIBBBBB", width, height, 8, _COLOUR_TYPE[3], 0, 0, 0)
        for kind, body in ((b"IHDR", header), *_told(dpi, profile)):
            file.write(_chunk(kind, body))
        for rows in bands:
            data = packer.compress(_unfiltered(rows.reshape(len(rows), -1)))
            if data:
                file.write(_chunk(b"IDAT", data))
        file.write(_chunk(b"IDAT", packer.flush()) + _chunk(b"IEND", b""))


def _told(dpi: int | None, profile: bytes | None) -> list[tuple[bytes, bytes]]:
    """Chunks that say in which colours the pixels are, and how large on paper."""
    chunks = [(b"sRGB", b"\0") if profile is None
              else (b"iCCP", b"sRGB\0\0" + zlib.compress(profile, 9))]
    if dpi is not None:
        per_metre = round(dpi / 0.0254)
        chunks.append((b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1)))
    return chunks


def encode_tint(alpha: Byte, colour: tuple[int, int, int]) -> bytes:
    """Encode paint of one colour as a palette that only differs in alpha.

    Parameters
    ----------
    alpha : ndarray of uint8, shape (height, width)
    colour : (int, int, int)

    Returns
    -------
    bytes
        One, two, four or eight bits a pixel, by how many alphas there are: a hard edge needs one.

    References
    ----------
    W3C Portable Network Graphics, third edition, sections 11.2.2 (PLTE) and 11.3.1.1 (tRNS).
    """
    height, width = alpha.shape
    values = np.flatnonzero(np.bincount(alpha.ravel(), minlength=256))
    depth = next(d for d in (1, 2, 4, 8) if len(values) <= 1 << d)
    numbers = np.zeros(256, np.uint8)
    numbers[values] = np.arange(len(values))
    data = zlib_ng.compress(_unfiltered(_packed(numbers[alpha], depth)), _TINT_LEVEL)
    return _file(width, height, depth, _PALETTE, data, (b"sRGB", b"\0"),
                 (b"PLTE", bytes(colour) * len(values)),
                 (b"tRNS", values.astype(np.uint8).tobytes()))


def _packed(indices: Byte, depth: int) -> Byte:
    """Palette numbers, several to a byte, the leftmost in the high bits."""
    if depth == 1:
        return np.packbits(indices, axis=1)
    each = 8 // depth
    if indices.shape[1] % each:
        indices = np.pad(indices, ((0, 0), (0, -indices.shape[1] % each)))
    packed = np.zeros((indices.shape[0], indices.shape[1] // each), np.uint8)
    for k in range(each):
        packed |= indices[:, k::each] << np.uint8(8 - depth * (k + 1))
    return packed


def encode_paint(pixels: Byte) -> bytes:
    """Encode painted pixels small: flat colour as it is, gradients and grain as differences.

    Parameters
    ----------
    pixels : ndarray of uint8, shape (height, width, 4)
        Straight alpha; the colour of clear pixels is kept as well.
    """
    height, width = pixels.shape[:2]
    rows = pixels.reshape(height, -1)
    starts = np.linspace(0, max(0, height - _SAMPLE_ROWS), _SAMPLES).astype(int)
    sample = [rows[s:s + _SAMPLE_ROWS] for s in dict.fromkeys(starts.tolist())]
    packed = min(_PACKINGS, key=lambda way: sum(len(way(part)) for part in sample))
    return _file(width, height, 8, 6, packed(rows), (b"sRGB", b"\0"))


def _flat(rows: Byte) -> bytes:
    return zlib_ng.compress(_unfiltered(rows), _PAINT_LEVEL)


def _smooth(rows: Byte) -> bytes:
    return zlib_ng.compress(_from_above(rows), _PAINT_LEVEL)


def _grainy(rows: Byte) -> bytes:
    """Grain has no repeats worth a search; only how often values come can be used."""
    packer = zlib_ng.compressobj(_PAINT_LEVEL, zlib_ng.DEFLATED, 15, 9, zlib_ng.Z_RLE)
    return packer.compress(_from_above(rows)) + packer.flush()


_PACKINGS = (_flat, _smooth, _grainy)
