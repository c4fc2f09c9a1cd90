"""Lines drawn in a hue: boundaries that are marked up in colour beside the black outlines."""

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import srgb_to_oklab
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]
Real = NDArray[np.float64]

# Chroma (OKLCH) from which a colour has a hue, and from which a pixel's edge still shows it.
_HUE = 0.075
_EDGE = 0.03
_DARKER = 0.82  # share of a line's lightness below which it is mixed with black
_REACH = 30.0  # degrees to either side that belong to a set
_APART = 45.0
_LEAST, _MOST = 2e-4, 0.15  # share of the picture that lines of one hue cover
_BROAD = 0.006  # half width from which it is a patch, as a share of the long edge
_BROAD_LINE = 0.8  # and as a share of the drawing's line width
_BINS = 72


@dataclass(frozen=True)
class HueLines:
    """Lines of one hue.

    Attributes
    ----------
    hue : float
        OKLCH hue, degrees.
    colour : (int, int, int)
        Their typical colour, sRGB.
    pixels : int
    """

    hue: float
    colour: tuple[int, int, int]
    pixels: int


@lru_cache(maxsize=1)
def _colours() -> tuple[Real, Real, Real, Real]:
    """Lightness, chroma, hue (degrees), sRGB of the middle of each of 32 ** 3 cells of colour."""
    level = (np.arange(32) * 8 + 4) / 255
    rgb = np.stack(np.meshgrid(level, level, level, indexing="ij"), axis=-1).reshape(-1, 3)
    lab = srgb_to_oklab(rgb)
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360
    return lab[:, 0], np.hypot(lab[:, 1], lab[:, 2]), hue, rgb * 255


def _cells(rgba: Byte) -> NDArray[np.uint16]:
    """Number of each pixel's cell of colour, over white."""
    alpha = rgba[..., 3:]
    rgb = rgba[..., :3]
    if int(alpha.min()) < 255:
        white = cv2.multiply(rgb, cv2.merge([alpha] * 3), scale=1 / 255)
        rgb = cv2.add(white, cv2.merge([255 - alpha] * 3))
    r, g, b = (rgb[..., k].astype(np.uint16) >> 3 for k in range(3))
    return (r << 10 | g << 5 | b).astype(np.uint16)


def _turn(one: Real | float, other: float) -> Real:
    """Angle between hues, 0..180 degrees."""
    off: Real = np.abs((np.asarray(one) - other + 180) % 360 - 180)
    return off


def same_hue(one: float, other: float) -> bool:
    """Whether two hues name the same set of lines."""
    return bool(_turn(one, other) < _REACH)


def find_hues(rgba: Byte) -> list[HueLines]:
    """Find the hues that lines are drawn in.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)

    Returns
    -------
    list of HueLines
        Most pixels first; hues that cover so much, or lie in so broad patches, that they are tone
        (tinted paper, a coloured picture), are left out.
    """
    _, chroma, hue, rgb = _colours()
    counts = np.bincount(_cells(rgba).ravel(), minlength=32768).astype(np.float64)
    counts[chroma < _HUE] = 0
    total = rgba.shape[0] * rgba.shape[1]
    found: list[HueLines] = []
    left = counts.copy()
    while True:
        bins = np.bincount((hue * _BINS / 360).astype(int) % _BINS, left, _BINS)
        near = np.roll(bins, 1) + bins + np.roll(bins, -1)
        peak = (int(np.argmax(near)) + 0.5) * 360 / _BINS
        members = _turn(hue, peak) < _REACH
        pixels = float(left[members].sum())
        if pixels < max(_LEAST * total, 60):
            return sorted((s for s in found if _is_line(rgba, s)), key=lambda s: -s.pixels)
        weight = left * members * chroma
        direction = np.sum(weight * np.exp(1j * np.radians(hue)))
        colour = (weight[:, None] * rgb).sum(axis=0) / weight.sum()
        centre = float(np.degrees(np.angle(direction)) % 360)
        r, g, b = (int(v) for v in np.rint(colour))
        if pixels < _MOST * total and all(_turn(centre, s.hue) > _APART for s in found):
            found.append(HueLines(centre, (r, g, b), int(pixels)))
        left[members] = 0


def _is_line(rgba: Byte, lines: HueLines) -> bool:
    """Whether what has a hue is thin, against the picture or against its lines."""
    mask = (hue_coverage(rgba, lines) >= 128).astype(np.uint8)
    dark = 255 - cv2.cvtColor(rgba, cv2.COLOR_RGBA2GRAY)
    radius = max(5, _BROAD * max(mask.shape), _BROAD_LINE * line_width(cv2.min(dark, rgba[..., 3])))
    depth = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
    return bool(np.count_nonzero(depth > radius) < 0.02 * np.count_nonzero(mask))


def hue_coverage(rgba: Byte, lines: HueLines) -> Byte:
    """Coverage of the lines of one hue.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
    lines : HueLines

    Returns
    -------
    ndarray of uint8, shape (height, width)
        By chroma against that of full lines: an edge over white has the hue, but less of it. An
        edge over black is darker than the line and stays with the black.
    """
    lightness, chroma, hue, _ = _colours()
    r, g, b = (min(31, v >> 3) for v in lines.colour)
    line = r << 10 | g << 5 | b
    full = max(float(chroma[line]), _HUE)
    share = np.clip(chroma / (0.85 * full), 0, 1)
    other = (_turn(hue, lines.hue) > _REACH) | (chroma < _EDGE)
    share[other | (lightness < _DARKER * lightness[line])] = 0
    table = np.rint(255 * share).astype(np.uint8)
    return table[_cells(rgba)]


def without_hues(coverage: Byte, shares: list[Byte]) -> Byte:
    """The lines that are printed: those of the given hues are taken out, edges and all."""
    if not shares:
        return coverage
    gone = np.maximum.reduce(shares) > 0
    # Between the line and its pale edge lies no ink of another line.
    gone = cv2.morphologyEx(gone.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)) > 0
    return np.where(gone, 0, coverage).astype(np.uint8)
