"""Masks and pictures for a view."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.areas.marked import BESIDE, INSIDE
from wardrobe.core.layers.borders import Borders, bare_borders, smoothed
from wardrobe.core.layers.layer import Layer, Masks
from wardrobe.core.layers.origin import Origin
from wardrobe.core.layers.paint import paint
from wardrobe.core.layers.runs import Runs, find_runs
from wardrobe.core.light.ground import ground_shadow
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.masks.raster import rasterise
from wardrobe.core.masks.settle import settle
from wardrobe.core.masks.touch import Act, Touch, draw_touch, touch_up
from wardrobe.core.parallel import each_outer
from wardrobe.core.passes.as_layers import layers_of, prints_as_images
from wardrobe.core.passes.layers import Over
from wardrobe.core.passes.table import GROUND, PASSES
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.types import Stroke
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.colours import Coated, WantedShapes
from wardrobe.recipe.stages.cut import Assigned, Cut, HaloOfBlacks, Marked, PartsMap, Shown
from wardrobe.recipe.stages.form import AnyForm, DrawnShapes, Relief, SolvedForm
from wardrobe.recipe.stages.inked import Printed, SmallInk
from wardrobe.recipe.stages.lines import Byte, Decoded, pick, shrink
from wardrobe.recipe.stages.prints import Ground, draw_pattern
from wardrobe.recipe.stages.stage import Get, Stage

Labels = NDArray[np.uint16]
Planes = tuple[tuple[str, Stage[Byte | None]], ...]
Images = tuple[tuple[str, Stage[Byte]], ...]
HALO = "halo"  # name of its soft plane


def origin_of(view: View) -> Origin:
    """Where a view lies."""
    return Origin(view.x * view.scale, view.y * view.scale, view.scale)


@dataclass(frozen=True)
class Sampled:
    """The label map and the lines, cut and scaled to a view."""

    labels: Labels
    ink: Byte


@dataclass(frozen=True, eq=False)
class Sample(Stage[Sampled], keep="nowhere"):
    """Areas and ink in a view at full size."""

    areas: Cut
    ink: Printed
    view: View

    def make(self, get: Get) -> Sampled:
        return Sampled(pick(get(self.areas).labels, self.view), get(SmallInk(self.ink, self.view)))


class SmallSample(Sample, keep="in memory"):
    """Areas and ink in a view at a smaller size."""


@dataclass(frozen=True, eq=False)
class PartsSeen(Stage[Labels], keep="nowhere"):
    """Row of the part of every pixel of a view."""

    sample: Sample
    shown: Shown

    def make(self, get: Get) -> Labels:
        return get(self.shown)[get(self.sample).labels]


class SmallPartsSeen(PartsSeen, keep="in memory"):
    """Row of the part of every pixel of a smaller view."""


@dataclass(frozen=True, eq=False)
class DrawnPattern(Stage[Byte], keep="nowhere"):
    """The pattern of one part over a rectangle, straight alpha."""

    areas: Cut
    assigned: Assigned
    form: AnyForm | None
    pattern: Pattern
    picture: Decoded | None
    row: int
    corner: tuple[float, float]
    scale: float
    shape: tuple[int, int]

    def make(self, get: Get) -> Byte:
        areas = get(self.areas)
        mine = np.flatnonzero(get(self.assigned).painted == self.row)
        x, y = areas.seeds[mine[np.argmax(areas.pixels[mine])]].tolist()
        form, member = None, np.zeros(1, bool)
        if self.form is not None:
            form = get(self.form)
            member = np.isin(np.arange(int(form.labels.max()) + 1), form.form_of_area[mine])
            member[0] = False
            form = form if member.any() else None  # scenery has none
        picture = get(self.picture) if self.picture else None
        return draw_pattern(self.pattern, Ground((x, y), form, member), picture, self.corner,
                            self.scale, self.shape)


@dataclass(frozen=True, eq=False)
class Prints(Stage[Byte | None]):
    """The patterns for a view, straight alpha, each cut to its part; None without any."""

    sample: Sample
    shown: Shown
    form: AnyForm
    patterns: tuple[Pattern | None, ...]

    @property
    def rows(self) -> tuple[int, ...]:
        """Rows of the parts that have one."""
        return tuple(row for row, pattern in enumerate(self.patterns, start=1) if pattern)

    def pattern(self, row: int, corner: tuple[float, float], scale: float,
                shape: tuple[int, int]) -> DrawnPattern | None:
        """The pattern of one part over a rectangle."""
        pattern = self.patterns[row - 1]
        if pattern is None:
            return None
        return DrawnPattern(
            self.sample.areas, self.shown.assigned, self.form if pattern.follow else None,
            pattern, Decoded(pattern.picture.asset) if pattern.picture else None, row, corner,
            scale, shape)

    def make(self, get: Get) -> Byte | None:
        shown, view = get(self.shown), self.sample.view
        wanted = [row for row in self.rows if (shown == row).any()]
        if not wanted:
            return None
        parts = shown[get(self.sample).labels]
        out = np.zeros((*view.shape, 4), np.uint8)
        for row, box in enumerate(ndimage.find_objects(parts, max(wanted)), start=1):
            if row in wanted and box:
                corner = view.x + box[1].start / view.scale, view.y + box[0].start / view.scale
                inside = parts[box] == row
                drawn = self.pattern(row, corner, view.scale, inside.shape)
                assert drawn is not None
                out[box][inside] = get(drawn)[inside]
        return out


@dataclass(frozen=True, eq=False)
class DrawnTouch(Stage[Touch | None]):
    """A touch-up as it lies on a view; ``row`` is that of the part that it keeps to."""

    key: str
    act: Act
    row: int | None
    points: Stroke
    widths: tuple[float, ...]
    view: View

    def make(self, get: Get) -> Touch | None:
        view = self.view
        return draw_touch(self.key, self.act, self.row,
                          (np.array(self.points) - (view.x, view.y)) * view.scale,
                          np.array(self.widths) * view.scale, view.shape)


@dataclass(frozen=True, eq=False)
class ShadowOnGround(Stage[Byte], keep="nowhere"):
    """The figure's shadow on the ground, also where the figure hides it."""

    form: SolvedForm | Relief
    light: KeyLight
    pitch: float
    drop: float
    soft: float
    view: View

    def make(self, get: Get) -> Byte:
        v = self.view
        return ground_shadow(get(self.form), self.light, self.pitch, self.drop, self.soft, v.x,
                             v.y, v.scale, v.shape)


