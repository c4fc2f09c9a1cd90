"""Accuracy of carrying parts from one drawing to the next; writes docs/accuracy-carry.md.

    python -m benchmarks.carry
"""

import time
from collections import defaultdict
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.sequences import (
    KINDS,
    LARGE,
    SMALL,
    Figure,
    Pair,
    demo_figures,
    figures,
    pairs,
)
from wardrobe.core.carry.align import align
from wardrobe.core.carry.carried import SURE
from wardrobe.core.carry.leaks import carry_and_mend
from wardrobe.core.carry.side import FRAME, describe
from wardrobe.core.lines.gaps import find_closures

FIGURES = 30
_DENSE = 30  # areas from which a figure is dense
METHODS = ("nearest by place", "template", "carried")

Int = NDArray[np.int64]


@dataclass(frozen=True)
class Score:
    """One pair: shares of the pixels that are right by each method; how many are sure, and right
    of these; of the areas, how many are sure."""

    kind: str
    motion: float
    dense: bool
    demo: bool
    right: tuple[float, ...]
    sure: float
    sure_right: float
    sure_areas: float
    seconds: float


def nearest_by_place(pair: Pair) -> Int:
    """Each area takes the part whose area's centre is nearest after aligning the figures."""
    one, other = describe(*pair.one), describe(*pair.other)
    matrix = align(one, other).matrix
    at = other.centre @ matrix[:, :2].T + matrix[:, 2]
    away = np.linalg.norm(at[:, None] - one.centre[None, 1:], axis=-1)
    out = np.zeros(pair.other.areas.count + 1, np.int64)
    out[other.area] = pair.parts[one.area[1:]][away.argmin(axis=1)]
    out[other.area[0]] = 0
    return out


def by_template(pair: Pair) -> Int:
    """Each area takes the part of the place whose surroundings correlate best (OpenCV's
    matchTemplate over the aligned figures)."""
    one, other = describe(*pair.one), describe(*pair.other)
    matrix = align(one, other).matrix
    back = cv2.invertAffineTransform(matrix)
    lines = cv2.warpAffine(one.felt[..., 1], back, (FRAME, FRAME))
    parts = np.concatenate([[0], pair.parts[one.area[1:]]])[one.rows].astype(np.float32)
    parts = cv2.warpAffine(parts, back, (FRAME, FRAME), flags=cv2.INTER_NEAREST)
    out = np.zeros(pair.other.areas.count + 1, np.int64)
    half, reach = 12, 20
    padded = cv2.copyMakeBorder(lines, *(half + reach,) * 4, cv2.BORDER_CONSTANT)
    there = cv2.copyMakeBorder(other.felt[..., 1], *(half,) * 4, cv2.BORDER_CONSTANT)
    for row in range(1, len(other)):
        x, y = np.clip(np.rint(other.centre[row]), 0, FRAME - 1).astype(int)
        patch = there[y:y + 2 * half + 1, x:x + 2 * half + 1]
        field = padded[y:y + 2 * (half + reach) + 1, x:x + 2 * (half + reach) + 1]
        found = cv2.matchTemplate(field, patch, cv2.TM_CCOEFF_NORMED)
        dy, dx = np.unravel_index(int(np.nan_to_num(found).argmax()), found.shape)
        out[other.area[row]] = parts[np.clip(y + dy - reach, 0, FRAME - 1),
                                     np.clip(x + dx - reach, 0, FRAME - 1)]
    return out


def tried(pair: Pair) -> Score:
    """Score all methods on a pair."""
    counted = pair.truth >= 0
    truth, labels = pair.truth[counted], pair.other.areas.labels[counted]
    begin = time.perf_counter()
    found, cut = carry_and_mend(pair.one, pair.parts, pair.other, find_closures(pair.other.ink))
    seconds = time.perf_counter() - begin
    right = [float((g[labels] == truth).mean())
             for g in (nearest_by_place(pair), by_template(pair))]
    labels = cut.areas.labels[counted]
    right.append(float((found.part[labels] == truth).mean()))
    sure = found.chance >= SURE
    on = sure[labels]
    own = np.unique(labels)
    hit = found.part[labels] == truth
    return Score(pair.kind, pair.motion, int((pair.parts > 0).sum()) >= _DENSE,
                 pair.figure.startswith("demo"), tuple(right), float(on.mean()),
                 float(hit[on].mean()) if on.any() else 1.0, float(sure[own].mean()), seconds)


def of_figures(job: tuple[list[Figure], int]) -> list[Score]:
    """All pairs of some figures."""
    some, seed = job
    return [tried(pair) for pair in pairs(some, seed)]


def table(scores: Sequence[Score]) -> list[str]:
    """Lines of the report."""
    groups: dict[tuple[str, float], list[Score]] = defaultdict(list)
    for s in scores:
        for name in (s.kind, "all", *(["dense"] if s.dense else []), *(["demo"] if s.demo else [])):
            groups[name, s.motion].append(s)
    lines = ["| drawings | motion | pairs | nearest by place | template | carried | sure | of "
             "these right | areas sure |", "|---|---|---|---|---|---|---|---|---|"]
    for name in (*KINDS, "all", "dense", "demo"):
        for motion in (SMALL, LARGE):
            some = groups[name, motion]
            if not some:
                continue
            right = np.mean([s.right for s in some], axis=0)
            weight = np.array([s.sure for s in some])
            exact = float((weight * [s.sure_right for s in some]).sum() / max(1e-9, weight.sum()))
            lines.append(f"| {name} | {motion:.0%} | {len(some)} | "
                         + " | ".join(f"{v:.3f}" for v in right)
                         + f" | {weight.mean():.3f} | {exact:.4f} | "
                         f"{np.mean([s.sure_areas for s in some]):.2f} |")
    return lines


def main() -> None:
    some = [*figures(1, FIGURES), *demo_figures()]
    chunks = [(some[k::24], 1) for k in range(24)]
    with ProcessPoolExecutor(2) as pool:
        scores = [s for found in pool.map(of_figures, chunks) for s in found]
    text = ["# Accuracy of carrying parts over", "",
            "Written by `python -m benchmarks.carry`, on figures that nothing was fitted to: the "
            "share of pixels that get the right part in a second drawing of which only the lines "
            "are known, by how far the figure moved (shares of its diagonal), beside two simpler "
            "ways in the same run. Sure is what is not asked about.", "", *table(scores), "",
            f"Median time for two drawings of 900 x 900 px: "
            f"{np.median([s.seconds for s in scores]) * 1000:.0f} ms.", ""]
    Path("docs/accuracy-carry.md").write_text("\n".join(text))
    print("\n".join(text))


if __name__ == "__main__":
    main()
