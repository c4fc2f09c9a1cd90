"""Tone as ink: parallel lines, dots of a screen, stipple. What is covered is the tone, at any size.

That coverage prints as tone: A. Murray, "Monochrome reproduction in photoengraving", Journal of
the Franklin Institute 221, 1936; H. E. J. Neugebauer, "Die theoretischen Grundlagen des
Mehrfarbenbuchdrucks", 1937.
"""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel, leaf

Byte = NDArray[np.uint8]
Real = NDArray[np.float32]

_FINE = 2.5  # pixels a cell below which it is shown as its tone
_SUB = 4  # samples of a pixel, in rows and in columns
_STRAY = 0.3  # of a cell by which a dot of a stipple lies off its middle
# Distance from the nearest dot of such a stipple, in cells, within which a share lies: measured
# over two million places.
_REACH = np.array([
    0.0, 0.089, 0.126, 0.154, 0.178, 0.199, 0.219, 0.236, 0.253, 0.268, 0.283, 0.296, 0.31,
    0.323, 0.335, 0.348, 0.36, 0.371, 0.383, 0.394, 0.406, 0.417, 0.428, 0.439, 0.451, 0.462,
    0.473, 0.485, 0.497, 0.509, 0.521, 0.534, 0.548, 0.563, 0.578, 0.596, 0.615, 0.637, 0.665,
    0.706, 0.977])


def line_screen(tone: Real, across: Real, spacing: float) -> Byte:
    """Parallel lines, as wide as the tone asks.

    Parameters
    ----------
    tone : ndarray of float32, shape (height, width), 0..1
        Share of the paper that is to be covered.
    across : ndarray of float32, same shape
        Distance across the lines, in the unit of ``spacing``: they run where it is constant.
    spacing : float
        From line to line.

    Returns
    -------
    ndarray of uint8, same shape
        Coverage: each pixel is the mean of a box as wide as it is across the lines, so that fine
        lines turn into their tone rather than into moire.
    """
    gy, gx = np.gradient(across)
    found: Byte = _lines(tone, across, np.hypot(gx, gy).astype(np.float32), spacing)
    return found


@leaf
def _under(x: float, spacing: float, width: float) -> float:
    """How much of the way from 0 to x lies under lines of a width, one in each spacing."""
    k = np.floor(x / spacing)
    return k * width + min(max(x - k * spacing - (spacing - width) / 2, 0.0), width)


@kernel
def _lines(tone: Real, across: Real, slope: Real, spacing: float) -> Byte:
    height, width = tone.shape
    out = np.zeros((height, width), np.uint8)
    for y in range(height):
        for x in range(width):
            share = min(1.0, tone[y, x])
            if share <= 0:
                continue
            box = max(slope[y, x], 1e-3)
            if box >= spacing:
                out[y, x] = np.uint8(share * 255 + 0.5)
                continue
            at, wide = across[y, x], share * spacing
            covered = _under(at + box / 2, spacing, wide) - _under(at - box / 2, spacing, wide)
            out[y, x] = np.uint8(min(1.0, max(0.0, covered / box)) * 255 + 0.5)
    return out


def dot_screen(tone: Real, spacing: float, angle: float, corner: tuple[float, float],
               step: float) -> Byte:
    """Dots of a halftone, whose size is the tone.

    Parameters
    ----------
    tone : ndarray of float32, shape (height, width), 0..1
    spacing : float
        From dot to dot, picture px.
    angle : float
        Of the screen, degrees counter-clockwise.
    corner : (float, float)
        Picture px of the first pixel's corner, x and y.
    step : float
        Picture px from pixel to pixel.

    Returns
    -------
    ndarray of uint8, same shape
        Round dots that meet at half the tone, and round holes above it.
    """
    turn = np.radians(angle)
    found: Byte = _dots(tone, np.cos(turn) / spacing, np.sin(turn) / spacing, corner[0],
                        corner[1], step, spacing / step < _FINE)
    return found


