"""Accuracy of telling hatching from lines; writes docs/accuracy-hatching.md.

    python -m benchmarks.hatching
"""

import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from itertools import repeat
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import SOURCES, hands
from benchmarks.corpora.hatched import DENSITIES, KINDS, hatch, outline_width
from wardrobe.core.areas.segment import segment
from wardrobe.core.errors import WardrobeError
from wardrobe.core.hatching.find import find_hatching

LIMIT = 24  # drawings of each source
Byte = NDArray[np.uint8]
Labels = NDArray[np.int32]


def areas_of(ink: Byte) -> Labels:
    """The areas that the application cuts; one where it cuts none."""
    try:
        return segment(ink).labels.astype(np.int32)
    except WardrobeError:
        return np.ones(ink.shape, np.int32)


def alike(one: Labels, other: Labels, where: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Pixels whose areas are each other's best match by overlap."""
    a, b = one[where], other[where]
    table = np.zeros((int(one.max()) + 1, int(other.max()) + 1), np.int64)
    np.add.at(table, (a, b), 1)
    there, back = table.argmax(axis=1), table.argmax(axis=0)
    out = np.zeros(one.shape, bool)
    out[where] = (there[a] == b) & (back[b] == a)
    return out


def bare(ink: Byte) -> Byte:
    """What is left of the lines without hatching that is sure enough to be taken off unasked."""
    found = find_hatching(ink)
    sure = [k for k, family in enumerate(found.families, start=1) if family.taken]
    return np.where(found.ink(sure), 0, ink).astype(np.uint8)


def offered(ink: Byte) -> Byte:
    """What is left without all the hatching that is found."""
    found = find_hatching(ink)
    return np.where(found.ink(range(1, len(found.families) + 1)), 0, ink).astype(np.uint8)


def opened(ink: Byte) -> Byte:
    """Ink that a disc of .7 of the outline's width fits into."""
    size = max(1, round(0.35 * outline_width(ink)))
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * size + 1,) * 2)
    return cv2.morphologyEx(ink, cv2.MORPH_OPEN, disc).astype(np.uint8)


METHODS: dict[str, Callable[[Byte], Byte]] = {
    "nothing is done": lambda ink: ink, "morphological opening": opened,
    "Wardrobe, unasked": bare, "Wardrobe, all that is found": offered,
}


@dataclass(frozen=True)
class Score:
    """Shares of pixels right for one method on one drawing; ``inside`` the hatching only."""

    source: str
    kind: str
    method: str
    whole: float
    inside: float
    seconds: float


def scored(source: str, half: int) -> list[Score]:
    """Every method on the drawings of a source, hatched and plain."""
    found = []
    for number, drawing in enumerate(hands(source, half, LIMIT)):
        free = drawing.ink < 128
        plain = areas_of(drawing.ink)
        turn = number + SOURCES.index(source)
        hatched = hatch(drawing, list(KINDS)[turn % len(KINDS)], DENSITIES[turn % len(DENSITIES)])
        for method, work in METHODS.items():
            start = time.perf_counter()
            bare_plain = work(drawing.ink)
            took = time.perf_counter() - start
            same = alike(plain, areas_of(bare_plain), free)
            found.append(Score(source, "plain", method, float(same[free].mean()), 1.0, took))
            if hatched:
                right = alike(plain, areas_of(work(hatched.ink)), free)
                inside = right[hatched.inside].mean() if hatched.inside.any() else 1.0
                found.append(Score(source, hatched.kind, method, float(right[free].mean()),
                                   float(inside), took))
    return found


def report(half: int) -> list[str]:
    """Lines of the report."""
    with ProcessPoolExecutor(2) as pool:
        scores = [s for of in pool.map(scored, SOURCES, repeat(half)) for s in of]

    def row(name: str, wanted: Callable[[Score], bool]) -> str:
        cells = []
        for method in METHODS:
            some = [s for s in scores if s.method == method and wanted(s)]
            whole, inside = np.mean([s.whole for s in some]), np.mean([s.inside for s in some])
            plain = some[0].kind == "plain"
            cells.append(f"{whole:.4f}" if plain else f"{whole:.3f} ({inside:.3f})")
        return f"| {name} | {len(some)} | {' | '.join(cells)} |"

    lines = [f"| drawings | number | {' | '.join(METHODS)} |", "|---|---|" + "---|" * len(METHODS)]
    lines += [row(kind, lambda s, kind=kind: s.kind == kind) for kind in KINDS]
    lines += [row(f"{source}, hatched", lambda s, source=source:
                  s.source == source and s.kind != "plain") for source in SOURCES]
    lines.append(row("all hatched", lambda s: s.kind != "plain"))
    lines += [row(f"{source}, plain", lambda s, source=source:
                  s.source == source and s.kind == "plain") for source in SOURCES]
    took = [s.seconds for s in scores if s.method == "Wardrobe, unasked"]
    return [*lines, "", f"Median time at 1024 px: {1e3 * np.median(took):.0f} ms."]


if __name__ == "__main__":
    text = ["# Accuracy of telling hatching from lines", "",
            "Written by `make accuracy`. Drawings of the reporting halves, by five hands, are "
            "hatched by program in one of eight ways and three densities, whole areas or one side "
            "of them, with strokes of .3 to .7 of the outline's width. The score is the share of "
            "pixels free of the drawing's own ink whose area is that of the plain drawing, cut by "
            "the application, when areas are matched to their best counterparts both ways; in "
            "brackets inside the hatching only. Plain drawings should stay as they are.", "",
            *report(1), ""]
    Path("docs/accuracy-hatching.md").write_text("\n".join(text))
    print("\n".join(text))
