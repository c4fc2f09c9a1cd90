"""How often the guess of what is in front is right; writes docs/accuracy-light.md.

The truth is in the drawings: where a shape goes on under another that is painted later, the later
one is in front. Half of the drawings, by a hash of their code, are for tuning.

    python -m benchmarks.depth
"""

import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator
from copy import deepcopy
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpus import SVG, Drawing, _render, drawings
from wardrobe.core.form.borders import SURE_FRONT, front_cues, in_front, measure_borders
from wardrobe.core.lines.width import line_width

Int = NDArray[np.int32]
_GROUPS = ("color", "hair", "skin", "skin-shadow", "color-foreground")
_SHAPES = {"path", "circle", "ellipse", "rect", "polygon", "polyline", "line"}
_SIZE = 512
_NEAR = 12  # px from a border at which it is looked whether a shape goes on
_GOES_ON = 0.5  # share of what is near that it must hold


@dataclass(frozen=True)
class Pair:
    """Two areas that touch: the one in front, the one behind, and how sure the guess is that it
    is so (below 0: that it is the other way round)."""

    front: int
    behind: int
    guess: float
    cues: NDArray[np.float32]


def _leaves(code: str) -> list[NDArray[np.bool_]]:
    """What each shape of the colour groups covers, in painting order."""
    root = ET.fromstring(re.sub(r'\sxmlns="[^"]+"', "", (SVG / f"{code}.svg").read_text(), count=1))
    groups = [g for name in _GROUPS for g in root.findall(f"g[@id='{name}']")]
    masks = []
    for group in groups:
        count = sum(e.tag in _SHAPES for e in group.iter())
        for keep in range(count):
            alone = deepcopy(group)
            k = -1
            for parent in list(alone.iter()):
                for child in list(parent):
                    if child.tag in _SHAPES:
                        k += 1
                        if k != keep:
                            parent.remove(child)
            alpha = _render(ET.tostring(alone, encoding="unicode"))[..., 3]
            masks.append(cv2.resize(alpha, (_SIZE, _SIZE), interpolation=cv2.INTER_AREA) > 127)
    return masks


def _shapes_of(labels: Int, masks: list[NDArray[np.bool_]]) -> dict[int, int]:
    """The shape that is seen in most of each area."""
    seen = np.full(labels.shape, -1)
    for k, mask in enumerate(masks):
        seen[mask] = k
    owners = {}
    for label in range(1, int(labels.max()) + 1):
        values, counts = np.unique(seen[labels == label], return_counts=True)
        if len(values):
            owners[label] = int(values[np.argmax(counts)])
    return owners


def pairs(drawing: Drawing) -> Iterator[Pair]:
    """Pairs whose order the drawing itself tells."""
    labels = cv2.resize(drawing.areas.astype(np.uint16), (_SIZE, _SIZE),
                        interpolation=cv2.INTER_NEAREST).astype(np.int32)
    masks = _leaves(drawing.code)
    owners = _shapes_of(labels, masks)
    for label in range(1, int(labels.max()) + 1):
        if owners.get(label, -1) < 0:
            labels[labels == label] = 0
    ink = cv2.resize(drawing.ink, (_SIZE, _SIZE), interpolation=cv2.INTER_AREA)
    count = int(labels.max())
    lw = line_width(drawing.ink) * _SIZE / len(drawing.ink)
    sums = measure_borders(labels, ink.astype(np.float32) / 255, count, lw)
    pixels = np.bincount(labels.ravel(), minlength=count + 1).astype(np.float32)
    guess, cues = in_front(sums, pixels), front_cues(sums, pixels)
    for a, b in np.argwhere(np.triu(sums[0], 1) > lw):
        if a == 0:
            continue
        behind, front = (a, b) if owners[a] < owners[b] else (b, a)
        if owners[a] == owners[b] or not _runs_under(labels, behind, front, masks[owners[behind]]):
            continue
        yield Pair(int(front), int(behind), float(guess[front, behind]), cues[:, front, behind])


def _runs_under(labels: Int, behind: int, front: int, shape: NDArray[np.bool_]) -> bool:
    """Whether the shape behind goes on in the area in front, beyond their border."""
    near = cv2.distanceTransform((labels != behind).astype(np.uint8), cv2.DIST_L2, 5) < _NEAR
    band = near & (labels == front)
    return bool(band.any() and shape[band].mean() > _GOES_ON)
