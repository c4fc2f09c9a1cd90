"""Change a cut by hand: split an area, join areas, share one out. Each touches one place only."""

from collections.abc import Sequence
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import spread
from wardrobe.core.areas.segment import MAX_AREAS, Areas
from wardrobe.core.areas.share import adopt, other_lobe, share_out
from wardrobe.core.lines.closing import Point, curve_pixels
from wardrobe.core.lines.gaps import Closures

Int = NDArray[np.int32]
Box = tuple[slice, slice]

_NEAR_EDGE = 0.06  # of the longer edge
_REACH = 3.0  # line widths that a stroke's ends go on to meet a line
_LARGE = 1_500_000  # pixels of a box from which an area is shared out at half its size


def area_at(areas: Areas, point: Point) -> int:
    """The area under a point; the nearest pixel's if it lies beside the picture."""
    height, width = areas.labels.shape
    x, y = min(max(int(point[0]), 0), width - 1), min(max(int(point[1]), 0), height - 1)
    return int(areas.labels[y, x])


def split(areas: Areas, stroke: Sequence[Point], behind: bool = False) -> Areas:
    """Part every area that a stroke cuts through.

    Parameters
    ----------
    areas : Areas
    stroke : sequence of (x, y)
        Picture pixels; its ends go on for up to 3 line widths until they meet a line.
    behind : bool
        It runs behind the figure, as a horizon does: only ground is parted, and ends near the
        edge of the picture go on to it.

    Returns
    -------
    Areas
        The largest piece keeps the area's number; the same object if nothing is parted.
    """
    height, width = areas.labels.shape
    edge = _NEAR_EDGE * max(height, width) if behind else 0
    path = curve_pixels(_reaching(areas, stroke, edge))
    low = np.clip(path.min(axis=(0, 1)), 0, [width - 1, height - 1])
    high = np.clip(path.max(axis=(0, 1)), 0, [width - 1, height - 1]) + 1
    near = np.s_[low[1]:high[1], low[0]:high[0]]
    on = np.zeros((high[1] - low[1], high[0] - low[0]), np.uint8)
    cv2.polylines(on, [path - low.astype(np.int32)], False, 1, 1)
    crossed = np.unique(areas.labels[near][(on > 0) & areas.core[near]])
    least = max(12.0, areas.line_width**2)
    for area in crossed.tolist():
        if behind and not areas.ground[area]:
            continue
        box = _box(areas, area)
        free = ((areas.labels[box] == area) & areas.core[box]).astype(np.uint8)
        corner = np.array([box[1].start, box[0].start], np.int32)
        cv2.polylines(free, [path - corner], False, 0, 1)
        count, pieces, stats, _ = cv2.connectedComponentsWithStats(free, connectivity=4)
        kept = [k for k in range(1, count) if stats[k, cv2.CC_STAT_AREA] >= least]
        if len(kept) < 2:
            continue
        table = np.zeros(count, np.int32)
        table[kept] = np.arange(1, len(kept) + 1)
        areas = _parted(areas, area, box, table[pieces])
    return areas


def join(areas: Areas, one: Point, two: Point) -> Areas:
    """Make the areas at two points one; the same object if they are one already."""
    keep, gone = sorted((area_at(areas, one), area_at(areas, two)))
    if keep == gone:
        return areas
    last = areas.count
    labels = areas.labels.copy()
    for number, to in ((gone, keep), (last, gone)):
        if number != to:
            box = _box(areas, number)
            labels[box][areas.labels[box] == number] = to
    order = np.arange(last)  # the last area takes the number that has become free
    if gone != last:
        order[gone] = last
    pixels, seeds = areas.pixels.copy(), areas.seeds.copy()
    inner, ground = areas.inner_radius.copy(), areas.ground.copy()
    pixels[keep] += pixels[gone]
    ground[keep] &= ground[gone]
    if inner[gone] > inner[keep]:
        seeds[keep], inner[keep] = seeds[gone], inner[gone]
    return replace(areas, labels=labels, pixels=pixels[order], seeds=seeds[order],
                   inner_radius=inner[order], ground=ground[order])


