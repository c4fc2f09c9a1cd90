"""Learn how sure a figure is from the tuning halves of the drawings, and store it.

    python -m benchmarks.fit_figure
"""

from pathlib import Path

import numpy as np

from benchmarks.corpora.hands import SOURCES
from benchmarks.figure import framings, overlap, tried
from benchmarks.fit_trees import fit
from wardrobe.core.ground import confidence
from wardrobe.core.ground.figure import find_figure
from wardrobe.core.trees import save_trees

LIMIT = 100
SETTINGS = {"max_iter": 60, "max_leaf_nodes": 6, "learning_rate": 0.1, "min_samples_leaf": 20}


def main() -> None:
    rows, right, sources = [], [], []
    for source in SOURCES:
        for framing in framings(source):
            for drawing in tried(source, 0, LIMIT, framing):
                found = find_figure(drawing.ink)
                rows.append(confidence.columns(found.signs))
                right.append(overlap(drawing, found.mask) >= confidence.RIGHT)
                sources.append(source)
    names = np.array(sources)
    weights = np.array([len(names) / (names == s).sum() for s in sources])  # each source alike
    trees = fit(np.array(rows), np.array(right), weights / weights.mean(), **SETTINGS)
    save_trees(Path(confidence.__file__).with_name("confidence.npz"), [trees])
    print(f"{len(rows)} drawings, {np.mean(right):.3f} right")


if __name__ == "__main__":
    main()
