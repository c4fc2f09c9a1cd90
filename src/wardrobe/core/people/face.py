"""A face among the areas: two alike small shapes side by side, and a wide one below them."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas

Byte = NDArray[np.uint8]
Floats = NDArray[np.float64]

_LEAST = 0.02  # share of the figure that a face has
_GRID = 1000  # px of the longer edge at which it is looked for
# Widths and distances against the face's own width and height.
_EYE_WIDTH = 0.03, 0.42
_EYES_ALIKE = 0.5
_EYES_APART = 0.14, 0.75
_EYES_LEVEL = 0.14
_MOUTH_BELOW = 0.08, 0.75
_MOUTH_ASIDE = 0.22
_MOUTH_WIDTH = 0.08, 0.75
_MOUTH_WIDE = 1.15  # times its height


@dataclass(frozen=True)
class Face:
    """A face.

    Attributes
    ----------
    area : int
        The area of its skin.
    eyes, mouth : tuple of int
        Areas that lie within its eyes and its mouth, if these have any.
    """

    area: int
    eyes: tuple[int, ...]
    mouth: tuple[int, ...]


def find_face(areas: Areas, coverage: Byte) -> Face | None:
    """Look for the likeliest face of a drawing.

    Parameters
    ----------
    areas : Areas
    coverage : ndarray of uint8, shape (height, width)
        Ink.

    Returns
    -------
    Face or None
    """
    step = max(1, max(areas.labels.shape) // _GRID)
    labels = areas.labels[::step, ::step]
    ink = (coverage >= 128).astype(np.uint8)
    if step > 1:
        ink = cv2.dilate(ink, np.ones((step, step), np.uint8))[::step, ::step]
    share = areas.pixels / max(1, int(areas.pixels[~areas.ground].sum()))
    best, found = 0.0, None
    for area in np.flatnonzero(~areas.ground & (share >= _LEAST)).tolist():
        if area == 0:
            continue
        mask = np.ascontiguousarray(labels == area).astype(np.uint8)
        x, y, width, height = cv2.boundingRect(mask)
        box = np.s_[y:y + height, x:x + width]
        shapes = _islands(mask[box], ink[box])
        score, eyes, mouth = _features(shapes, float(width), float(height))
        if score > best:
            best = score
            inside = [tuple(a for a in np.unique(labels[box][_within(shapes, k, mask[box].shape)])
                            .tolist() if a != area and not areas.ground[a]) for k in eyes]
            lips = _within(shapes, mouth, mask[box].shape)
            found = Face(area, (*inside[0], *inside[1]), tuple(
                a for a in np.unique(labels[box][lips]).tolist()
                if a != area and not areas.ground[a]))
    return found


def _islands(mask: Byte, ink: Byte) -> Floats:
    """What lies within an area without touching its outline: rows of x, y, width, height."""
    skin = (mask > 0) & (ink == 0)
    # All that the skin surrounds: what is not skin and not joined to the outside of the area.
    other = np.pad((~skin).astype(np.uint8), 1, constant_values=1)
    cv2.floodFill(other, None, (0, 0), 0)
    _, _, boxes, _ = cv2.connectedComponentsWithStats(other[1:-1, 1:-1], connectivity=8)
    return boxes[1:, :4].astype(np.float64)


def _within(shapes: Floats, number: int, shape: tuple[int, ...]) -> NDArray[np.bool_]:
    x, y, width, height = shapes[number].astype(int).tolist()
    out = np.zeros(shape, bool)
    out[y:y + height, x:x + width] = True
    return out


def _features(shapes: Floats, width: float, height: float) -> tuple[float, tuple[int, int], int]:
    """Score, eyes and mouth of the likeliest face among islands; score 0 if there is none."""
    x, y, w, h = shapes.T if len(shapes) else np.zeros((4, 0))
    cx, cy = x + w / 2, y + h / 2
    eyes = np.flatnonzero((w > _EYE_WIDTH[0] * width) & (w < _EYE_WIDTH[1] * width)
                          & (h < 0.45 * height))
    best: tuple[float, tuple[int, int], int] = 0.0, (0, 0), 0
    for n, i in enumerate(eyes.tolist()):
        for j in eyes[n + 1:].tolist():
            alike = min(w[i], w[j]) / max(w[i], w[j])
            tall = (min(h[i], h[j]) + 2) / (max(h[i], h[j]) + 2)
            apart = abs(cx[i] - cx[j]) / width
            level = abs(cy[i] - cy[j]) / height
            if (alike < _EYES_ALIKE or tall < _EYES_ALIKE - 0.15 or level > _EYES_LEVEL
                    or not _EYES_APART[0] < apart < _EYES_APART[1]
                    or abs(cx[i] - cx[j]) < 0.9 * max(w[i], w[j])):
                continue
            middle, line = (cx[i] + cx[j]) / 2, (cy[i] + cy[j]) / 2
            below, aside = (cy - line) / height, np.abs(cx - middle) / width
            mouth = np.flatnonzero(
                (below > _MOUTH_BELOW[0]) & (below < _MOUTH_BELOW[1]) & (aside < _MOUTH_ASIDE)
                & (w > _MOUTH_WIDTH[0] * width) & (w < _MOUTH_WIDTH[1] * width)
                & (w > _MOUTH_WIDE * h))
            mouth = mouth[(mouth != i) & (mouth != j)]
            if len(mouth):
                k = int(mouth[w[mouth].argmax()])
                score = alike * tall * (1 - level / _EYES_LEVEL) * (1 - aside[k])
                if score > best[0]:
                    best = float(score), (i, j), k
    return best
