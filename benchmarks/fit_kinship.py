"""Learn which areas have one colour from the tuning halves of the drawings, and store it.

    python -m benchmarks.fit_kinship
"""

from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import Drawing, hands
from benchmarks.figure import arrived
from benchmarks.fit_trees import fit
from benchmarks.grouping import COLOURED
from wardrobe.core.areas import kinship
from wardrobe.core.areas.segment import Areas
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.trees import save_trees

LIMIT = 120
MOST = 40  # areas of a drawing, the largest
SETTINGS = {"max_iter": 150, "max_leaf_nodes": 10, "learning_rate": 0.08, "min_samples_leaf": 40,
            "l2_regularization": 1.0}


def colour_of(drawing: Drawing, areas: Areas) -> NDArray[np.int64]:
    """The colour that most of each area has; 0 if hardly any of it has one."""
    where = drawing.colours > 0
    table = np.zeros((areas.count + 1, int(drawing.colours.max()) + 1))
    np.add.at(table, (areas.labels[where], drawing.colours[where]), 1)
    best = table.argmax(axis=1)
    sizes = np.bincount(areas.labels[areas.core], minlength=areas.count + 1)
    return np.where(table.max(axis=1) > 0.6 * np.maximum(sizes, 1), best, 0)


def main() -> None:
    rows, truth, weights = [], [], []
    for source in COLOURED:
        for drawing in hands(source, 0, LIMIT):
            try:
                deriver, recipe = arrived(drawing)
            except NoClosedAreaError:
                continue
            areas = replace(deriver.areas(recipe), ground=deriver.assignment(recipe).ground)
            colour = colour_of(drawing, areas)
            figure = np.flatnonzero(~areas.ground & (colour > 0))
            figure = figure[np.argsort(-areas.pixels[figure])][:MOST]
            one, other = (figure[k] for k in np.triu_indices(len(figure), 1))
            if not len(one):
                continue
            measures = kinship.measure_areas(areas)
            rows.append(kinship.pair_features(areas, measures, one, other))
            truth.append(colour[one] == colour[other])
            weight = np.sqrt(measures.share[one] * measures.share[other])
            weights.append(weight / max(weight.sum(), 1e-9))  # each drawing alike
    x, y = np.concatenate(rows), np.concatenate(truth)
    w = np.concatenate(weights)
    trees = fit(x, y, w / w.mean(), **SETTINGS)
    save_trees(Path(kinship.__file__).with_name("kinship.npz"), [trees])
    print(f"{len(y)} pairs, {y.mean():.3f} alike")


if __name__ == "__main__":
    main()
