"""Trials of the gap finder: drawings as they are and with cuts, and what is true of each gap."""

import pickle
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.emoji import CACHE, borders, drawings
from benchmarks.corpora.hands import areas as true_areas
from benchmarks.corpora.hands import hands
from benchmarks.cuts import SHAPES, Cut, cut
from wardrobe.core.lines.width import line_width

Byte = NDArray[np.uint8]
Areas = NDArray[np.int32]


SETS = ("28 px", "8 px", "objects", "adventurer", "open-peeps")  # emoji with both lines, hands


@dataclass(frozen=True)
class Trial:
    """A drawing to find gaps in; ``shape`` is None if it was left as drawn."""

    name: str
    set: str
    shape: str | None
    ink: Byte
    areas: Areas
    cuts: list[Cut]


def trials(half: int, limit: int) -> Iterator[Trial]:
    """Drawings of each set: uncut, and cut with two of the four shapes."""
    for chosen in SETS:
        store = CACHE / f"trials-{chosen}-{half}-{limit}.pickle"
        if not store.exists():
            _store(half, limit)
        for name, shape, ink, areas, cuts in pickle.loads(store.read_bytes()):
            yield Trial(name, chosen, shape, cv2.imdecode(ink, cv2.IMREAD_UNCHANGED),
                        cv2.imdecode(areas, cv2.IMREAD_UNCHANGED).astype(np.int32), cuts)


def _store(half: int, limit: int) -> None:
    with ProcessPoolExecutor(2) as pool:
        jobs = [(chosen, half, limit) for chosen in SETS]
        for (chosen, *_), rows in zip(jobs, pool.map(_make, *zip(*jobs, strict=True)), strict=True):
            (CACHE / f"trials-{chosen}-{half}-{limit}.pickle").write_bytes(pickle.dumps(rows))


def drawn(chosen: str, half: int, limit: int) -> Iterator[tuple[str, Byte, Areas]]:
    """Name, ink and true areas of the drawings of a set."""
    if chosen in ("28 px", "8 px"):
        for drawing in drawings(half, limit):
            yield drawing.code, drawing.ink if chosen == "28 px" else drawing.thin, drawing.areas
        return
    for hand in hands(chosen, half, limit, framed=chosen == "objects"):  # busts end at the edge
        areas = true_areas(hand)
        if areas is not None:
            yield hand.name, hand.ink, areas


def _make(chosen: str, half: int, limit: int) -> list[tuple[object, ...]]:
    rows: list[tuple[object, ...]] = []
    for k, (name, ink, areas) in enumerate(drawn(chosen, half, limit)):
        packed = cv2.imencode(".png", areas.astype(np.uint16))[1]
        first = k + SETS.index(chosen)
        for shape in (None, SHAPES[first % 4], SHAPES[(first + 2) % 4]):
            made: list[Cut] = []
            image = ink
            if shape:
                rng = np.random.default_rng([k, half, SHAPES.index(shape)])
                image, made = cut(ink, shape, line_width(ink), rng)
            rows.append((name, shape, cv2.imencode(".png", image)[1], packed, made))
    return rows


def divides_truly(labels: Areas, regions: NDArray[np.int64], centres: NDArray[np.float32],
                  widths: NDArray[np.float32], areas: Areas, lw: float) -> NDArray[np.bool_]:
    """Whether the true areas near a gap differ on its two sides (``labels`` has a frame)."""
    truth = np.zeros(len(regions), bool)
    for k, (one, two) in enumerate(regions):
        if one == two or 0 in (one, two):
            continue
        reach = int(max(2.0 * lw, widths[k]))
        x, y = centres[k].astype(int)
        rows = slice(max(0, y - reach), y + reach + 1)
        columns = slice(max(0, x - reach), x + reach + 1)
        near, true = labels[1:-1, 1:-1][rows, columns], areas[rows, columns]
        sides = [true[near == region] for region in (one, two)]
        if all(len(s) for s in sides):
            truth[k] = np.bincount(sides[0]).argmax() != np.bincount(sides[1]).argmax()
    return truth


def match(centres: NDArray[np.float32], cuts: list[Cut], lw: float) -> list[int]:
    """For each cut the row of the gap found within half a line's width (8 px at least), or -1."""
    rows = []
    for c in cuts:
        off = np.hypot(centres[:, 0] - c.x, centres[:, 1] - c.y) if len(centres) else np.zeros(0)
        near = np.flatnonzero(off < max(8.0, 0.5 * lw, 0.4 * c.width))
        rows.append(int(near[np.argmin(off[near])]) if len(near) else -1)
    return rows


def leaks(labels: Areas, areas: Areas, lw: float) -> int:
    """Regions that cover a good part of two true areas."""
    far = cv2.distanceTransform((~borders(areas)).astype(np.uint8), cv2.DIST_L2, 5) > 20
    inside = far & (labels > 0)
    kinds = int(areas.max()) + 1
    shares = np.bincount(labels[inside].astype(np.int64) * kinds + areas[inside],
                         minlength=(int(labels.max()) + 1) * kinds).reshape(-1, kinds)
    second = np.sort(shares, axis=1)[:, -2]
    return int(np.count_nonzero(second > max(100, 2 * lw**2)))
