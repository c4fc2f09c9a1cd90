"""Panels of a page as pieces: cut from the sheet, begun, and put together again."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex
from wardrobe.core.errors import NoClosedAreaError, NoLinesError
from wardrobe.core.page.lettering import Lettering, find_lettering
from wardrobe.core.page.panels import find_panels
from wardrobe.core.stack.model import Group, Layer, Node, Stack, Tint, mapped
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Claim, Closing, Part, Recipe
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    CloseGaps,
    Edit,
    ReplaceParts,
    SetDetails,
    apply,
)
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.series.page import MAX_BALLOONS, MAX_PANELS, PagePanel, PageSheet
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Points = NDArray[np.float64]
Report = Callable[[float], None]

BALLOONS = "balloons"  # name of the part that stays paper
_PAPER = "#ffffff"
_SQUARE = 1.5  # px by which a side may be off the level for a panel to be cut out as a rectangle
_SIMPLE = 1.0  # px by which a balloon's outline may be simplified
_LEAST_BALLOON = 0.9  # share of an area that lies in a balloon


def page_ink(deriver: Deriver, sheet: PageSheet) -> Byte:
    """Coverage of the ink of a sheet, uint8, shape (height, width)."""
    return deriver.drawn(Recipe(source=Source(asset=sheet.asset, width=sheet.width,
                                              height=sheet.height)))


def lettered(ink: Byte, sheet: PageSheet) -> Mask:
    """Ink of a sheet that is letters."""
    if not sheet.letters:
        return np.zeros(ink.shape, bool)
    found = find_lettering(ink)
    said = np.zeros(ink.shape, np.uint8)
    for outline in sheet.balloons:
        cv2.fillPoly(said, [np.round(np.array(outline) - 0.5).astype(np.int32)], 1)
    # What stands in a balloon that a person drew is letters, too.
    return (found.letters | (cv2.erode(said, np.ones((3, 3), np.uint8)) > 0)) & (ink > 0)


def find_sheet(sheet: PageSheet, ink: Byte) -> PageSheet:
    """The sheet with the panels and balloons that are found on it."""
    lettering = find_lettering(ink) if sheet.letters else Lettering(np.zeros(ink.shape, bool), [])
    panels = find_panels(ink, lettering.balloons, sheet.reading)[:MAX_PANELS]
    return sheet.model_copy(update={
        "panels": tuple(PagePanel(outline=_points(p.outline)) for p in panels),
        "balloons": tuple(_points(_simple(b)) for b in lettering.balloons[:MAX_BALLOONS])})


def _points(outline: Points) -> tuple[tuple[float, float], ...]:
    return tuple((round(float(x), 2), round(float(y), 2)) for x, y in outline)


def _simple(outline: Points) -> Points:
    found = cv2.approxPolyDP(outline.astype(np.float32).reshape(-1, 1, 2), _SIMPLE, closed=True)
    return found.reshape(-1, 2).astype(np.float64) if len(found) > 2 else outline


@dataclass(frozen=True)
class Place:
    """Where a panel is on its sheet.

    Attributes
    ----------
    box : (x, y, width, height)
        px of the sheet that its piece shows.
    outline : ndarray of float64, shape (n, 2)
        In px of the piece.
    over : list of ndarray
        Outlines of panels that lie over it, in px of the piece.
    """

    box: tuple[int, int, int, int]
    outline: Points
    over: list[Points]

    @property
    def square(self) -> bool:
        """Whether it is its whole rectangle, with nothing over it."""
        x, y = self.outline.T
        near = (np.minimum(x, self.box[2] - x) <= _SQUARE) \
            & (np.minimum(y, self.box[3] - y) <= _SQUARE)
        return len(self.outline) == 4 and bool(near.all()) and not self.over

    def mask(self) -> Mask:
        """Pixels of the piece that are the panel."""
        found = np.zeros((self.box[3], self.box[2]), np.uint8)
        cv2.fillPoly(found, [np.round(self.outline - 0.5).astype(np.int32)], 1)
        for outline in self.over:
            cv2.fillPoly(found, [np.round(outline - 0.5).astype(np.int32)], 0)
        return found > 0


def place_of(sheet: PageSheet, number: int) -> Place:
    """Where the panel of a number, from 0, is."""
    outline = np.array(sheet.panels[number].outline)
    low = np.clip(np.floor(outline.min(axis=0)), 0, [sheet.width - 1, sheet.height - 1])
    high = np.clip(np.ceil(outline.max(axis=0)), low + 1, [sheet.width, sheet.height])
    x, y, w, h = (int(v) for v in (*low, *(high - low)))
    over = []
    for k, panel in enumerate(sheet.panels):
        other = np.array(panel.outline)
        if k == number or _area(other) >= _area(outline):  # the smaller lies over the larger
            continue
        meet, _ = cv2.intersectConvexConvex(cv2.convexHull(outline.astype(np.float32)),
                                            cv2.convexHull(other.astype(np.float32)))
        if meet > 0.02 * cv2.contourArea(other.astype(np.float32)):
            over.append(other - low)
    return Place((x, y, w, h), outline - low, over)


def _area(outline: Points) -> float:
    return float(cv2.contourArea(outline.astype(np.float32)))


@dataclass(frozen=True)
class PanelDrawing:
    """What a panel's piece is begun from: its drawing, and the letters that are printed with it;
    RGBA, of the panel's box."""

    drawing: Byte
    letters: Byte | None


