"""A drawing with all its tones, its paper made white: to be multiplied over colour."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.lines.intake import luma_of
from wardrobe.core.lines.paper import paper_light

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]
Rgb = tuple[int, int, int]

_BAND = 512  # rows


@dataclass(frozen=True)
class Tones:
    """How the tones of a drawing are printed.

    Attributes
    ----------
    tint : (int, int, int)
        What black becomes.
    paper : float, 0..0.6
        Darkness against the paper that still counts as paper.
    doubled : bool
        Multiplied by itself once.
    """

    tint: Rgb = (0, 0, 0)
    paper: float = 0.0
    doubled: bool = False


def against_paper(rgba: Byte, even: bool, hues: bool) -> Byte:
    """A drawing with its paper made white.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
        Straight alpha; what is clear counts as white paper.
    even : bool
        Whether the light on the paper is evened out.
    hues : bool
        Keep the colours that it is drawn in.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3) with hues, (height, width) without
        Share of the paper's light that is left, 255 for all of it.
    """
    channels = _channels(rgba, hues)
    # By channel, so that the paper's hue goes and those of the drawing stay.
    papers = [_paper(channel, even) for channel in channels]
    out = np.empty((*rgba.shape[:2], len(channels)), np.uint8)
    for top in range(0, rgba.shape[0], _BAND):
        rows = slice(top, top + _BAND)
        for c, (channel, paper) in enumerate(zip(channels, papers, strict=True)):
            value = channel[rows] * np.float32(255) / paper[rows]
            out[rows, :, c] = np.minimum(value + np.float32(0.5), 255)
    return out if hues else out[..., 0]


def print_tones(value: Byte, tones: Tones) -> Byte:
    """The drawing as it is printed, opaque; paper is white.

    Parameters
    ----------
    value : ndarray of uint8, shape (height, width) or (height, width, 3)
        As :func:`against_paper` gives it.
    tones : Tones

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Every tone that is darker than the paper keeps its place between paper and black: tones
        are scaled, never cut.
    """
    share = np.clip(np.arange(256) / (255 * (1 - tones.paper)), 0, 1)
    share = share**2 if tones.doubled else share
    out = np.empty((*value.shape[:2], 4), np.uint8)
    for c, tint in enumerate(tones.tint):
        table = np.floor(tint + share * (255 - tint) + 0.5).astype(np.uint8)
        out[..., c] = cv2.LUT(value if value.ndim == 2 else value[..., c], table)
    out[..., 3] = 255
    return out


def _channels(rgba: Byte, hues: bool) -> list[Byte]:
    """The drawing on white: red, green and blue, or its luma."""
    alpha, clear = rgba[..., 3], 255 - rgba[..., 3]
    rgb = [cv2.add(cv2.multiply(rgba[..., c], alpha, scale=1 / 255), clear) for c in range(3)]
    return rgb if hues else [luma_of(np.dstack([*rgb, alpha]))]


def _paper(channel: Byte, even: bool) -> Real:
    """What blank paper has at every pixel."""
    if even:
        return paper_light(channel)
    counts = np.bincount(channel.ravel(), minlength=256)[128:]
    return np.full(channel.shape, 128 + counts.argmax() if counts.any() else 255, np.float32)
