"""Contours of soft masks, between pixels."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Byte = NDArray[np.uint8]
Points = NDArray[np.float64]

_PAD = 4
_REACH = 1.5  # px to each side of an edge over which its coverage is summed up
_STEPS = 24  # samples over that
_MOST = 0.15  # px that a place is moved by at once: marching squares err by less
_FULL, _EMPTY = 0.92, 0.08  # coverage from which a sample counts as inside, or outside


def contours(coverage: Byte, evened: float = 0.0) -> list[Points]:
    """Closed contours of a mask at half coverage, moved to where its edge lies.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    evened : float
        px (the spread of a Gaussian) over which steps from pixel to pixel are evened out.

    Returns
    -------
    list of ndarray of float64, shape (n, 2)
        Places (x, y), whole numbers at pixels' corners, the first not repeated. Filled by the
        even-odd rule they are the mask.

    Notes
    -----
    Marching squares (W. Lorensen and H. Cline, SIGGRAPH 1987) on linearly interpolated coverage
    puts an edge up to .09 px beside where it covers a pixel by a quarter. Along the normal of a
    straight edge the sum of coverage is the length that lies inside; the contour is moved there.
    """
    from skimage.measure import find_contours  # takes a second to load, and is seldom needed

    padded = np.pad(coverage.astype(np.float32) / np.float32(255), _PAD)
    if evened:
        padded = np.asarray(cv2.GaussianBlur(padded, (0, 0), evened), np.float32)
    found = []
    for ring in find_contours(padded, 0.5):
        # Rows before columns, pixel centres at whole numbers.
        places = np.ascontiguousarray(ring[:-1, ::-1])
        if len(places) < 3:
            continue
        for _ in range(2):
            places = _settled(padded, places)
        found.append(places + (0.5 - _PAD))
    return found


@kernel
def _settled(plane: NDArray[np.float32], places: Points) -> Points:
    """Each place moved along its normal to where the edge lies, if it is one edge only."""
    count = len(places)
    out = places.copy()
    height, width = plane.shape
    for k in range(count):
        dx = places[(k + 2) % count, 0] - places[(k - 2) % count, 0]
        dy = places[(k + 2) % count, 1] - places[(k - 2) % count, 1]
        length = np.sqrt(dx * dx + dy * dy)
        if length < 0.5:
            continue
        nx, ny = dy / length, -dx / length
        total = 0.0
        first = last = 0.0
        steady = True
        before = -1.0
        falls = 0.0
        for s in range(_STEPS):
            t = _REACH * ((s + 0.5) / _STEPS * 2 - 1)
            x, y = places[k, 0] + nx * t, places[k, 1] + ny * t
            x0, y0 = int(np.floor(x)), int(np.floor(y))
            if x0 < 0 or y0 < 0 or x0 + 1 >= width or y0 + 1 >= height:
                steady = False
                break
            u, v = x - x0, y - y0
            a = (plane[y0, x0] * (1 - u) + plane[y0, x0 + 1] * u) * (1 - v) \
                + (plane[y0 + 1, x0] * (1 - u) + plane[y0 + 1, x0 + 1] * u) * v
            if s == 0:
                first = a
            last = a
            if before >= 0:
                falls += abs(a - before)
            before = a
            total += a
        if not steady:
            continue
        # One edge: full on one side, empty on the other, and no way there and back.
        inside = max(first, last)
        if inside < _FULL or min(first, last) > _EMPTY or falls > 1.15:
            continue
        filled = total / _STEPS * 2 * _REACH
        shift = filled - _REACH if first > last else _REACH - filled
        shift = max(-_MOST, min(_MOST, shift))
        out[k, 0] += nx * shift
        out[k, 1] += ny * shift
    return out