def panel_drawing(rgba: Byte, letters: Mask, place: Place,
                  first: tuple[int, int, int, int] | None = None) -> PanelDrawing:
    """Cut a panel from its sheet: nothing of what lies around it, letters apart.

    ``first`` is the box of the panel's first drawing, on which letters lie whatever the outline
    has become.
    """
    x, y, w, h = place.box
    own, mask = rgba[y:y + h, x:x + w], place.mask()
    said = letters[y:y + h, x:x + w] & mask
    # Letters are taken out with their soft edges.
    around = cv2.dilate(said.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    clear = (own[..., 3] < 128).any()
    paper = np.array([255, 255, 255, 0 if clear else 255], np.uint8)
    drawing = np.where((mask & ~around)[..., None], own, paper)
    if not said.any():
        return PanelDrawing(drawing, None)
    text = np.where((mask & around)[..., None], own, paper)
    if first is None:
        return PanelDrawing(drawing, text)
    shift = np.array([[1, 0, x - first[0]], [0, 1, y - first[1]]], np.float64)
    return PanelDrawing(drawing, cv2.warpAffine(
        text, shift, first[2:], flags=cv2.INTER_NEAREST, borderMode=cv2.BORDER_CONSTANT,
        borderValue=[int(v) for v in paper]))


def begin_panel(deriver: Deriver, recipe: Recipe, place: Place, balloons: Sequence[Points],
                letters: PlacedPicture | None) -> tuple[Edit, ...]:
    """The edits that begin a panel's piece: its frame bounds areas, what lies around it is
    ground, balloons are paper, and the rest is as for any new drawing."""
    edits: list[Edit] = []

    def make(edit: Edit) -> None:
        nonlocal recipe
        recipe = apply(recipe, edit)
        edits.append(edit)

    if letters is not None:
        make(SetDetails(details=letters))
    if not place.square:
        rings = [place.outline, *place.over]
        make(CloseGaps(closings=tuple(Closing(points=_points(np.vstack([r, r[:1]])))
                                      for r in rings)))
    try:
        for edit in first_edits(deriver, recipe):
            make(edit)
    except (NoLinesError, NoClosedAreaError):  # nothing to colour is there yet
        return tuple(edits)
    parts, claims = _balloons(deriver, recipe, place, balloons)
    claims = [*_outside(deriver, recipe, place), *claims]
    if claims:  # what was suggested stays a suggestion
        make(ReplaceParts(parts=(*recipe.parts, *parts), claims=(*recipe.claims, *claims),
                          proposed=recipe.proposed))
    return tuple(edits)


def _outside(deriver: Deriver, recipe: Recipe, place: Place) -> list[Claim]:
    """What lies around a panel that is no rectangle, and its own ground, are no figure."""
    if place.square:
        return []
    areas, ground = deriver.areas(recipe), deriver.assignment(recipe).ground
    mask = place.mask()
    inside = np.bincount(areas.labels[mask], minlength=areas.count + 1)
    out = inside < 0.5 * np.bincount(areas.labels.ravel(), minlength=areas.count + 1)
    edge = mask & (cv2.erode(np.pad(mask.astype(np.uint8), 1), np.ones((7, 7), np.uint8))
                   [1:-1, 1:-1] == 0)
    along = np.bincount(areas.labels[edge], minlength=areas.count + 1) / max(1, edge.sum())
    top = edge & (np.indices(mask.shape)[0] < np.percentile(np.nonzero(edge)[0], 30))
    high = np.bincount(areas.labels[top], minlength=areas.count + 1) / max(1, top.sum())
    wanted = np.flatnonzero((out | (along > 0.3) | (high > 0.35)) & ~ground)
    wanted = wanted[wanted > 0]
    return [Claim(to="ground", strokes=_clicks(areas.seeds[wanted]))] if len(wanted) else []


def _clicks(seeds: NDArray[np.int32]) -> tuple[tuple[tuple[float, float], ...], ...]:
    return tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in seeds)


def _balloons(deriver: Deriver, recipe: Recipe, place: Place,
              balloons: Sequence[Points]) -> tuple[list[Part], list[Claim]]:
    """A part for what stays paper, and its areas."""
    mask = np.zeros((place.box[3], place.box[2]), np.uint8)
    for outline in balloons:
        cv2.fillPoly(mask, [np.round(outline - place.box[:2] - 0.5).astype(np.int32)], 1)
    if not mask.any():
        return [], []
    areas = deriver.areas(recipe)
    core = areas.labels[areas.core & (mask > 0)]
    share = np.bincount(core, minlength=areas.count + 1) \
        / np.maximum(1, np.bincount(areas.labels[areas.core], minlength=areas.count + 1))
    wanted = np.flatnonzero(share > _LEAST_BALLOON)
    if not len(wanted):
        return [], []
    number = 1 + max((int(p.id[1:]) for p in recipe.parts), default=0)
    part = Part(id=f"p{number}", name=BALLOONS, base=_PAPER, scenery="paper")
    return [part], [Claim(to=part.id, strokes=_clicks(areas.seeds[wanted]))]


