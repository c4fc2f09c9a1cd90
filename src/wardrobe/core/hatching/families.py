"""Strokes of hatching that belong together."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.graph import StrokeGraph
from wardrobe.core.hatching.meeting import CROSSED
from wardrobe.core.hatching.paint import hatched_ink

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

HatchingKind = Literal["hatching", "cross-hatching", "stipple", "strokes"]

_NEAR = 2.2  # line widths around strokes that are one family's ground
_FEWEST = 3  # strokes
_MOST = 60  # families that are told apart, those with most strokes
_CROSSED = 0.25  # share of its length from which a family is crossed
_DOT = 3.0  # length against width below which a stroke is a dot
_PARALLELS = 1.0
# A regular texture that is drawn like the outline, with room in its cells, may well be parts.
_AS_THICK, _ROOMY = 0.75, 6.0
_SURE = 0.6


@dataclass(frozen=True)
class Family:
    """Strokes of one hatched place.

    Attributes
    ----------
    kind : str
    place : (float, float)
        x, y on one of its strokes, px of the drawing.
    strokes : int
    outline : list of list of (float, float)
        Outlines of where it lies, px of the drawing.
    chance : float, 0..1
        How likely it bounds nothing.
    taken : bool
        Whether it may be taken off the lines without asking.
    """

    kind: HatchingKind
    place: tuple[float, float]
    strokes: int
    outline: list[list[tuple[float, float]]]
    chance: float
    taken: bool


def group(graph: StrokeGraph, keep: Mask) -> tuple[Int, list[NDArray[np.int64]], Int]:
    """Families of the segments that bound nothing.

    Strokes near each other are a family, unless a line that stays lies between them; lone
    strokes join a family nearby.

    Returns
    -------
    family : ndarray of int32, shape (count + 1,)
        From 1; 0 for segments that stay, and for strokes too few to be a family.
    members : list of ndarray of int64
        The segments of each family.
    ground : ndarray of int32, shape (height, width)
        Where each family lies.
    """
    gone = graph.live & ~keep
    numbers = graph.segments.numbers
    bones = gone[numbers]
    walls = (graph.depth > 0) & (hatched_ink(graph, keep) == 0)
    size = 2 * max(1, round(_NEAR * graph.line_width)) + 1
    near = cv2.dilate(bones.astype(np.uint8), cv2.getStructuringElement(
        cv2.MORPH_ELLIPSE, (size, size)))
    _, patches = cv2.connectedComponents(near, connectivity=4)
    _, grounds = cv2.connectedComponents(((near > 0) & ~walls | bones).astype(np.uint8),
                                         connectivity=4)
    which = np.flatnonzero(gone)
    if not len(which):
        return np.zeros(graph.count + 1, np.int32), [], np.zeros(numbers.shape, np.int32)
    at = tuple(graph.segments.middle[which - 1].T)
    patch, ground = patches[at], grounds[at]
    strokes = _strokes_of(ground, graph.meeting.stroke[which])
    # Few strokes go with the most numerous of their patch.
    order = np.argsort(strokes[ground], kind="stable")
    chief = np.zeros(int(patches.max()) + 1, np.int64)
    chief[patch[order]] = ground[order]
    ground = np.where(strokes[ground] < _FEWEST, chief[patch], ground)
    strokes = _strokes_of(ground, graph.meeting.stroke[which])
    order = np.argsort(-strokes, kind="stable")[:_MOST]
    found = np.sort(order[strokes[order] >= _FEWEST])
    renumber = np.zeros(int(grounds.max()) + 1, np.int32)
    renumber[found] = np.arange(1, len(found) + 1)
    family = np.zeros(graph.count + 1, np.int32)
    family[which] = renumber[ground]
    members = [np.flatnonzero(family == k) for k in range(1, len(found) + 1)]
    return family, members, renumber[grounds]


def describe_family(graph: StrokeGraph, members: NDArray[np.int64], ground: Mask, chance: Floats,
                    scale: float) -> Family:
    """What one family is; ``scale`` is the size of the graph's picture against the drawing."""
    sizes, meeting, around = graph.sizes, graph.meeting, graph.around
    length = sizes.length[members]
    strokes = len(np.unique(meeting.stroke[members]))
    crossed = float(np.average((meeting.part[members] == CROSSED).any(axis=1), weights=length))
    dots = float(np.median(length / sizes.width[members]))
    parallels = float(np.average(around.parallels[members, 0], weights=length))
    kind: HatchingKind = "strokes"
    if crossed > _CROSSED:
        kind = "cross-hatching"
    elif dots < _DOT:
        kind = "stipple"
    elif parallels >= _PARALLELS:
        kind = "hatching"
    beside = graph.cell_pixels[np.unique(around.cells[members])]
    roomy = float(np.median(beside[beside > 0])) / graph.line_width**2 if beside.any() else 0.0
    wide = float(np.average(sizes.width[members], weights=length)) / graph.line_width
    sure = float(np.average(chance[members], weights=length))
    texture = kind in ("cross-hatching", "hatching") and wide >= _AS_THICK and roomy > _ROOMY
    y, x = graph.segments.middle[members[np.argmax(length)] - 1]
    return Family(kind, ((float(x) + 0.5) / scale, (float(y) + 0.5) / scale), strokes,
                  _outlines(ground, graph.line_width, scale), sure,
                  sure >= _SURE and not texture)


def _strokes_of(ground: Int, stroke: Int) -> NDArray[np.int64]:
    """How many strokes lie in each ground."""
    pairs = np.unique(np.stack([ground, stroke]), axis=1)
    return np.bincount(pairs[0], minlength=int(ground.max()) + 1)


def _outlines(ground: Mask, line_width: float, scale: float) -> list[list[tuple[float, float]]]:
    contours, _ = cv2.findContours(ground.astype(np.uint8), cv2.RETR_EXTERNAL,
                                   cv2.CHAIN_APPROX_NONE)
    simple = [cv2.approxPolyDP(c, 0.3 * line_width, True)[:, 0] for c in contours]
    return [[((float(x) + 0.5) / scale, (float(y) + 0.5) / scale) for x, y in points]
            for points in simple if len(points) > 2]
