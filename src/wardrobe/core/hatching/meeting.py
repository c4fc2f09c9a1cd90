"""How segments go on as one another where they meet."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.basins import find
from wardrobe.core.kernel import kernel

Int = NDArray[np.int32]
Long = NDArray[np.int64]
Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

FREE, CROSSED, BESIDE_STEM, ALONE, STEM = range(5)
_STRAIGHT = 0.86  # cosine from which two segments at a junction are one stroke
MOST_MET = 48  # ends at one junction, above which it is a thicket in which nothing goes on


@dataclass(frozen=True)
class Meeting:
    """Strokes, and the part that each end of a segment plays.

    Attributes
    ----------
    stroke : ndarray of int32, shape (count + 1,)
        The same number for segments that go on as one another.
    mate : ndarray of int64, shape (count + 1, 2)
        2 s + j of the end that an end goes on as: end j of segment s; 0 for none.
    part : ndarray of int8, shape (count + 1, 2)
        FREE; goes on and is CROSSED; goes on BESIDE_STEM of another; goes on ALONE; or is the
        STEM, which stops there.
    wider : ndarray of float64, shape (count + 1,)
        Width of the widest other stroke that is met, px; 0 for none.
    """

    stroke: Int
    mate: Long
    part: NDArray[np.int8]
    wider: Floats


def meet(ends: Int, tips: Int, tangents: Floats, width: Floats, live: Mask) -> Meeting:
    """Pair segments at their junctions, the straightest pair first.

    Parameters
    ----------
    ends, tips, tangents
        As of :class:`Segments` and :class:`Sizes`.
    width : ndarray of float64, shape (count + 1,)
    live : ndarray of bool, shape (count + 1,)
        Segments that count.
    """
    nodes, count = int(ends.max(initial=0)), len(ends) - 1
    at, who = _ends_by_node(ends, live, nodes, count)
    mate, part, parent = _pair(tips, tangents, at, who, nodes, count, _STRAIGHT, MOST_MET)
    wider = _widest_met(at, who, width, parent, nodes, count, MOST_MET)
    return Meeting(parent, mate, part, wider)


@kernel
def _ends_by_node(ends: Int, live: Mask, nodes: int, count: int) -> tuple[Long, Long]:
    """Where each junction's ends begin in a list of them, and that list: 2 s + j."""
    degree = np.zeros(nodes + 2, np.int64)
    for s in range(1, count + 1):
        if live[s]:
            for j in range(2):
                degree[ends[s, j]] += 1
    at = np.zeros(nodes + 2, np.int64)
    for n in range(1, nodes + 1):
        at[n + 1] = at[n] + degree[n]
    fill = at.copy()
    who = np.zeros(at[nodes + 1] + 1, np.int64)
    for s in range(1, count + 1):
        if live[s]:
            for j in range(2):
                n = ends[s, j]
                if n:
                    who[fill[n]] = 2 * s + j
                    fill[n] += 1
    return at, who


@kernel
def _pair(tips: Int, tangents: Floats, at: Long, who: Long, nodes: int, count: int,
          straight: float, most: int) -> tuple[Long, NDArray[np.int8], Int]:
    mate = np.zeros((count + 1, 2), np.int64)
    part = np.zeros((count + 1, 2), np.int8)
    parent = np.arange(count + 1).astype(np.int32)
    for n in range(1, nodes + 1):
        degree = at[n + 1] - at[n]
        pairs = 0
        used = np.zeros(degree, np.uint8)
        while degree <= most:
            best, one, two = straight, -1, -1
            for i in range(degree):
                if used[i]:
                    continue
                for j in range(i + 1, degree):
                    if used[j]:
                        continue
                    e, f = who[at[n] + i], who[at[n] + j]
                    if e // 2 == f // 2:
                        continue
                    ex, ey = tangents[e // 2, e % 2]
                    fx, fy = tangents[f // 2, f % 2]
                    c = -(ex * fx + ey * fy)
                    # Junctions of dense strokes run together: one end must lie ahead of the other.
                    dy = float(tips[f // 2, f % 2, 0] - tips[e // 2, e % 2, 0])
                    dx = float(tips[f // 2, f % 2, 1] - tips[e // 2, e % 2, 1])
                    d = np.hypot(dx, dy)
                    if d > 4:
                        c = min(c, -(ex * dx + ey * dy) / d, (fx * dx + fy * dy) / d)
                    if c > best:
                        best, one, two = c, i, j
            if one < 0:
                break
            used[one] = used[two] = 1
            pairs += 1
            e, f = who[at[n] + one], who[at[n] + two]
            mate[e // 2, e % 2], mate[f // 2, f % 2] = f, e
            a, b = find(parent, e // 2), find(parent, f // 2)
            if a != b:
                parent[a] = b
        for i in range(degree):
            e = who[at[n] + i]
            if not used[i]:
                part[e // 2, e % 2] = STEM
            elif pairs > 1:
                part[e // 2, e % 2] = CROSSED
            else:
                part[e // 2, e % 2] = BESIDE_STEM if degree > 2 else ALONE
    for s in range(1, count + 1):
        parent[s] = find(parent, s)
    return mate, part, parent


@kernel
def _widest_met(at: Long, who: Long, width: Floats, stroke: Int, nodes: int, count: int,
                most: int) -> Floats:
    out = np.zeros(count + 1)
    for n in range(1, nodes + 1):
        if at[n + 1] - at[n] > most:
            continue
        for i in range(at[n], at[n + 1]):
            s = who[i] // 2
            for j in range(at[n], at[n + 1]):
                other = who[j] // 2
                if stroke[other] != stroke[s] and width[other] > out[s]:
                    out[s] = width[other]
    return out
