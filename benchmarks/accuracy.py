"""Accuracy of the gap finder on drawings that it was not tuned on; writes docs/accuracy-gaps.md.

    python -m benchmarks.accuracy
"""

import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.morphology import skeletonize

from benchmarks.cuts import SHAPES
from benchmarks.gap_trials import SETS, Trial, divides_truly, leaks, match, trials
from wardrobe.core.lines import gaps
from wardrobe.core.lines.gaps import Gaps, find_gaps
from wardrobe.core.lines.openings import Openings
from wardrobe.core.lines.width import line_width

LIMIT = 140
Byte = NDArray[np.uint8]


def baseline(ink: Byte) -> Gaps:
    """Skeleton end points joined to the nearest ink in front of them, as is common practice."""
    lw = line_width(ink)
    binary = ink >= 128
    skeleton = skeletonize(binary)
    ends = skeleton & (ndimage.convolve(skeleton.astype(np.uint8), np.ones((3, 3))) == 2)
    height, width = ink.shape
    rows = []
    for y, x in np.argwhere(ends):
        back = skeleton[max(0, y - int(lw)):y + int(lw) + 1, max(0, x - int(lw)):x + int(lw) + 1]
        cy, cx = np.argwhere(back).mean(axis=0) - [min(y, int(lw)), min(x, int(lw))]
        length = np.hypot(cy, cx)
        if length < 0.1:
            continue
        steps = np.arange(0, 6 * lw, 0.5)
        py = np.clip(np.rint(y - cy / length * steps), 0, height - 1).astype(int)
        px = np.clip(np.rint(x - cx / length * steps), 0, width - 1).astype(int)
        under = binary[py, px]
        out = int(np.argmin(under))
        again = int(np.argmax(under[out:]))
        if not under[out] and again:
            rows.append(([px[out - 1], py[out - 1]], [px[out + again], py[out + again]]))
    banks = np.array(rows, np.float32).reshape(-1, 2, 2)
    span = np.hypot(*(banks[:, 1] - banks[:, 0]).T) - 1
    none = np.zeros((len(banks), 2, 2), np.float32)
    banks += 0.5
    return Gaps(banks.mean(axis=1), banks, span, np.ones(len(banks), np.float32), none, none,
                none[:, 0], lw)


def _true(trial: Trial, found: Gaps) -> tuple[NDArray[np.bool_], int]:
    """Which gaps divide true areas when all are closed, and how many regions leak then."""
    framed = cv2.copyMakeBorder(trial.ink, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=255)
    openings = Openings(found.centre + 0.5, found.ends + 0.5, found.width,
                        np.zeros((len(found), 2), np.int32))
    labels, regions = gaps.cut_regions(framed, openings)
    truth = divides_truly(labels, regions, found.centre, found.width, trial.areas,
                          found.line_width)
    return truth, leaks(labels[1:-1, 1:-1], trial.areas, found.line_width)


def _rows(found: Gaps, least: float) -> Gaps:
    keep = found.chance >= least
    return Gaps(found.centre[keep], found.ends[keep], found.width[keep], found.chance[keep],
                found.sides[keep], found.directions[keep], found.tips, found.line_width)


@dataclass(frozen=True)
class Found:
    """What came of one trial.

    Attributes
    ----------
    set, shape
        As of the trial.
    cuts : list of (bool, float, float)
        Of each cut: whether it is listed, how far off it lies and how wrong its width is, px.
    plain : list of bool
        Whether skeleton ends find it.
    uncut : dict of str to (list of bool, int)
        Which of the gaps closed divide true areas, and how many regions leak.
    took, plain_took : float
        Seconds.
    """

    set: str
    shape: str | None
    cuts: list[tuple[bool, float, float]]
    plain: list[bool]
    uncut: dict[str, tuple[list[bool], int]]
    took: float
    plain_took: float


def tried(trial: Trial) -> Found:
    """Both finders on one trial."""
    start = time.perf_counter()
    found = find_gaps(trial.ink)
    took = time.perf_counter() - start
    start = time.perf_counter()
    plain = baseline(trial.ink)
    plain_took = time.perf_counter() - start
    uncut: dict[str, tuple[list[bool], int]] = {}
    if trial.shape is None:
        for name, some in (("nothing closed", _rows(found, 2)),
                           ("listed", _rows(found, gaps.LIKELY)),
                           ("with the doubtful", found), ("skeleton ends", plain)):
            truth, leaking = _true(trial, some)
            uncut[name] = truth.tolist(), leaking
        return Found(trial.set, None, [], [], uncut, took, plain_took)
    listed, cuts = _rows(found, gaps.LIKELY), []
    lw = found.line_width
    for c, row in zip(trial.cuts, match(listed.centre - 0.5, trial.cuts, lw), strict=True):
        off = np.hypot(*(listed.centre[row] - 0.5 - [c.x, c.y])) if row >= 0 else np.nan
        error = abs(listed.width[row] - c.width) if row >= 0 else np.nan
        cuts.append((row >= 0, float(off), float(error)))
    return Found(trial.set, trial.shape, cuts,
                 [r >= 0 for r in match(plain.centre - 0.5, trial.cuts, lw)], uncut, took,
                 plain_took)


def measure(half: int) -> list[str]:
    """Lines of the report."""
    with ProcessPoolExecutor(2) as pool:
        results = list(pool.map(tried, trials(half, LIMIT), chunksize=8))
    lines = ["| drawings, ends | cuts | found | place p50 / p95, px | width p95, px |",
             "|---|---|---|---|---|"]
    for chosen in SETS:
        of_set = [r for r in results if r.set == chosen]
        for name in (*SHAPES, "all"):
            made = [c for r in of_set if name in ("all", r.shape) for c in r.cuts]
            found, off, error = np.array(made, float).T
            lines.append(f"| {chosen}, {name} | {len(made)} | {found.mean():.3f} | "
                         f"{np.nanpercentile(off, 50):.1f} / {np.nanpercentile(off, 95):.1f} | "
                         f"{np.nanpercentile(error, 95):.2f} |")
        plain = [p for r in of_set for p in r.plain]
        lines.append(f"| {chosen}, skeleton ends | {len(plain)} | {np.mean(plain):.3f} | | |")
    lines += ["", "| uncut drawings | closed | a drawing | divide two true areas | "
              "drawings free of leaks |", "|---|---|---|---|---|"]
    for chosen in SETS:
        drawn = [r.uncut for r in results if r.set == chosen and r.uncut]
        for name in drawn[0]:
            flat = [t for d in drawn for t in d[name][0]]
            right = f"{np.mean(flat):.2f}" if flat else ""
            free = np.mean([d[name][1] == 0 for d in drawn])
            lines.append(f"| {chosen} | {name} | {len(flat) / len(drawn):.2f} | {right} | "
                         f"{free:.2f} |")
    lines += ["", f"Median time at 1024 px: {1e3 * np.median([r.took for r in results]):.0f} ms; "
              f"skeleton ends {1e3 * np.median([r.plain_took for r in results]):.0f} ms."]
    return lines


if __name__ == "__main__":
    text = ["# Accuracy of the gap finder", "",
            "Written by `make accuracy`. The drawings are the reporting halves, by hash, of the "
            "openmoji set with lines of 28 and 8 px, of object drawings and of busts by two "
            "hands (see docs/checking.md): none was used for tuning. Cuts are 2-24 px wide, "
            "at random places of lines that part two regions. A gap counts as found if it is "
            "listed within half a line width.", "", *measure(1), ""]
    Path("docs/accuracy-gaps.md").write_text("\n".join(text))
    print("\n".join(text))
