"""Learn which strokes are hatching from the tuning halves of the drawings, and store it.

    python -m benchmarks.fit_hatching
"""

from multiprocessing import Pool

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import SOURCES, hands
from benchmarks.corpora.hatched import DENSITIES, KINDS, hatch
from benchmarks.fit_trees import fit
from wardrobe.core.hatching.find import at_work_size
from wardrobe.core.hatching.graph import StrokeGraph, describe, stroke_graph
from wardrobe.core.hatching.verdict import TREES, company
from wardrobe.core.trees import save_trees

LIMIT = 60
SETTINGS = {"max_iter": 120, "max_leaf_nodes": 12, "learning_rate": 0.1, "min_samples_leaf": 100,
            "l2_regularization": 1.0}
Floats = NDArray[np.float64]


def told(graph: StrokeGraph, hatching: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which segments lie on ink that was added for the most part."""
    numbers = graph.segments.numbers
    on = np.bincount(numbers[hatching], minlength=graph.count + 1)
    all_ = np.bincount(numbers.ravel(), minlength=graph.count + 1)
    return np.asarray(2 * on > all_)


Example = tuple[StrokeGraph, Floats, NDArray[np.bool_]]


def examples(source: str) -> list[Example]:
    """Graphs of hatched and plain drawings, their features, and which segments are hatching."""
    found, kinds = [], list(KINDS)
    for number, drawing in enumerate(hands(source, 0, LIMIT)):
        for kind in (kinds[number % 8], kinds[(number + 3) % 8], None):
            ink, hatching = drawing.ink, np.zeros(drawing.ink.shape, bool)
            if kind:
                hatched = hatch(drawing, kind, DENSITIES[number % 3])
                if hatched is None:
                    continue
                ink, hatching = hatched.ink, hatched.hatching
            small = at_work_size(ink)
            added = cv2.resize(hatching.astype(np.uint8), small.shape[::-1],
                               interpolation=cv2.INTER_NEAREST) > 0
            graph = stroke_graph(small)
            found.append((graph, describe(graph, small), told(graph, added)))
    return found


def main() -> None:
    """Fit both looks; what the second sees comes from trees that never saw its drawing."""
    with Pool(2) as pool:
        found = [e for of_source in pool.map(examples, SOURCES) for e in of_source]
    fold = np.arange(len(found)) // 48 % 2  # a drawing and its hatchings stay together

    def stacked(which: NDArray[np.int64], columns: list[Floats]) -> tuple[
            Floats, NDArray[np.bool_], Floats]:
        rows, truth, weights = [], [], []
        for k in which:
            graph = found[k][0]
            rows.append(columns[k][graph.live])
            truth.append(found[k][2][graph.live])
            length = graph.sizes.length[graph.live] / graph.line_width
            weights.append(np.sqrt(length) / max(1.0, float(np.sqrt(length).sum())) ** 0.5)
        weight = np.concatenate(weights)
        return np.concatenate(rows), np.concatenate(truth), weight / weight.mean()

    everything = np.arange(len(found))
    features = [f[1] for f in found]
    first = fit(*stacked(everything, features), **SETTINGS)
    before: list[Floats] = [np.zeros(0)] * len(found)
    for part in (0, 1):
        other = fit(*stacked(np.flatnonzero(fold != part), features), **SETTINGS)
        for k in np.flatnonzero(fold == part):
            before[k] = other.chance(features[k]) * found[k][0].live
    again = [np.hstack([f[1], company(f[0], chance)])
             for f, chance in zip(found, before, strict=True)]
    second = fit(*stacked(everything, again), **SETTINGS)
    save_trees(TREES, [first, second])
    rows, truth, _ = stacked(everything, again)
    print(f"{len(truth)} segments, {truth.mean():.3f} hatching, "
          f"{(second.chance(rows).round() == truth).mean():.4f} right after the second look")


if __name__ == "__main__":
    main()
