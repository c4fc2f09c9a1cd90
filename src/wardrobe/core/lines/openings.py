"""Openings: narrow places in front of the ends of strokes, gaps or not."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.lines.chords import facing, free_length
from wardrobe.core.lines.ends import Ends

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]

_OPPOSING = 0.9  # sine of half the angle between both banks, seen from the middle


@dataclass(frozen=True)
class Openings:
    """One opening a row.

    Attributes
    ----------
    centre : ndarray of float32, shape (n, 2)
        x, y of the middle of the opening.
    banks : ndarray of float32, shape (n, 2, 2)
        x, y of the ink pixels on both banks where it is narrowest; the first is on an end.
    width : ndarray of float32, shape (n,)
        Free length between the banks, px.
    numbers : ndarray of int32, shape (n, 2)
        Number of the stroke's end on each bank; the second is 0 if it is the side of a line.
    """

    centre: Real
    banks: Real
    width: Real
    numbers: Int

    def take(self, rows: NDArray[np.int64]) -> "Openings":
        """Some of the openings."""
        return Openings(self.centre[rows], self.banks[rows], self.width[rows],
                        self.numbers[rows])

    def join(self, other: "Openings") -> "Openings":
        """These openings and others after them."""
        return Openings(np.concatenate([self.centre, other.centre]),
                        np.concatenate([self.banks, other.banks]),
                        np.concatenate([self.width, other.width]),
                        np.concatenate([self.numbers, other.numbers]))


def find_openings(coverage: Byte, distance: Real, nearest: Int, ends: Ends,
                  widest: float) -> Openings:
    """Find where an end faces other ink.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
    distance : ndarray of float32, shape (height, width)
        Distance to ink.
    nearest : ndarray of int32, shape (height, width)
        Flat index of the nearest ink pixel.
    ends : Ends
    widest : float
        Px.

    Returns
    -------
    Openings
    """
    height, width = coverage.shape
    where, first, second, length = facing(distance, nearest, ends.zone, widest, _OPPOSING)
    if len(where) == 0:
        none = np.zeros((0, 2), np.float32)
        return Openings(none, none.reshape(0, 2, 2), none[:, 0], none.astype(np.int32))
    zones = ends.zone.ravel()
    one, two = zones[first], zones[second]
    swap = (two > 0) & (two < one)
    one, two = np.where(swap, two, one), np.where(swap, one, two)
    first, second = np.where(swap, second, first), np.where(swap, first, second)
    # An end that faces several sides has an opening to each: those lie apart on the picture.
    marks = np.zeros(height * width, np.uint8)
    marks[where] = 1
    _, clusters = cv2.connectedComponents(marks.reshape(height, width), connectivity=8)
    cluster = clusters.ravel()[where]
    two = _rejoin(one, two, cluster, length, 0.5 * float(np.median(ends.width[1:])))
    keys = np.stack([one, two, np.where(two > 0, 0, cluster)], axis=1)
    groups, member = np.unique(keys, axis=0, return_inverse=True)
    return _measure(coverage, groups, member.ravel(), _points(first, width),
                    _points(second, width), length, ends)


def _points(flat: Int, width: int) -> NDArray[np.float64]:
    return np.stack([flat % width, flat // width], axis=1).astype(np.float64)


def _rejoin(one: Int, two: Int, cluster: Int, length: Real, slack: float) -> Int:
    """Count the sides right beside a facing end to that end: one opening, not two."""
    pair = two > 0
    keys = one.astype(np.int64) << 32 | cluster.astype(np.int64)
    names, place = np.unique(keys[pair], return_inverse=True)
    if len(names) == 0:
        return two
    least = np.full(len(names), np.inf)
    np.minimum.at(least, place, length[pair])
    partner = np.zeros(len(names), np.int32)
    descending = np.argsort(-length[pair], kind="stable")
    partner[place[descending]] = two[pair][descending]  # the nearest is written last
    at = np.clip(np.searchsorted(names, keys), 0, len(names) - 1)
    joins = ~pair & (names[at] == keys) & (length <= 1.3 * least[at] + slack)
    return np.where(joins, partner[at], two).astype(np.int32)


def _measure(coverage: Byte, groups: Int, member: NDArray[np.int64], first: NDArray[np.float64],
             second: NDArray[np.float64], length: Real, ends: Ends) -> Openings:
    count = len(groups)
    least = np.full(count, np.inf)
    np.minimum.at(least, member, length)
    middle = (first + second) / 2
    # The gap is in the middle of the whole opening, which is not where its corners are nearest.
    across = np.maximum(1.0, 0.8 * ends.width[groups[:, 0]])
    weight = (length <= least[member] + across[member]).astype(np.float64)
    total = np.bincount(member, weight, count)
    centre = np.stack([np.bincount(member, weight * middle[:, k], count) / total for k in (0, 1)],
                      axis=1)
    # It is as wide as it is there, unless a corner narrows it a lot.
    slack = np.maximum(1.0, 0.35 * ends.width[groups[:, 0]])
    off = np.hypot(*(middle - centre[member]).T) + 1e3 * (length > least[member] + slack[member])
    order = np.lexsort((off, member))
    chosen = order[np.searchsorted(member[order], np.arange(count))]
    banks = np.stack([first[chosen], second[chosen]], axis=1).astype(np.float32)
    span = free_length(coverage, banks[:, 0, 0], banks[:, 0, 1], banks[:, 1, 0], banks[:, 1, 1])
    span = np.maximum(span - ends.fade[groups[:, :2]].sum(axis=1), 0.5).astype(np.float32)
    return Openings(centre.astype(np.float32), banks, span, groups[:, :2].astype(np.int32))
