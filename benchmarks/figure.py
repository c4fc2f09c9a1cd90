"""Accuracy of telling figure from ground without a click; writes docs/accuracy-figure.md.

    python -m benchmarks.figure
"""

import time
from collections import defaultdict
from collections.abc import Iterator
from functools import reduce
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import SOURCES, Drawing, hands, torn
from wardrobe.core.areas.segment import segment
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.ground.confidence import RIGHT, SURE
from wardrobe.core.ground.figure import find_figure
from wardrobe.recipe.document.model import Recipe, Source
from wardrobe.recipe.edits import apply
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.stages import Deriver

LIMIT = 24
Mask = NDArray[np.bool_]


PAPER, EDGE, TORN = "framed", "cut off", "torn off"


def framings(source: str) -> tuple[str, ...]:
    """Busts are tried with paper around them, cut off by the edge, and with a base that stops in
    mid-air; all else with paper."""
    if source == "open-peeps":
        return PAPER, EDGE, TORN
    return (PAPER,) if source in ("objects", "emoji") else (PAPER, EDGE)


def tried(source: str, half: int, limit: int, framing: str) -> Iterator[Drawing]:
    """Drawings of a source in one of its framings."""
    for drawing in hands(source, half, limit, framed=framing != EDGE):
        yield torn(drawing) if framing == TORN else drawing


def overlap(drawing: Drawing, figure: Mask) -> float:
    """Intersection over union with the true figure, on pixels free of ink."""
    return shared(figure, drawing.figure, drawing.judged)


def shared(figure: Mask, truth: Mask, judged: Mask) -> float:
    """Intersection over union on the pixels that are judged."""
    there, true = figure[judged], truth[judged]
    return float((there & true).sum() / max(1, (there | true).sum()))


def flooded(drawing: Drawing) -> Mask:
    """What a flood from the border does not reach."""
    free = cv2.copyMakeBorder((drawing.ink < 128).astype(np.uint8), 1, 1, 1, 1,
                              cv2.BORDER_CONSTANT, value=1)
    cv2.floodFill(free, None, (0, 0), 2)
    return np.asarray(free[1:-1, 1:-1] != 2)


def gap_cut(drawing: Drawing) -> Mask:
    """What the cut into areas alone takes for the figure."""
    try:
        areas = segment(drawing.ink)
    except NoClosedAreaError:
        return np.zeros(drawing.ink.shape, bool)
    return ~areas.ground[areas.labels]


def arrived(drawing: Drawing) -> tuple[Deriver, Recipe]:
    """A drawing as it has come in, without a click."""
    height, width = drawing.ink.shape
    grey = 255 - drawing.ink
    rgba = np.dstack([grey, grey, grey, np.full_like(grey, 255)])
    deriver = Deriver(lambda _: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=width, height=height))
    return deriver, reduce(apply, first_edits(deriver, recipe), recipe)


def first_figure(drawing: Drawing) -> Mask:
    """The figure of a drawing that has come in."""
    try:
        deriver, recipe = arrived(drawing)
    except NoClosedAreaError:
        return np.zeros(drawing.ink.shape, bool)
    ground = deriver.assignment(recipe).ground
    return ~ground[deriver.areas(recipe).labels]


def measure(half: int) -> list[str]:
    """Lines of the report."""
    lines = ["| source | drawings | method | at .98 or better | at .93 | least | ms |",
             "|---|---|---|---|---|---|---|"]
    sure: dict[str, list[tuple[float, bool]]] = defaultdict(list)
    for source in SOURCES:
        for framing in framings(source):
            scores: dict[str, list[float]] = defaultdict(list)
            took: list[float] = []
            worse = 0
            for drawing in tried(source, half, LIMIT, framing):
                start = time.perf_counter()
                found = find_figure(drawing.ink)
                took.append(time.perf_counter() - start)
                plain = overlap(drawing, flooded(drawing))
                first = overlap(drawing, first_figure(drawing))
                scores["flood from the border"].append(plain)
                scores["areas alone"].append(overlap(drawing, gap_cut(drawing)))
                scores["minimum cut, always taken"].append(overlap(drawing, found.mask))
                scores["Wardrobe at arrival"].append(first)
                sure[source].append((overlap(drawing, found.mask), found.sure >= SURE))
                worse += plain >= 0.98 and first < plain - 0.005
            name = source if len(framings(source)) == 1 else f"{source}, {framing}"
            for method, got in scores.items():
                v = np.array(got)
                ms = f"{1e3 * np.median(took):.0f}" if method.startswith("minimum") else ""
                lines.append(f"| {name} | {len(v)} | {method} | {np.mean(v >= 0.98):.2f} | "
                             f"{np.mean(v >= RIGHT):.2f} | {v.min():.2f} | {ms} |")
            lines.append(f"| {name} | | right by flooding, worse at arrival | {worse} | | | |")
    lines += ["", "| source | taken without asking | of those right |", "|---|---|---|"]
    for source, rows in sure.items():
        score, taken = np.array([r[0] for r in rows]), np.array([r[1] for r in rows])
        lines.append(f"| {source} | {taken.mean():.2f} | "
                     f"{np.mean(score[taken] >= RIGHT) if taken.any() else 1:.3f} |")
    return lines


if __name__ == "__main__":
    text = ["# Accuracy of figure and ground", "",
            "Written by `make accuracy`, on drawings that nothing was fitted to.", "",
            *measure(1), ""]
    Path("docs/accuracy-figure.md").write_text("\n".join(text))
    print("\n".join(text))
