"""Drawings bent, thinned, broken and torn, so that a few hands stand for many."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import Drawing
from benchmarks.corpora.strokes import beside
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]

SIZE = 384  # px of the longer edge
_MARGIN, _WARP = 0.06, 0.018  # of the longer edge
_LEAST_LINE = 0.0042  # of the longer edge, that is left of a line
PAPER, EDGE, TORN = "framed", "cut off", "torn off"


@dataclass(frozen=True)
class Small:
    """A drawing without margin at a small size; all planes are uint8, 0..255."""

    source: str
    name: str
    line: float
    cover: Byte
    figure: Byte
    judged: Byte


def shrink(drawing: Drawing, longer: int = SIZE) -> Small:
    """A drawing to bend."""
    height, width = drawing.ink.shape
    by = longer / max(height, width)
    size = max(1, round(width * by)), max(1, round(height * by))
    planes = [cv2.resize(a, size, interpolation=cv2.INTER_AREA) for a in (
        drawing.ink, *(a.astype(np.uint8) * np.uint8(255) for a in (drawing.figure,
                                                                    drawing.judged)))]
    return Small(drawing.source, drawing.name, line_width(drawing.ink) * by, *planes)


def bend(small: Small, framing: str, rng: np.random.Generator) -> tuple[Byte, Byte, Byte]:
    """Coverage, figure and what is judged of another drawing that might have been.

    Mirrored, turned by a few degrees, stretched by up to 15 %, warped; lines thinner or thicker;
    up to six breaks in them; strokes beside it that bound nothing; torn off below, or cut off by
    the edge, where that is asked for.
    """
    cover, figure, judged = small.cover, small.figure, small.judged
    longer = max(cover.shape)
    if framing == TORN:
        cover, figure = _tear(cover, figure, rng)
    if framing != EDGE:
        margin = (round(longer * _MARGIN * rng.uniform(1, 2)),) * 4
        cover, figure = (cv2.copyMakeBorder(a, *margin, cv2.BORDER_CONSTANT, value=0)
                         for a in (cover, figure))
        judged = cv2.copyMakeBorder(judged, *margin, cv2.BORDER_CONSTANT, value=255)
    if rng.random() < 0.5:
        cover, figure, judged = (np.ascontiguousarray(a[:, ::-1]) for a in
                                 (cover, figure, judged))
    cover, figure, judged = _stretch(cover, figure, judged, framing, rng)
    was = cover
    if framing != EDGE and rng.random() < 0.2:
        cover = beside(cover, figure, small.line, rng)
    cover = _break(_weigh(cover, small.line, rng), small.line, rng)
    return cover, figure, np.minimum(judged, 255 - np.maximum(was, cover))


def _tear(cover: Byte, figure: Byte, rng: np.random.Generator) -> tuple[Byte, Byte]:
    height, width = cover.shape
    lowest, x = int(np.flatnonzero(cover.any(axis=1))[-1]), np.arange(width)
    end = (lowest - rng.uniform(0.03, 0.2) * height + rng.uniform(-0.15, 0.15) * (x - width / 2)
           + width * rng.uniform(0, 0.008)
           * np.sin(x / (width * rng.uniform(0.025, 0.065)) + rng.uniform(0, 6)))
    kept = (np.arange(height)[:, None] < end[None]).astype(np.uint8)
    return cv2.GaussianBlur(cover * kept, (3, 3), 0.5), figure * kept


def _stretch(cover: Byte, figure: Byte, judged: Byte, framing: str,
             rng: np.random.Generator) -> tuple[Byte, ...]:
    height, width = cover.shape
    sx, sy = rng.uniform(0.88, 1.15, 2)
    if framing == EDGE:  # its edge stays straight
        size = max(32, int(width * sx)), max(32, int(height * sy))
        return tuple(cv2.resize(a, size, interpolation=cv2.INTER_AREA)
                     for a in (cover, figure, judged))
    turn, shear = np.deg2rad(rng.normal() * 6), rng.normal() * 0.06
    y, x = np.mgrid[:height, :width].astype(np.float32)
    u, v = x - width / 2, y - height / 2
    coarse = rng.normal(size=(2, 5, 5)).astype(np.float32) * rng.uniform(0, _WARP * width)
    ex, ey = (cv2.resize(a, (width, height), interpolation=cv2.INTER_CUBIC) for a in coarse)
    at = ((np.cos(turn) * sx * u + (shear - np.sin(turn)) * v + width / 2 + ex),
          (np.sin(turn) * u + np.cos(turn) * sy * v + height / 2 + ey))
    maps = [a.astype(np.float32) for a in at]
    return tuple(cv2.remap(a, *maps, cv2.INTER_LINEAR, borderValue=beyond)
                 for a, beyond in ((cover, 0), (figure, 0), (judged, 255)))


def _weigh(cover: Byte, line: float, rng: np.random.Generator) -> Byte:
    chance, least = rng.random(), _LEAST_LINE * max(cover.shape)
    if chance < 0.45 and line > least + 1.4:
        by = 2 * int(rng.uniform(1, line - least) / 2) + 1
        return np.asarray(cv2.erode(cover, _disc(by)), np.uint8)
    return np.asarray(cv2.dilate(cover, _disc(3)), np.uint8) if 0.45 <= chance < 0.55 else cover


def _disc(size: int) -> Byte:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)), np.uint8)


def _break(cover: Byte, line: float, rng: np.random.Generator) -> Byte:
    ys, xs = np.nonzero(cover >= 128)
    if rng.random() < 0.5 or not len(ys):
        return cover
    out = cover.copy()
    for k in rng.integers(0, len(ys), rng.integers(1, 7)):
        radius = max(1, int(rng.uniform(0.6, 2.2) * max(line, 2.0)))
        cv2.circle(out, (int(xs[k]), int(ys[k])), radius, 0, -1)
    return out
