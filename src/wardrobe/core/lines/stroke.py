"""Work on the strokes themselves: dust, pale lines, weight, edges."""

from collections.abc import Callable
from typing import Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.thinning import thin

Byte = NDArray[np.uint8]
Edge = Literal["smooth", "hard", "hard, smoothed"]

_INKED = 128  # coverage from which a pixel is ink
_MARK = 48  # coverage from which a pixel belongs to a mark


def remove_grain(coverage: Byte, size: float) -> Byte:
    """Remove marks that are small both ways; a thin line is long and stays.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    size : float
        Px; a mark goes if neither its width nor its height exceeds it.
    """
    if size < 1:
        return coverage
    marks = (coverage >= _MARK).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(marks, connectivity=8)
    small = np.maximum(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT]) <= size
    small[0] = False
    gone = small[labels].astype(np.uint8)
    # What is left of a mark around its core goes with it.
    gone = cv2.dilate(gone, np.ones((3, 3), np.uint8)) & (coverage < _MARK) | gone
    return np.where(gone > 0, 0, coverage).astype(np.uint8)


def strengthen(coverage: Byte, amount: float) -> Byte:
    """Lay the lines over themselves ``amount`` times (0..3), as doubling the line layer does."""
    c = np.arange(256) / 255
    return cv2.LUT(coverage, np.rint(255 * (1 - (1 - c) ** (1 + amount))).astype(np.uint8))


def spine_of(coverage: Byte) -> Byte:
    """The middle of the lines, one pixel wide: 0 or 1."""
    return thin((coverage >= _INKED).astype(np.uint8))


def change_weight(coverage: Byte, by: float, spine: Byte | None = None) -> Byte:
    """Thicken or narrow the lines.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    by : float
        Change of width, px. Narrowing leaves at least one pixel: the spine stays.
    spine : ndarray of uint8, same shape, or None
        As :func:`spine_of` gives it, where it is known.
    """
    if by == 0:
        return coverage
    radius = abs(by) / 2
    if by > 0:
        return _between(cv2.dilate, coverage, radius)
    narrow = _between(cv2.erode, coverage, radius)
    # A line is lost where nothing of it is left near by.
    reach = int(np.ceil(radius)) + 1
    near = cv2.dilate((narrow >= _INKED).astype(np.uint8), _disc(reach))
    lost = (coverage >= _INKED) & (near == 0)
    if lost.any():
        kept = spine_of(coverage) if spine is None else spine
        kept = kept & cv2.dilate(lost.astype(np.uint8), _disc(reach + 1))
        narrow = np.where(kept > 0, np.maximum(narrow, coverage), narrow)
    return narrow


def _disc(radius: int) -> Byte:
    grid = np.arange(-radius, radius + 1)
    return (np.hypot(*np.meshgrid(grid, grid)) <= radius + 0.3).astype(np.uint8)


def _between(operation: Callable[[Byte, Byte], Any], coverage: Byte, radius: float) -> Byte:
    """A grey morphological operation with a disc of any radius, mixed from the two around it."""
    whole = int(radius)
    low: Byte = operation(coverage, _disc(whole)) if whole else coverage
    if radius == whole:
        return low
    high = operation(coverage, _disc(whole + 1))
    return cv2.addWeighted(low, whole + 1 - radius, high, radius - whole, 0)


def harden(coverage: Byte) -> Byte:
    """Aliased lines: covered or not."""
    return cv2.threshold(coverage, 127, 255, cv2.THRESH_BINARY)[1]


def smooth_edges(coverage: Byte) -> Byte:
    """Give hard lines an anti-aliased edge of about one pixel again, where it was."""
    soft = cv2.GaussianBlur(coverage, (0, 0), 0.9)
    ramp = np.clip((np.arange(256) / 255 - 0.5) * 1.7 + 0.5, 0, 1)
    return cv2.LUT(soft, np.rint(255 * ramp).astype(np.uint8))
