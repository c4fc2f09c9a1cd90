"""Boosted trees from scikit-learn, in the form that the application evaluates."""

from typing import Any

import numpy as np
from numpy.typing import NDArray
from sklearn.ensemble import HistGradientBoostingClassifier

from wardrobe.core.trees import Trees


def fit(rows: NDArray[np.float64], truth: NDArray[np.bool_], weights: NDArray[np.float64],
        **settings: Any) -> Trees:
    """Fit boosted trees to rows that are true or not."""
    model = HistGradientBoostingClassifier(random_state=0, **settings)
    model.fit(rows, truth, sample_weight=weights)
    parts: dict[str, list[NDArray[Any]]] = {k: [] for k in
                                            ("feature", "threshold", "left", "right", "value")}
    roots, first = [], 0
    for (predictor,) in model._predictors:
        nodes = predictor.nodes
        leaf = nodes["is_leaf"] > 0
        roots.append(first)
        parts["feature"].append(np.where(leaf, -1, nodes["feature_idx"].astype(np.int64)))
        parts["threshold"].append(np.where(leaf, 0, nodes["num_threshold"]))
        parts["left"].append(nodes["left"].astype(np.int64) + first)
        parts["right"].append(nodes["right"].astype(np.int64) + first)
        parts["value"].append(nodes["value"])
        first += len(nodes)
    whole = {k: np.concatenate(v) for k, v in parts.items()}
    trees = Trees(whole["feature"].astype(np.int32), whole["threshold"].astype(np.float64),
                  whole["left"].astype(np.int32), whole["right"].astype(np.int32),
                  whole["value"].astype(np.float64), np.array(roots, np.int32),
                  float(model._baseline_prediction.ravel()[0]))
    if not np.allclose(trees.chance(rows), model.predict_proba(rows)[:, 1], atol=1e-6):
        raise AssertionError("the trees do not say what they were fitted to say")
    return trees
