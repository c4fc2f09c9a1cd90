"""Accuracy of laying a corrected drawing under a piece; writes docs/accuracy-redrawn.md.

    python -m benchmarks.redrawn
"""

import hashlib
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import reduce
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.corpora.hands import SOURCES, hands
from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.lines.register import register
from wardrobe.core.lines.width import line_width
from wardrobe.demo.install import install_demo
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import apply
from wardrobe.recipe.reports.corrected import LEAST_AGREEMENT, lay_corrected
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.stages import Deriver

LIMIT = 16  # drawings of each source
KINDS = ("moved", "moved, redrawn", "moved, redrawn, other weight")
_PLACES, _SIZE = 3, 0.15  # places that are drawn anew, and their size against the drawing
_BENT = 14.0  # px by which lines are drawn elsewhere
_LEAST = 30  # px free of ink from which an area counts

Byte = NDArray[np.uint8]
Matrix = NDArray[np.float64]


@dataclass(frozen=True)
class Score:
    """One drawing brought back: px it lies off (root mean square), areas that keep their part of
    all that are still there, pixels that do, seconds."""

    source: str
    kind: str
    off: float
    kept: int
    areas: int
    pixels: float
    seconds: float


class Desk:
    """A piece, and the drawings that are brought to it."""

    def __init__(self) -> None:
        self._pictures: dict[str, Byte] = {}
        self.deriver = Deriver(self._pictures.__getitem__)

    def drawing(self, rgba: Byte) -> Source:
        """A picture as the source of a piece."""
        name = hashlib.sha256(rgba.tobytes()).hexdigest()
        self._pictures[name] = rgba
        return Source(asset=name, width=rgba.shape[1], height=rgba.shape[0])

    def owners(self, recipe: Recipe) -> NDArray[np.int64]:
        """Part of each area, -1 for the ground."""
        assigned = self.deriver.assignment(recipe)
        return np.where(assigned.ground, -1, assigned.part_of_area.astype(np.int64))


def moved(dice: np.random.Generator, width: int, height: int) -> Matrix:
    """Up to 60 px, 3 degrees and 4 % about the middle."""
    turn, scale = np.radians(dice.uniform(-3, 3)), dice.uniform(0.96, 1.04)
    linear = scale * np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    middle = np.array([width / 2, height / 2])
    return np.column_stack([linear, middle - linear @ middle + dice.uniform(-60, 60, 2)])


