"""What is left open or unpainted, and crumbs of other colours."""

import re
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from scipy import ndimage

from wardrobe.core.areas.borders import touching
from wardrobe.core.areas.segment import Areas
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.words.parts import usual_role
from wardrobe.recipe.checks.finding import Box, Desk, Found, Noticed, Repair, literal
from wardrobe.recipe.checks.seen import MASKS_EDGE, dots, ids_of, view_of
from wardrobe.recipe.document.model import Closing, Recipe
from wardrobe.recipe.edits import (
    AddPart,
    ClaimAreas,
    CloseGaps,
    Several,
    SingleEdit,
    next_part_id,
)
from wardrobe.recipe.reports.gaps import gap_lines, opens_outline
from wardrobe.recipe.stages.cut import Assigned, Assignment, Completed, Cut
from wardrobe.recipe.stages.lines import FoundGaps
from wardrobe.recipe.stages.picture import Sample
from wardrobe.recipe.stages.stage import Get, Stage

_WHITE_SHARE = 0.015  # of the figure: larger holes are no whites of eyes or teeth
_IN_FACE = 0.6  # of its border that lies against the face
SPECK = 10.0  # line widths squared
_BIGGER = 8.0  # times: what is so much larger than a speck is what its part is
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
                    literal(f"A gap of {g.width:.0f} px between {g.joins[0]} and {g.joins[1]} is "
                            "undecided."),
                    round(0.4 + 0.6 * (1 - g.doubt), 3),
                    (round(g.x - 2 * g.width, 1), round(g.y - 2 * g.width, 1),
                     round(4 * g.width, 1), round(4 * g.width, 1)), (tuple(g.curve),))
            for g in gap_lines(get(self.gaps), cut, self.recipe) if opens_outline(g)])


def closed(desk: Desk, noticed: Noticed) -> Repair | None:
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


def unpainted(whites: bool) -> Callable[[Desk], Stage[Found]]:
    def stage(desk: Desk) -> Stage[Found]:
        g, view = desk.graph, view_of(desk, MASKS_EDGE)
        return Unpainted(g.areas, g.assigned, g.sample(view), ids_of(desk.recipe),
                         ("", *(p.name for p in desk.recipe.parts)), whites, view.scale)
    return stage


def given_to_neighbour(desk: Desk, noticed: Noticed) -> Repair | None:
    if not noticed.ids:
        return None
    name = next(p.name for p in desk.recipe.parts if p.id == noticed.ids[0])
    return Repair(f"Give it to {name}", ClaimAreas(to=noticed.ids[0], strokes=noticed.marks))


def painted_white(desk: Desk, noticed: Noticed) -> Repair | None:
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
        limit = max(12.0, SPECK * areas.line_width**2)
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


def swallowed(desk: Desk, noticed: Noticed) -> Repair | None:
    name = next(p.name for p in desk.recipe.parts if p.id == noticed.ids[1])
    return Repair(f"Give it to {name}", ClaimAreas(to=noticed.ids[1], strokes=noticed.marks))


def open_outline(desk: Desk) -> Stage[Found]:
    g = desk.graph
    return OpenOutline(g.gaps, g.areas, g.assigned,
                       desk.recipe.only("closings", "left_open", "parts"))
