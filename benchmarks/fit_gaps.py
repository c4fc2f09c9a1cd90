"""Learn from the tuning halves of the drawings how likely openings are gaps, and store it.

    python -m benchmarks.fit_gaps
"""

from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor
from functools import partial

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.cuts import SHAPES
from benchmarks.fit_trees import fit
from benchmarks.gap_trials import Trial, divides_truly, match, trials
from wardrobe.core.lines import gaps
from wardrobe.core.lines.width import line_width
from wardrobe.core.trees import Trees, save_trees

LIMIT = 140
SETTINGS = {"max_iter": 110, "max_leaf_nodes": 9, "learning_rate": 0.08, "min_samples_leaf": 60,
            "l2_regularization": 1.0}
Rows = tuple[NDArray[np.float64], NDArray[np.bool_]]


def _rows(trial: Trial, alone: Trees | None) -> Rows:
    framed = cv2.copyMakeBorder(trial.ink, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=255)
    lw = line_width(trial.ink)
    ends, openings, distance = gaps.openings_of(
        framed, lw, max(gaps.WIDEST_PX, gaps.WIDEST * lw))
    geometry = gaps.geometry_features(framed, ends, openings, lw)
    if alone:
        worth = np.flatnonzero(alone.chance(geometry) > gaps.WORTH_CUTTING)
        openings, geometry = openings.take(worth), geometry[worth]
    labels, regions = gaps.cut_regions(framed, openings)
    division, divides, _ = gaps.division_features(framed, distance, openings, lw)
    truth = divides_truly(labels, regions, openings.centre - 1, openings.width, trial.areas, lw)
    for row in match(openings.centre - 1, trial.cuts, lw):
        if row >= 0:
            truth[row] = True
    if alone:
        return np.hstack([geometry, division])[divides], truth[divides]
    return geometry, truth


def _far_rows(trial: Trial) -> Rows:
    """Openings as far as a missing line may reach, for sharing out."""
    framed = cv2.copyMakeBorder(trial.ink, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=255)
    lw = line_width(trial.ink)
    ends, openings, _ = gaps.openings_of(framed, lw, gaps.farthest(trial.ink, lw))
    labels, regions = gaps.cut_regions(framed, openings)
    truth = divides_truly(labels, regions, openings.centre - 1, openings.width, trial.areas, lw)
    for row in match(openings.centre - 1, trial.cuts, lw):
        if row >= 0:
            truth[row] = True
    return gaps.geometry_features(framed, ends, openings, lw), truth


def learn_far() -> Trees:
    """Trees for an opening alone, however wide."""
    some = (t for t in trials(0, LIMIT) if t.shape in (None, SHAPES[0]))
    return _fitted(_far_rows, some)


def _fitted(rows: Callable[[Trial], Rows], some: Iterable[Trial]) -> Trees:
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(rows, some, chunksize=8))
    truth = np.concatenate([r[1] for r in found])
    return fit(np.concatenate([r[0] for r in found]), truth, np.ones(len(truth)), **SETTINGS)


def learn(alone: Trees | None) -> Trees:
    """Trees for an opening alone, or, given those, for what closing it divides."""
    return _fitted(partial(_rows, alone=alone), trials(0, LIMIT))


if __name__ == "__main__":
    first = learn(None)
    save_trees(gaps.TREES, [first, learn(first), learn_far()])
