"""Shapes in crumbs, lines that are lost or too thin, ragged borders."""

from dataclasses import dataclass

import cv2
import numpy as np

from wardrobe.core.checks.islands import islands
from wardrobe.core.ink.rule import LEAST_STEP
from wardrobe.recipe.checks.finding import Desk, Found, Noticed, Repair
from wardrobe.recipe.checks.seen import MASKS_EDGE, dots, ids_of, view_of
from wardrobe.recipe.document.model import ground_rows
from wardrobe.recipe.edits import MoveLight, RemoveTouchUps, SetInk, SetLines
from wardrobe.recipe.reports.ink import MeasuredInk, measured_ink
from wardrobe.recipe.stages.cut import Cut
from wardrobe.recipe.stages.picture import DrawnMasks, PartsSeen, Sample
from wardrobe.recipe.stages.stage import Get, Stage

_SMALL_ISLAND = 12.0  # line widths squared: shapes that are drawn drop smaller ones
MOST_ISLANDS = 5
THIN = 1.75  # px, as widths are measured: a line of one pixel has 1.5
_THICKENED = 2.0  # px
_BARE = 64  # coverage below which no line covers a border
RAGGED = 0.3  # of the pixels along a border that a median of 7 px would move
_LEAST_BARE = 30  # px of a border


@dataclass(frozen=True, eq=False)
class Scattered(Stage[Found]):
    """Shade in many small islands."""

    masks: DrawnMasks
    areas: Cut
    around: frozenset[int]
    scale: float

    def make(self, get: Get) -> Found:
        masks = get(self.masks)
        width = get(self.areas).line_width * self.scale
        figure = ~np.isin(masks.parts, list(self.around))
        found = []
        for name in ("shade", "deep shade"):
            if name not in masks.keys:
                continue
            pieces, _ = islands((masks.level(name) > 127) & figure)
            small = [p for p in pieces if 2 < p.pixels < _SMALL_ISLAND * max(1.0, width) ** 2]
            if len(small) > MOST_ISLANDS:
                x, y = np.array([p.middle for p in small]).T
                found.append(Noticed(
                    "pass", (name,), float(len(small)),
                    f"{{0}} has {len(small)} islands smaller than {_SMALL_ISLAND:.0f} line widths "
                    "squared.", min(1.0, 0.3 + len(small) / 60), None, dots(x, y, self.scale)))
        return Found.of(found)


def fewer_islands(desk: Desk, noticed: Noticed) -> Repair | None:
    places = np.array([m[0] for m in noticed.marks])
    reach = 0.02 * max(desk.recipe.size)
    drawn = tuple(t.id for t in desk.recipe.touch_ups if t.name == noticed.ids[0] and min(
        float(np.hypot(*(places - p).T).min()) for p in t.points) < reach)
    if drawn:
        return Repair("Take back what was drawn there", RemoveTouchUps(ids=drawn))
    light = desk.recipe.light
    if light.simple >= 1:
        return None
    return Repair("Draw fewer and larger shapes", MoveLight(light=light.model_copy(
        update={"simple": round(min(1.0, light.simple + 0.35), 2)})))


@dataclass(frozen=True, eq=False)
class LostDrawing(Stage[Found]):
    """Lines within a part that cannot be told from it."""

    ink: MeasuredInk

    def make(self, get: Get) -> Found:
        found = []
        for line in get(self.ink).stretches:
            if line.mend and line.beside == "itself" and line.step < LEAST_STEP:
                x, y = np.array(line.places).T
                found.append(Noticed(
                    "part", (line.part,), round(line.step, 1),
                    f"{line.faint:.0f} px of line within {{0}} are {line.step:.1f} ΔE from it.",
                    0.4, None, dots(x - 0.5, y - 0.5, 1.0)))
        return Found.of(found)


def lines_shown(desk: Desk, noticed: Noticed) -> Repair | None:
    mended = desk.deriver.store(measured_ink(desk.graph)).mended
    return None if mended is None else Repair("Colour the lines so that they show",
                                              SetInk(ink=mended))


@dataclass(frozen=True, eq=False)
class ThinLines(Stage[Found]):
    """Lines that are nearly too thin to be printed."""

    areas: Cut
    weight: float  # what is added to it afterwards
    hard: bool

    def make(self, get: Get) -> Found:
        width = get(self.areas).line_width + self.weight
        if width >= (1.0 if self.hard else THIN):
            return Found(())
        return Found((Noticed("piece", (), round(width, 2),
                              f"Most lines are {width:.1f} px wide.", 0.5),))


def thicker(desk: Desk, noticed: Noticed) -> Repair | None:
    lines = desk.recipe.lines
    weight = round(min(12.0, lines.weight + _THICKENED - noticed.measured), 2)
    return Repair(f"Thicken them to {_THICKENED:g} px",
                  SetLines(lines=lines.model_copy(update={"weight": weight})))


@dataclass(frozen=True, eq=False)
class RaggedBorders(Stage[Found]):
    """Borders that no line covers, and that are ragged."""

    parts: PartsSeen
    sample: Sample
    ids: tuple[str, ...]
    around: frozenset[int]
    scale: float

    def make(self, get: Get) -> Found:
        parts, ink = get(self.parts), get(self.sample).ink
        cross = np.array([[0, 1, 0], [1, 1, 1], [0, 1, 0]], np.uint8)
        high, low = cv2.dilate(parts, cross), cv2.erode(parts, cross)
        bare = (high != low) & (cv2.dilate(ink, cross) < _BARE)
        y, x = np.nonzero(bare)
        codes = low[y, x].astype(np.int64) * len(self.ids) + high[y, x]
        found = []
        for code, count in zip(*np.unique(codes, return_counts=True), strict=True):
            one, other = divmod(int(code), len(self.ids))
            if count < _LEAST_BARE or {one, other} & self.around:
                continue
            at = codes == code
            cut = np.s_[max(0, y[at].min() - 8):y[at].max() + 9,
                        max(0, x[at].min() - 8):x[at].max() + 9]
            mine = (parts[cut] == one).astype(np.uint8)
            near = cv2.dilate(bare[cut].astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
            moved = np.count_nonzero((cv2.medianBlur(mine, 7) != mine) & near
                                     & np.isin(parts[cut], (one, other)))
            if moved > RAGGED * count:
                xs, ys = x[at].astype(float), y[at].astype(float)
                found.append(Noticed(
                    "border", (self.ids[one], self.ids[other]), round(moved / count, 2),
                    f"{{0}} and {{1}} meet without a line along {count / self.scale:.0f} px, "
                    "raggedly.", 0.4, None, dots(xs, ys, self.scale)))
        return Found.of(found)


def ragged_borders(desk: Desk) -> Stage[Found]:
    g, view = desk.graph, view_of(desk, MASKS_EDGE)
    return RaggedBorders(g.parts_seen(view), g.sample(view), ids_of(desk.recipe),
                         ground_rows(desk.recipe.parts), view.scale)


def scattered_shade(desk: Desk) -> Stage[Found]:
    view = view_of(desk, MASKS_EDGE)
    return Scattered(desk.graph.masks(view), desk.graph.areas, ground_rows(desk.recipe.parts),
                     view.scale)
