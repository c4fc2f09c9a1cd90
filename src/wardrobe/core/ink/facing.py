"""How far lines face the light."""

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.form import Form
from wardrobe.core.kernel import kernel
from wardrobe.core.light.rig import KeyLight

Real = NDArray[np.float32]
Byte = NDArray[np.uint8]

_AWAY, _TOWARDS = -0.3, 0.75  # N.L at which a line faces the light not at all, and fully
_REACH = 2.0  # line widths around a border in which the form in front decides


def line_facing(form: Form, depth: NDArray[np.floating[Any]], key: KeyLight) -> Real:
    """How far a line would face the light, if there were one, at each place of the form's grid.

    Parameters
    ----------
    form : Form
    depth : ndarray of float, shape (forms + 1,)
        How far in front each form lies; the ground's must be the smallest.
    key : KeyLight

    Returns
    -------
    ndarray of float32, shape (height, width), 0..1
        Along a border that of the form in front, whose edge the line is.
    """
    received = np.clip((form.normals @ key.vector() - _AWAY) / (_TOWARDS - _AWAY), 0, 1)
    labels = np.ascontiguousarray(form.labels)
    values, border = _front_side(labels, received.astype(np.float32),
                                 np.asarray(depth, np.float32))
    if not border.any():
        return received.astype(np.float32)
    away, nearest = cv2.distanceTransformWithLabels(
        (~border).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    at = np.zeros(int(nearest.max()) + 1, np.float32)
    at[nearest[border]] = values[border]
    reach = _REACH * max(1.0, form.grid.line_width)
    told = np.where((away <= reach) | (labels == 0), at[nearest], received).astype(np.float32)
    # Small forms turn within a line's width; lines do not.
    smooth: Real = cv2.GaussianBlur(told, (0, 0), max(1.0, form.grid.line_width))
    return smooth


@kernel
def _front_side(labels: NDArray[np.int32], received: Real,
                depth: Real) -> tuple[Real, NDArray[np.bool_]]:
    """What the form in front receives along borders, and where they are."""
    height, width = labels.shape
    values, border = np.zeros((height, width), np.float32), np.zeros((height, width), np.bool_)
    for y in range(height):
        for x in range(width):
            for k in range(2):
                v, u = (y, x + 1) if k == 0 else (y + 1, x)
                if v >= height or u >= width or labels[v, u] == labels[y, x]:
                    continue
                value = received[y, x] if depth[labels[y, x]] >= depth[labels[v, u]] \
                    else received[v, u]
                values[y, x], values[v, u] = value, value
                border[y, x], border[v, u] = True, True
    return values, border


def facing_seen(facing: Real, form: Form, x: float, y: float, scale: float,
                shape: tuple[int, int]) -> Byte:
    """The facing of a view, 0..255.

    Parameters
    ----------
    facing : ndarray of float32
        As :func:`line_facing` gives it.
    form : Form
    x, y, scale : float
        The view's corner in picture pixels, and its pixels per picture pixel.
    shape : (int, int)
    """
    grid = form.grid
    step = grid.scale / scale
    back = np.array([[step, 0, (x - grid.x) * grid.scale + step / 2 - 0.5],
                     [0, step, (y - grid.y) * grid.scale + step / 2 - 0.5]])
    seen: Byte = cv2.warpAffine(
        np.floor(facing * 255 + 0.5).astype(np.uint8), back, shape[::-1],
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE)
    return seen
