"""Learn from the tuning halves of the drawings how likely openings are gaps, and store it.

    python -m benchmarks.fit_gaps
"""

from concurrent.futures import ProcessPoolExecutor
from itertools import repeat

import cv2
import numpy as np
from numpy.typing import NDArray

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


def learn(alone: Trees | None) -> Trees:
    """Trees for an opening alone, or, given those, for what closing it divides."""
    with ProcessPoolExecutor(2) as pool:
        rows = list(pool.map(_rows, trials(0, LIMIT), repeat(alone), chunksize=8))
    truth = np.concatenate([r[1] for r in rows])
    return fit(np.concatenate([r[0] for r in rows]), truth, np.ones(len(truth)), **SETTINGS)


if __name__ == "__main__":
    first = learn(None)
    save_trees(gaps.TREES, [first, learn(first)])
