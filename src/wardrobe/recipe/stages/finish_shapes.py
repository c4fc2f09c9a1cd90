"""The shapes of layers that finish a picture, over a view."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.finish.contact import contact_plane
from wardrobe.core.finish.focus import focus_plane
from wardrobe.core.finish.given_off import (
    light_on_form,
    light_on_ground,
    small_sources,
    sources_of,
)
from wardrobe.core.finish.sparks import Scatter, sparks_plane
from wardrobe.core.finish.spots import Spot, spots_plane
from wardrobe.core.form import Form
from wardrobe.core.layers.runs import level_of
from wardrobe.core.light.shapes import Shapes
from wardrobe.core.masks.raster import rasterise
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.form import AnyForm
from wardrobe.recipe.stages.inked import Fronts, SmallInk
from wardrobe.recipe.stages.lines import Byte
from wardrobe.recipe.stages.picture import CutRuns, DrawnMasks, PartsSeen, Sample, origin_of
from wardrobe.recipe.stages.stage import Get, Stage

MOST_HALF_LINE = 60.0  # picture px of a line beyond which contact shade begins
_DENOMINATORS = 64  # of scales in which pixels of two views can lie on each other


def widened(view: View, reach: int, size: tuple[int, int]) -> View:
    """A view with so many of its pixels more on each side, as far as the picture goes, whose
    pixels lie on those of the view."""
    grid = next((q for q in range(1, _DENOMINATORS)
                 if abs(q * view.scale - round(q * view.scale)) < 1e-9), 1)
    room = math.ceil(reach / view.scale / grid) * grid
    x, y = max(0, view.x - room), max(0, view.y - room)
    right, bottom = (min(most, start + length + room) for most, start, length in
                     zip(size, (view.x, view.y), (view.width, view.height), strict=True))
    return View(x, y, right - x, bottom - y, view.scale)


def inside(view: View, wide: View, shape: tuple[int, ...]) -> tuple[slice, slice]:
    """Where a view lies in the pixels of a wider one."""
    left, top = (round((a - b) * view.scale) for a, b in ((view.x, wide.x), (view.y, wide.y)))
    height, width = (min(n, most) for n, most in zip(view.shape, shape, strict=True))
    top, left = min(top, shape[0] - height), min(left, shape[1] - width)
    return slice(top, top + height), slice(left, left + width)




@dataclass(frozen=True, eq=False)
class Filled(Stage[Byte], keep="nowhere"):
    """All of a view."""

    view: View

    def make(self, get: Get) -> Byte:
        return np.full(self.view.shape, 255, np.uint8)


@dataclass(frozen=True, eq=False)
class PassPlane(Stage[Byte], keep="nowhere"):
    """The shape of a pass, or all but it; empty where the pass is not drawn."""

    masks: DrawnMasks
    key: str
    outside: bool

    def make(self, get: Get) -> Byte:
        # From the runs, which the picture has cut already if it is all in view.
        runs = get(CutRuns(self.masks))
        if self.key not in runs.keys:
            return np.full(runs.shape, 255 * self.outside, np.uint8)
        level = level_of(runs, self.key)
        return np.uint8(255) - level if self.outside else level


@dataclass(frozen=True, eq=False)
class PartsPlane(Stage[Byte], keep="nowhere"):
    """Parts as they are seen; None for the whole figure."""

    parts: PartsSeen
    rows: tuple[int, ...] | None

    def make(self, get: Get) -> Byte:
        shown = np.full(2**16, 255 * (self.rows is None), np.uint8)
        shown[0] = 0
        shown[list(self.rows or ())] = 255
        return shown[get(self.parts.shown)][get(self.parts.sample).labels]


@dataclass(frozen=True, eq=False)
class SpotsPlane(Stage[Byte], keep="nowhere"):
    """Spots that are drawn."""

    spots: tuple[Spot, ...]
    view: View

    def make(self, get: Get) -> Byte:
        return spots_plane(self.spots, origin_of(self.view), self.view.shape)


def on_form(field: NDArray[np.float32], form: Form, labels: NDArray[np.uint16],
            view: View) -> Byte:
    """A field on the grid of a form, 0..1, as a plane; each area has that of its own form."""
    shapes = Shapes(("it",), field[None], np.zeros((1, int(form.labels.max()) + 1), np.float32))
    levels = rasterise(shapes, form, labels, view.x, view.y, view.scale, 0, {"it"})
    return np.ascontiguousarray(levels[..., 0])


@dataclass(frozen=True, eq=False)
class GivenOffPlane(Stage[Byte]):
    """What light that parts give off does over a view.

    Attributes
    ----------
    lamps : PartsSeen
        Where they are looked for.
    rows : tuple of int
    reach, height : float
        Picture pixels.
    """

    sample: Sample
    parts: PartsSeen
    form: AnyForm
    lamps: PartsSeen
    rows: tuple[int, ...]
    reach: float
    height: float
    view: View

    def make(self, get: Get) -> Byte:
        lamps = self.lamps.sample.view
        sources = sources_of(np.isin(get(self.lamps), self.rows), self.height, origin_of(lamps))
        if not len(sources):
            areas = get(self.sample.areas)
            mine = np.isin(get(self.parts.shown), self.rows)
            sources = small_sources(areas.seeds[mine].astype(np.float64) + 0.5,
                                    areas.pixels[mine], self.height)
        form, labels, parts = get(self.form), get(self.sample).labels, get(self.parts)
        plane = on_form(light_on_form(form, sources, self.reach), form, labels, self.view)
        ground = form.form_of_area[labels] == 0
        if ground.any():
            there = light_on_ground(sources, self.reach, origin_of(self.view), self.view.shape)
            plane[ground] = there[ground]
        plane[np.isin(parts, self.rows)] = 0
        return plane


@dataclass(frozen=True, eq=False)
class ContactPlane(Stage[Byte]):
    """Where parts lie close under others, from the edge of the line between them.

    ``parts`` are seen over ``wide``, which is larger by the width and MOST_HALF_LINE.
    """

    parts: PartsSeen
    fronts: Fronts
    width: float
    wide: View
    view: View

    def make(self, get: Get) -> Byte:
        half_line = min(get(self.parts.sample.areas).line_width / 2, MOST_HALF_LINE)
        plane = contact_plane(get(self.parts), get(self.fronts), self.width * self.view.scale,
                              half_line * self.view.scale)
        return np.ascontiguousarray(plane[inside(self.view, self.wide, plane.shape)])


@dataclass(frozen=True, eq=False)
class SparksPlane(Stage[Byte], keep="nowhere"):
    """Sparks over a view."""

    scatter: Scatter
    view: View

    def make(self, get: Get) -> Byte:
        return sparks_plane(self.scatter, origin_of(self.view), self.view.shape)


@dataclass(frozen=True, eq=False)
class FocusPlane(Stage[Byte]):
    """How near each pixel is to where the eye should go: x, y and radius."""

    places: tuple[tuple[float, float, float], ...]
    view: View

    def make(self, get: Get) -> Byte:
        return focus_plane(self.places, origin_of(self.view), self.view.shape)


Shaped = (Filled | PassPlane | PartsPlane | SpotsPlane | GivenOffPlane | ContactPlane
          | SparksPlane | SmallInk)
