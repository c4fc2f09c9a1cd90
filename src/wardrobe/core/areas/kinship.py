"""How likely two areas have one colour, by what can be seen of them in the lines alone."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.borders import touching
from wardrobe.core.areas.segment import Areas
from wardrobe.core.trees import Trees, load_trees

Floats = NDArray[np.float64]
Int = NDArray[np.int64]

_MODEL = Path(__file__).with_name("kinship.npz")
_GRID = 900  # px of the longer edge at which shapes are measured
_THIN = 0.6  # of the line's width: lines inside a part are drawn thinner than its outline

COLUMNS = (
    "touch", "share_small", "share_large", "thin", "size_ratio", "share_of_figure_small",
    "share_of_figure_large", "shape", "mirrored_shape", "off_axis", "off_level", "apart",
    "apart_radii", "ground_small", "ground_large", "neighbours_small", "neighbours_large",
    "common_neighbours", "compact_small", "compact_large", "below", "alike", "enclosed",
    "radius_ratio", "upper")


@dataclass(frozen=True)
class Measures:
    """What is measured of each area; rows run over areas, 0 unused.

    Attributes
    ----------
    figure : ndarray of int64
        Numbers of the areas that are not ground.
    share : ndarray of float64
        Of the figure.
    centre : ndarray of float64, shape (count + 1, 2)
        Picture pixels.
    moments : ndarray of float64, shape (count + 1, 3)
        Normalised second moments xx, yy, xy.
    contact, thin : ndarray of float64, shape (count + 1, count + 1)
        Length of the common border of two areas, and how much of it is a thin line.
    """

    figure: Int
    share: Floats
    centre: Floats
    moments: Floats
    contact: Floats
    thin: Floats


def measure_areas(areas: Areas) -> Measures:
    """Measure the areas of a drawing once, for all pairs."""
    count = areas.count + 1
    figure = np.flatnonzero(~areas.ground)
    figure = figure[figure > 0]
    total = max(1, int(areas.pixels[figure].sum()))
    step = max(1, max(areas.labels.shape) // _GRID)
    small = areas.labels[::step, ::step]
    ys, xs = np.nonzero(small)
    names = small[ys, xs]
    n = np.maximum(np.bincount(names, minlength=count), 1)
    cx, cy = (np.bincount(names, v, count) / n for v in (xs, ys))
    dx, dy = xs - cx[names], ys - cy[names]
    moments = np.stack([np.bincount(names, v, count) / n**2
                        for v in (dx * dx, dy * dy, dx * dy)], axis=1)
    depth = cv2.distanceTransform((~areas.core).astype(np.uint8), cv2.DIST_L2, 3)[::step, ::step]
    thick = depth > _THIN * areas.line_width / 2 + 0.5
    contact, on_thick = np.zeros((count, count)), np.zeros((count, count))
    for table, where in ((contact, None), (on_thick, thick)):
        pairs, lengths = touching(small, areas.count, where)
        table[pairs[:, 0], pairs[:, 1]] = table[pairs[:, 1], pairs[:, 0]] = 0
        np.add.at(table, (pairs[:, 0], pairs[:, 1]), lengths * step)
        np.add.at(table, (pairs[:, 1], pairs[:, 0]), lengths * step)
    thin = np.where(contact > 0, 1 - on_thick / np.maximum(contact, 1), 0)
    return Measures(figure, areas.pixels / total, np.stack([cx * step, cy * step], axis=1),
                    moments, contact, thin)


def pair_features(areas: Areas, measures: Measures, one: Int, other: Int) -> Floats:
    """What can be said of pairs of areas: columns as in COLUMNS.

    Parameters
    ----------
    one, other : ndarray of int64, shape (n,)

    Returns
    -------
    ndarray of float64, shape (n, 25)
    """
    m = measures
    swap = areas.pixels[one] > areas.pixels[other]
    small, large = np.where(swap, other, one), np.where(swap, one, other)
    height, width = areas.labels.shape
    ground = m.contact[:, np.flatnonzero(areas.ground)].sum(axis=1)
    perimeter = np.maximum(m.contact.sum(axis=1), 1)
    weight = m.share[m.figure]
    middle = float((m.centre[m.figure, 0] * weight).sum() / max(weight.sum(), 1e-9))
    box = m.centre[m.figure]
    spread = np.maximum(np.ptp(box, axis=0) if len(box) else np.ones(2), 1)
    diagonal = float(np.hypot(*areas.labels.shape))
    near = m.contact > 2 * areas.line_width
    near[:, areas.ground] = False
    degree = near.sum(axis=1)
    both = (near[small] & near[large]).sum(axis=1)
    either = np.maximum((near[small] | near[large]).sum(axis=1), 1)
    apart = np.hypot(*(m.centre[small] - m.centre[large]).T)
    largest = np.maximum(m.moments[small, :2].max(axis=1), m.moments[large, :2].max(axis=1))
    largest = np.maximum(largest, 1e-6)
    shape = np.abs(m.moments[small] - m.moments[large]).max(axis=1) / largest
    mirrored = np.abs(m.moments[small] - m.moments[large] * [1, 1, -1]).max(axis=1) / largest
    ratio = areas.pixels[small] / np.maximum(areas.pixels[large], 1)
    touch = m.contact[small, large]
    alike = np.array([((m.share[m.figure] > 0.7 * s) & (m.share[m.figure] < s / 0.7)).sum()
                      for s in m.share[small]]) if len(small) else np.zeros(0)
    off_axis = np.abs((m.centre[small, 0] + m.centre[large, 0]) / 2 - middle) / width
    off_level = np.abs(m.centre[small, 1] - m.centre[large, 1]) / height
    compact = 4 * np.pi * areas.pixels / perimeter**2
    reach = areas.inner_radius[small] + areas.inner_radius[large] + 1
    return np.stack([
        touch > 0, touch / perimeter[small], touch / perimeter[large], m.thin[small, large], ratio,
        np.log(m.share[small] + 1e-5), np.log(m.share[large] + 1e-5), shape, mirrored, off_axis,
        off_level, apart / diagonal, apart / reach, ground[small] / perimeter[small],
        ground[large] / perimeter[large], degree[small], degree[large], both / either,
        compact[small], compact[large], (m.centre[small, 1] - m.centre[large, 1]) / spread[1],
        alike, touch / perimeter[small] > 0.85,
        areas.inner_radius[small] / np.maximum(areas.inner_radius[large], 1e-6),
        (m.centre[small, 1] - box[:, 1].min()) / spread[1] if len(box) else np.zeros(len(small)),
    ], axis=1).astype(np.float64)


def kinship(areas: Areas, measures: Measures, one: Int, other: Int) -> Floats:
    """How likely the two of each pair have one colour, 0..1, shape (n,).

    Fitted by ``benchmarks.fit_kinship`` to drawings by four hands.
    """
    return _trees().chance(pair_features(areas, measures, one, other))


@cache
def _trees() -> Trees:
    return load_trees(_MODEL)[0]
