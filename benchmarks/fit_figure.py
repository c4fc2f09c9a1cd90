"""Learn how sure a figure is from the tuning drawings that the guess was not fitted to, as they
are and bent, and store it.

    python -m benchmarks.fit_figure
"""

from collections.abc import Iterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.bent import bend, shrink
from benchmarks.corpora.hands import SOURCES, hands, kept_apart
from benchmarks.figure import Mask, framings, shared, tried
from benchmarks.fit_trees import fit
from wardrobe.core.ground import confidence
from wardrobe.core.ground.figure import find_figure
from wardrobe.core.trees import save_trees

LIMIT, BENT = 500, 3
SIZE = 800  # px of the longer edge of bent ones
Byte = NDArray[np.uint8]
SETTINGS = {"max_iter": 60, "max_leaf_nodes": 6, "learning_rate": 0.1, "min_samples_leaf": 20}


def drawings(source: str) -> Iterator[tuple[Byte, Mask, Mask]]:
    """Coverage, figure and what is judged, in each framing as drawn and bent."""
    for framing in framings(source):
        for drawing in tried(source, 0, LIMIT, framing):
            if kept_apart(drawing.name):
                yield drawing.ink, drawing.figure, drawing.judged
    rng = np.random.default_rng(0)
    for plain in hands(source, 0, LIMIT, framed=False):
        if kept_apart(plain.name):
            small = shrink(plain, SIZE)
            for k in range(BENT):
                framing = framings(source)[k % len(framings(source))]
                cover, figure, judged = bend(small, framing, rng)
                yield cover, figure >= 128, judged >= 128


def main() -> None:
    rows, right, sources = [], [], []
    for source in SOURCES:
        for cover, figure, judged in drawings(source):
            found = find_figure(cover)
            rows.append(confidence.columns(found.signs))
            right.append(shared(found.mask, figure, judged) >= confidence.RIGHT)
            sources.append(source)
    names = np.array(sources)
    weights = np.array([len(names) / (names == s).sum() for s in sources])  # each source alike
    trees = fit(np.array(rows), np.array(right), weights / weights.mean(), **SETTINGS)
    save_trees(Path(confidence.__file__).with_name("confidence.npz"), [trees])
    print(f"{len(rows)} drawings, {np.mean(right):.3f} right")


if __name__ == "__main__":
    main()
