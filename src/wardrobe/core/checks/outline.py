"""The figure against what lies behind it, stretch by stretch along its outline."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.colour.difference import delta_e_2000

Real = NDArray[np.float32]
Float = NDArray[np.float64]
_TANGENT = 4  # places to either side by which the direction of the outline is told
_SHORTEST = 12  # px of a closed outline that is looked at


@dataclass(frozen=True, eq=False)
class Stretch:
    """A stretch of the outline along which the figure does not stand off its ground.

    Attributes
    ----------
    points : ndarray of float64, shape (n, 2)
        x, y.
    step : float
        Median CIEDE2000 between inside and outside.
    inside, outside : float
        Mean L*.
    share : float, 0..1
        Of the whole outline.
    """

    points: Float
    step: float
    inside: float
    outside: float
    share: float


def lost_stretches(lab: Real, figure: NDArray[np.bool_], limit: float, reach: float = 3.0,
                   least: float = 0.06) -> tuple[list[Stretch], Float]:
    """Stretches along which both sides of the outline look alike.

    Parameters
    ----------
    lab : ndarray of float32, shape (height, width, 3)
        CIELAB.
    figure : ndarray of bool, shape (height, width)
    limit : float
        CIEDE2000.
    reach : float
        How far to either side one looks, px.
    least : float
        Shortest stretch that is told, as a share of the outline.

    Returns
    -------
    list of Stretch
        The longest first.
    ndarray of float64, shape (n, 3)
        All places of the outline: x, y and their step.
    """
    contours, _ = cv2.findContours(figure.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    runs = [c[:, 0].astype(float) for c in contours if len(c) >= _SHORTEST]
    measured = [_measured(points, lab, figure, reach) for points in runs]
    total = sum(np.count_nonzero(np.isfinite(m[0])) for m in measured)
    found = []
    for points, (step, inside, outside) in zip(runs, measured, strict=True):
        smooth = ndimage.uniform_filter1d(np.where(np.isfinite(step), step, 2 * limit), 9,
                                          mode="wrap")
        for at in _cyclic_runs((smooth < limit) & np.isfinite(step)):
            if len(at) >= max(_SHORTEST, least * total):
                found.append(Stretch(points[at] + 0.5, float(np.median(step[at])),
                                     float(inside[at].mean()), float(outside[at].mean()),
                                     len(at) / total))
    places = [np.column_stack([p, m[0]]) for p, m in zip(runs, measured, strict=True)]
    every = np.concatenate(places) if places else np.zeros((0, 3))
    return sorted(found, key=lambda s: -s.share), every[np.isfinite(every[:, 2])]


def _measured(points: Float, lab: Real, figure: NDArray[np.bool_],
              reach: float) -> tuple[Float, Float, Float]:
    """Step, and L* of both sides; not finite where the picture ends."""
    height, width = figure.shape
    tangent = np.roll(points, -_TANGENT, 0) - np.roll(points, _TANGENT, 0)
    normal = np.column_stack([-tangent[:, 1], tangent[:, 0]])
    normal /= np.maximum(1e-9, np.hypot(*normal.T))[:, None]

    def at(offset: float) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.bool_]]:
        x, y = np.rint(points + offset * normal).astype(int).T
        there = (x >= 0) & (y >= 0) & (x < width) & (y < height)
        return np.clip(y, 0, height - 1), np.clip(x, 0, width - 1), there

    (ay, ax, a_there), (by, bx, b_there) = at(reach), at(-reach)
    a_in, b_in = figure[ay, ax] & a_there, figure[by, bx] & b_there
    ok = a_there & b_there & (a_in != b_in)
    one, other = lab[ay, ax], lab[by, bx]
    inside = np.where(a_in[:, None], one, other)
    outside = np.where(a_in[:, None], other, one)
    step = np.where(ok, delta_e_2000(inside, outside), np.inf)
    return step, inside[:, 0].astype(float), outside[:, 0].astype(float)


def _cyclic_runs(on: NDArray[np.bool_]) -> list[NDArray[np.int64]]:
    """Runs of places that are on; one may go over the end."""
    count = len(on)
    if on.all():
        return [np.arange(count)]
    start = int(np.flatnonzero(~on)[0])
    turned = np.roll(on, -start)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], turned.astype(np.int8), [0]])))
    return [(np.arange(a, b) + start) % count for a, b in edges.reshape(-1, 2)]
