"""The artefacts that several checks read."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.borders import Across, steps_across
from wardrobe.core.checks.seen import Seen, lab_of
from wardrobe.recipe.checks.finding import Box, Desk, Points
from wardrobe.recipe.document.model import Recipe, ground_rows
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.cut import Cut
from wardrobe.recipe.stages.picture import PartsSeen, Picture, Sample
from wardrobe.recipe.stages.stage import Get, Stage

EDGE = 700  # px of the longer edge at which pictures are judged
MASKS_EDGE = 1400  # px at which shapes are counted
SMALL = 0.004  # of the figure: smaller parts and shapes are not judged
_DOTS = 60  # places of a border that are shown


@dataclass(frozen=True, eq=False)
class PictureSeen(Stage[Seen]):
    """The picture, small, with and without its lines."""

    whole: Picture
    bare: Picture
    parts: PartsSeen
    sample: Sample
    areas: Cut
    around: frozenset[int]
    view: View

    def make(self, get: Get) -> Seen:
        parts, bare = get(self.parts), get(self.bare)
        figure = ~np.isin(parts, list(self.around))
        return Seen(get(self.whole), bare, lab_of(bare), parts, figure, get(self.sample).ink,
                    self.view.scale, get(self.areas).line_width * self.view.scale)


@dataclass(frozen=True, eq=False)
class AcrossBorders(Stage[Across]):
    """What lies on either side of all borders between parts."""

    seen: PictureSeen

    def make(self, get: Get) -> Across:
        seen = get(self.seen)
        return steps_across(seen.bare, seen.parts)


def picture_seen(desk: Desk) -> PictureSeen:
    """The picture of a piece as the checks see it."""
    g, view = desk.graph, view_of(desk, EDGE)
    return PictureSeen(g.picture(view), g.picture(view, lines=False), g.parts_seen(view),
                       g.sample(view), g.areas, ground_rows(desk.recipe.parts), view)


def across(desk: Desk) -> AcrossBorders:
    """The borders of a piece as the checks see them."""
    return AcrossBorders(picture_seen(desk))


def view_of(desk: Desk, edge: int) -> View:
    """The whole picture, so small."""
    return View.whole(*desk.recipe.size, edge)


def ids_of(recipe: Recipe) -> tuple[str, ...]:
    """Ids of the parts in the order of their rows; the first is none."""
    return ("", *(p.id for p in recipe.parts))


def box_of(where: NDArray[np.bool_], scale: float) -> Box | None:
    """The rectangle around a mask, picture pixels."""
    if not where.any():
        return None
    x, y, width, height = cv2.boundingRect(where.astype(np.uint8))
    return tuple(round(v / scale, 1) for v in (x, y, width, height))


def box_around(x: NDArray[np.float64], y: NDArray[np.float64], scale: float) -> Box:
    """The rectangle around places."""
    left, top = float(x.min()), float(y.min())
    return (round(left / scale, 1), round(top / scale, 1),
            round((float(x.max()) - left + 1) / scale, 1),
            round((float(y.max()) - top + 1) / scale, 1))


def dots(x: NDArray[np.float64], y: NDArray[np.float64], scale: float) -> tuple[Points, ...]:
    """Some of the places, one by one."""
    chosen = np.linspace(0, len(x) - 1, min(len(x), _DOTS)).astype(int)
    return tuple(((round(float(x[k] + 0.5) / scale, 1), round(float(y[k] + 0.5) / scale, 1)),)
                 for k in chosen)


def line_of(points: NDArray[np.float64], scale: float, most: int = 80) -> Points:
    """Places as one line."""
    chosen = np.linspace(0, len(points) - 1, min(len(points), most)).astype(int)
    return tuple((round(x / scale, 1), round(y / scale, 1)) for x, y in points[chosen].tolist())
