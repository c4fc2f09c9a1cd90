"""Several pictures on one sheet, each with a line to be cut out along."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.contours import contours
from wardrobe.core.geometry.curves import fitted
from wardrobe.core.paper.layout import NoRoomError, Paper, Rect

Byte = NDArray[np.uint8]
Points = NDArray[np.float64]

_TRIES = 40  # halvings on the way to the largest scale
_TOLERANCE = 0.15  # px that a cut line may lie off the grown silhouette


def pack(paper: Paper, sizes: Sequence[tuple[float, float]], gap: float,
         largest: float = 1e6) -> list[Rect]:
    """Rectangles for pictures in rows, in their order, all at the one scale that is the largest.

    Parameters
    ----------
    paper : Paper
    sizes : sequence of (width, height)
        In any unit, the same for all.
    gap : float
        mm between two, and around each.
    largest : float
        mm of the longest edge of any.

    Returns
    -------
    list of (x, y, width, height)
        mm from the upper left corner of the trimmed sheet; rows stand in the middle.

    Raises
    ------
    NoRoomError
        If they would be smaller than a millimetre.
    """
    room = paper.width - 2 * paper.margin, paper.height - 2 * paper.margin
    most = min(largest / max(max(size) for size in sizes),
               *(room[k] / max(size[k] for size in sizes) for k in (0, 1)))
    low, high = 0.0, max(0.0, most)
    best: list[Rect] = []
    for turn in range(_TRIES):
        scale = high if turn == 0 else (low + high) / 2
        found = _rows(room, [(w * scale, h * scale) for w, h in sizes], gap)
        if found is None:
            high = scale
            continue
        best, low = found, scale
        if turn == 0:
            break
    if not best or max(max(r[2:]) for r in best) < 1:
        raise NoRoomError("So many pictures do not fit on this sheet. Take fewer, a larger sheet, "
                          "or smaller gaps.")
    return [(x + paper.margin, y + paper.margin, w, h) for x, y, w, h in best]


def _rows(room: tuple[float, float], sizes: Sequence[tuple[float, float]],
          gap: float) -> list[Rect] | None:
    """In rows from the top, each in the middle; None if they do not fit."""
    rows: list[list[tuple[float, float]]] = [[]]
    reach = 0.0
    for w, h in sizes:
        if w > room[0] or h > room[1]:
            return None
        if rows[-1] and reach + gap + w > room[0] + 1e-9:
            rows.append([])
        reach = w if not rows[-1] else reach + gap + w
        rows[-1].append((w, h))
    heights = [max(h for _, h in row) for row in rows]
    total = sum(heights) + gap * (len(rows) - 1)
    if total > room[1] + 1e-9:
        return None
    found: list[Rect] = []
    y = (room[1] - total) / 2
    for row, high in zip(rows, heights, strict=True):
        x = (room[0] - sum(w for w, _ in row) - gap * (len(row) - 1)) / 2
        for w, h in row:
            found.append((x, y + (high - h) / 2, w, h))
            x += w + gap
        y += high + gap
    return found


@dataclass(frozen=True, eq=False)
class Sticker:
    """A figure with a border: its pixels, and the lines to cut along.

    Attributes
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
    cut : list of ndarray of float64, shape (n, 4, 2)
        Closed lines of cubic curves, px.
    """

    rgba: Byte
    cut: list[Points]


def sticker(rgba: Byte, border: int, colour: tuple[int, int, int] = (255, 255, 255)) -> Sticker:
    """A figure on a border that its silhouette grows by.

    Parameters
    ----------
    rgba : ndarray of uint8, shape (height, width, 4)
        Straight alpha.
    border : int
        px.
    colour : (int, int, int)

    Returns
    -------
    Sticker
        Larger by the border and a pixel on each side; holes that the border fills are no holes.
    """
    wide = np.pad(rgba, ((border + 2,) * 2, (border + 2,) * 2, (0, 0)))
    inside = wide[..., 3] >= 128
    away = cv2.distanceTransform((~inside).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    # Distances are between middles of pixels: half a pixel lies inside, half is at the edge.
    cover = np.clip((border + 1 - away) * 255, 0, 255).astype(np.uint8)
    cover = _without_specks(cover, border)
    figure = wide[..., 3:].astype(np.float32) / 255
    out = np.empty_like(wide)
    out[..., :3] = np.round(wide[..., :3] * figure + np.array(colour) * (1 - figure))
    out[..., 3] = np.maximum(cover, wide[..., 3])
    cut = [fitted(ring, _TOLERANCE) for ring in contours(cover, 1.0)]
    return Sticker(out, [curves for curves in cut if len(curves)])


def _without_specks(cover: Byte, border: int) -> Byte:
    """Holes that are no wider than the border twice are not cut."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats((cover < 128).astype(np.uint8),
                                                               connectivity=4)
    least = max(16, (2 * border)**2)
    small = [k for k in range(1, count) if stats[k, cv2.CC_STAT_AREA] < least]
    if small:
        cover[cv2.dilate(np.isin(labels, small).astype(np.uint8), np.ones((3, 3))) > 0] = 255
    return cover
