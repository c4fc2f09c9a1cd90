"""Accuracy of suggested parts against true fill colours; writes docs/accuracy-parts.md.

    python -m benchmarks.grouping
"""

from collections.abc import Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import Drawing, hands
from benchmarks.figure import arrived
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.stages import Deriver

COLOURED = ("adventurer", "open-peeps", "emoji")  # objects and croodles have one fill only
LIMIT = 40


def pair_f1(found: NDArray[np.int64], truth: NDArray[np.int64]) -> float:
    """F1 of pairs of pixels that are put together (Hubert and Arabie, "Comparing partitions",
    Journal of Classification 2, 1985, for counting by the table of both)."""
    table = np.zeros((int(found.max()) + 1, int(truth.max()) + 1))
    np.add.at(table, (found, truth), 1)

    def pairs(counts: NDArray[np.float64]) -> float:
        return float((counts * (counts - 1) / 2).sum())

    both = pairs(table)
    return 2 * both / max(1.0, pairs(table.sum(axis=0)) + pairs(table.sum(axis=1)))


def score(drawing: Drawing, labels: NDArray[np.integer]) -> float:
    """Pair F1 of labels on the coloured pixels; what has no label is one group of its own."""
    where = drawing.colours > 0
    return pair_f1(labels[where].astype(np.int64), drawing.colours[where].astype(np.int64))


def parts_of(deriver: Deriver, recipe: Recipe) -> NDArray[np.uint16]:
    """Part of every pixel."""
    return deriver.assignment(recipe).part_of_area[deriver.areas(recipe).labels]


def measure(half: int, sources: Sequence[str] = COLOURED) -> list[str]:
    """Lines of the report."""
    lines = ["| source | drawings | each area by itself | all one | suggested parts | parts | "
             "colours |", "|---|---|---|---|---|---|---|"]
    for source in sources:
        rows = []
        for drawing in hands(source, half, LIMIT):
            if not (drawing.colours > 0).any():
                continue
            try:
                deriver, recipe = arrived(drawing)
            except NoClosedAreaError:
                continue
            parts, labels = parts_of(deriver, recipe), deriver.areas(recipe).labels
            rows.append((score(drawing, labels), score(drawing, np.ones_like(labels)),
                         score(drawing, parts), len(recipe.parts),
                         len(np.unique(drawing.colours)) - 1))
        v = np.array(rows).mean(axis=0)
        lines.append(f"| {source} | {len(rows)} | {v[0]:.3f} | {v[1]:.3f} | {v[2]:.3f} | "
                     f"{v[3]:.1f} | {v[4]:.1f} |")
    return lines


if __name__ == "__main__":
    text = ["# Accuracy of suggested parts", "",
            "Written by `make accuracy`, on drawings that nothing was fitted to: pair-counting F1 "
            "of the suggested parts against the true fill colours, on coloured pixels.", "",
            *measure(1), ""]
    Path("docs/accuracy-parts.md").write_text("\n".join(text))
    print("\n".join(text))
