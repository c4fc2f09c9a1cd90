"""Which areas a click or a sweep touches."""

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas
from wardrobe.core.lines.closing import Point


def touched(areas: Areas, strokes: Sequence[Sequence[Point]]) -> NDArray[np.int64]:
    """Areas under strokes.

    Parameters
    ----------
    areas : Areas
    strokes : sequence of sequences of (x, y)
        Picture pixels. A stroke of one point is a click and takes the area there, on ink the
        nearest one; a longer stroke takes the areas that it crosses outside the ink.

    Returns
    -------
    ndarray of int64
        Area numbers, ascending, each once.
    """
    height, width = areas.labels.shape
    found: set[int] = set()
    for stroke in strokes:
        points = np.array(stroke, np.float64).reshape(-1, 2)
        if len(points) == 1:
            x, y = np.floor(points[0]).astype(int)
            if 0 <= x < width and 0 <= y < height:  # what was cropped away is kept, but idle
                found.add(int(areas.labels[y, x]))
            continue
        points = np.clip(points, -1, [width, height]).astype(np.int32)
        x0, y0 = np.maximum(points.min(axis=0), 0)
        x1, y1 = np.minimum(points.max(axis=0) + 1, [width, height])
        if x1 <= x0 or y1 <= y0:
            continue
        path = np.zeros((y1 - y0, x1 - x0), np.uint8)
        cv2.polylines(path, [points - [x0, y0]], False, 1)
        on = (path > 0) & areas.core[y0:y1, x0:x1]
        found.update(np.unique(areas.labels[y0:y1, x0:x1][on]).tolist())
    return np.array(sorted(found - {0}), np.int64)
