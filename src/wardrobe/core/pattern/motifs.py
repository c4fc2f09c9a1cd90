"""Motifs: how much a pattern covers at each place. One table entry a motif."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Real = NDArray[np.float32]
Motif = Callable[[Real, Real, float, float], Real]


def _ramp(inside: Real, pixels: float) -> Real:
    """Coverage from the distance inside an edge, in repeats: an edge one pixel wide."""
    coverage: Real = np.clip(inside * np.float32(pixels) + np.float32(0.5), 0, 1)
    return coverage


def _wave(t: Real) -> Real:
    """Distance to the middle of the nearest repeat, 0..0.5."""
    distance: Real = np.abs(t - np.floor(t) - np.float32(0.5))
    return distance


def stripes(u: Real, v: Real, share: float, pixels: float) -> Real:
    """Bands across u."""
    return _ramp(np.float32(share / 2) - _wave(u), pixels)


def checks(u: Real, v: Real, share: float, pixels: float) -> Real:
    """Fields of a board; the share sets how wide the bands are that cross."""
    a, b = stripes(u, v, share, pixels), stripes(v, u, share, pixels)
    return a + b - np.float32(2) * a * b


def plaid(u: Real, v: Real, share: float, pixels: float) -> Real:
    """Two sets of bands laid over each other at half strength each."""
    both: Real = (stripes(u, v, share, pixels) + stripes(v, u, share, pixels)) / np.float32(2)
    return both


def dots(u: Real, v: Real, share: float, pixels: float) -> Real:
    """Discs that cover a share of the ground, every other row moved by half a repeat."""
    rise = np.float32(np.sqrt(3) / 2)
    row = np.floor(v / rise)
    across = u - np.float32(0.5) * (row % 2)
    dx = across - np.floor(across) - np.float32(0.5)
    dy = v - (row + np.float32(0.5)) * rise
    radius = np.sqrt(min(share, 0.8) * float(rise) / np.pi)
    return _ramp((np.float32(radius) - np.hypot(dx, dy)).astype(np.float32), pixels)


def rings(u: Real, v: Real, share: float, pixels: float) -> Real:
    """Rings round the origin, one a repeat."""
    return _ramp(np.float32(share / 2) - _wave(np.hypot(u, v).astype(np.float32)), pixels)


MOTIFS: dict[str, Motif] = {"stripes": stripes, "dots": dots, "checks": checks, "plaid": plaid,
                            "rings": rings}
