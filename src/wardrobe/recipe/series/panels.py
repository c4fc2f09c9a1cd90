"""Panels of a page as pieces: cut from the sheet, begun, and cut anew when they are corrected."""

from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas
from wardrobe.core.errors import NoClosedAreaError, NoLinesError
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Claim, Closing, Part, Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.types import AssetName
from wardrobe.recipe.edits import (
    CloseGaps,
    Edit,
    PutDrawing,
    RemoveClosing,
    ReplaceParts,
    SetDetails,
    Several,
    apply,
)
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.series.page import Outline, PageSheet
from wardrobe.recipe.series.sheets import (
    Box,
    Byte,
    Mask,
    Place,
    as_points,
    place_of,
    united,
    within,
)
from wardrobe.recipe.stages import Deriver

BALLOONS = "balloons"  # name of the part that stays paper
_PAPER = "#ffffff"
_LEAST_BALLOON = 0.9  # share of an area that lies in a balloon
_RIM = 3.0  # px along the rim of a panel in which its frame may have left something
_DARK = 96  # of 255
_SAME = 0.05  # px by which two points of a frame may differ by rounding


@dataclass(frozen=True)
class PanelDrawing:
    """What a panel's piece is begun from: its drawing, and the letters that are printed with it;
    RGBA, of the panel's box."""

    drawing: Byte
    letters: Byte | None


