"""Is it clean? Gaps, places without a part, specks, islands, lines that do not show."""

import re
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.areas.borders import touching
from wardrobe.core.areas.segment import Areas
from wardrobe.core.checks.islands import islands
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.ink.rule import LEAST_STEP
from wardrobe.core.words.parts import usual_role
from wardrobe.recipe.checks.finding import Box, Check, Desk, Found, Limit, Noticed, Repair
from wardrobe.recipe.checks.seen import MASKS_EDGE, dots, ids_of, view_of
from wardrobe.recipe.document.model import Closing, Recipe, ground_rows
from wardrobe.recipe.edits import (
    AddPart,
    ClaimAreas,
    CloseGaps,
    MoveLight,
    RemoveTouchUps,
    SetInk,
    SetLines,
    Several,
    SingleEdit,
    next_part_id,
)
from wardrobe.recipe.reports.gaps import gap_lines, opens_outline
from wardrobe.recipe.reports.ink import FAINT_WIDTHS, MeasuredInk, measured_ink
from wardrobe.recipe.stages.cut import Assigned, Assignment, Completed, Cut
from wardrobe.recipe.stages.lines import FoundGaps
from wardrobe.recipe.stages.picture import DrawnMasks, PartsSeen, Sample
from wardrobe.recipe.stages.stage import Get, Stage

Labels = NDArray[np.uint16]

_WHITE_SHARE = 0.015  # of the figure: larger holes are no whites of eyes or teeth
_IN_FACE = 0.6  # of its border that lies against the face
_SPECK = 10.0  # line widths squared
_BIGGER = 8.0  # times: what is so much larger than a speck is what its part is
_SMALL_ISLAND = 12.0  # line widths squared: shapes that are drawn drop smaller ones
_MOST_ISLANDS = 5
_THIN = 1.75  # px, as widths are measured: a line of one pixel has 1.5
_THICKENED = 2.0  # px
_BARE = 64  # coverage below which no line covers a border
_RAGGED = 0.3  # of the pixels along a border that a median of 7 px would move
_LEAST_BARE = 30  # px of a border
_WHITE = "#f6f2ea"
_FACE = {"face", "head", "mouth", "lip", "lips", "tongue", "eyelid", "eyelids", "muzzle", "snout",
         "skin"}


@dataclass(frozen=True, eq=False)
class OpenOutline(Stage[Found]):
    """Gaps in the outline that were neither closed nor left open."""

    gaps: FoundGaps
    areas: Cut
    assigned: Assigned
    recipe: Recipe

    def make(self, get: Get) -> Found:
        try:
            cut = get(self.areas), get(self.assigned)
        except NoClosedAreaError:
            cut = None
        return Found.of([
            Noticed("place", (), round(g.width, 1),
                    f"A gap of {g.width:.0f} px between {g.joins[0]} and {g.joins[1]} is "
                    "undecided.".replace("{", "").replace("}", ""),
                    round(0.4 + 0.6 * (1 - g.doubt), 3),
                    (round(g.x - 2 * g.width, 1), round(g.y - 2 * g.width, 1),
                     round(4 * g.width, 1), round(4 * g.width, 1)), (tuple(g.curve),))
            for g in gap_lines(get(self.gaps), cut, self.recipe) if opens_outline(g)])


def _closed(desk: Desk, noticed: Noticed) -> Repair | None:
    return Repair("Close it", CloseGaps(closings=(Closing(points=noticed.marks[0]),)))


@dataclass(frozen=True, eq=False)
class Unpainted(Stage[Found]):
    """Areas of the figure without a part; or whites of eyes and teeth that were left out."""

    areas: Cut
    assigned: Assigned
    sample: Sample
    ids: tuple[str, ...]
    names: tuple[str, ...]
    whites: bool
    scale: float

    def make(self, get: Get) -> Found:
        areas, assignment = get(self.areas), get(self.assigned)
        labels = get(self.sample).labels
        bare = (assignment.painted == 0) & (areas.pixels > 0)
        bare[0] = False
        if not bare.any():
            return Found(())
        pairs, lengths = touching(labels, areas.count)
        around = np.zeros((areas.count + 1, len(self.ids)))
        part = assignment.part_of_area
        for one, other in ((0, 1), (1, 0)):
            np.add.at(around, (pairs[:, one], part[pairs[:, other]]), lengths)
        edge = np.zeros(areas.count + 1, bool)
        edge[np.unique(np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]]))] = True
        figure = max(1, int(areas.pixels[part > 0].sum()))
        faces = np.array([_of_face(name) for name in self.names])
        boxes = ndimage.find_objects(labels, areas.count)
        found = []
        for area in np.flatnonzero(bare).tolist():
            beside = around[area]
            share = areas.pixels[area] / figure
            white = not edge[area] and beside.sum() > 0 and share < _WHITE_SHARE \
                and beside[faces].sum() > _IN_FACE * beside.sum() and beside[0] == 0
            if white != self.whites or (not white and assignment.ground[area]):
                continue
            owner = int(np.argmax(beside[1:])) + 1 if beside[1:].any() else 0
            found.append(self._noticed(areas, area, owner, share, boxes[area - 1]))
        return Found.of(found)

    def _noticed(self, areas: Areas, area: int, owner: int, share: float,
                 box: tuple[slice, slice] | None) -> Noticed:
        x, y = (float(v) + 0.5 for v in areas.seeds[area])
        pixels = int(areas.pixels[area])
        words = f"{pixels:,} px within {{0}} show the ground." if self.whites else \
            f"An area of {pixels:,} px" + (" beside {0}" if owner else "") + " has no part."
        place: Box = (x - 1, y - 1, 2, 2) if box is None else (
            round(box[1].start / self.scale, 1), round(box[0].start / self.scale, 1),
            round((box[1].stop - box[1].start) / self.scale, 1),
            round((box[0].stop - box[0].start) / self.scale, 1))
        return Noticed("area", (self.ids[owner],) if owner else (), float(pixels), words,
                       round(min(1.0, 0.5 + 3 * share), 3), place, (((x, y),),))


