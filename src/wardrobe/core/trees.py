"""Boosted decision trees that were fitted elsewhere: the evaluation alone."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel

Floats = NDArray[np.float64]
Int = NDArray[np.int32]


@dataclass(frozen=True)
class Trees:
    """A sum of trees.

    Attributes
    ----------
    feature : ndarray of int32, shape (nodes,)
        Column that a node asks about; -1 in leaves.
    threshold, value : ndarray of float64, shape (nodes,)
        A row goes left where its column is at most the threshold; what leaves add.
    left, right : ndarray of int32, shape (nodes,)
    roots : ndarray of int32, shape (trees,)
    base : float
        What is there before the first tree.
    """

    feature: Int
    threshold: Floats
    left: Int
    right: Int
    value: Floats
    roots: Int
    base: float

    def chance(self, rows: Floats) -> Floats:
        """A probability for each row.

        Parameters
        ----------
        rows : ndarray of float64, shape (n, columns)

        Returns
        -------
        ndarray of float64, shape (n,), 0..1
            The logistic function of the sum.

        References
        ----------
        J. H. Friedman, "Greedy function approximation: a gradient boosting machine", Annals of
        Statistics 29, 2001.
        """
        total = _total(np.ascontiguousarray(rows, np.float64), self.feature, self.threshold,
                       self.left, self.right, self.value, self.roots)
        result: Floats = 1 / (1 + np.exp(-(self.base + total)))
        return result


_ARRAYS = ("feature", "threshold", "left", "right", "value", "roots")


def load_trees(file: Path) -> list[Trees]:
    """The sums of trees in a file, in their order."""
    with np.load(file) as stored:
        count = int(stored["count"])
        return [Trees(**{name: stored[f"{name}{k}"] for name in _ARRAYS},
                      base=float(stored[f"base{k}"])) for k in range(count)]


def save_trees(file: Path, sums: list[Trees]) -> None:
    """Write sums of trees, as :func:`load_trees` reads them."""
    arrays = {f"{name}{k}": np.asarray(getattr(trees, name))
              for k, trees in enumerate(sums) for name in (*_ARRAYS, "base")}
    np.savez_compressed(file, allow_pickle=False, count=np.array(len(sums)), **arrays)


@kernel
def _total(rows: Floats, feature: Int, threshold: Floats, left: Int, right: Int, value: Floats,
           roots: Int) -> Floats:
    out = np.zeros(len(rows), np.float64)
    for i in range(len(rows)):
        for root in roots:
            k = root
            while feature[k] >= 0:
                k = left[k] if rows[i, feature[k]] <= threshold[k] else right[k]
            out[i] += value[k]
    return out
