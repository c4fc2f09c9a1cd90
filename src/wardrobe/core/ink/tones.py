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
    hues : bool
        Keeps the colours that it is drawn in.
    """

    tint: Rgb = (0, 0, 0)
    paper: float = 0.0
    doubled: bool = False
    hues: bool = False


def print_tones(rgba: Byte, even: bool, tones: Tones) -> Byte:
    """The drawing as it is printed.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
        Straight alpha; what is clear counts as white paper.
    even : bool
        Whether the light on the paper is evened out.
    tones : Tones

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Opaque; paper is white. Every tone that is darker than the paper keeps its place between
        paper and black: tones are scaled, never cut.
    """
    channels = _channels(rgba, tones.hues)
    # By channel, so that the paper's hue goes and those of the drawing stay.
    papers = [_paper(channel, even) for channel in channels]
    tint = np.array(tones.tint, np.float32)
    out = np.empty(rgba.shape, np.uint8)
    out[..., 3] = 255
    for top in range(0, rgba.shape[0], _BAND):
        rows = slice(top, top + _BAND)
        # The paper's own tone is white, and black stays black.
        value = np.dstack([channel[rows] / (paper[rows] * np.float32(1 - tones.paper))
                           for channel, paper in zip(channels, papers, strict=True)])
        value = np.clip(value, 0, 1)
        if tones.doubled:
            value *= value
        out[rows, :, :3] = tint + value * (np.float32(255) - tint) + np.float32(0.5)
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