def _of_face(name: str) -> bool:
    words = re.findall(r"[a-z]+", name.casefold())
    return bool(words) and (words[-1] in _FACE or usual_role(name) is not None)


def _unpainted(whites: bool) -> Callable[[Desk], Stage[Found]]:
    def stage(desk: Desk) -> Stage[Found]:
        g, view = desk.graph, view_of(desk, MASKS_EDGE)
        return Unpainted(g.areas, g.assigned, g.sample(view), ids_of(desk.recipe),
                         ("", *(p.name for p in desk.recipe.parts)), whites, view.scale)
    return stage


def _given_to_neighbour(desk: Desk, noticed: Noticed) -> Repair | None:
    if not noticed.ids:
        return None
    name = next(p.name for p in desk.recipe.parts if p.id == noticed.ids[0])
    return Repair(f"Give it to {name}", ClaimAreas(to=noticed.ids[0], strokes=noticed.marks))


def _painted_white(desk: Desk, noticed: Noticed) -> Repair | None:
    of_figure = ClaimAreas(to="figure", strokes=noticed.marks)
    known = next((p for p in desk.recipe.parts if usual_role(p.name) == "eye white"), None)
    if known is not None:
        return Repair(f"Give it to {known.name}", Several(edits=(
            of_figure, ClaimAreas(to=known.id, strokes=noticed.marks))))
    taken = {p.name.casefold() for p in desk.recipe.parts}
    name = next(n for n in ("whites", *(f"whites {k}" for k in range(2, 300))) if n not in taken)
    edits: tuple[SingleEdit, ...] = (
        of_figure, AddPart(name=name, material="plain", base=_WHITE),
        ClaimAreas(to=next_part_id(desk.recipe), strokes=noticed.marks))
    return Repair("Paint it white, as a part of its own", Several(edits=edits))


@dataclass(frozen=True, eq=False)
class PixelFaults(Stage[Found]):
    """Pixels inside the figure that show the ground or a colour from beyond the line."""

    completed: Completed

    def make(self, get: Get) -> Found:
        done, faults = get(self.completed)
        found = []
        for count, kind, words in (
                (done.bleed, 2, "{:,} px show the colour of a part beyond its line."),
                (done.pinholes, 3, "{:,} px inside the figure show the ground.")):
            if count:
                y, x = np.nonzero(faults == kind)
                found.append(Noticed("piece", (), float(count), words.format(count), 0.8, None,
                                     dots(x.astype(float), y.astype(float), 1.0)))
        return Found.of(found)


@dataclass(frozen=True, eq=False)
class Specks(Stage[Found]):
    """Tiny areas in the colour of a part that lies elsewhere."""

    areas: Cut
    assigned: Assigned
    ids: tuple[str, ...]

    def make(self, get: Get) -> Found:
        areas, assignment = get(self.areas), get(self.assigned)
        limit = max(12.0, _SPECK * areas.line_width**2)
        owner = assignment.part_of_area
        largest = np.zeros(len(self.ids))
        np.maximum.at(largest, owner, areas.pixels)
        found = []
        for area in np.flatnonzero((areas.pixels > 0) & (areas.pixels < limit) & (owner > 0)):
            mine = int(owner[area])
            around = _part_around(areas, assignment, int(area))
            if around in (0, mine) or largest[mine] < _BIGGER * areas.pixels[area]:
                continue
            x, y = (float(v) + 0.5 for v in areas.seeds[area])
            side = float(np.sqrt(areas.pixels[area])) + 2 * areas.line_width
            found.append(Noticed(
                "area", (self.ids[mine], self.ids[around]), float(areas.pixels[area]),
                f"A speck of {int(areas.pixels[area])} px in the colour of {{0}} lies in {{1}}.",
                0.4, (round(x - side, 1), round(y - side, 1), round(2 * side, 1),
                      round(2 * side, 1)), (((x, y),),)))
        return Found.of(found)


