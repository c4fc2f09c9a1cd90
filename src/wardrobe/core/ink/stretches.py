"""Which stretch of line each pixel belongs to: lines between two parts, or lines of one part."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Labels = NDArray[np.uint16]
Byte = NDArray[np.uint8]
Float = NDArray[np.float32]

REACH = 6.0  # line widths from the middle of a line beyond which ink is no line, but a black
_WIDER = 1.75  # than on both sides of its middle is a line where others meet it
_SLACK = 1.5  # px that the middle of a line may lie off the border of the parts
_BESIDE, _HEAVIER = 4.0, 1.1  # px, line widths beside a line that count to it: it may be drawn
# smaller, where pixels are larger, or heavier
_CUT, _HALF, _CRUMB = 0.25, 0.5, 3.0  # line widths over which a cut is made straight; crumbs,
# in squares of a line width
_FREE, _MOSTLY = 64, 0.9  # coverage of what is no line yet; share of a part's lines that say how
# thick they are
_NEAR = 1.5  # line widths from lines that go within which others may have run together with them
_ROOM = 2 * _CRUMB  # line widths beside what goes


@dataclass(frozen=True, eq=False)
class Stretches:
    """Stretches of line.

    Attributes
    ----------
    labels : ndarray of uint16, shape (height, width)
        Stretch of every pixel, also of those without ink.
    pairs : ndarray of uint16, shape (stretches, 2)
        Rows of the parts on both sides, the smaller first; twice the same for lines inside of
        one. 0 is the ground, and ``pairs[0]`` is (0, 0).
    """

    labels: Labels
    pairs: Labels


def find_stretches(parts: Labels, ink: Byte, line_width: float) -> Stretches:
    """Find the stretches of a drawing.

    Parameters
    ----------
    parts : ndarray of uint16, shape (height, width)
        Row of the part of every pixel, to the middle of the lines.
    ink : ndarray of uint8, same shape
        Coverage of the lines.
    line_width : float
        px.

    Notes
    -----
    Ink belongs to the border that lies in its middle: to the nearest one, if that is no farther
    than the line is thick there. What lies deeper in a solid black, or is drawn inside of a part,
    is the part's own.
    """
    other, count = _other_side(parts), int(parts.max()) + 1
    border = other >= 0
    half = cv2.distanceTransform((ink > 127).astype(np.uint8), cv2.DIST_L2, 3)
    if border.any():
        away, nearest = _nearest(border)
        at = np.zeros(int(nearest.max()) + 1, np.int64)
        at[nearest[border]] = np.flatnonzero(border)
        codes = _codes(parts, other, ink, half, away, nearest, at, REACH * line_width,
                       max(_BESIDE, _HEAVIER * line_width), count)
    else:
        codes = parts.astype(np.int32) * (count + 1)
    there = np.zeros(count * count, bool)
    there[codes.ravel()] = there[0] = True
    labels = (np.cumsum(there) - 1).astype(np.uint16)[codes]
    pairs = np.divmod(np.flatnonzero(there), count)
    return Stretches(labels, np.stack(pairs, axis=1).astype(np.uint16))


def _nearest(border: NDArray[np.bool_]) -> tuple[Float, NDArray[np.int32]]:
    """Distance to the border, and the number of its nearest pixel."""
    away, nearest = cv2.distanceTransformWithLabels(
        (~border).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    return away, nearest


@kernel
def _other_side(parts: Labels) -> NDArray[np.int32]:
    """What lies across the border from each pixel that touches it; -1 elsewhere."""
    height, width = parts.shape
    out = np.full((height, width), -1, np.int32)
    for y in range(height):
        for x in range(width):
            mine = parts[y, x]
            if x + 1 < width and parts[y, x + 1] != mine:
                out[y, x], out[y, x + 1] = parts[y, x + 1], mine
            if y + 1 < height and parts[y + 1, x] != mine:
                out[y, x], out[y + 1, x] = parts[y + 1, x], mine
    return out


@kernel
def _codes(parts: Labels, other: NDArray[np.int32], ink: Byte, half: Float, away: Float,
           nearest: NDArray[np.int32], at: NDArray[np.int64], reach: float,
           beside: float, count: int) -> NDArray[np.int32]:
    """Both sides of each pixel's line as one number."""
    height, width = parts.shape
    out = np.empty((height, width), np.int32)
    sides, across, thick = parts.ravel(), other.ravel(), half.ravel()
    for y in range(height):
        for x in range(width):
            border = at[nearest[y, x]]
            room = min(_WIDER * thick[border], reach) + (_SLACK if ink[y, x] else beside)
            a = np.int64(parts[y, x])
            b = a
            if away[y, x] <= room:
                a, b = np.int64(sides[border]), np.int64(across[border])
            out[y, x] = min(a, b) * count + max(a, b)
    return out


