"""Find the hatching in a drawing."""

from collections.abc import Collection
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.families import Family, describe_family, group
from wardrobe.core.hatching.graph import StrokeGraph, describe, stroke_graph
from wardrobe.core.hatching.paint import hatched_ink
from wardrobe.core.hatching.verdict import chances, kept
from wardrobe.core.lines.closing import Point
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Mask = NDArray[np.bool_]

_FINE = 6.0  # px that lines are wide at the size at which strokes are told apart
_LONGEST = 1280  # px of the longer edge there
_NEAR = 1.5  # line widths from a stroke that a place still names


@dataclass(frozen=True)
class Hatching:
    """The strokes of a drawing, and which of them seem to bound nothing.

    Attributes
    ----------
    graph : StrokeGraph
        At a reduced size.
    family : ndarray of int32, shape (segments + 1,)
        Family of each segment, from 1; 0 for lines.
    families : list of Family
        Family k is ``families[k - 1]``.
    shape : (int, int)
        Of the drawing.
    """

    graph: StrokeGraph
    family: Int
    families: list[Family]
    shape: tuple[int, int]

    @property
    def scale(self) -> float:
        """Size of the graph against the drawing."""
        return self.graph.depth.shape[1] / self.shape[1]

    def named(self, places: Collection[Point]) -> set[int]:
        """Families with a stroke near at least one of some places, px of the drawing."""
        return set(self.family[self._segments_at(places)].tolist()) - {0}

    def strokes_at(self, places: Collection[Point]) -> NDArray[np.int64]:
        """Segments of the strokes near places, px of the drawing."""
        strokes = self.graph.meeting.stroke
        return np.flatnonzero(np.isin(strokes, strokes[self._segments_at(places)])
                              & self.graph.live)

    def _segments_at(self, places: Collection[Point]) -> list[int]:
        numbers = self.graph.segments.numbers
        reach = max(1, round(_NEAR * self.graph.line_width))
        hit: set[int] = set()
        for x, y in places:
            u, v = int(x * self.scale), int(y * self.scale)
            around = numbers[max(0, v - reach):v + reach + 1, max(0, u - reach):u + reach + 1]
            ys, xs = np.nonzero(around)
            if len(ys):
                near = np.argmin((ys + max(0, v - reach) - v) ** 2
                                 + (xs + max(0, u - reach) - u) ** 2)
                hit.add(int(around[ys[near], xs[near]]))
        return sorted(hit)

    def ink(self, families: Collection[int], strokes: NDArray[np.int64] | None = None) -> Mask:
        """Where the strokes of families, and further segments, lie; of the drawing's shape."""
        gone = np.isin(self.family, list(families)) & (self.family > 0)
        if strokes is not None:
            gone[strokes] = True
        if not gone.any():
            return np.zeros(self.shape, bool)
        segment = hatched_ink(self.graph, self.graph.live & ~gone)
        mask: Mask = cv2.resize((segment > 0).astype(np.uint8), self.shape[::-1],
                                interpolation=cv2.INTER_NEAREST) > 0
        return mask


def find_hatching(coverage: Byte) -> Hatching:
    """Tell ink that bounds nothing from lines.

    Parameters
    ----------
    coverage : ndarray of uint8, shape (height, width)
        128 and more is ink.

    Returns
    -------
    Hatching

    Notes
    -----
    Strokes are thinned and measured in widths of the outline; boosted trees, fitted to drawings
    by several hands that a program had hatched, say how likely each bounds nothing, first alone
    and then in the company of its stroke, its parallels and its cells.
    """
    small = at_work_size(coverage)
    graph = stroke_graph(small)
    features = describe(graph, small)
    chance = chances(graph, features)
    family, members, ground = group(graph, kept(graph, chance))
    scale = small.shape[1] / coverage.shape[1]
    families = [describe_family(graph, of_it, ground == k, chance, scale)
                for k, of_it in enumerate(members, start=1)]
    return Hatching(graph, family, families, coverage.shape)


def at_work_size(coverage: Byte) -> Byte:
    """The drawing at the size at which its strokes are told apart."""
    scale = min(1.0, _LONGEST / max(coverage.shape), _FINE / line_width(coverage))
    if scale == 1:
        return coverage
    height, width = (max(1, round(scale * edge)) for edge in coverage.shape)
    return cv2.resize(coverage, (width, height), interpolation=cv2.INTER_AREA)