@dataclass(frozen=True, eq=False)
class DrawnMasks(Stage[Masks], keep="nowhere"):
    """Part rows, shapes and ink for a view, as the compositor takes them.

    Attributes
    ----------
    parts : PartsSeen or PartsMap
        The rows that are composed; those of hidden parts, too, bound touch-ups.
    under_figure : bool
        The shadow on the ground is there where the figure hides it, too.
    around : frozenset of int
        Rows that it falls on: the background and scenery.
    """

    sample: Sample
    assigned: Assigned
    parts: PartsSeen | PartsMap
    shapes: DrawnShapes
    marked: tuple[tuple[str, Marked], ...]
    touches: tuple[DrawnTouch, ...]
    ground: ShadowOnGround | None
    wanted: WantedShapes
    under_figure: bool = False
    around: frozenset[int] = frozenset([0])

    def make(self, get: Get) -> Masks:
        sampled, view, keys = get(self.sample), self.sample.view, get(self.wanted)
        levels = rasterise(get(self.shapes), get(self.shapes.posed.form), sampled.labels, view.x,
                           view.y, view.scale, GROUND in keys,
                           {key for key in keys if PASSES[key].soft})
        for name, stage in self.marked:
            told = get(stage)
            if told is not None:
                _mark(levels, keys, name, told[sampled.labels])
        touches = [touch for touch in map(get, self.touches) if touch]
        if touches:
            touch_up(levels, keys, get(self.assigned).part_of_area[sampled.labels], touches)
        settle(levels, keys)
        parts = get(self.parts)
        if self.ground is not None:
            shadow = get(self.ground)
            levels[..., keys.index(GROUND)] = shadow if self.under_figure else \
                np.where(np.isin(parts, list(self.around)), shadow, 0)
        return Masks(parts, levels, sampled.ink, keys)


