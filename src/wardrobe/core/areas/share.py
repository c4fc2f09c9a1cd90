"""Share out a drawing, or one area of it, among clicks."""

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import spread, touching
from wardrobe.core.areas.flood import flood, uphill
from wardrobe.core.lines.closing import Point
from wardrobe.core.lines.gaps import Closures, find_closures
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]

_THICK_ENOUGH = 3.5  # px, for stroke ends to be told from sides
_STEPS = 8  # levels of the flood per pixel of distance
# How much of its width an opening keeps: the likelier a line is missing there, the less.
_UNLIKELY, _LIKELY = 0.5, 0.05
# A click well below a peak was put beside a line inside its area, and climbs, unless another
# click gets to that peak by a way at least this wide against the peak; the outside, which lies
# beside every outline, counts from less.
_NEAR_PEAK = 0.8
_OWNED, _OWNED_BY_GROUND = 0.6, 0.15


def share_drawing(coverage: Byte, clicks: Sequence[Point], labels: Sequence[int],
                  ground: int = 0) -> Int:
    """Give every pixel of a drawing to one of several clicks.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        Ink coverage; 128 and more is ink.
    clicks, labels, ground
        As for :func:`share_out`.

    Returns
    -------
    ndarray of int32, same shape
        Ink goes to the nearest area, and what no click gets to to a neighbour. Where lines are
        thick, the drawing is shared out at half its size.
    """
    scale = 1
    small = cv2.resize(coverage, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    if min(small.shape) > 32 and line_width(small) >= _THICK_ENOUGH:
        scale = 2
    else:
        small = coverage
    free = (small < 128).astype(np.uint8)
    shared = share_out(free, [(x / scale, y / scale) for x, y in clicks], labels,
                       find_closures(small), ground)
    whole = adopt(shared, free, ground)
    if scale == 1:
        return whole
    return cv2.resize(whole, coverage.shape[::-1], interpolation=cv2.INTER_NEAREST)


def share_out(free: Byte, clicks: Sequence[Point], labels: Sequence[int],
              closures: Closures | None = None, ground: int = 0) -> Int:
    """Give every free pixel to one of several clicks.

    Each pixel goes to the click that reaches it by the widest way. Where a line seems to be
    missing, the way counts as narrower than it is, so that areas part there, along the stroke
    that a person would draw.

    Parameters
    ----------
    free : ndarray of uint8, shape (height, width)
        1 where there is no ink; what lies beyond the edge counts as ink.
    clicks : sequence of (x, y)
        Picture pixels; a click on ink counts for the nearest free pixel.
    labels : sequence of int
        What to write for each click, from 1; several clicks may share one.
    closures : Closures, optional
        Lines that may be missing.
    ground : int
        Label of the outside, if it is among them.

    Returns
    -------
    ndarray of int32, same shape
        0 on ink and where no click gets to.
    """
    framed = cv2.copyMakeBorder(free, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    distance = cv2.distanceTransform(framed, cv2.DIST_L2, 5)
    passable = distance.copy()
    if closures is not None:
        for k in np.argsort(closures.chance, kind="stable"):
            _narrow(passable, distance, closures.pixels(int(k)) + 1,
                    _UNLIKELY - (_UNLIKELY - _LIKELY) * float(closures.chance[k]))
    room = np.maximum(np.minimum(_STEPS * passable, 65535).astype(np.uint16), framed)
    seeds, names = _on_free(framed, [(x + 1, y + 1) for x, y in clicks], labels)
    shared, way = np.zeros(room.shape, np.int32), np.empty(room.shape, np.uint16)
    shared.ravel()[seeds] = names
    flood(room, seeds, shared, way)

    marked = np.zeros(room.size, np.int32)
    marked[seeds] = names
    more: list[Int] = []
    for seed, name in zip(seeds.tolist(), names.tolist(), strict=True):
        path = uphill(distance, passable, seed)
        peak = path[-1]
        holder = int(shared.ravel()[peak])
        if holder == name or distance.ravel()[seed] >= _NEAR_PEAK * distance.ravel()[peak]:
            continue
        owned = _OWNED_BY_GROUND if holder == ground else _OWNED
        if holder and way.ravel()[peak] >= owned * room.ravel()[peak]:
            continue
        taken = np.flatnonzero((marked[path] != 0) & (marked[path] != name))
        path = path[1:taken[0]] if len(taken) else path[1:]
        path = path[marked[path] == 0]
        marked[path] = name
        more.append(path)
    if more:
        shared = marked.reshape(room.shape)
        flood(room, np.concatenate([seeds, *more]).astype(np.int32), shared, way)
    return np.ascontiguousarray(shared[1:-1, 1:-1])


def _narrow(passable: Real, distance: Real, curve: NDArray[np.int32], keeps: float) -> None:
    """Let a share of the distance be the room along a curve."""
    height, width = distance.shape
    low = np.clip(curve.min(axis=(0, 1)), 0, [width - 1, height - 1])
    high = np.clip(curve.max(axis=(0, 1)), 0, [width - 1, height - 1]) + 1
    where = np.s_[low[1]:high[1], low[0]:high[0]]
    on = np.zeros((high[1] - low[1], high[0] - low[0]), np.uint8)
    cv2.polylines(on, [curve - low.astype(np.int32)], False, 1, 1)
    cv2.copyTo(keeps * distance[where], on, passable[where])


def other_lobe(free: Byte, click: Point) -> Point:
    """Where an area is wide, but reached from a click only through a narrow place.

    Parameters
    ----------
    free : ndarray of uint8, shape (height, width)
        1 in the area.
    click : (x, y)

    Returns
    -------
    (x, y)
        The middle of what a line across the narrowest place would part from the click.
    """
    framed = cv2.copyMakeBorder(free, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    distance = cv2.distanceTransform(framed, cv2.DIST_L2, 5)
    room = np.maximum(np.minimum(_STEPS * distance, 65535).astype(np.uint16), framed)
    seeds, _ = _on_free(framed, [(click[0] + 1, click[1] + 1)], [1])
    peak = uphill(distance, distance, int(seeds[0]))[-1:]  # the click's own nook is no neck
    reached, way = np.zeros(room.shape, np.int32), np.zeros(room.shape, np.uint16)
    reached.ravel()[peak] = 1
    flood(room, peak, reached, way)
    y, x = np.unravel_index(int((room - way).argmax()), room.shape)
    return float(x) - 0.5, float(y) - 0.5


def adopt(shared: Int, free: Byte, ground: int = 0) -> Int:
    """Give areas that no click gets to, whole, to a neighbour.

    It is the neighbour most of whose border they make up, so that a window joins the pane
    beside it rather than the wall; the outside only where there is no other.

    Parameters
    ----------
    shared : ndarray of int32, shape (height, width)
        As :func:`share_out` gives it.
    free : ndarray of uint8, same shape
    ground : int
        Label of the outside.

    Returns
    -------
    ndarray of int32, same shape
        Ink goes to the nearest area, so that areas meet under the middle of the line.
    """
    first = int(shared.max()) + 1
    count, pieces = cv2.connectedComponents(((free > 0) & (shared == 0)).astype(np.uint8),
                                            connectivity=4)
    whole = spread(np.where(pieces > 0, pieces + first - 1, shared).astype(np.int32))
    if count == 1:
        return whole
    owner = np.arange(first + count - 1)
    pairs, lengths = touching(whole, first + count - 2)
    both = np.concatenate([pairs, pairs[:, ::-1]])
    lengths = np.concatenate([lengths, lengths])
    perimeter = np.bincount(both[:, 0], lengths, len(owner))
    waiting = np.arange(first, len(owner))
    while len(waiting):
        mine, theirs = both[:, 0], owner[both[:, 1]]
        ready = np.isin(mine, waiting) & (theirs < first) & (theirs > 0) & (theirs != ground)
        if not ready.any():
            owner[waiting] = ground
            break
        share = lengths[ready] / perimeter[both[ready, 1]]
        votes = np.zeros((len(owner), first))
        np.add.at(votes, (mine[ready], theirs[ready]), share)
        chosen = waiting[votes[waiting].max(axis=1) > 0]
        owner[chosen] = votes[chosen].argmax(axis=1)
        waiting = np.setdiff1d(waiting, chosen)
    result: Int = owner.astype(np.int32)[whole]
    return result


def _on_free(free: Byte, clicks: Sequence[Point],
             labels: Sequence[int]) -> tuple[Int, Int]:
    """Flat index of the free pixel at or nearest to each click, each once, and its label."""
    height, width = free.shape
    at = np.clip(np.floor(np.array(clicks, np.float64).reshape(-1, 2)).astype(np.int64), 0,
                 [width - 1, height - 1])
    names = np.array(labels, np.int32)
    on_ink = np.flatnonzero(free[at[:, 1], at[:, 0]] == 0)
    if len(on_ink):
        ys, xs = np.nonzero(free)
        if len(ys) == 0:
            return np.zeros(0, np.int32), np.zeros(0, np.int32)
        for k in on_ink:
            near = int(np.argmin((xs - at[k, 0]) ** 2 + (ys - at[k, 1]) ** 2))
            at[k] = xs[near], ys[near]
    flat = (at[:, 1] * width + at[:, 0]).astype(np.int32)
    _, once = np.unique(flat, return_index=True)
    return flat[once], names[once]
