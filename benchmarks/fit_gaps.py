"""Learn the weights of the gap finder from the tuning half of the drawings, and print them.

    python -m benchmarks.fit_gaps
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.gap_trials import Trial, divides_truly, match, trials
from wardrobe.core.lines import gaps
from wardrobe.core.lines.width import line_width

LIMIT = 140
_RIDGE = 1.0


def _fit(features: NDArray[np.float64], truth: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Logistic regression by Newton's method, with a small ridge on standardised columns."""
    mean, spread = features.mean(axis=0), features.std(axis=0) + 1e-9
    mean[0], spread[0] = 0, 1
    z = (features - mean) / spread
    weights = np.zeros(z.shape[1])
    for _ in range(60):
        p = 1 / (1 + np.exp(-z @ weights))
        hessian = (z * (p * (1 - p))[:, None]).T @ z + _RIDGE * np.eye(len(weights))
        weights += np.linalg.solve(hessian, z.T @ (truth - p) - _RIDGE * weights)
    plain: NDArray[np.float64] = weights / spread
    plain[0] -= (plain[1:] * mean[1:]).sum()
    return plain


def _rows(trial: Trial, weights: dict[str, float] | None) -> tuple[NDArray[np.float64],
                                                                   NDArray[np.bool_]]:
    framed = cv2.copyMakeBorder(trial.ink, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=255)
    lw = line_width(trial.ink)
    ends, openings, distance = gaps.openings_of(
        framed, lw, max(gaps.WIDEST_PX, gaps.WIDEST * lw))
    geometry = gaps.geometry_features(framed, ends, openings, lw)
    if weights:
        worth = np.flatnonzero(gaps.chance(geometry, weights) > gaps.WORTH_CUTTING)
        openings, geometry = openings.take(worth), geometry[worth]
    labels, regions = gaps.cut_regions(framed, openings)
    division, divides, _ = gaps.division_features(framed, distance, openings, lw)
    truth = divides_truly(labels, regions, openings.centre - 1, openings.width, trial.areas, lw)
    for row in match(openings.centre - 1, trial.cuts, lw):
        if row >= 0:
            truth[row] = True
    if weights:
        return np.hstack([geometry, division])[divides], truth[divides]
    return geometry, truth


def learn(weights: dict[str, float] | None) -> NDArray[np.float64]:
    """Weights of the first stage, or of the second given those of the first."""
    rows = [_rows(t, weights) for t in trials(0, LIMIT)]
    return _fit(np.concatenate([r[0] for r in rows]), np.concatenate([r[1] for r in rows]))


def _print(name: str, table: dict[str, float], values: NDArray[np.float64]) -> dict[str, float]:
    found = {key: round(float(v), 3) for key, v in zip(table, values, strict=True)}
    print(f"{name} = {found}")
    return found


if __name__ == "__main__":
    first = _print("GEOMETRY", gaps.GEOMETRY, learn(None))
    _print("DIVISION", gaps.DIVISION, learn(first))
