"""Ink coverage from a drawing, whatever kind of file it came in."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.errors import NoLinesError
from wardrobe.core.lines.intake import INTAKES, Kind, luma_of, recognise
from wardrobe.core.lines.paper import paper_light, paper_noise, relative_darkness

Byte = NDArray[np.uint8]

_FULL_EDGE = 2000
_NOISE_REACH = 3.2  # paper's noise reaches this many standard deviations


@dataclass(frozen=True)
class Darkness:
    """How dark each pixel is against its paper.

    Attributes
    ----------
    kind : str
        What the file looks like, or was said to be: a key of INTAKES.
    recognised : str
        What it looks like.
    values : ndarray of uint8, shape (height, width)
        0 paper, 255 black.
    noise : float, 0..1
        Darkness up to which the paper's own noise reaches.
    ink : float, 0..1
        Darkness of full ink.
    clear : ndarray of bool, shape (height, width), or None
        Where nothing is painted, if the drawing fills its figure with paper and leaves the
        ground transparent; otherwise None.
    """

    kind: Kind
    recognised: Kind
    values: Byte
    noise: float
    ink: float
    clear: NDArray[np.bool_] | None = None


def read_darkness(rgba: Byte, kind: Kind | None = None, even: bool | None = None) -> Darkness:
    """Measure the darkness of a drawing against its own paper.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
        Straight alpha.
    kind : str, optional
        A key of INTAKES; recognised if not given.
    even : bool, optional
        Even out the light on the paper; by the kind if not given.

    Returns
    -------
    Darkness

    Raises
    ------
    NoLinesError
        If the picture is blank or solid.
    """
    recognised = recognise(rgba)
    kind = kind or recognised
    intake = INTAKES[kind]
    clear = None
    luma = luma_of(rgba)
    if kind == "transparent":
        alpha = rgba[..., 3]
        dark = cv2.multiply(alpha, 255 - luma, scale=1 / 255)
        if int(dark.max()) < 32:  # white or pale lines on nothing: their opacity is the ink
            dark = alpha.copy()
        noise = 0.0
        if np.count_nonzero((alpha > 250) & (dark < 8)) > 0.01 * alpha.size:
            clear = alpha < 8
    else:
        luma = _on_white(rgba, luma)
        if intake.even if even is None else even:
            light: NDArray[np.float32] | float = paper_light(luma)
        else:
            histogram = np.bincount(luma.ravel(), minlength=256)
            light = float(128 + np.argmax(histogram[128:])) if histogram[128:].any() else 255.0
        # Sensor noise is worth a blur where lines are many pixels wide, not on a small picture.
        soften = intake.soften * min(1.0, max(luma.shape) / _FULL_EDGE)
        dark = relative_darkness(luma, light, soften if soften > 0.3 else 0.0)
        noise = 0.0 if kind == "black on white" else min(0.3, _NOISE_REACH * paper_noise(dark))
    return Darkness(kind, recognised, dark, noise, _full_ink(dark, noise, intake.paper), clear)


def _on_white(rgba: Byte, luma: Byte) -> Byte:
    alpha = rgba[..., 3]
    if int(alpha.min()) == 255:
        return luma
    return cv2.add(cv2.multiply(luma, alpha, scale=1 / 255), 255 - alpha)


def _full_ink(dark: Byte, noise: float, paper: float) -> float:
    """Darkness of full ink: the 60th percentile of what is darker than the paper."""
    counts = np.bincount(dark.ravel(), minlength=256)
    marks = counts.copy()
    marks[: int(255 * max(noise, paper, 0.09)) + 24] = 0
    total = int(marks.sum())
    if total < max(16, dark.size * 2e-5):
        raise NoLinesError("The picture is blank: no lines darker than its paper were found. "
                           "Check that the line layer was visible when it was saved.")
    if total > 0.9 * dark.size:
        raise NoLinesError("The picture is almost solid black, so no line can be told from its "
                           "ground. Dark lines on a light or transparent ground are needed.")
    return int(np.searchsorted(np.cumsum(marks), total * 0.6)) / 255


def ink_coverage(darkness: Darkness, threshold: float = 0.5, paper: float | None = None) -> Byte:
    """Coverage of the lines: paper to 0, ink to full.

    Parameters
    ----------
    darkness : Darkness
    threshold : float, 0.02..0.98
        The darkness between paper and ink that counts as half covered. 0.5 leaves the darkness
        as it is; lower strengthens pale lines, higher drops them.
    paper : float, 0..0.6, optional
        Darkness against the paper that still counts as paper; by the kind if not given. The
        paper's own noise always does.

    Returns
    -------
    ndarray of uint8, shape (height, width)
    """
    floor = INTAKES[darkness.kind].paper if paper is None else paper
    floor = max(floor, darkness.noise)
    top = max(darkness.ink, floor + 0.02)
    d = np.clip((np.arange(256) / 255 - floor) / (top - floor), 0, 1)
    curve = np.where(d < threshold, d / threshold * 0.5,
                     0.5 + (d - threshold) / (1 - threshold) * 0.5)
    return cv2.LUT(darkness.values, np.rint(curve * 255).astype(np.uint8))