@kernel
def _dots(tone: Real, cos: float, sin: float, left: float, top: float, step: float,
          fine: bool) -> Byte:
    height, width = tone.shape
    out = np.zeros((height, width), np.uint8)
    for y in range(height):
        for x in range(width):
            share = min(1.0, tone[y, x])
            if share <= 0:
                continue
            if fine or share >= 1:
                out[y, x] = np.uint8(share * 255 + 0.5)
                continue
            inside = 0
            for i in range(_SUB):
                v = top + (y + (i + 0.5) / _SUB) * step
                for j in range(_SUB):
                    u = left + (x + (j + 0.5) / _SUB) * step
                    a, b = u * cos - v * sin, u * sin + v * cos
                    if share > 0.5:  # holes, half a cell away
                        a, b = a + 0.5, b + 0.5
                    a, b = a - np.floor(a) - 0.5, b - np.floor(b) - 0.5
                    near = a * a + b * b < min(share, 1 - share) / np.pi
                    inside += near if share <= 0.5 else not near
            out[y, x] = np.uint8(inside * 255 / _SUB**2 + 0.5)
    return out


def stipple(tone: Real, spacing: float, corner: tuple[float, float], step: float) -> Byte:
    """Dots that are strewn evenly, without rows; parameters as of :func:`dot_screen`."""
    found: Byte = _stippled(tone, spacing, corner[0], corner[1], step, spacing / step < _FINE,
                            _REACH)
    return found


@leaf
def _strewn(a: int, b: int, which: int) -> float:
    """A number from -1 to 1 for a cell: the same for every picture of it."""
    n = (a * 73856093) ^ (b * 19349663) ^ (which * 83492791)
    n = (n ^ (n >> 13)) * 1274126177
    n = n ^ (n >> 16)
    return (n & 0xffff) / 32767.5 - 1.0


@kernel
def _stippled(tone: Real, spacing: float, left: float, top: float, step: float, fine: bool,
              reaches: NDArray[np.float64]) -> Byte:
    height, width = tone.shape
    out = np.zeros((height, width), np.uint8)
    most = len(reaches) - 1
    for y in range(height):
        for x in range(width):
            share = min(1.0, tone[y, x])
            if share <= 0:
                continue
            if fine or share >= 1:
                out[y, x] = np.uint8(share * 255 + 0.5)
                continue
            at = share * most
            k = int(at)
            reach = reaches[k] + (at - k) * (reaches[min(k + 1, most)] - reaches[k]) if k \
                else np.sqrt(share / np.pi)  # dots that do not meet
            inside = 0
            for i in range(_SUB):
                v = (top + (y + (i + 0.5) / _SUB) * step) / spacing
                for j in range(_SUB):
                    u = (left + (x + (j + 0.5) / _SUB) * step) / spacing
                    row, column, near = int(np.floor(v)), int(np.floor(u)), False
                    for p in range(row - 1, row + 2):
                        for q in range(column - 1, column + 2):
                            dv = p + 0.5 + _STRAY * _strewn(p, q, 1) - v
                            du = q + 0.5 + _STRAY * _strewn(p, q, 2) - u
                            near = near or du * du + dv * dv < reach * reach
                    inside += near
            out[y, x] = np.uint8(inside * 255 / _SUB**2 + 0.5)
    return out


def distance_to_dots(u: NDArray[np.float64], v: NDArray[np.float64]) -> NDArray[np.float64]:
    """Distance from places, in cells, to the nearest dot of a stipple."""
    found: NDArray[np.float64] = _to_dots(u.ravel(), v.ravel()).reshape(u.shape)
    return found


@kernel
def _to_dots(u: NDArray[np.float64], v: NDArray[np.float64]) -> NDArray[np.float64]:
    out = np.empty(len(u))
    for k in range(len(u)):
        row, column, near = int(np.floor(v[k])), int(np.floor(u[k])), 9.0
        for p in range(row - 1, row + 2):
            for q in range(column - 1, column + 2):
                dv = p + 0.5 + _STRAY * _strewn(p, q, 1) - v[k]
                du = q + 0.5 + _STRAY * _strewn(p, q, 2) - u[k]
                near = min(near, np.sqrt(du * du + dv * dv))
        out[k] = near
    return out
