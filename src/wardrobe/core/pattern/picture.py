"""A placed picture as a pattern."""

import cv2
import numpy as np
from numpy.typing import NDArray

Real = NDArray[np.float32]
Byte = NDArray[np.uint8]


def _premultiplied(rgba: Byte) -> Real:
    """So that the colour of what is clear does not bleed into the edge."""
    colour = rgba.astype(np.float32)
    colour[..., :3] *= colour[..., 3:] / 255
    return colour


def place_picture(rgba: Byte, u: Real, v: Real, pixels: float, repeat: bool) -> Byte:
    """Sample a picture whose middle lies at 0, 0 and whose longer edge is 1.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (h, w, 4)
        Straight alpha.
    u, v : ndarray of float32, same shape
    pixels : float
        Result pixels per unit, for which the picture is reduced first.
    repeat : bool
        Lay it side by side without end, or once.

    Returns
    -------
    ndarray of uint8, shape (*u.shape, 4)
        Straight alpha; 0 beside a picture that is laid once.
    """
    scale = min(1.0, pixels / max(rgba.shape[:2]))
    opaque = bool(rgba[..., 3].min() == 255)
    colour = rgba if opaque else _premultiplied(rgba)
    if scale < 1:
        size = [max(1, round(e * scale)) for e in rgba.shape[1::-1]]
        colour = cv2.resize(colour, size, interpolation=cv2.INTER_AREA)
    colour = colour.astype(np.float32, copy=False)
    height, width = colour.shape[:2]
    longest = np.float32(max(height, width))
    x = u * longest + np.float32(width / 2 - 0.5)
    y = v * longest + np.float32(height / 2 - 0.5)
    if repeat:
        x, y = np.mod(x, np.float32(width)), np.mod(y, np.float32(height))
        found = cv2.remap(cv2.copyMakeBorder(colour, 0, 1, 0, 1, cv2.BORDER_WRAP), x, y,
                          cv2.INTER_LINEAR)
    else:
        found = cv2.remap(colour, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)
    alpha = np.maximum(found[..., 3:], 1e-3)
    found[..., :3] = np.clip(found[..., :3] * 255 / alpha, 0, 255)
    return (found + np.float32(0.5)).astype(np.uint8)
