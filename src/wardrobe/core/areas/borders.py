"""Borders between the labels of a label map."""

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]


def touching(labels: NDArray[np.integer], largest: int,
             where: NDArray[np.bool_] | None = None) -> tuple[NDArray[np.int64],
                                                              NDArray[np.int64]]:
    """Pairs of labels that touch, and how long their borders are.

    Parameters
    ----------
    labels : ndarray of int, shape (height, width)
    largest : int
        Largest label.
    where : ndarray of bool, same shape, optional
        Count only contacts of which at least one pixel lies here.

    Returns
    -------
    pairs : ndarray of int64, shape (n, 2)
        The smaller label first.
    lengths : ndarray of int64, shape (n,)
        Pixel contacts in rows and columns.
    """
    codes = []
    for first, second in ((np.s_[:, 1:], np.s_[:, :-1]), (np.s_[1:], np.s_[:-1])):
        one, other = labels[first], labels[second]
        meet = one != other
        if where is not None:
            meet &= where[first] | where[second]
        a, b = one[meet].astype(np.int64), other[meet].astype(np.int64)
        codes.append(np.minimum(a, b) * (largest + 1) + np.maximum(a, b))
    pairs, lengths = np.unique(np.concatenate(codes), return_counts=True)
    return np.stack(np.divmod(pairs, largest + 1), axis=1), lengths


@kernel
def count_labels(labels: NDArray[np.uint16], largest: int) -> NDArray[np.int64]:
    """Pixels of each label, shape (largest + 1,)."""
    pixels = np.zeros(largest + 1, np.int64)
    for label in labels.ravel():
        pixels[label] += 1
    return pixels


def spread(labels: Int) -> Int:
    """Give every unlabelled pixel (0) the label that is nearest.

    References
    ----------
    P.-E. Danielsson, "Euclidean distance mapping", Computer Graphics and Image Processing 14,
    1980: offsets to the nearest labelled pixel are handed on in two sweeps of the eight
    neighbours.
    """
    result: Int = _spread(np.ascontiguousarray(labels))
    return result


@kernel
def _spread(labels: Int) -> Int:
    height, width = labels.shape
    out = labels.copy()
    far = np.int32(1 << 14)
    offset = np.zeros((height, width, 2), np.int16)
    square = np.zeros((height, width), np.int32)
    for y in range(height):
        for x in range(width):
            if labels[y, x] == 0:
                square[y, x] = far * far
    for sweep in range(2):
        for step in range(height):
            y = step if sweep == 0 else height - 1 - step
            before = y - 1 if sweep == 0 else y + 1
            for back in range(2):
                for run in range(width):
                    x = run if back == 0 else width - 1 - run
                    if labels[y, x]:
                        continue
                    for k in range(4):
                        v = before if k < 3 else y
                        u = x + k - 1 if k < 3 else (x - 1 if back == 0 else x + 1)
                        if v < 0 or u < 0 or v >= height or u >= width or out[v, u] == 0:
                            continue
                        dy, dx = offset[v, u, 0] + v - y, offset[v, u, 1] + u - x
                        away = np.int32(dy * dy + dx * dx)
                        if away < square[y, x]:
                            square[y, x] = away
                            offset[y, x, 0], offset[y, x, 1] = dy, dx
                            out[y, x] = out[v, u]
    return out