def panel_drawing(rgba: Byte, letters: Mask, place: Place) -> PanelDrawing:
    """Cut a panel from its sheet: nothing of what lies around it, letters apart."""
    x, y, w, h = place.box
    own, mask = rgba[y:y + h, x:x + w], place.mask()
    said = letters[y:y + h, x:x + w] & mask
    # Letters are taken out with their soft edges.
    around = cv2.dilate(said.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    clear = bool((own[..., 3] < 128).any())
    paper = np.array([255, 255, 255, 0 if clear else 255], np.uint8)
    drawing = np.where((mask & ~around & ~_slivers(own, mask, clear))[..., None], own, paper)
    text = np.where((mask & around)[..., None], own, paper) if said.any() else None
    return PanelDrawing(drawing, text)


def _slivers(rgba: Byte, mask: Mask, clear: bool) -> Mask:
    """What is left of a frame along the rim: they are no lines of the drawing, and thinner."""
    depth = cv2.distanceTransform(np.pad(mask, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    dark = rgba[..., 3] > _DARK if clear else rgba[..., :3].min(axis=2) < 255 - _DARK
    deep = cv2.dilate((dark & (depth > _RIM)).astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
    return mask & (depth <= _RIM) & ~deep


class _Making:
    """Edits of a piece, made one after the other."""

    def __init__(self, deriver: Deriver, recipe: Recipe) -> None:
        self.deriver, self.recipe = deriver, recipe
        self.edits: list[Edit] = []

    def make(self, edit: Edit) -> None:
        self.recipe = apply(self.recipe, edit)
        self.edits.append(edit)

    def at_once(self) -> Several:
        """All of it as one edit."""
        return Several(edits=tuple(e for e in self.edits if not isinstance(e, Several)))

    def frame(self, place: Place) -> None:
        """What bounds a panel that is no rectangle."""
        if not place.square:
            self.make(CloseGaps(closings=tuple(Closing(points=ring) for ring in _rings(place))))

    def claim(self, parts: Iterable[Part], claims: Iterable[Claim],
              kept: Iterable[Claim] | None = None) -> None:
        """Claims besides those that are there, or that are kept; what was suggested stays a
        suggestion."""
        before = self.recipe.claims if kept is None else tuple(kept)
        after = (*before, *claims)
        if after != self.recipe.claims:
            self.make(ReplaceParts(parts=(*self.recipe.parts, *parts), claims=after,
                                   proposed=self.recipe.proposed))


def _rings(place: Place) -> list[tuple[tuple[float, float], ...]]:
    return [as_points(np.vstack([r, r[:1]])) for r in (place.outline, *place.over)]


def begin_panel(deriver: Deriver, recipe: Recipe, place: Place, balloons: Iterable[Outline],
                letters: PlacedPicture | None) -> tuple[Edit, ...]:
    """The edits that begin a panel's piece: its frame bounds areas, what lies around it is
    ground, balloons are paper, and the rest is as for any new drawing."""
    begun = _Making(deriver, recipe)
    if letters is not None:
        begun.make(SetDetails(details=letters))
    begun.frame(place)
    try:
        for edit in first_edits(deriver, begun.recipe):
            begun.make(edit)
    except (NoLinesError, NoClosedAreaError):  # nothing to colour is there yet
        return tuple(begun.edits)
    areas = deriver.areas(begun.recipe)
    ground = deriver.assignment(begun.recipe).ground
    found = _outside(areas, place) | _around(areas, place)
    begun.claim((), _claims("ground", areas, found & ~ground))
    _paper_balloons(begun, areas, _in_balloons(areas, place.box, balloons),
                    np.zeros(areas.count + 1, bool))
    return tuple(begun.edits)


def sheet_box(sheet: PageSheet, number: int, source: Source) -> Box:
    """Where on its page the whole sheet of a panel's piece lies."""
    origin = sheet.panels[number].origin or (0, 0)
    return (origin[0] + source.corner[0], origin[1] + source.corner[1], source.width,
            source.height)


def box_anew(sheet: PageSheet, number: int, recipe: Recipe) -> Box:
    """What a panel's piece is to show of its page from now on: what it showed, and all that the
    panel takes."""
    return united(sheet_box(sheet, number, recipe.source), place_of(sheet, number).box)


def cut_anew(deriver: Deriver, recipe: Recipe, before: Place, sheet: PageSheet, number: int,
             drawing: AssetName, letters: PlacedPicture | None,
             balloons: Iterable[Outline]) -> Several:
    """The edits that make a panel's piece follow a corrected page.

    Parameters
    ----------
    before : Place
        Where the panel was, as its piece showed it.
    sheet, number
        The corrected page, and the panel's number on it.
    drawing, letters
        As cut from the page by :func:`box_anew`.
    balloons : outlines
        Those that there were.
    """
    cut = _Making(deriver, recipe)
    was, box = sheet_box(sheet, number, recipe.source), box_anew(sheet, number, recipe)
    frame = None if box == was else (box[0] - was[0], box[1] - was[1], *box[2:])
    cut.make(PutDrawing(asset=drawing, remark="Cut anew from the page", sheet=frame))
    if letters is not None or cut.recipe.details is not None:
        cut.make(SetDetails(details=letters))
    place = place_of(sheet, number, cut.recipe)
    old = before.seen_from(place.box)
    gone = [np.array(r) for r in _rings(old)]
    for k in reversed(range(len(cut.recipe.closings))):
        points = np.array(cut.recipe.closings[k].points)
        if any(points.shape == r.shape and np.abs(points - r).max() < _SAME for r in gone):
            cut.make(RemoveClosing(index=k))
    cut.frame(place)
    try:
        areas = deriver.areas(cut.recipe)
    except (NoLinesError, NoClosedAreaError):
        return cut.at_once()
    # What was marked as lying around the panel need not lie there any more.
    mask = old.mask()
    kept = [c for c in cut.recipe.claims if c.to != "ground" or _meets(c, mask)]
    cut.claim((), _claims("ground", areas, _outside(areas, place)), kept)
    _paper_balloons(cut, areas, _in_balloons(areas, place.box, sheet.balloons),
                    _in_balloons(areas, place.box, balloons))
    return cut.at_once()


def _meets(claim: Claim, mask: Mask) -> bool:
    height, width = mask.shape
    return any(0 <= x < width and 0 <= y < height and mask[int(y), int(x)]
               for stroke in claim.strokes for x, y in stroke)


def _claims(to: str, areas: Areas, wanted: Mask) -> list[Claim]:
    seeds = areas.seeds[np.flatnonzero(wanted[1:]) + 1]
    strokes = tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in seeds)
    return [Claim.model_validate({"to": to, "strokes": strokes})] if strokes else []


def _counted(areas: Areas, mask: NDArray[np.generic]) -> NDArray[np.int64]:
    """How many of the pixels are each area's."""
    return np.bincount(areas.labels[mask.astype(bool)], minlength=areas.count + 1)


def _outside(areas: Areas, place: Place) -> Mask:
    """Areas that lie around a panel that is no rectangle."""
    if place.square:
        return np.zeros(areas.count + 1, bool)
    return _counted(areas, place.mask()) < 0.5 * np.bincount(areas.labels.ravel(),
                                                             minlength=areas.count + 1)


def _around(areas: Areas, place: Place) -> Mask:
    """Areas that run along the inside of a frame that is no rectangle: its own ground."""
    if place.square:
        return np.zeros(areas.count + 1, bool)
    mask = place.mask()
    edge = mask & (cv2.erode(np.pad(mask.astype(np.uint8), 1), np.ones((7, 7), np.uint8))
                   [1:-1, 1:-1] == 0)
    top = edge & (np.indices(mask.shape)[0] < np.percentile(np.nonzero(edge)[0], 30))
    return (_counted(areas, edge) > 0.3 * max(1, edge.sum())) \
        | (_counted(areas, top) > 0.35 * max(1, top.sum()))


def _in_balloons(areas: Areas, box: Box, balloons: Iterable[Outline]) -> Mask:
    """Areas that lie in a balloon."""
    mask = within(areas.labels.shape, balloons, box[:2])
    share = _counted(areas, areas.core & (mask > 0)) / np.maximum(1, _counted(areas, areas.core))
    return share > _LEAST_BALLOON


def _paper_balloons(made: _Making, areas: Areas, now: Mask, were: Mask) -> None:
    """What lies in a balloon belongs to the part that stays paper, what did no longer does."""
    recipe = made.recipe
    part = next((p for p in recipe.parts if p.name == BALLOONS and p.scenery == "paper"), None)
    owners = made.deriver.assignment(recipe).painted
    new: list[Part] = []
    claims: list[Claim] = []
    if part:
        mine = owners == 1 + recipe.parts.index(part)
        claims += _claims("none", areas, mine & were & ~now)
        now = now & ~mine
    if now[1:].any():
        if part is None:
            number = 1 + max((int(p.id[1:]) for p in recipe.parts), default=0)
            part = Part(id=f"p{number}", name=BALLOONS, base=_PAPER, scenery="paper")
            new.append(part)
        claims += _claims(part.id, areas, now)
    made.claim(new, claims)
