"""Fold a form into plane faces along drawn edges: the three-face rule for blocky things."""

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.form.grid import Grid
from wardrobe.core.form.traits import Edge

Int = NDArray[np.int32]
Real = NDArray[np.float32]

_BOOST = 1.6  # a face's outline says less of its tilt than the box behind it has
_STEEPEST = 0.9
_OVERSHOOT = 2.0  # line widths that an edge is drawn on, to reach the outline


def edge_strokes(edges: Sequence[Edge], group_on_grid: NDArray[np.uint16],
                 grid: Grid) -> NDArray[np.bool_]:
    """Pixels of the grid on which edges lie, each only in the areas that it folds."""
    found = np.zeros(grid.shape, bool)
    for edge in edges:
        line = np.array(edge.points, np.float64).reshape(-1, 2)
        if len(line) < 2:
            continue
        line = (line - (grid.x, grid.y)) * grid.scale - 0.5
        for end, inner in ((0, 1), (-1, -2)):
            way = line[end] - line[inner]
            way *= _OVERSHOOT * grid.line_width / max(1e-6, float(np.hypot(*way)))
            line[end] = line[end] + way
        drawn = np.zeros(grid.shape, np.uint8)
        cv2.polylines(drawn, [np.round(line).astype(np.int32)], False, 1, 1, cv2.LINE_4)
        found |= (drawn > 0) & (group_on_grid == edge.group)
    return found


def fold_flat(labels: Int, areas: NDArray[np.uint16], edges: NDArray[np.bool_],
              folded: NDArray[np.bool_], nx: Real, ny: Real) -> None:
    """Make every face of folded forms a plane, in place.

    Parameters
    ----------
    labels : ndarray of int32, shape (height, width)
        Forms.
    areas : ndarray of uint16, same shape
        A border between areas of a form is an edge too.
    edges : ndarray of bool, same shape
    folded : ndarray of bool, shape (forms + 1,)
    nx, ny : ndarray of float32, shape (height, width)
        Tilt of the form as if it were round: a face gets the mean of its own.
    """
    for label, box in enumerate(ndimage.find_objects(labels), start=1):
        if box is None or not folded[label]:
            continue
        inside = labels[box] == label
        open_ = inside & ~edges[box]
        faces = np.zeros(inside.shape, np.int32)
        count = 0
        for area in np.unique(areas[box][inside]):
            pieces, found = ndimage.label(open_ & (areas[box] == area))
            faces[pieces > 0] = pieces[pieces > 0] + count
            count += found
        if count == 0:
            continue
        nearest = ndimage.distance_transform_edt(faces == 0, return_distances=False,
                                                 return_indices=True)
        faces = faces[tuple(nearest)]
        which = np.arange(1, count + 1)
        tilt = np.stack([ndimage.mean(n[box], np.where(inside, faces, 0), which)
                         for n in (nx, ny)], axis=1) * _BOOST
        tilt *= np.minimum(1, _STEEPEST / np.maximum(1e-6, np.hypot(*tilt.T)))[:, None]
        nx[box][inside] = tilt[faces[inside] - 1, 0]
        ny[box][inside] = tilt[faces[inside] - 1, 1]