def divide(areas: Areas, points: Sequence[Point], closures: Closures) -> Areas:
    """Share out each area that holds several of the points among them.

    Parameters
    ----------
    areas : Areas
    points : sequence of (x, y)
        Picture pixels.
    closures : Closures
        Where lines may be missing.

    Returns
    -------
    Areas
        The largest share keeps the area's number.
    """
    at: dict[int, list[Point]] = {}
    for point in points:
        at.setdefault(area_at(areas, point), []).append(point)
    for area, clicks in at.items():
        if len(clicks) < 2:
            continue
        box = _box(areas, area)
        y, x = box[0].start, box[1].start
        free = ((areas.labels[box] == area) & areas.core[box]).astype(np.uint8)
        scale = 2 if free.size > _LARGE else 1
        small = free[::scale, ::scale]
        near = closures.within(x, y, free.shape[1], free.shape[0])
        names = range(1, len(clicks) + 1)
        shared = share_out(small, [((px - x) / scale, (py - y) / scale) for px, py in clicks],
                           names, near.scaled(1 / scale))
        shared = adopt(shared, small)
        if scale > 1:
            shared = cv2.resize(shared, free.shape[::-1], interpolation=cv2.INTER_NEAREST)
        areas = _parted(areas, area, box, np.where(free > 0, shared, 0).astype(np.int32))
    return areas


def beyond_the_neck(areas: Areas, click: Point) -> Point:
    """The middle of what lies beyond the narrowest place of the area that is clicked."""
    area = area_at(areas, click)
    box = _box(areas, area)
    y, x = box[0].start, box[1].start
    free = ((areas.labels[box] == area) & areas.core[box]).astype(np.uint8)
    scale = 2 if free.size > _LARGE else 1
    px, py = other_lobe(free[::scale, ::scale], ((click[0] - x) / scale, (click[1] - y) / scale))
    return px * scale + x, py * scale + y


def _reaching(areas: Areas, stroke: Sequence[Point], edge: float) -> list[Point]:
    """The stroke with its ends going on, until they meet a line or for a little, or to the edge
    of the picture if it is as near as that."""
    height, width = areas.labels.shape
    points = [(float(x), float(y)) for x, y in stroke]
    most = int(_REACH * areas.line_width) + 2
    for at, sign in ((0, -1), (-1, 1)):
        here = np.array(points[at])
        far = next((np.array(p) for p in (points if at == 0 else points[::-1])
                    if np.hypot(*(here - p)) >= 2), None)
        if far is None:
            continue
        way = (here - far) / np.hypot(*(here - far))
        beside = min(here[0], here[1], width - 1 - here[0], height - 1 - here[1]) < edge
        for step in range(1, 1 + (int(2 * edge) if beside else most)):
            x, y = here + step * way
            if not (0 <= x < width and 0 <= y < height and areas.core[int(y), int(x)]):
                end = (float(x), float(y))
                points = [end, *points] if sign < 0 else [*points, end]
                break
    return points


def _box(areas: Areas, area: int) -> Box:
    x, y, width, height = cv2.boundingRect((areas.labels == area).astype(np.uint8))
    return np.s_[y:y + height, x:x + width]


def _parted(areas: Areas, area: int, box: Box, pieces: Int) -> Areas:
    """Give the pieces of an area numbers of their own; ``pieces`` is 0 beside them."""
    mine = areas.labels[box] == area
    sizes = np.bincount(pieces.ravel())
    sizes[0] = 0
    present = np.flatnonzero(sizes)
    if len(present) < 2 or areas.count + len(present) - 1 > MAX_AREAS:
        return areas
    largest = int(sizes.argmax())
    others = present[present != largest]
    table = np.full(len(sizes), area, np.int64)
    table[others] = np.arange(areas.count + 1, areas.count + 1 + len(others))
    whole = spread(np.where(mine, pieces, 0).astype(np.int32))
    labels = areas.labels.copy()
    labels[box][mine] = table[whole[mine]].astype(np.uint16)

    more = len(others)
    pixels = np.concatenate([areas.pixels, np.zeros(more, np.int64)])
    seeds = np.concatenate([areas.seeds, np.zeros((more, 2), np.int32)])
    inner = np.concatenate([areas.inner_radius, np.zeros(more, np.float32)])
    ground = np.concatenate([areas.ground, np.full(more, areas.ground[area])])
    for piece in present.tolist():
        number = int(table[piece])
        pixels[number] = np.count_nonzero(mine & (whole == piece))
        framed = np.pad((pieces == piece).astype(np.uint8), 1)
        distance = cv2.distanceTransform(framed, cv2.DIST_L2, 5)
        _, inner[number], _, where = cv2.minMaxLoc(distance)
        seeds[number] = where[0] - 1 + box[1].start, where[1] - 1 + box[0].start
    return replace(areas, labels=labels, pixels=pixels, seeds=seeds, inner_radius=inner,
                   ground=ground)
