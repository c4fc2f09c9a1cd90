"""Learn to carry parts from one drawing to the next, from the tuning halves, and store it.

    python -m benchmarks.fit_carry
"""

import pickle
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.sequences import LARGE, SMALL, Figure, Pair, figures, pairs
from benchmarks.fit_trees import fit
from wardrobe.core.carry import carried
from wardrobe.core.carry.align import align
from wardrobe.core.carry.side import describe
from wardrobe.core.trees import Trees, save_trees

FIGURES = 120
MOST = 1200  # pairs of areas of a pair of drawings
CACHE = Path(".corpus/carry-pairs")
PAIRS = {"max_iter": 180, "max_leaf_nodes": 16, "learning_rate": 0.1, "min_samples_leaf": 40,
         "l2_regularization": 1.0}
PARTS = {"max_iter": 160, "max_leaf_nodes": 12, "learning_rate": 0.08, "min_samples_leaf": 40,
         "l2_regularization": 2.0}

Doubles = NDArray[np.float64]
Int = NDArray[np.int64]


def made(chunk: tuple[int, list[Figure]]) -> Path:
    """The pairs of some figures, kept in a file."""
    number, some = chunk
    file = CACHE / f"{number}.pickle"
    if not file.exists():
        found = [(p, *described(p)) for p in pairs(some, 0)]
        file.write_bytes(pickle.dumps(found))
    return file


def described(pair: Pair) -> tuple[object, object, object]:
    """The sides of a pair, and how the one lies on the other."""
    there = describe(*pair.other)
    sides = [describe(*pair.one, mirrored=m) for m in (False, True)]
    aligned = [align(side, there) for side in sides]
    k = int(aligned[1].agreement > aligned[0].agreement + carried._MIRRORED)
    return sides[k], there, aligned[k]


def rows_of(job: tuple[Path, list[list[Trees]]]) -> list[tuple[object, ...]]:
    """Figures, truth and weights of all pairs of areas in a file, in the round that comes after
    the given trees; those of a fold were not fitted to its figures."""
    file, folds = job
    out = []
    for pair, one, other, alignment in pickle.loads(file.read_bytes()):
        fold = fold_of(pair.figure)
        found = carried.match(one, other, alignment, folds[fold])
        truth = (pair.one_id[one.area[1:]][None] == pair.other_id[other.area[1:]][:, None]) \
            & (pair.other_id[other.area[1:]] > 0)[:, None]
        share = np.sqrt(np.maximum(other.share[1:, None], 1e-4)) * np.ones(truth.shape)
        if len(folds[fold]) == carried.ROUNDS:
            parts = pair.parts
            of_row = np.concatenate([[0], parts[one.area[1:]]])
            tried, figures_ = carried.weighed(found, of_row)
            right = pair.part[pair.other_id[other.area[1:]]]
            out.append((fold, figures_, (tried == right[:, None]).ravel(),
                        np.repeat(np.sqrt(np.maximum(other.share[1:], 1e-4)), tried.shape[1])))
            continue
        x, y, w = found.asked[-1], truth.ravel(), share.ravel()
        dice = np.random.default_rng(len(y))
        keep = np.ones(len(y), bool)
        if len(y) > MOST:
            keep = y | (dice.random(len(y)) < MOST / len(y))
            w = np.where(y, w, w * len(y) / MOST)
        out.append((fold, x[keep].astype(np.float32), y[keep], w[keep]))
    return out


def fold_of(name: str) -> int:
    return sum(name.encode()) % 2


def main() -> None:
    CACHE.mkdir(exist_ok=True)
    some = list(figures(0, FIGURES))
    chunks = [(k, some[k::40]) for k in range(40)]
    with ProcessPoolExecutor(2) as pool:
        files = list(pool.map(made, chunks))
        print("pairs are made", flush=True)
        folds: list[list[Trees]] = [[], []]
        whole: list[Trees] = []
        for k in range(carried.ROUNDS + 1):
            settings = PARTS if k == carried.ROUNDS else PAIRS
            rows = [r for found in pool.map(rows_of, [(f, folds) for f in files]) for r in found]
            fold = np.concatenate([np.full(len(r[2]), r[0]) for r in rows])
            x, y, w = (np.concatenate([r[i] for r in rows]) for i in (1, 2, 3))
            w = w / w.mean()
            print(f"round {k}: {x.shape}, {y.mean():.4f} true", flush=True)
            whole.append(fit(x, y, w, **settings))
            for f in (0, 1):
                if k < carried.ROUNDS:
                    folds[f] = [*folds[f], fit(x[fold != f], y[fold != f], w[fold != f],
                                               **settings)]
            save_trees(Path(carried.__file__).with_name("carry.npz"), whole)


if __name__ == "__main__":
    _ = SMALL, LARGE
    main()
