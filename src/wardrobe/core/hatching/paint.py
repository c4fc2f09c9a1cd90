"""Which pixels of the ink belong to strokes that bound nothing."""

from typing import TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.graph import StrokeGraph
from wardrobe.core.hatching.meeting import MOST_MET

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Mask = NDArray[np.bool_]
T = TypeVar("T", bound=np.generic)

_OUTLINE = 0.62  # half thickness that an outline keeps where hatching runs into it, line widths
_SOLID = 1.6  # half thickness from which ink is a solid black whatever its strokes are
_CRUMB = 3.0  # px, in squared line widths, below which what hatching leaves over goes with it


def hatched_ink(graph: StrokeGraph, keep: Mask) -> Int:
    """The segment of hatching that each pixel belongs to, were it ink.

    Parameters
    ----------
    graph : StrokeGraph
    keep : ndarray of bool, shape (count + 1,)
        Segments that bound areas.

    Returns
    -------
    ndarray of int32, shape (height, width)
        0 where ink is not hatching; also told beside the ink, so that it may be looked up for a
        drawing of another size.
    """
    gone = graph.live & ~keep
    numbers = graph.segments.numbers
    if not gone.any():
        return np.zeros(numbers.shape, np.int32)
    segments = gone[numbers]
    stays = keep[numbers] | (_bridges(graph, keep) & (graph.depth > 0)) | (
        _ends_of(graph, keep) & ~_ends_of(graph, gone))
    goes = (segments | _ends_of(graph, gone)) & ~stays
    _, nearest = _nearest(stays | goes)
    off = _at_nearest(nearest, goes, goes)
    if stays.any():
        away, nearest = _nearest(stays)
        half = np.minimum(graph.depth, _OUTLINE * graph.line_width)
        off &= away > _at_nearest(nearest, stays, half) + 0.7
    solid = graph.depth >= _SOLID * graph.line_width
    if solid.any():
        off &= _nearest(solid)[0] > _SOLID * graph.line_width + 1
    off |= _crumbs((graph.depth > 0) & ~off, stays, _CRUMB * graph.line_width**2)
    return np.where(off, _at_nearest(_nearest(segments)[1], segments, numbers), 0).astype(np.int32)


def _ends_of(graph: StrokeGraph, which: Mask) -> Mask:
    """The skeleton around junctions that segments end at."""
    nodes = graph.segments.nodes
    met = np.zeros(int(nodes.max()) + 1, bool)
    met[graph.segments.ends[which]] = True
    met[0] = False
    return np.asarray(met[nodes])


def _bridges(graph: StrokeGraph, keep: Mask) -> Mask:
    """Lines across junctions, between the ends of segments that stay."""
    tips, ends, mate = graph.segments.tips, graph.segments.ends, graph.meeting.mate
    canvas = np.zeros(graph.depth.shape, np.uint8)
    by_node: dict[int, list[tuple[int, int]]] = {}
    for s, j in zip(*np.nonzero((ends > 0) & keep[:, None]), strict=True):
        by_node.setdefault(int(ends[s, j]), []).append((int(s), int(j)))
    for met in by_node.values():
        for s, j in met[:MOST_MET]:
            other, end = divmod(int(mate[s, j]), 2)
            if not other or not keep[other]:
                rest = [m for m in met[:MOST_MET] if m != (s, j)]
                if not rest:
                    continue
                other, end = min(rest, key=lambda m: float(np.hypot(*(tips[m] - tips[s, j]))))
            cv2.line(canvas, tips[s, j][::-1].tolist(), tips[other, end][::-1].tolist(), 1, 1)
    return canvas > 0


def _crumbs(left: Mask, stays: Mask, most: float) -> Mask:
    """Small pieces of what is left of the ink that no kept stroke runs through."""
    _, pieces, boxes, _ = cv2.connectedComponentsWithStats(left.astype(np.uint8), connectivity=8)
    small = boxes[:, cv2.CC_STAT_AREA] < most
    small[0] = False
    small[np.unique(pieces[stays])] = False
    return np.asarray(small[pieces])


def _nearest(where: Mask) -> tuple[NDArray[np.float32], Int]:
    """Distance to the nearest pixel of a mask, and which that is."""
    away, nearest = cv2.distanceTransformWithLabels((~where).astype(np.uint8), cv2.DIST_L2, 5,
                                                    labelType=cv2.DIST_LABEL_PIXEL)
    return away, nearest


def _at_nearest(nearest: Int, where: Mask, value: NDArray[T]) -> NDArray[T]:
    """What a value is at the nearest pixel of a mask, for every pixel."""
    table = np.zeros(int(nearest.max()) + 1, value.dtype)
    table[nearest[where]] = value[where]
    return table[nearest]
