"""Drawings that a program has hatched, for the tests."""

import cv2
import numpy as np
from numpy.typing import NDArray

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]

SIZE = 700
LINE = 9  # px


def plain_ink() -> Byte:
    """A ball beside a box that stands on a table; uint8 coverage."""
    ink = np.zeros((SIZE, SIZE), np.uint8)
    cv2.rectangle(ink, (60, 420), (640, 640), 255, LINE, cv2.LINE_AA)
    cv2.circle(ink, (230, 300), 118, 0, -1, cv2.LINE_AA)
    cv2.circle(ink, (230, 300), 118, 255, LINE, cv2.LINE_AA)
    cv2.rectangle(ink, (400, 150), (600, 420), 255, LINE, cv2.LINE_AA)
    cv2.line(ink, (400, 240), (600, 240), 255, LINE, cv2.LINE_AA)
    return ink


def ball() -> Mask:
    """Where the ball is."""
    disc = np.zeros((SIZE, SIZE), np.uint8)
    cv2.circle(disc, (230, 300), 118, 1, -1)
    return disc > 0


def hatch_over(ink: Byte, where: Mask, angles: tuple[float, ...], spacing: float,
               width: int) -> Byte:
    """Parallel strokes over a place at each of some angles, degrees; spacing and width in px."""
    strokes = np.zeros_like(ink)
    middle = np.array([SIZE / 2, SIZE / 2])
    for angle in np.radians(angles):
        along = np.array([np.cos(angle), np.sin(angle)])
        across = np.array([-along[1], along[0]])
        for offset in np.arange(-SIZE, SIZE, spacing):
            ends = middle + offset * across + np.outer([-SIZE, SIZE], along)
            cv2.line(strokes, *np.rint(ends).astype(int).tolist(), 255, width, cv2.LINE_AA)
    return np.maximum(ink, np.where(where, strokes, 0)).astype(np.uint8)


def stipple_over(ink: Byte, where: Mask, spacing: int, radius: int) -> Byte:
    """Dots on a shaken grid; px."""
    rng = np.random.default_rng(3)
    out = ink.copy()
    for y in range(spacing, SIZE, spacing):
        for x in range(spacing, SIZE, spacing):
            at = np.rint([x, y] + rng.uniform(-0.3, 0.3, 2) * spacing).astype(int)
            if where[at[1], at[0]]:
                cv2.circle(out, at.tolist(), radius, 255, -1, cv2.LINE_AA)
    return out
