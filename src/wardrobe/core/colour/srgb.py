"""sRGB transfer function and hexadecimal notation."""

import re
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from wardrobe.core.errors import ColourError, quoted

_HEX = re.compile(r"#?([0-9a-f]{3}|[0-9a-f]{6})", re.IGNORECASE)

Float = NDArray[np.float64]


def decode(srgb: ArrayLike) -> Float:
    """Encoded sRGB to linear light.

    Parameters
    ----------
    srgb : array_like, shape (..., 3), range 0..1

    Returns
    -------
    ndarray of float64, same shape, range 0..1

    References
    ----------
    IEC 61966-2-1:1999, with the transfer constants of its amendment 1.
    """
    v = np.asarray(srgb, np.float64)
    return np.where(v <= 0.04045, v / 12.92, ((np.maximum(v, 0.04045) + 0.055) / 1.055) ** 2.4)


def encode(linear: ArrayLike) -> Float:
    """Linear light to encoded sRGB; the inverse of :func:`decode`."""
    v = np.asarray(linear, np.float64)
    high = 1.055 * np.maximum(v, 0.0031308) ** (1 / 2.4) - 0.055
    return np.where(v <= 0.0031308, v * 12.92, high)


def from_hex(text: str) -> tuple[int, int, int]:
    """Read ``#rgb`` or ``#rrggbb`` (the hash may be missing) as three bytes.

    Raises
    ------
    ColourError
        If the text is anything else.
    """
    match = _HEX.fullmatch(text.strip())
    if not match:
        raise ColourError(f"{quoted(text)} is not a colour; write it as #rrggbb, for example "
                          "#c8502a.")
    digits = match[1] if len(match[1]) == 6 else "".join(d * 2 for d in match[1])
    return int(digits[:2], 16), int(digits[2:4], 16), int(digits[4:], 16)


def to_bytes(srgb: ArrayLike) -> tuple[int, int, int]:
    """One encoded colour, 0..1, as three bytes; what lies outside is clipped."""
    r, g, b = (int(v) for v in np.rint(255 * np.clip(np.asarray(srgb, np.float64), 0, 1)))
    return r, g, b


def to_hex(rgb: Any) -> str:
    """Write three bytes as ``#rrggbb``."""
    r, g, b = (int(v) for v in rgb)
    return f"#{r:02x}{g:02x}{b:02x}"
