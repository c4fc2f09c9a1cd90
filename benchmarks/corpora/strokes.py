"""Strokes that bound nothing: zigzags, arcs and scribbles, alone and beside drawings."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ground.edge import flood

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]

SIZE = 384  # px of a picture of nothing
_INK = 96
_AWAY = 13  # px about a stroke that stay free of the drawing
_TRIES = 8


def nothing(rng: np.random.Generator) -> tuple[Byte, Mask]:
    """Coverage of one to three strokes on paper, and what they happen to enclose."""
    line = rng.uniform(2, 11)
    cover = np.zeros((SIZE, SIZE), np.uint8)
    for _ in range(rng.integers(1, 4)):
        size = int(rng.integers(120, SIZE))
        y, x = rng.integers(0, SIZE - size + 1, 2)
        there = cover[y:y + size, x:x + size]
        np.maximum(there, stroke(size, line, rng), out=there)
    ink = (cover >= _INK).astype(np.uint8)
    return cover, ~flood(ink) & (ink == 0)


def beside(cover: Byte, figure: Byte, line: float, rng: np.random.Generator) -> Byte:
    """The coverage of a drawing with one to three strokes on its ground."""
    out = cover.copy()
    height, width = cover.shape
    for _ in range(rng.integers(1, 4)):
        size = int(rng.uniform(0.08, 0.4) * min(height, width))
        mark = stroke(size, max(1.5, line), rng)
        near = cv2.dilate(mark, np.ones((_AWAY, _AWAY), np.uint8)) > 0
        for _ in range(_TRIES):
            y, x = int(rng.integers(0, height - size)), int(rng.integers(0, width - size))
            there = np.s_[y:y + size, x:x + size]
            if not (figure[there][near].any() or out[there][near].any()):
                out[there] = np.maximum(out[there], mark)
                break
    return out


def stroke(size: int, line: float, rng: np.random.Generator) -> Byte:
    """Coverage of a zigzag, an arc or a scribble in a square, turned at random."""
    count, kind = int(rng.integers(2, 9)), rng.random()
    if kind < 0.4:
        x = np.linspace(0.15, 0.85, count) + rng.normal(size=count) * 0.03
        sides = np.where(np.arange(count) % 2, 1, -1) * rng.uniform(0.5, 1, count)
        points = np.stack([x, 0.5 + rng.uniform(0.02, 0.25) * sides], axis=1)
    elif kind < 0.7:
        turn = np.linspace(0, rng.uniform(0.5, 3.6), 30) + rng.uniform(0, 6)
        flat = rng.uniform(0.3, 1)
        points = 0.5 + rng.uniform(0.15, 0.4) * np.stack([np.cos(turn), np.sin(turn) * flat], 1)
    else:
        points = np.cumsum(rng.normal(size=(count, 2)), axis=0)
        points -= points.mean(axis=0)
        points = 0.5 + 0.4 * points / max(1e-3, float(np.abs(points).max()))
    by = rng.uniform(0, 2 * np.pi)
    turned = (points - 0.5) @ np.array([[np.cos(by), -np.sin(by)], [np.sin(by), np.cos(by)]])
    out = np.zeros((size, size), np.uint8)
    cv2.polylines(out, [((0.95 * turned + 0.5) * size).astype(np.int32)], False, 255,
                  max(1, round(line)), cv2.LINE_AA)
    return out