def in_front(pairs: Labels, depth: NDArray[np.floating[Any]]) -> Labels:
    """The pairs with the part that is in front first: it owns the line.

    Parameters
    ----------
    pairs : ndarray of uint16, shape (stretches, 2)
    depth : ndarray of float, shape (parts + 1,)
        How far in front each row lies; the ground's must be the smallest.
    """
    turned = depth[pairs[:, 1]] > depth[pairs[:, 0]]
    return np.where(turned[:, None], pairs[:, ::-1], pairs)


def taken_away(gone: NDArray[np.bool_], ink: Byte, line_width: float) -> Byte:
    """How much of a drawing goes with some of its stretches.

    Parameters
    ----------
    gone : ndarray of bool, shape (height, width)
        Where those stretches are.
    ink : ndarray of uint8, same shape
        Coverage of the lines.
    line_width : float
        px.

    Returns
    -------
    ndarray of uint8, same shape
        255 where all goes. Where a line that goes meets one that stays the cut is straight and
        soft by a pixel, and crumbs of ink that would be left beside it go as well.
    """
    out = np.zeros(ink.shape, np.uint8)
    x, y, w, h = cv2.boundingRect(gone.astype(np.uint8))
    # A line that leaves this box is no crumb.
    room = int(_ROOM * line_width) + 4
    box = np.s_[max(0, y - room):y + h + room, max(0, x - room):x + w + room]
    out[box] = _cut_off(gone[box], ink[box] > 0, line_width)
    return out


def lumps(stretches: Stretches, owners: Labels, rows: Sequence[int], parts: Labels, ink: Byte,
          line_width: float) -> NDArray[np.bool_]:
    """Ink that ran together with lines that go, thicker than the lines that stay.

    Parameters
    ----------
    stretches : Stretches
    owners : ndarray of uint16, shape (stretches, 2)
        As :func:`in_front` gives them.
    rows : sequence of int
        Parts that go.
    parts : ndarray of uint16, shape (height, width)
        Row of the part of every pixel.
    ink : ndarray of uint8, same shape
        Coverage of the lines.
    line_width : float
        px.

    Returns
    -------
    ndarray of bool, same shape
        What lies farther from all parts that stay than the lines of its owner are thick elsewhere.
    """
    going = np.isin(owners, rows)
    at = going[:, 1] & ~going[:, 0]
    out = np.zeros(ink.shape, bool)
    drawn = ink > 0
    reach = 2 * round(_NEAR * line_width) + 1
    near = cv2.dilate((going[:, 0][stretches.labels] & drawn).astype(np.uint8),
                      cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))) > 0
    for owner in np.unique(owners[at, 0]):
        mine = (owners[:, 0] == owner)[stretches.labels] & drawn
        x, y, w, h = cv2.boundingRect(mine.astype(np.uint8))
        box = np.s_[y:y + h, x:x + w]
        free = (ink[box] < _FREE) & (parts[box] > 0) & ~np.isin(parts[box], rows)
        _, pieces, sizes, _ = cv2.connectedComponentsWithStats(free.astype(np.uint8))
        free &= (sizes[:, cv2.CC_STAT_AREA] > line_width**2)[pieces]  # pinholes say nothing
        away = cv2.distanceTransform((~free).astype(np.uint8), cv2.DIST_L2, 5)
        beside = (at[stretches.labels[box]] | near[box]) & mine[box]
        others = away[mine[box] & ~beside]
        thick = max(line_width, float(np.quantile(others, _MOSTLY))) if len(others) else line_width
        out[box] |= beside & (away > min(thick, REACH * line_width) + 1)
    return out


def _cut_off(gone: NDArray[np.bool_], drawn: NDArray[np.bool_], line_width: float) -> Byte:
    soft = cv2.GaussianBlur(gone.astype(np.float32), (0, 0), max(0.8, _CUT * line_width))
    away = gone & ~(drawn & (soft < _HALF)) | (drawn & (soft >= _HALF))
    _, pieces, stats, _ = cv2.connectedComponentsWithStats((drawn & ~away).astype(np.uint8))
    touched = np.unique(pieces[cv2.dilate(away.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0])
    crumbs = touched[stats[touched, cv2.CC_STAT_AREA] < _CRUMB * line_width**2]
    away |= np.isin(pieces, crumbs[crumbs > 0])
    edge = cv2.GaussianBlur(away.astype(np.float32), (0, 0), 0.7)
    result: Byte = np.clip((edge * 2 - _HALF) * 255 + 0.5, 0, 255).astype(np.uint8)
    return result
