"""The graph of strokes in a drawing, and what is measured of each segment."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.around import Around, look_around
from wardrobe.core.hatching.meeting import BESIDE_STEM, CROSSED, STEM, Meeting, meet
from wardrobe.core.hatching.segments import Segments, Sizes, measure_segments, trace_segments
from wardrobe.core.hatching.skeleton import skeleton_roles

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Real = NDArray[np.float32]
Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

_SPUR = 1.25  # ends shorter than this share of their junction's half thickness are noise
_RIM = 0.1  # share of the picture's border from which a cell that lies along it is ground
_DENSE = 8.0  # line widths over which the density of ink is measured


@dataclass(frozen=True)
class StrokeGraph:
    """The strokes of a drawing; tables run over segments from 1.

    Attributes
    ----------
    line_width : float
        Width of the strokes that bound the ground, px: hatching never does so for long, so that
        it does not count.
    depth : ndarray of float32, shape (height, width)
        Distance to paper within the ink, px.
    cells : ndarray of int32, same shape
        Connected pieces of paper, from 1; 0 on ink.
    cell_pixels : ndarray of int64, shape (cells + 1,)
    segments, sizes, meeting, around
        What is known of the segments.
    live : ndarray of bool, shape (count + 1,)
        Segments that are strokes; the others are noise of the thinning.
    """

    line_width: float
    depth: Real
    cells: Int
    cell_pixels: NDArray[np.int64]
    segments: Segments
    sizes: Sizes
    meeting: Meeting
    around: Around
    live: Mask

    @property
    def count(self) -> int:
        """Number of segments."""
        return self.segments.count


def stroke_graph(coverage: Byte) -> StrokeGraph:
    """Thin the ink of a drawing (128 and more) and measure its strokes."""
    ink = (coverage >= 128).astype(np.uint8)
    # Distances have no bound where there is no paper at all.
    depth = np.minimum(cv2.distanceTransform(ink, cv2.DIST_L2, 5), float(max(ink.shape)))
    roles = skeleton_roles(ink, depth)
    segments = trace_segments(roles)
    count, cells, boxes, _ = cv2.connectedComponentsWithStats(1 - ink, connectivity=4)
    pixels = boxes[:, cv2.CC_STAT_AREA].astype(np.int64)
    pixels[0] = 0
    ground = _ground(cells, count)
    line_width = _outline(depth, roles, ground[cells], segments.points)
    sizes = measure_segments(segments, depth, line_width)
    live = _live(segments, sizes, depth)
    meeting = meet(segments.ends, segments.tips, sizes.tangents, sizes.width, live)
    around = look_around(segments, sizes, depth, cells, ground, live, line_width)
    return StrokeGraph(line_width, depth, cells, pixels, segments, sizes, meeting, around, live)


def _ground(cells: Int, count: int) -> Mask:
    border = np.concatenate([cells[0], cells[-1], cells[:, 0], cells[:, -1]])
    ground: Mask = np.bincount(border, minlength=count) > _RIM * len(border)
    ground[0] = False
    return ground


def _outline(depth: Real, roles: Byte, ground: Mask, points: Int) -> float:
    away = cv2.distanceTransform((~ground).astype(np.uint8), cv2.DIST_L2, 5)
    rim = (roles > 0) & (away < 1.25 * depth + 1.5)
    if not len(points):
        return 1.0
    ys, xs = points.T
    half = depth[ys, xs]
    bounding = half[rim[ys, xs] & (half < 4 * np.median(half))]
    usual = np.median(bounding if len(bounding) > 50 else half)
    return max(1.0, 2 * float(usual) - 0.5)


def _live(segments: Segments, sizes: Sizes, depth: Real) -> Mask:
    deepest = np.zeros(int(segments.nodes.max()) + 1)
    where = segments.nodes > 0
    np.maximum.at(deepest, segments.nodes[where], depth[where])
    free = (segments.ends == 0).sum(axis=1)
    spur = (free == 1) & (sizes.length < _SPUR * deepest[segments.ends.max(axis=1)])
    live: Mask = ~spur | segments.loop
    live[0] = False
    return live


FEATURES = (
    "width", "length", "stroke length", "stroke width", "width against those met", "free ends",
    "free ends of the stroke", "straight", "parallels", "gap", "uneven", "unlike", "small cell",
    "large cell", "one cell", "against the ground", "stems", "crossings", "beside stems",
    "stems of the stroke", "size of the piece", "density", "spread of width", "turn",
    "cells alike", "area of the piece",
)


def describe(graph: StrokeGraph, coverage: Byte) -> Floats:
    """What tells hatching from lines, in widths of the outline: FEATURES for each segment.

    Returns
    -------
    ndarray of float64, shape (count + 1, len(FEATURES))
    """
    segments, sizes, meeting, width = graph.segments, graph.sizes, graph.meeting, graph.line_width
    rows, stroke = graph.count + 1, meeting.stroke
    stroke_length = np.bincount(stroke, sizes.length, rows)
    stroke_width = np.bincount(stroke, sizes.length * sizes.width, rows) / np.maximum(
        stroke_length, 1e-9)
    free = np.where(segments.loop, 0, (segments.ends == 0).sum(axis=1))
    stems = (meeting.part == STEM).sum(axis=1)
    one, other = graph.cell_pixels[graph.around.cells].T.astype(np.float64)
    small = np.where((one > 0) & (other > 0), np.minimum(one, other), np.maximum(one, other))
    met = np.where(meeting.wider > 0, meeting.wider, sizes.width)
    piece_size, piece_area, density = np.zeros(rows), np.zeros(rows), np.zeros(rows)
    if graph.count:
        _, pieces, boxes, _ = cv2.connectedComponentsWithStats(
            (coverage >= 128).astype(np.uint8), connectivity=8)
        piece = pieces[tuple(segments.first.T)]
        piece_size[1:] = boxes[piece, cv2.CC_STAT_WIDTH:cv2.CC_STAT_HEIGHT + 1].max(axis=1)
        piece_area[1:] = boxes[piece, cv2.CC_STAT_AREA]
        dense = cv2.blur(coverage, (int(_DENSE * width) | 1,) * 2)
        density[1:] = dense[tuple(segments.middle.T)] / 255
    return np.column_stack([
        sizes.width / width, sizes.length / width, stroke_length[stroke] / width,
        stroke_width[stroke] / width, sizes.width / np.maximum(met, 1e-6), free,
        np.bincount(stroke, free * graph.live, rows)[stroke],
        sizes.chord / np.maximum(sizes.length, 1), graph.around.parallels,
        np.log1p(small / width**2), np.log1p(np.maximum(one, other) / width**2),
        graph.around.cells[:, 0] == graph.around.cells[:, 1], graph.around.ground, stems,
        (meeting.part == CROSSED).sum(axis=1), (meeting.part == BESIDE_STEM).sum(axis=1),
        np.bincount(stroke, stems * graph.live, rows)[stroke], piece_size / width, density,
        sizes.spread, sizes.turn, np.minimum(one, other) / np.maximum(1, np.maximum(one, other)),
        piece_area / width**2])
