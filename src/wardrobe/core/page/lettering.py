"""What is lettered on a page, and the balloons and boxes that it stands in."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Points = NDArray[np.float64]

_EDGE = 2400  # px of the longer edge at which letters are looked for
_TALLEST, _SMALLEST = 0.03, 0.0035  # of the page's longer edge
_ALIKE = 1.7  # times that letters of a line may differ in height
_NEAR = 1.1  # letter heights between letters of a word, and between words
_LINES = 1.3  # letter heights between lines
_LEAST = 3  # letters that make a block
_LARGEST = 0.14  # of the page that a balloon takes
_CONVEX = 0.72  # share of its hull that a balloon fills
_WIDE = 0.4  # of their height that letters are wide on average; strokes of hatching are not
_EVEN = 0.42  # by which heights of letters differ at most, standard deviation to mean


@dataclass(frozen=True)
class Lettering:
    """What is lettered.

    Attributes
    ----------
    letters : ndarray of bool, shape (height, width)
        Ink that is letters.
    balloons : list of ndarray of float64, shape (n, 2)
        Outlines of what the letters stand in, px: paper, inside of its line.
    """

    letters: Mask
    balloons: list[Points]


def find_lettering(coverage: Byte) -> Lettering:
    """Tell letters from drawing, and find the balloons around them.

    Letters are small pieces of ink of about one height that stand in rows; a balloon is the paper
    around a block of them where it is closed, small, and nearly convex.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        Ink.

    References
    ----------
    Components grouped by size and place, after L. A. Fletcher and R. Kasturi, "A robust algorithm
    for text string separation from mixed text/graphics images", IEEE PAMI 10, 1988.
    """
    scale = min(1.0, _EDGE / max(coverage.shape))
    size = (max(1, round(coverage.shape[1] * scale)), max(1, round(coverage.shape[0] * scale)))
    small = cv2.resize(coverage, size, interpolation=cv2.INTER_AREA) if scale < 1 else coverage
    ink = (small >= 110).astype(np.uint8)
    count, pieces, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    longest = max(ink.shape)
    x, y, w, h, pixels = stats.T
    candidate = (h >= _SMALLEST * longest) & (h <= _TALLEST * longest) & (w <= 1.6 * h) \
        & (w >= 0.08 * h) & (pixels >= 0.12 * w * h) & (np.arange(count) > 0)
    blocks = _blocks(np.flatnonzero(candidate), x, y, w, h)
    _, free, free_stats, _ = cv2.connectedComponentsWithStats(1 - ink, connectivity=4)
    letters = np.zeros(count, bool)
    balloons: dict[int, Points] = {}
    for block in blocks:
        paper = _paper_around(block, pieces, free, x, y, w, h)
        found = _balloon(paper, free, free_stats, block, x, y, w, h) if paper else None
        if found is not None:
            balloons[paper] = found
            inside = _pieces_inside(found, pieces, x, y, w, h, longest)
            letters[inside] = True
        elif len(block) >= 2 * _LEAST and _standing_free(block, x, y, w, h):
            letters[block] = True
    whole = letters[pieces].astype(np.uint8)
    if scale < 1:
        grown = cv2.dilate(whole, np.ones((3, 3), np.uint8))
        whole = cv2.resize(grown, coverage.shape[::-1], interpolation=cv2.INTER_NEAREST)
    return Lettering((whole > 0) & (coverage > 0), [b / scale for b in balloons.values()])


def _blocks(some: NDArray[np.int64], x: NDArray[np.int32], y: NDArray[np.int32],
            w: NDArray[np.int32], h: NDArray[np.int32]) -> list[NDArray[np.int64]]:
    """Pieces that stand in rows, as letters do: joined where they are near and alike."""
    if len(some) < 2:
        return []
    order = some[np.argsort(y[some], kind="stable")]
    parent = {int(k): int(k) for k in order}

    def root(k: int) -> int:
        while parent[k] != k:
            parent[k] = parent[parent[k]]
            k = parent[k]
        return k

    tallest = int(h[order].max())
    tops = y[order]
    for i, k in enumerate(order.tolist()):
        stop = int(np.searchsorted(tops, y[k] + h[k] * (1 + _LINES) + tallest * 0.5, "right"))
        j = order[i + 1:stop]
        high = np.maximum(h[k], h[j])
        alike = high <= _ALIKE * np.minimum(h[k], h[j])
        gap_x = np.maximum(x[k], x[j]) - np.minimum(x[k] + w[k], x[j] + w[j])
        gap_y = np.maximum(y[k], y[j]) - np.minimum(y[k] + h[k], y[j] + h[j])
        beside = (gap_x <= _NEAR * high) & (gap_y <= -0.5 * np.minimum(h[k], h[j]))
        below = (gap_x <= 0.2 * high) & (gap_y <= _LINES * high)
        for other in j[alike & (beside | below)].tolist():
            parent[root(other)] = root(k)
    groups: dict[int, list[int]] = {}
    for k in parent:
        groups.setdefault(root(k), []).append(k)
    return [np.array(g) for g in groups.values()
            if len(g) >= _LEAST and np.std(h[g]) <= _EVEN * np.mean(h[g])
            and np.mean(w[g] / h[g]) >= _WIDE]


def _paper_around(block: NDArray[np.int64], pieces: NDArray[np.int32], free: NDArray[np.int32],
                  x: NDArray[np.int32], y: NDArray[np.int32], w: NDArray[np.int32],
                  h: NDArray[np.int32]) -> int:
    """Number of the paper that most letters of a block stand on."""
    votes: list[int] = []
    height, width = free.shape
    for k in block.tolist():
        top, left = max(0, y[k] - 1), max(0, x[k] - 1)
        for at in ((top, left), (top, min(width - 1, x[k] + w[k])),
                   (min(height - 1, y[k] + h[k]), left)):
            if free[at]:
                votes.append(int(free[at]))
    return int(np.bincount(votes).argmax()) if votes else 0


def _balloon(paper: int, free: NDArray[np.int32], stats: NDArray[np.int32],
             block: NDArray[np.int64], x: NDArray[np.int32], y: NDArray[np.int32],
             w: NDArray[np.int32], h: NDArray[np.int32]) -> Points | None:
    """The outline of paper that letters stand on, if it is a balloon."""
    left, top, wide, high = stats[paper, :4].tolist()
    if wide * high > _LARGEST * free.size or left == 0 or top == 0 \
            or left + wide == free.shape[1] or top + high == free.shape[0]:
        return None
    mine = np.pad((free[top:top + high, left:left + wide] == paper).astype(np.uint8), 1)
    contours, _ = cv2.findContours(mine, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    outline = max(contours, key=cv2.contourArea)
    area = cv2.contourArea(outline)
    if area < _CONVEX * cv2.contourArea(cv2.convexHull(outline)):
        return None
    text = float((w[block] * h[block]).sum())
    if not 0.03 < text / max(1.0, area) < 0.85:
        return None
    found: Points = outline.reshape(-1, 2).astype(np.float64) + np.array([left, top]) - 0.5
    return found


def _pieces_inside(outline: Points, pieces: NDArray[np.int32], x: NDArray[np.int32],
                   y: NDArray[np.int32], w: NDArray[np.int32], h: NDArray[np.int32],
                   longest: int) -> NDArray[np.int64]:
    """All pieces of ink that lie within a balloon."""
    low, high = np.floor(outline.min(axis=0)).astype(int), np.ceil(outline.max(axis=0)).astype(int)
    mask = np.zeros((high[1] - low[1] + 1, high[0] - low[0] + 1), np.uint8)
    cv2.fillPoly(mask, [np.floor(outline - low).astype(np.int32)], 1)
    mask = cv2.erode(mask, np.ones((3, 3), np.uint8))
    found = np.unique(pieces[low[1]:high[1] + 1, low[0]:high[0] + 1][mask > 0])
    within = (x[found] >= low[0]) & (y[found] >= low[1]) & (x[found] + w[found] <= high[0] + 1) \
        & (y[found] + h[found] <= high[1] + 1) & (found > 0)
    return found[within].astype(np.int64)


def _standing_free(block: NDArray[np.int64], x: NDArray[np.int32], y: NDArray[np.int32],
                   w: NDArray[np.int32], h: NDArray[np.int32]) -> bool:
    """Whether letters without a balloon stand in straight rows of even letters."""
    bottoms = np.sort((y + h)[block])
    rows = np.split(bottoms, np.flatnonzero(np.diff(bottoms) > 0.35 * np.mean(h[block])) + 1)
    return bool(np.std(h[block]) < 0.22 * np.mean(h[block])
                and np.mean([len(r) for r in rows]) >= _LEAST + 1)
