"""The compiled compositor. Buffers are float32, straight alpha, shape (height, width, 4).

The readable twin is :mod:`wardrobe.core.composite.reference`.
"""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.composite.modes import MODES, PLUS_LIGHTER
from wardrobe.core.kernel import kernel, leaf

Buffer = NDArray[np.float32]
_EPS = np.float32(1e-6)


@leaf
def _separable(b: float, s: float, mode: int) -> float:
    if mode == 1:
        return b * s
    if mode == 2:
        return b + s - b * s
    if mode == 3:  # overlay is hard-light with the layers swapped
        return b * 2 * s if b <= 0.5 else s + (2 * b - 1) - s * (2 * b - 1)
    if mode == 4:
        return min(b, s)
    if mode == 5:
        return max(b, s)
    if mode == 6:
        if b <= _EPS:
            return 0.0
        return 1.0 if s >= 1 - _EPS else min(1.0, b / (1 - s))
    if mode == 7:
        if b >= 1 - _EPS:
            return 1.0
        return 0.0 if s <= _EPS else 1 - min(1.0, (1 - b) / s)
    if mode == 8:
        return b * 2 * s if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)
    if mode == 9:
        if s <= 0.5:
            return b - (1 - 2 * s) * b * (1 - b)
        d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else math.sqrt(b)
        return b + (2 * s - 1) * (d - b)
    if mode == 10:
        return abs(b - s)
    if mode == 11:
        return b + s - 2 * b * s
    return s


@leaf
def _lum(r: float, g: float, b: float) -> float:
    return 0.3 * r + 0.59 * g + 0.11 * b


@leaf
def _set_lum(r: float, g: float, b: float, lum: float) -> tuple[float, float, float]:
    d = lum - _lum(r, g, b)
    r, g, b = r + d, g + d, b + d
    low, high = min(r, g, b), max(r, g, b)
    if low < 0:
        k = lum / max(lum - low, 1e-12)
        r, g, b = lum + (r - lum) * k, lum + (g - lum) * k, lum + (b - lum) * k
    if high > 1:
        k = (1 - lum) / max(high - lum, 1e-12)
        r, g, b = lum + (r - lum) * k, lum + (g - lum) * k, lum + (b - lum) * k
    return r, g, b


@leaf
def _set_sat(r: float, g: float, b: float, sat: float) -> tuple[float, float, float]:
    low = min(r, g, b)
    spread = max(r, g, b) - low
    if spread <= 0:
        return 0.0, 0.0, 0.0
    k = sat / spread
    return (r - low) * k, (g - low) * k, (b - low) * k


@leaf
def blend(br: float, bg: float, bb: float, sr: float, sg: float, sb: float,
           mode: int) -> tuple[float, float, float]:
    if mode < 12:
        return _separable(br, sr, mode), _separable(bg, sg, mode), _separable(bb, sb, mode)
    if mode == 12:
        r, g, b = _set_sat(sr, sg, sb, max(br, bg, bb) - min(br, bg, bb))
        return _set_lum(r, g, b, _lum(br, bg, bb))
    if mode == 13:
        r, g, b = _set_sat(br, bg, bb, max(sr, sg, sb) - min(sr, sg, sb))
        return _set_lum(r, g, b, _lum(br, bg, bb))
    if mode == 14:
        return _set_lum(sr, sg, sb, _lum(br, bg, bb))
    return _set_lum(br, bg, bb, _lum(sr, sg, sb))


@kernel
def _layer(out: Buffer, source: Any, scale: float, mode: int, opacity: float, clip: bool,
           plus: int) -> None:
    height, width = source.shape[:2]
    for y in range(height):
        for x in range(width):
            sa = source[y, x, 3] * scale * opacity
            if sa <= 0:
                continue
            ab = out[y, x, 3]
            if clip and ab <= 0:
                continue
            sr = source[y, x, 0] * scale
            sg = source[y, x, 1] * scale
            sb = source[y, x, 2] * scale
            br, bg, bb = out[y, x, 0], out[y, x, 1], out[y, x, 2]
            fa = ab if clip else 1.0
            if mode == plus:
                alpha = ab if clip else min(1.0, sa + ab)
                r = min(alpha, sr * sa * fa + br * ab)
                g = min(alpha, sg * sa * fa + bg * ab)
                b = min(alpha, sb * sa * fa + bb * ab)
            else:
                mr, mg, mb = sr, sg, sb
                if mode != 0 and ab > 0:
                    xr, xg, xb = blend(br, bg, bb, sr, sg, sb, mode)
                    mr = (1 - ab) * sr + ab * xr
                    mg = (1 - ab) * sg + ab * xg
                    mb = (1 - ab) * sb + ab * xb
                alpha = sa * fa + ab * (1 - sa)
                keep = (1 - sa) * ab
                r = sa * fa * mr + keep * br
                g = sa * fa * mg + keep * bg
                b = sa * fa * mb + keep * bb
            out[y, x, 0] = min(1.0, max(0.0, r / alpha))
            out[y, x, 1] = min(1.0, max(0.0, g / alpha))
            out[y, x, 2] = min(1.0, max(0.0, b / alpha))
            out[y, x, 3] = alpha


def lay(buffer: Buffer, source: NDArray[Any], x: int = 0, y: int = 0, mode: str = "normal",
        opacity: float = 1.0, clip: bool = False) -> None:
    """Lay a picture on a buffer, in place.

    Parameters
    ----------
    buffer : ndarray of float32, shape (height, width, 4), range 0..1
        Straight alpha; changed in place.
    source : ndarray of uint8 (0..255) or float32 (0..1), shape (h, w, 4)
        Straight alpha; parts outside the buffer are cut off.
    x, y : int
        Where the source's top left pixel goes.
    mode, opacity, clip
        See :func:`wardrobe.core.composite.reference.composite`.
    """
    height, width = buffer.shape[:2]
    left, top = max(x, 0), max(y, 0)
    right, bottom = min(x + source.shape[1], width), min(y + source.shape[0], height)
    if right <= left or bottom <= top:
        return
    scale = 1 / 255 if source.dtype == np.uint8 else 1.0
    _layer(buffer[top:bottom, left:right], source[top - y:bottom - y, left - x:right - x],
           scale, MODES[mode].code, opacity, clip, PLUS_LIGHTER)


def to_bytes(buffer: Buffer) -> NDArray[np.uint8]:
    """Round a float32 buffer, 0..1, to bytes."""
    return (buffer * 255 + 0.5).astype(np.uint8)
