"""What is on a page's sheet: its ink, its letters, its panels and where they lie."""

from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

from wardrobe.core.errors import WardrobeError
from wardrobe.core.page.lettering import Lettering, find_lettering
from wardrobe.core.page.order import in_order
from wardrobe.core.page.panels import find_panels
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.series.page import MAX_BALLOONS, MAX_PANELS, PagePanel, PageSheet
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Points = NDArray[np.float64]
Box = tuple[int, int, int, int]  # x, y, width, height, px

_SQUARE = 1.5  # px by which a side may be off the level for a panel to be cut out as a rectangle
_SIMPLE = 1.0  # px by which a balloon's outline may be simplified
_LIES_OVER = 0.02  # share of a panel that lies on another where it lies over it


class TurnedPanelError(WardrobeError):
    """A panel's piece does not lie as its page does."""

    title = "A panel is turned"


def page_ink(deriver: Deriver, sheet: PageSheet) -> Byte:
    """Coverage of the ink of a sheet, uint8, shape (height, width)."""
    return deriver.drawn(Recipe(source=Source(asset=sheet.asset, width=sheet.width,
                                              height=sheet.height)))


def lettered(ink: Byte, sheet: PageSheet) -> Mask:
    """Ink of a sheet that is letters."""
    if not sheet.letters:
        return np.zeros(ink.shape, bool)
    found = find_lettering(ink)
    said = within(ink.shape, sheet.balloons)
    # What stands in a balloon that a person drew is letters, too.
    return (found.letters | (cv2.erode(said, np.ones((3, 3), np.uint8)) > 0)) & (ink > 0)


def find_sheet(sheet: PageSheet, ink: Byte) -> PageSheet:
    """The sheet with the panels and balloons that are found on it."""
    lettering = find_lettering(ink) if sheet.letters else Lettering(np.zeros(ink.shape, bool), [])
    panels = find_panels(ink, lettering.balloons, sheet.reading)[:MAX_PANELS]
    return sheet.model_copy(update={
        "panels": tuple(PagePanel(outline=as_points(p.outline)) for p in panels),
        "balloons": tuple(as_points(_simple(b)) for b in lettering.balloons[:MAX_BALLOONS])})


def in_reading_order(sheet: PageSheet) -> PageSheet:
    """The sheet with its panels as they are read."""
    outlines = [np.array(p.outline) for p in sheet.panels]
    under = [tuple(k for k in range(len(outlines)) if j in _lying_over(outlines, k))
             for j in range(len(outlines))]
    return sheet.model_copy(update={"panels": tuple(
        sheet.panels[k] for k in in_order(outlines, under, sheet.reading))})


def within(shape: tuple[int, ...], outlines: Iterable[ArrayLike],
           corner: tuple[int, int] = (0, 0)) -> Byte:
    """1 within any of the outlines, given in px of the sheet; ``corner`` is where the mask lies
    on it."""
    mask = np.zeros(shape, np.uint8)
    for outline in outlines:
        cv2.fillPoly(mask, [np.round(np.asarray(outline) - corner - 0.5).astype(np.int32)], 1)
    return mask


def as_points(outline: Points) -> tuple[tuple[float, float], ...]:
    """Places of an outline, to a hundredth."""
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

    box: Box
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
        shape = self.box[3], self.box[2]
        return (within(shape, [self.outline]) > 0) & (within(shape, self.over) == 0)

    def seen_from(self, box: Box) -> "Place":
        """The same place in px of another rectangle of the sheet."""
        shift = np.subtract(self.box[:2], box[:2])
        return Place(box, self.outline + shift, [o + shift for o in self.over])

    def same(self, other: "Place") -> bool:
        """Whether it cuts the same out of the sheet."""
        return self.box == other.box and len(self.over) == len(other.over) and all(
            np.array_equal(a, b) for a, b in zip((self.outline, *self.over),
                                                 (other.outline, *other.over), strict=True))


def place_of(sheet: PageSheet, number: int, recipe: Recipe | None = None) -> Place:
    """Where the panel of a number, from 0, is; with the recipe of its piece, as that shows it.

    Raises
    ------
    TurnedPanelError
        If the piece is turned.
    """
    outlines = [np.array(panel.outline) for panel in sheet.panels]
    box = box_of(sheet, outlines[number])
    origin = sheet.panels[number].origin
    if recipe is not None and origin is not None:
        source, frame = recipe.source, recipe.frame
        if frame.turn or frame.tilt:
            raise TurnedPanelError(f"Panel {number + 1} is turned or levelled. Turn its piece "
                                   "back in the step Lines.")
        left, top = frame.crop[:2] if frame.crop else (0, 0)
        box = (origin[0] + source.corner[0] + left, origin[1] + source.corner[1] + top,
               *recipe.size)
    over = [outlines[k] - box[:2] for k in _lying_over(outlines, number)]
    return Place(box, outlines[number] - box[:2], over)


def box_of(sheet: PageSheet, outline: Points) -> Box:
    """x, y, width, height of the least rectangle of the sheet that holds an outline."""
    low = np.clip(np.floor(outline.min(axis=0)), 0, [sheet.width - 1, sheet.height - 1])
    high = np.clip(np.ceil(outline.max(axis=0)), low + 1, [sheet.width, sheet.height])
    x, y, w, h = (int(v) for v in (*low, *(high - low)))
    return x, y, w, h


def united(one: Box, other: Box) -> Box:
    """The least rectangle that holds two."""
    x, y = min(one[0], other[0]), min(one[1], other[1])
    return (x, y, max(one[0] + one[2], other[0] + other[2]) - x,
            max(one[1] + one[3], other[1] + other[3]) - y)


def _lying_over(outlines: list[Points], number: int) -> list[int]:
    """Which panels lie over one: the smaller ones that meet it."""
    own, found = outlines[number], []
    for k, other in enumerate(outlines):
        if k == number or extent(other) >= extent(own):
            continue
        meet, _ = cv2.intersectConvexConvex(cv2.convexHull(own.astype(np.float32)),
                                            cv2.convexHull(other.astype(np.float32)))
        if meet > _LIES_OVER * extent(other):
            found.append(k)
    return found


def extent(outline: Points) -> float:
    """px within an outline."""
    return float(cv2.contourArea(outline.astype(np.float32)))
