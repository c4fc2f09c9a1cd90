"""Borders between flats that no line covers, as polylines."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

Polyline = NDArray[np.float64]

_TOLERANCE = 0.7  # px
_JOINED = 3  # px of ink that a border may run under
_REACH = 3  # px that it is carried on, into the line at its end


def bare_borders(labels: NDArray[np.integer], ink: NDArray[np.uint8],
                 most_points: int = 2000) -> list[Polyline]:
    """Trace the borders between labels where there is no ink, the longest first.

    Parameters
    ----------
    labels : ndarray of int, shape (height, width)
        From 0.
    ink : ndarray of uint8, same shape
        Coverage.
    most_points : int
        Of one polyline.

    Returns
    -------
    list of ndarray of float64, shape (n, 2)
        Places (x, y), px; pixel centres lie at halves.
    """
    padded = np.pad(labels, 1, constant_values=-1)
    bare = np.pad(ink < 128, 1)
    found: list[Polyline] = []
    for label, box in enumerate(ndimage.find_objects(labels.astype(np.int32)), start=1):
        if box is None:
            continue
        rows = slice(box[0].start, box[0].stop + 2)
        columns = slice(box[1].start, box[1].stop + 2)
        part, free = padded[rows, columns], bare[rows, columns]
        rings, _ = cv2.findContours((part == label).astype(np.uint8), cv2.RETR_CCOMP,
                                    cv2.CHAIN_APPROX_NONE)
        # Each border is traced once: from the label with the higher number.
        meets = np.zeros(part.shape, bool)
        for dy, dx in ((0, 1), (0, -1), (1, 0), (-1, 0)):
            other = np.roll(part, (dy, dx), (0, 1))
            meets |= (other < label) & (other >= 0) & free & np.roll(free, (dy, dx), (0, 1))
        corner = np.array([box[1].start - 0.5, box[0].start - 0.5])
        for ring in rings:
            points = ring[:, 0]
            found += [run + corner
                      for run in _runs(points, meets[points[:, 1], points[:, 0]])]
    found.sort(key=lambda run: -len(run))
    return [_simple(run, most_points) for run in found]


def _runs(points: NDArray[np.int32], on: NDArray[np.bool_]) -> list[Polyline]:
    """Stretches of a ring, each carried on a little at both ends."""
    if not on.any():
        return []
    count = len(points)
    if on.all():
        return [points[np.r_[:count, 0]].astype(float)]
    start = int(np.flatnonzero(~on)[0])
    turned = np.roll(on, -start)
    closed = ndimage.binary_closing(turned, np.ones(_JOINED)) | turned
    edges = np.diff(np.r_[0, closed.astype(np.int8), 0])
    starts, ends = np.flatnonzero(edges > 0).tolist(), np.flatnonzero(edges < 0).tolist()
    return [points[np.arange(start + a - _REACH, start + min(b + _REACH, a + count)) % count]
            .astype(float) for a, b in zip(starts, ends, strict=True)]


def _simple(run: Polyline, most: int) -> Polyline:
    tolerance = _TOLERANCE
    while True:
        line = cv2.approxPolyDP(run.astype(np.float32)[:, None], tolerance, False)[:, 0]
        if len(line) <= most:
            return np.repeat(line, 2, axis=0)[:2].astype(float) if len(line) < 2 \
                else line.astype(float)
        tolerance *= 1.5
