"""Accuracy of sharing out a drawing among one click a colour; writes docs/accuracy-flats.md.

    python -m benchmarks.flats
"""

import time
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.segmentation import random_walker, watershed

from benchmarks.gap_trials import SETS, drawn
from wardrobe.core.areas.share import share_drawing

LIMIT = 280
COMPARED = 60  # drawings for the methods of libraries
WALKED = 12  # and for the random walker, which is slow
Byte = NDArray[np.uint8]
Labels = NDArray[np.int32]
Method = Callable[[Byte, list[tuple[float, float]], int], Labels]


def clicks_for(areas: Labels) -> tuple[list[tuple[float, float]], int]:
    """One click at the innermost point of each area, and which of them is the outside."""
    found = []
    for area in range(1, int(areas.max()) + 1):
        mask = np.pad((areas == area).astype(np.uint8), 1)
        distance = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
        y, x = np.unravel_index(distance.argmax(), distance.shape)
        found.append((x - 0.5, y - 0.5))
    border = np.concatenate([areas[0], areas[-1], areas[:, 0], areas[:, -1]])
    return found, int(np.bincount(border).argmax())


def shared(ink: Byte, clicks: list[tuple[float, float]], ground: int) -> Labels:
    """Wardrobe's own."""
    return share_drawing(ink, clicks, range(1, len(clicks) + 1), ground)


def flooded(ink: Byte, clicks: list[tuple[float, float]], ground: int) -> Labels:
    """OpenCV's flood fill, one click after the other."""
    out = np.zeros(ink.shape, np.int32)
    for k, (x, y) in enumerate(clicks, start=1):
        mask = np.pad((ink >= 128).astype(np.uint8), 1, constant_values=1)
        if not mask[int(y) + 1, int(x) + 1]:
            cv2.floodFill(ink.copy(), mask, (int(x), int(y)), 0, flags=4 | 2 << 8
                          | cv2.FLOODFILL_MASK_ONLY)
            out[mask[1:-1, 1:-1] == 2] = k
    return out


def _markers(ink: Byte, clicks: list[tuple[float, float]]) -> Labels:
    out = np.zeros(ink.shape, np.int32)
    for k, (x, y) in enumerate(clicks, start=1):
        cv2.circle(out, (int(x), int(y)), 1, k, -1)
    return out


def watershed_ink(ink: Byte, clicks: list[tuple[float, float]], ground: int) -> Labels:
    """scikit-image's watershed on the ink."""
    return watershed(ink, _markers(ink, clicks)).astype(np.int32)


def watershed_distance(ink: Byte, clicks: list[tuple[float, float]], ground: int) -> Labels:
    """scikit-image's watershed on the distance to ink."""
    distance = cv2.distanceTransform((ink < 128).astype(np.uint8), cv2.DIST_L2, 5)
    return watershed(-distance, _markers(ink, clicks)).astype(np.int32)


def walked(ink: Byte, clicks: list[tuple[float, float]], ground: int) -> Labels:
    """scikit-image's random walker, at a quarter of the size."""
    small = cv2.resize(ink, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    markers = _markers(small, [(x / 4, y / 4) for x, y in clicks])
    result = random_walker(small / 255.0, markers, beta=500, mode="bf")
    return cv2.resize(result.astype(np.int32), ink.shape[::-1], interpolation=cv2.INTER_NEAREST)


METHODS: dict[str, Method] = {
    "OpenCV flood fill": flooded, "scikit-image watershed on ink": watershed_ink,
    "scikit-image watershed on distance": watershed_distance,
    "scikit-image random walker, quarter size": walked, "Wardrobe": shared,
}


@dataclass(frozen=True)
class Score:
    """The share of pixels that one method gave the right click."""

    set: str
    method: str
    right: float
    seconds: float


def scored(job: tuple[str, int, Byte, Labels]) -> list[Score]:
    """Every method on one drawing; those of libraries on the first ones only."""
    chosen, number, ink, areas = job
    clicks, ground = clicks_for(areas)
    found = []
    for name, method in METHODS.items():
        if method is not shared and number >= (WALKED if method is walked else COMPARED):
            continue
        start = time.perf_counter()
        labels = method(ink, clicks, ground)
        took = time.perf_counter() - start
        found.append(Score(chosen, name, float((labels == areas)[ink < 128].mean()), took))
    return found


def jobs(half: int) -> Iterator[tuple[str, int, Byte, Labels]]:
    """Set, number, ink and true areas of every drawing."""
    for chosen in SETS:
        for number, (_, ink, areas) in enumerate(drawn(chosen, half, LIMIT)):
            yield chosen, number, ink, areas


def measure(half: int) -> list[str]:
    """Lines of the report."""
    with ProcessPoolExecutor(2) as pool:
        scores = [s for of in pool.map(scored, jobs(half), chunksize=8) for s in of]
    lines = ["| drawings | method | number | mean | at .99 or better | ms at 1024 px |",
             "|---|---|---|---|---|---|"]
    for chosen in SETS:
        for name in METHODS:
            some = [s for s in scores if (s.set, s.method) == (chosen, name)]
            right = np.array([s.right for s in some])
            lines.append(f"| {chosen} | {name} | {len(some)} | {right.mean():.3f} | "
                         f"{np.mean(right >= 0.99):.2f} | "
                         f"{1e3 * np.median([s.seconds for s in some]):.0f} |")
    return lines


if __name__ == "__main__":
    text = ["# Accuracy of sharing out", "",
            "Written by `make accuracy`. The drawings are the reporting halves, by hash, of the "
            "openmoji set with lines of 28 and 8 px, of object drawings and of busts by two "
            "hands (see docs/checking.md): none was used for tuning. Lines alone are the input, "
            "with one click at the innermost point of each connected area of one colour and of "
            "the outside; the score is the share of "
            "pixels free of ink that get the right click. Drawings in which less than 70 % of a "
            "border between two colours lies under ink, or which have an open run of more than "
            "3 line widths, are left out.", "", *measure(1), ""]
    Path("docs/accuracy-flats.md").write_text("\n".join(text))
    print("\n".join(text))
