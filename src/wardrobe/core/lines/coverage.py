"""Ink coverage from a drawing, whatever kind of file it came in."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.errors import NoLinesError

Byte = NDArray[np.uint8]
Kind = Literal["transparent", "black on white", "grey scan"]

_LUMA = np.array([0.2126, 0.7152, 0.0722])  # ITU-R BT.709 weights on encoded values


@dataclass(frozen=True)
class Darkness:
    """How dark each pixel is between the paper and the ink.

    Attributes
    ----------
    kind : str
        What the file looked like.
    values : ndarray of uint8, shape (height, width)
        0 paper, 255 full ink.
    clear : ndarray of bool, shape (height, width), or None
        Where nothing is painted, if the drawing fills its figure with paper and leaves the
        ground transparent; otherwise None.
    """

    kind: Kind
    values: Byte
    clear: NDArray[np.bool_] | None = None


def read_darkness(rgba: Byte) -> Darkness:
    """Measure the darkness of a drawing against its own paper and ink.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
        Straight alpha.

    Returns
    -------
    Darkness

    Raises
    ------
    NoLinesError
        If the picture is blank or solid.
    """
    alpha = rgba[..., 3]
    weights = np.array([[*_LUMA, 0]], np.float32)
    luma = cv2.transform(rgba, weights)
    if np.count_nonzero(alpha < 128) > 0.005 * alpha.size:
        kind: Kind = "transparent"
        dark = cv2.multiply(alpha, 255 - luma, scale=1 / 255)
        if int(dark.max()) < 32:  # white or pale lines on nothing: their opacity is the ink
            dark = alpha.copy()
        paper = 0
    else:
        histogram = np.bincount(luma.ravel(), minlength=256)
        paper = 255 - int(128 + np.argmax(histogram[128:])) if histogram[128:].any() else 255
        clean = histogram[8:248].sum() < 0.35 * luma.size and paper <= 4
        kind = "black on white" if clean else "grey scan"
        dark = 255 - luma
        if kind == "grey scan":  # grain lies on both sides of the paper's tone
            paper = min(255, paper + _grain(histogram, 255 - paper))
    counts = np.bincount(dark.ravel(), minlength=256)
    marks = counts.copy()
    marks[: min(255, max(paper + 24, 48))] = 0
    total = int(marks.sum())
    if total < max(16, alpha.size * 2e-5):
        raise NoLinesError("The picture is blank: no lines darker than its paper were found. "
                           "Check that the line layer was visible when it was saved.")
    ink = int(np.searchsorted(np.cumsum(marks), total * 0.6))
    if total > 0.9 * alpha.size:
        raise NoLinesError("The picture is almost solid black, so no line can be told from its "
                           "ground. Dark lines on a light or transparent ground are needed.")
    ramp = np.clip((np.arange(256) - paper) * 255.0 / max(ink - paper, 1), 0, 255)
    values = cv2.LUT(dark, np.round(ramp).astype(np.uint8))
    filled = kind == "transparent" and \
        np.count_nonzero((alpha > 250) & (values < 8)) > 0.01 * alpha.size
    return Darkness(kind, values, alpha < 8 if filled else None)


def _grain(histogram: NDArray[np.int64], paper_luma: int) -> int:
    """Half-width, in levels, of the paper's peak: where it has fallen to 2 %."""
    floor = histogram[paper_luma] * 0.02
    for width in range(2, 60):
        if paper_luma - width < 0 or histogram[paper_luma - width] < floor:
            return width
    return 60


def ink_coverage(darkness: Byte, threshold: float = 0.5) -> Byte:
    """Coverage of the lines for a threshold.

    Parameters
    ----------
    darkness : ndarray of uint8, shape (height, width)
    threshold : float, 0.02..0.98
        The darkness that counts as half covered. 0.5 leaves the darkness as it is; lower
        strengthens pale lines, higher drops them. White and full ink never move.

    Returns
    -------
    ndarray of uint8, shape (height, width)
        0..255.
    """
    d = np.arange(256) / 255
    curve = np.where(d < threshold, d / threshold * 0.5,
                     0.5 + (d - threshold) / (1 - threshold) * 0.5)
    return cv2.LUT(darkness, np.round(curve * 255).astype(np.uint8))