def _mark(levels: Byte, keys: tuple[str, ...], name: str, what: NDArray[np.uint8]) -> None:
    """Shade or light whose edges are drawn, by area."""
    if name in keys:
        levels[what == INSIDE, keys.index(name)] = 255
        levels[what == BESIDE, keys.index(name)] = 0
    if name == "light" and "shade" in keys:
        levels[what == INSIDE, keys.index("shade")] = 0


@dataclass(frozen=True, eq=False)
class SmallHalo(Stage[Byte | None], keep="nowhere"):
    """Coverage of the rim of solid blacks for a view."""

    halo: HaloOfBlacks
    view: View

    def make(self, get: Get) -> Byte | None:
        rim = get(self.halo)
        return None if rim is None else shrink(rim[self.view.slices], self.view)


@dataclass(frozen=True, eq=False)
class CutRuns(Stage[Runs]):
    """Masks by runs of equal pixels: a change of colour goes on from here."""

    masks: DrawnMasks

    def make(self, get: Get) -> Runs:
        return find_runs(get(self.masks))


@dataclass(frozen=True, eq=False)
class Layered(Stage[list[Layer]]):
    """The layers of a picture; ``over`` lies over all parts."""

    coated: Coated
    patterned: tuple[int, ...]
    over: tuple[Over, ...]

    def make(self, get: Get) -> list[Layer]:
        on = get(self.coated)
        return layers_of(on.coats, on.bases, self.patterned, self.over)


@dataclass(frozen=True, eq=False)
class BareBorders(Stage[Borders]):
    """Borders that no line covers, in a view that is smaller than the drawing."""

    parts: PartsSeen

    def make(self, get: Get) -> Borders:
        sample, shown = self.parts.sample, get(self.parts.shown)
        return bare_borders(get(self.parts), get(sample).ink, get(sample.areas).labels, shown,
                            origin_of(sample.view))


@dataclass(frozen=True, eq=False)
class Picture(Stage[Byte], keep="nowhere"):
    """The finished picture for a view, RGB.

    Attributes
    ----------
    planes : tuple of (str, Stage)
        Soft planes by name; nothing lies on one that gives None.
    images : tuple of (str, Stage)
        Those that layers name, beside the patterns.
    borders : BareBorders or None
        Those to be smoothed.
    """

    runs: CutRuns
    layers: Layered
    prints: Prints
    planes: Planes
    images: Images
    view: View
    borders: BareBorders | None = None

    def make(self, get: Get) -> Byte:
        return self.painted(get, self.laid(get))

    def laid(self, get: Get) -> tuple[Runs, dict[str, Byte]]:
        """Runs with the soft planes, and the images."""
        runs = get(self.runs)
        images = prints_as_images(get(self.prints), get(self.layers)) \
            | {name: get(image) for name, image in self.images}
        soft = np.empty((len(self.planes), *runs.shape), np.uint8)

        def lay(k: int) -> None:
            plane = get(self.planes[k][1])
            soft[k] = 0 if plane is None else plane

        each_outer(lay, range(len(soft)))
        return replace(runs, soft_keys=tuple(name for name, _ in self.planes), soft=soft), images

    def painted(self, get: Get, laid: tuple[Runs, dict[str, Byte]],
                over: tuple[Over, ...] | None = None) -> Byte:
        """The picture, with other layers over all parts if so asked."""
        stage = self.layers if over is None else replace(self.layers, over=over)
        runs, images = laid
        painted = paint(runs, stage.make(get), images, origin_of(self.view))
        return smoothed(painted, get(self.borders)) if self.borders else painted
