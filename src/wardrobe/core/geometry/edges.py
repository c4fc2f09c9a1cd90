"""Where pieces of a mask meet what lies beside them, as strokes."""

from collections.abc import Iterator

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.outline import solid

LEAST = 24  # px: smaller pieces are specks
_MOST_POINTS = 2000
_BRIDGED = 3  # px of an edge that may run along a line without ending a stretch

Mask = NDArray[np.bool_]
Spot = tuple[float, float]


def pieces_of(mask: Mask) -> Iterator[Mask]:
    """The connected pieces of a mask, without fringes and specks."""
    kept = solid(mask)
    count, numbers, stats, _ = cv2.connectedComponentsWithStats(kept.astype(np.uint8),
                                                                connectivity=4)
    for k in range(1, count):
        if stats[k, cv2.CC_STAT_AREA] >= LEAST:
            piece: Mask = numbers == k
            yield piece


def free_edges(piece: Mask, beside: Mask, corner: tuple[int, int]) -> Iterator[tuple[Spot, ...]]:
    """The stretches of a piece's edge that meet what lies beside it, as strokes.

    Parameters
    ----------
    piece, beside : ndarray of bool, shape (height, width)
    corner : (int, int)
        Where the masks' upper left corner lies, x and y.

    Yields
    ------
    tuple of (x, y)
        Through the middles of the piece's own pixels, to within half a pixel; closed if the
        edge is.
    """
    meets = cv2.dilate(beside.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    rings, _ = cv2.findContours(piece.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    for ring in rings:
        points = ring[:, 0]
        free = meets[points[:, 1], points[:, 0]].astype(np.uint8)
        if free.all():
            ring_stroke = _stroke(points, corner, closed=True)
            yield (*ring_stroke, ring_stroke[0])
            continue
        # Begun where the edge runs along a line, so that no stretch is torn.
        begin = int(free.argmin())
        points, free = np.roll(points, -begin, axis=0), np.roll(free, -begin)
        closed = cv2.morphologyEx(free[None], cv2.MORPH_CLOSE,
                                  np.ones((1, 2 * _BRIDGED + 1), np.uint8))[0]
        turns = np.flatnonzero(np.diff(np.concatenate([[0], closed, [0]])))
        for start, stop in zip(turns[::2], turns[1::2], strict=True):
            # One more on either side: an edge goes on to the line that it ends at.
            stretch = points[max(0, start - 1):stop + 1]
            if len(stretch) >= 2 and free[start:stop].any():
                yield _stroke(stretch, corner)


def _stroke(points: NDArray[np.int32], corner: tuple[int, int],
            closed: bool = False) -> tuple[Spot, ...]:
    tolerance, line = 0.5, points
    while True:
        line = cv2.approxPolyDP(points.astype(np.int32)[:, None], tolerance, closed)[:, 0]
        if len(line) < _MOST_POINTS:
            break
        tolerance *= 1.6
    return tuple((float(x) + corner[0] + 0.5, float(y) + corner[1] + 0.5) for x, y in line)


def innermost(piece: Mask, corner: tuple[int, int]) -> Spot:
    """The middle of the pixel of a piece that is farthest from its edge."""
    inside = cv2.distanceTransform(np.pad(piece, 1).astype(np.uint8), cv2.DIST_L2, 5)
    y, x = np.unravel_index(int(inside.argmax()), inside.shape)
    return float(x) - 1 + corner[0] + 0.5, float(y) - 1 + corner[1] + 0.5