def put_together(deriver: Deriver, sheet: PageSheet, recipes: Sequence[Recipe | None], ink: Byte,
                 letters: Mask, report: Report = lambda share: None) -> Stack:
    """The stack of a page: paper, a group for each panel, balloons, frames and letters.

    Parameters
    ----------
    recipes : sequence of Recipe or None
        Of the panels in their order; a panel without is left as it was drawn.
    ink : ndarray of uint8, shape (height, width)
        Of the whole sheet.
    letters : ndarray of bool, same shape
    """
    full = np.full((sheet.height, sheet.width), 255, np.uint8)
    nodes: list[Node] = [Layer("paper", Tint(full, (255, 255, 255)))]
    drawn = np.zeros(full.shape, bool)
    colour = (0, 0, 0)
    largest = sorted(range(len(recipes)),
                     key=lambda k: -_area(np.array(sheet.panels[k].outline)))
    for done, number in enumerate(largest):
        recipe = recipes[number]
        if recipe is None:
            continue
        place = place_of(sheet, number)
        x, y, w, h = place.box

        def tell(share: float, done: int = done) -> None:
            report((done + share) / len(recipes))

        stack = deriver.stack(recipe, on_progress=tell)
        stack = _at_page(stack, place)
        nodes.append(Group(f"panel {number + 1}", stack.nodes))
        drawn[y:y + h, x:x + w] |= place.mask()
        colour = from_hex(recipe.lines.colour)
    nodes += _on_top(sheet, ink, letters, drawn, colour)
    return Stack(sheet.width, sheet.height, nodes)


def _on_top(sheet: PageSheet, ink: Byte, letters: Mask, drawn: Mask,
            colour: tuple[int, int, int]) -> list[Node]:
    """What is paper again, and the ink that belongs to no panel."""
    nodes: list[Node] = []
    said = np.zeros(ink.shape, np.uint8)
    for outline in sheet.balloons:
        cv2.fillPoly(said, [np.round(np.array(outline) - 0.5).astype(np.int32)], 255)
    if said.any():
        nodes.append(_cropped("balloons", said, (255, 255, 255)))
    frames = np.where(drawn & ~letters, 0, ink)
    if frames.any():
        nodes.append(_cropped("frames and letters", frames, colour))
    return nodes


def _cropped(name: str, alpha: Byte, colour: tuple[int, int, int]) -> Layer:
    x, y, w, h = cv2.boundingRect(alpha)
    return Layer(name, Tint(np.ascontiguousarray(alpha[y:y + h, x:x + w]), colour), x, y)


def _at_page(stack: Stack, place: Place) -> Stack:
    """A panel's stack where it lies on the page, cut to its outline."""
    x0, y0 = place.box[:2]
    mask = None if place.square else place.mask()

    def moved(layer: Layer) -> Layer:
        paint = layer.paint
        if mask is not None:
            height, width = layer.shape
            kept = mask[layer.y:layer.y + height, layer.x:layer.x + width]
            if isinstance(paint, Tint):
                paint = Tint(np.where(kept, paint.alpha, 0).astype(np.uint8), paint.colour)
            else:
                paint = np.where(kept[..., None] | (np.arange(4) < 3), paint, 0).astype(np.uint8)
        return Layer(layer.name, paint, layer.x + x0, layer.y + y0, layer.mode, layer.opacity,
                     layer.clipped_to, layer.visible)

    return mapped(stack, moved)


def page_picture(deriver: Deriver, sheet: PageSheet, recipes: Sequence[Recipe | None], ink: Byte,
                 letters: Mask, report: Report = lambda share: None) -> Byte:
    """The page as it looks, RGB."""
    out = np.full((sheet.height, sheet.width, 3), 255, np.uint8)
    drawn = np.zeros(out.shape[:2], bool)
    colour = (0, 0, 0)
    for number, recipe in enumerate(recipes):
        if recipe is not None:
            place = place_of(sheet, number)
            x, y, w, h = place.box
            mask = place.mask()
            there = out[y:y + h, x:x + w]
            picture = deriver.picture(recipe, View.whole(*recipe.size))
            np.copyto(there, picture, where=mask[..., None])
            drawn[y:y + h, x:x + w] |= mask
            colour = from_hex(recipe.lines.colour)
        report((number + 1) / len(recipes))
    for node in _on_top(sheet, ink, letters, drawn, colour):
        assert isinstance(node, Layer)
        there = out[node.y:node.y + node.shape[0], node.x:node.x + node.shape[1]]
        alpha = node.alpha[..., None].astype(np.uint16)
        rgb = node.pixels[..., :3].astype(np.uint16)
        there[:] = ((rgb * alpha + there * (255 - alpha) + 127) // 255).astype(np.uint8)
    return out
