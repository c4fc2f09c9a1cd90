"""Panels, their order and lettering on made-up pages that nothing was fitted to."""

import time
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import hands
from benchmarks.corpora.pages import KINDS, Page, pages
from wardrobe.core.page.lettering import find_lettering
from wardrobe.core.page.panels import find_panels

Points = NDArray[np.float64]

PAGES, SEED = 200, 977
_EXACT = 0.95  # overlap over union from which a panel is exact
_ART = 40  # drawings that panels are filled with


@dataclass(frozen=True)
class Found:
    """One page: true panels, how many were found exactly, how many were found that are none,
    whether those found are in the right order, shares of lettered ink found and truly so."""

    kind: str
    panels: int
    exact: int
    extra: int
    ordered: bool
    recall: float
    precision: float
    seconds: float


def tried(page: Page) -> Found:
    """Find the panels of a page and hold them against the true ones."""
    began = time.perf_counter()
    lettering = find_lettering(page.ink)
    found = [p.outline for p in find_panels(page.ink, lettering.balloons)]
    seconds = time.perf_counter() - began
    best = [max(((_overlap(page.ink.shape, t, f), k) for k, f in enumerate(found)),
                default=(0.0, -1)) for t in page.panels]
    hit = [k for share, k in best if share >= _EXACT]
    told = lettering.letters & (page.ink > 0)
    true = page.lettered & (page.ink > 0)
    both = float((told & true).sum())
    return Found(page.kind, len(page.panels), len(set(hit)), len(found) - len(set(hit)),
                 hit == sorted(hit), both / max(1.0, float(true.sum())),
                 both / max(1.0, float(told.sum())) if told.any() else 1.0, seconds)


def _overlap(shape: tuple[int, ...], one: Points, other: Points) -> float:
    """Intersection over union of two outlines."""
    masks = []
    for outline in (one, other):
        mask = np.zeros(shape, np.uint8)
        cv2.fillPoly(mask, [np.round(outline).astype(np.int32)], 1)
        masks.append(mask > 0)
    return float((masks[0] & masks[1]).sum() / max(1, (masks[0] | masks[1]).sum()))


def table(found: list[Found]) -> Iterator[str]:
    """Lines of the report."""
    groups: dict[str, list[Found]] = defaultdict(list)
    for f in found:
        groups[f.kind].append(f)
        groups["all"].append(f)
    yield "| pages | number | panels | exact | too many | order right | letters found | of what " \
        "is called letters |"
    yield "|---|---|---|---|---|---|---|---|"
    for kind in (*KINDS, "all"):
        some = groups[kind]
        total = sum(f.panels for f in some)
        yield (f"| {kind} | {len(some)} | {total} | {sum(f.exact for f in some) / total:.1%} | "
               f"{sum(f.extra for f in some)} | {np.mean([f.ordered for f in some]):.1%} | "
               f"{np.mean([f.recall for f in some]):.3f} | "
               f"{np.mean([f.precision for f in some]):.3f} |")


def main() -> None:
    art = [d.ink for source in ("objects", "adventurer")
           for d in hands(source, 1, _ART // 2, framed=False)]
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(tried, pages(PAGES, SEED, art), chunksize=5))
    text = ["# Accuracy of panels", "",
            f"Written by `python -m benchmarks.panels`: {PAGES} made-up pages of 1240 x 1754 px, "
            "filled with drawings by unknown hands. A panel is exact where it overlaps the true "
            f"one by {_EXACT:.0%} of both together; the order is right where all panels that are "
            "exact come in the order in which they are read (common practice, no published "
            "source).", "", *table(found), "",
            f"Median time for a page: {np.median([f.seconds for f in found]) * 1000:.0f} ms.", ""]
    Path("docs/accuracy-panels.md").write_text("\n".join(text))
    print("\n".join(text))


if __name__ == "__main__":
    main()