def _part_around(areas: Areas, assignment: Assignment, area: int) -> int:
    """Row of the part that surrounds a small area; 0 if more than one does."""
    x, y = (int(v) for v in areas.seeds[area])
    reach = int(3 * areas.line_width + np.sqrt(areas.pixels[area])) + 2
    cut = areas.labels[max(0, y - reach):y + reach, max(0, x - reach):x + reach]
    ring = cv2.dilate((cut == area).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    rows = np.bincount(assignment.part_of_area[cut[ring & (cut != area)]])
    if not rows.sum():
        return 0
    most = int(np.argmax(rows))
    return most if rows[most] > 0.85 * rows.sum() else 0


def _swallowed(desk: Desk, noticed: Noticed) -> Repair | None:
    name = next(p.name for p in desk.recipe.parts if p.id == noticed.ids[1])
    return Repair(f"Give it to {name}", ClaimAreas(to=noticed.ids[1], strokes=noticed.marks))


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
            if len(small) > _MOST_ISLANDS:
                x, y = np.array([p.middle for p in small]).T
                found.append(Noticed(
                    "pass", (name,), float(len(small)),
                    f"{{0}} has {len(small)} islands smaller than {_SMALL_ISLAND:.0f} line widths "
                    "squared.", min(1.0, 0.3 + len(small) / 60), None, dots(x, y, self.scale)))
        return Found.of(found)


def _fewer_islands(desk: Desk, noticed: Noticed) -> Repair | None:
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


def _lines_shown(desk: Desk, noticed: Noticed) -> Repair | None:
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
        if width >= (1.0 if self.hard else _THIN):
            return Found(())
        return Found((Noticed("piece", (), round(width, 2),
                              f"Most lines are {width:.1f} px wide.", 0.5),))


def _thicker(desk: Desk, noticed: Noticed) -> Repair | None:
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
            if moved > _RAGGED * count:
                xs, ys = x[at].astype(float), y[at].astype(float)
                found.append(Noticed(
                    "border", (self.ids[one], self.ids[other]), round(moved / count, 2),
                    f"{{0}} and {{1}} meet without a line along {count / self.scale:.0f} px, "
                    "raggedly.", 0.4, None, dots(xs, ys, self.scale)))
        return Found.of(found)


def _ragged(desk: Desk) -> Stage[Found]:
    g, view = desk.graph, view_of(desk, MASKS_EDGE)
    return RaggedBorders(g.parts_seen(view), g.sample(view), ids_of(desk.recipe),
                         ground_rows(desk.recipe.parts), view.scale)


def _scattered(desk: Desk) -> Stage[Found]:
    view = view_of(desk, MASKS_EDGE)
    return Scattered(desk.graph.masks(view), desk.graph.areas, ground_rows(desk.recipe.parts),
                     view.scale)


def _open_outline(desk: Desk) -> Stage[Found]:
    g = desk.graph
    return OpenOutline(g.gaps, g.areas, g.assigned,
                       desk.recipe.only("closings", "left_open", "parts"))


_CP = "common practice, no published source"

CLEAN: tuple[Check, ...] = (
    Check("open outline", "clean", "The outline is open",
          "One gap anywhere on the outline, and a fill floods the figure or the ground.",
          Limit(0.0, "px", "common practice", _CP), _open_outline, _closed),
    Check("no part", "clean", "An area has no part",
          "It is delivered as a hole: the ground shows through.",
          Limit(0.0, "px", "common practice", _CP), _unpainted(False), _given_to_neighbour),
    Check("whites", "clean", "A white is left unpainted",
          "Whites of eyes and teeth that show the ground turn dark on a dark one.",
          Limit(0.0, "px", "common practice", _CP), _unpainted(True), _painted_white),
    Check("pixels", "clean", "Single pixels are wrong",
          "Pinholes and bleeding show as soon as the ground or a colour changes.",
          Limit(0.0, "px", "common practice", _CP),
          lambda desk: PixelFaults(desk.graph.completed)),
    Check("speck", "clean", "A speck of another part",
          "Crumbs of another colour are what a client sees first.",
          Limit(_SPECK, "line widths squared", "own", "a dot three line widths across"),
          lambda desk: Specks(desk.graph.areas, desk.graph.assigned, ids_of(desk.recipe)),
          _swallowed),
    Check("scattered", "clean", "Shade in many islands",
          "Few, simple shapes read as light; many small ones read as dirt.",
          Limit(_MOST_ISLANDS, "islands", "own", "about one for each large form"),
          _scattered, _fewer_islands),
    Check("lost drawing", "clean", "Lines are lost within a part",
          "Folds and features that cannot be seen were drawn for nothing.",
          Limit(FAINT_WIDTHS, "line widths", "own", "shorter stretches are bridged by the eye"),
          lambda desk: LostDrawing(measured_ink(desk.graph)), _lines_shown),
    Check("thin lines", "clean", "Lines are very thin",
          "Narrower than a pixel they break up, on paper before the screen.",
          Limit(_THIN, "px", "common practice", _CP),
          lambda desk: ThinLines(desk.graph.areas, desk.recipe.lines.weight,
                                 desk.recipe.lines.edge == "hard"), _thicker),
    Check("ragged", "clean", "A ragged border without a line",
          "Where no line covers it, every tooth of a border is seen.",
          Limit(_RAGGED, "of its pixels", "own", "what a median of 7 px would move"), _ragged),
)
