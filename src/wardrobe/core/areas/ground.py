"""Which areas show the ground: the outside, and holes that are seen through."""

import cv2
import numpy as np
from numpy.typing import NDArray


def outside_and_holes(labels: NDArray[np.uint16],
                      pixels: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Recognise the ground.

    Outside is what reaches the top edge of the picture, or holds most of its border; a figure
    that the lower edge cuts off stays a figure. See-through is an enclosed area that bends
    inwards on most of its sides, as the ground does in the crook of an arm: its outline is made
    of other shapes' bulges, so it fills little of its convex hull.

    Parameters
    ----------
    labels : ndarray of uint16, shape (height, width)
    pixels : ndarray of int64, shape (count + 1,)

    Returns
    -------
    ndarray of bool, shape (count + 1,)
    """
    count = len(pixels) - 1
    border = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    share = np.bincount(border, minlength=count + 1) / border.size
    top = np.bincount(labels[0], minlength=count + 1) / labels.shape[1]
    corners = np.isin(np.arange(count + 1), [labels[0, 0], labels[0, -1]])
    ground = (share > 0.3) | (corners & (share > 0.02)) | (top > 0.25)
    touching = share > 0
    for area in np.flatnonzero(~touching):
        if area > 0 and pixels[area] > 2e-4 * labels.size and _is_hole(labels, int(area), ground):
            ground[area] = True
    ground[0] = False
    return ground


def _is_hole(labels: NDArray[np.uint16], area: int, ground: NDArray[np.bool_]) -> bool:
    step = max(1, max(labels.shape) // 900)
    mask = np.pad((labels[::step, ::step] == area).astype(np.uint8), 1)
    ys, xs = np.nonzero(mask)
    if len(ys) < 40:
        return False
    mask = mask[ys.min() - 1:ys.max() + 2, xs.min() - 1:xs.max() + 2]
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    outline = max(contours, key=len)
    area_px = cv2.contourArea(outline)
    hull = cv2.contourArea(cv2.convexHull(outline))
    corners = cv2.approxPolyDP(outline, 0.06 * cv2.arcLength(outline, True), True)
    # Three pointed corners with hollow sides between: nothing solid is drawn like that.
    return len(corners) == 3 and area_px < 0.55 * hull