def redrawn(ink: Byte, dice: np.random.Generator) -> tuple[Byte, NDArray[np.bool_]]:
    """Some places bent, erased or drawn over; and where lines were taken away."""
    ink, gone = ink.copy(), np.zeros(ink.shape, bool)
    thick = max(2, round(line_width(ink)))
    ys, xs = np.nonzero(ink > 128)
    for _ in range(_PLACES):
        at, size = dice.integers(len(ys)), int(_SIZE * max(ink.shape) * dice.uniform(0.5, 1))
        x0, y0 = max(0, int(xs[at]) - size // 2), max(0, int(ys[at]) - size // 2)
        place = ink[y0:y0 + size, x0:x0 + size]
        h, w = place.shape
        yy, xx = np.mgrid[:h, :w].astype(np.float32)
        kind = dice.integers(3)
        if kind == 0:
            swell = np.sin(np.pi * xx / w) * np.sin(np.pi * yy / h)
            dx, dy = dice.uniform(-_BENT, _BENT, 2)
            place[:] = cv2.remap(place, (xx + swell * dx).astype(np.float32),
                                 (yy + swell * dy).astype(np.float32), cv2.INTER_LINEAR)
        elif kind == 1:
            inner = np.s_[y0 + h // 4:y0 + h - h // 4, x0 + w // 4:x0 + w - w // 4]
            gone[inner] = ink[inner] > 128
            ink[inner] = 0
        else:
            stroke = dice.uniform(0, 1, (3, 2)) * [w, h] + [x0, y0]
            cv2.polylines(ink, [stroke.astype(np.int32)], False, 255, thick, cv2.LINE_AA)
    return ink, gone


def drawn_again(ink: Byte, kind: str, dice: np.random.Generator,
                ) -> tuple[Byte, Matrix, NDArray[np.bool_]]:
    """The drawing as it comes back, how it was moved, and what was taken away before."""
    gone = np.zeros(ink.shape, bool)
    if kind != "moved":
        ink, gone = redrawn(ink, dice)
    if kind.endswith("weight"):
        around = np.ones((3, 3), np.uint8)
        heavier = dice.random() < 0.5 or line_width(ink) < 5
        ink = cv2.dilate(ink, around) if heavier else cv2.erode(ink, around)
    matrix = moved(dice, ink.shape[1], ink.shape[0])
    corner = matrix.copy()
    corner[:, 2] += matrix[:, :2] @ [0.5, 0.5] - 0.5
    sheet = cv2.warpAffine(ink, corner, ink.shape[::-1], flags=cv2.INTER_CUBIC)
    return sheet, matrix, gone


def inked(ink: Byte) -> Byte:
    rgba = np.zeros((*ink.shape, 4), np.uint8)
    rgba[..., 3] = ink
    return rgba


def tried(desk: Desk, recipe: Recipe, source: str, kind: str,
          dice: np.random.Generator) -> Score:
    """One corrected drawing of a piece."""
    ink = desk.deriver.drawn(recipe)
    again, matrix, gone = drawn_again(ink, kind, dice)
    began = time.perf_counter()
    found = lay_corrected(desk.deriver, recipe, desk.drawing(inked(again)))
    seconds = time.perf_counter() - began
    after = apply(recipe, found.edit)
    laid = np.array(after.source.laid.matrix) if after.source.laid else np.eye(2, 3)
    places = np.argwhere(ink > 128)[::97, ::-1] + 0.5
    there = places @ matrix[:, :2].T + matrix[:, 2]
    back = there @ laid[:, :2].T + laid[:, 2]
    kept, areas = counted(desk, recipe, after, gone)
    return Score(source, kind, float(np.sqrt(((back - places) ** 2).sum(axis=1).mean())), kept,
                 areas, found.kept, seconds)


def counted(desk: Desk, before: Recipe, after: Recipe,
            gone: NDArray[np.bool_]) -> tuple[int, int]:
    """Areas that keep their part, and all whose border was not taken away."""
    old, new = desk.deriver.areas(before), desk.deriver.areas(after)
    free = old.core & new.core
    owner, now = desk.owners(before), desk.owners(after)[new.labels]
    touched = np.unique(old.labels[cv2.dilate(gone.astype(np.uint8), np.ones((3, 3))) > 0])
    kept = areas = 0
    for area in range(1, old.count + 1):
        mine = now[(old.labels == area) & free]
        if len(mine) < _LEAST or area in touched:
            continue
        areas += 1
        kept += int(np.mean(mine == owner[area]) > 0.5)
    return kept, areas


def of_source(source: str) -> list[Score]:
    """Every kind of correction of the drawings of a source."""
    scores = []
    for number, drawing in enumerate(hands(source, 1, LIMIT)):
        desk = Desk()
        try:
            recipe = Recipe(source=desk.drawing(inked(drawing.ink)))
            recipe = reduce(apply, first_edits(desk.deriver, recipe), recipe)
            scores += [tried(desk, recipe, source, kind, np.random.default_rng(number))
                       for kind in KINDS]
        except WardrobeError as error:
            print(f"{source} {number}: {error}")
    return scores


def of_demo() -> list[Score]:
    """The demo pieces at A4."""
    desk, scores = Desk(), []
    pieces: list[Recipe] = []
    install_demo(lambda data: Recipe(source=desk.drawing(
        decode_image(data, ImageLimits(), 3508))),
        lambda piece, recipe, edits: pieces.append(reduce(apply, edits, recipe)), desk.deriver)
    for number, recipe in enumerate(pieces[:2]):
        for seed in range(4):
            for kind in KINDS:
                dice = np.random.default_rng(10 * number + seed)
                scores.append(tried(desk, recipe, "demo, 2481 x 3508", kind, dice))
    return scores


def strangers() -> list[float]:
    """How far drawings that have nothing to do with each other agree."""
    inks = [d.ink for source in SOURCES for d in hands(source, 1, 6)]
    step = len(inks) // 2 + 1
    return [register(inks[k], inks[(k + step) % len(inks)]).agreement for k in range(len(inks))]


def report() -> list[str]:
    """Lines of the report."""
    with ProcessPoolExecutor(2) as pool:
        scores = [s for of in pool.map(of_source, SOURCES) for s in of]
    scores += of_demo()
    lines = ["| drawings | correction | number | lies off, px: median, worst "
             "| areas that keep their part | pixels | s |", "|---|---|---|---|---|---|---|"]
    for source in dict.fromkeys(s.source for s in scores):
        for kind in KINDS:
            some = [s for s in scores if (s.source, s.kind) == (source, kind)]
            off = [s.off for s in some]
            kept, areas = sum(s.kept for s in some), sum(s.areas for s in some)
            lines.append(
                f"| {source} | {kind} | {len(some)} | {np.median(off):.2f}, {max(off):.1f} "
                f"| {kept / max(1, areas):.3f} of {areas} | {np.mean([s.pixels for s in some]):.3f}"
                f" | {np.median([s.seconds for s in some]):.1f} |")
    other = strangers()
    refused = np.mean([a < LEAST_AGREEMENT for a in other])
    return [*lines, "", f"Of {len(other)} pairs of drawings that have nothing to do with each "
            f"other {refused:.0%} are refused (agreement below {LEAST_AGREEMENT}; median "
            f"{np.median(other):.2f}, highest {max(other):.2f})."]


if __name__ == "__main__":
    text = ["# Accuracy of laying a corrected drawing under a piece", "",
            "Written by `make accuracy`. Drawings of the reporting halves, by five hands, are "
            "moved by up to 60 px, 3 degrees and 4 %; in three places of up to 15 % of their "
            "size lines "
            "are bent by up to 14 px, taken away or drawn over; and all lines made a pixel "
            "heavier or thinner on either side. An area counts if it has 30 px free of ink and no "
            "line of its border was taken away; it keeps its part if most of its pixels do.", "",
            *report(), ""]
    Path("docs/accuracy-redrawn.md").write_text("\n".join(text))
    print("\n".join(text))
