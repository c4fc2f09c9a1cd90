"""A page as it is looked at, and outlines on it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Points = NDArray[np.float64]


@dataclass(frozen=True)
class Sheet:
    """A page as it is looked at: its ink, and its size against the page."""

    scale: float
    ink: Mask

    @classmethod
    def of(cls, coverage: Byte, edge: int) -> "Sheet":
        """A page made small, its thin lines kept."""
        scale = min(1.0, edge / max(coverage.shape))
        # Thin lines stay lines: the darkest of each block counts.
        step = max(1, int(1 / scale))
        reach = np.ones((step, step), np.uint8)
        dark = cv2.dilate(coverage, reach) if step > 1 else coverage
        size = (max(1, round(coverage.shape[1] * scale)), max(1, round(coverage.shape[0] * scale)))
        small = cv2.resize(dark, size, interpolation=cv2.INTER_AREA) if scale < 1 else dark
        return cls(scale, small >= 110)


def filled(shape: tuple[int, ...], outline: Points) -> Byte:
    """1 within an outline, 0 elsewhere."""
    mask = np.zeros(shape, np.uint8)
    cv2.fillPoly(mask, [np.round(outline).astype(np.int32)], 1)
    return mask


def area(outline: Points) -> float:
    """px within an outline."""
    x, y = outline.T
    return float(abs((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2)


def half(region: Points, turn: float, offset: float, beyond: bool) -> Points:
    """The part of a convex region on one side of a line: of places whose distance along the
    line's normal is less than the offset, or more."""
    normal = np.array([-np.sin(turn), np.cos(turn)])
    away = (region @ normal - offset) * (1 if beyond else -1)
    out: list[Points] = []
    for k, (a, b) in enumerate(zip(away, np.roll(away, -1), strict=True)):
        p, q = region[k], region[(k + 1) % len(region)]
        if a >= 0:
            out.append(p)
        if (a > 0) != (b > 0) and a != b:
            out.append(p + (q - p) * a / (a - b))
    return np.array(out).reshape(-1, 2)
