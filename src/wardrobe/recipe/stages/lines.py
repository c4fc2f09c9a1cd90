"""The lines: source, darkness, ink, hues, hatching, solid blacks, gaps."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.find import Hatching, find_hatching
from wardrobe.core.lines.blacks import Blacks, hollow, solid_blacks
from wardrobe.core.lines.closing import ink_closings
from wardrobe.core.lines.coverage import Darkness, ink_coverage, read_darkness
from wardrobe.core.lines.frame import apply_frame, lay
from wardrobe.core.lines.gaps import Closures, Gaps, find_closures, find_gaps
from wardrobe.core.lines.hues import HueLines, find_hues, hue_coverage, same_hue, without_hues
from wardrobe.core.lines.intake import INTAKES, Kind
from wardrobe.core.lines.stroke import (
    change_weight,
    harden,
    remove_grain,
    smooth_edges,
    strengthen,
)
from wardrobe.core.lines.width import line_width
from wardrobe.recipe.document.drawing import Row
from wardrobe.recipe.document.model import Boundary, BoundaryRole, Frame, InkStroke
from wardrobe.recipe.document.model import Hatching as HatchedPlace
from wardrobe.recipe.document.types import Point
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.stage import Get, Stage

Byte = NDArray[np.uint8]
Points = tuple[Point, ...]


@dataclass(frozen=True, eq=False)
class Decoded(Stage[Byte]):
    """A picture file as RGBA."""

    asset: str

    def make(self, get: Get) -> Byte:
        return get.load(self.asset)


@dataclass(frozen=True, eq=False)
class LaidOn(Stage[Byte], keep="on disk"):
    """A corrected drawing as it lies on the first one, RGBA."""

    drawing: Decoded
    matrix: tuple[Row, Row] | None
    size: tuple[int, int]

    def make(self, get: Get) -> Byte:
        return lay(get(self.drawing), np.array(self.matrix or np.eye(2, 3)), self.size)


@dataclass(frozen=True, eq=False)
class Framed(Stage[Byte]):
    """The drawing turned, levelled and cropped, RGBA."""

    whole: Decoded | LaidOn
    frame: Frame

    def make(self, get: Get) -> Byte:
        return apply_frame(get(self.whole), self.frame.turn, self.frame.tilt, self.frame.crop)


Source = Decoded | LaidOn | Framed


@dataclass(frozen=True, eq=False)
class ReadDarkness(Stage[Darkness], keep="on disk"):
    """Darkness against the paper, and the kind of drawing."""

    source: Source
    kind: Kind | None
    even: bool | None

    def make(self, get: Get) -> Darkness:
        return read_darkness(get(self.source), self.kind, self.even)


@dataclass(frozen=True, eq=False)
class FoundHues(Stage[list[HueLines]], keep="on disk"):
    """The hues that lines are drawn in."""

    source: Source

    def make(self, get: Get) -> list[HueLines]:
        return find_hues(get(self.source))


@dataclass(frozen=True, eq=False)
class HueCoverage(Stage[Byte], keep="on disk"):
    """Coverage of the lines of one hue."""

    source: Source
    lines: HueLines

    def make(self, get: Get) -> Byte:
        return hue_coverage(get(self.source), self.lines)


@dataclass(frozen=True, eq=False)
class Hues:
    """Coloured lines and what they are for: an input of stages."""

    source: Source
    found: FoundHues
    boundaries: tuple[Boundary, ...]

    def role_of(self, lines: HueLines) -> BoundaryRole:
        """What lines of a hue are for."""
        named = (b.role for b in self.boundaries if same_hue(b.hue, lines.hue))
        return next(named, "printed")


@dataclass(frozen=True, eq=False)
class Drawn(Stage[Byte], keep="on disk"):
    """Coverage of all ink at full size."""

    source: Source
    darkness: ReadDarkness
    hues: FoundHues
    stroke: InkStroke

    def make(self, get: Get) -> Byte:
        # A pale line bounds as a dark one does.
        pale = [get(HueCoverage(self.source, h)) for h in get(self.hues)]
        return np.maximum.reduce([prepare_lines(get(self.darkness), self.stroke), *pale])


@dataclass(frozen=True, eq=False)
class FoundHatching(Stage[Hatching], keep="on disk"):
    """The strokes of the drawing, and which of them seem to bound nothing."""

    drawn: Drawn

    def make(self, get: Get) -> Hatching:
        return find_hatching(get(self.drawn))


@dataclass(frozen=True, eq=False)
class WithoutHatching(Stage[Byte], keep="on disk"):
    """Coverage of the ink that bounds areas, solid blacks included."""

    drawn: Drawn
    hatching: FoundHatching
    places: tuple[HatchedPlace, ...]

    def make(self, get: Get) -> Byte:
        found = get(self.hatching)
        families = found.named([p for h in self.places if not h.by_hand for p in h.places])
        strokes = found.strokes_at([p for h in self.places if h.by_hand for p in h.places])
        return np.where(found.ink(families, strokes), 0, get(self.drawn)).astype(np.uint8)


Bounding = Drawn | WithoutHatching


@dataclass(frozen=True, eq=False)
class Solids(Stage[Blacks], keep="on disk"):
    """The solid blacks of the drawing, also those that take colour."""

    ink: Bounding

    def make(self, get: Get) -> Blacks:
        ink = get(self.ink)
        return solid_blacks(ink, line_width(ink))


@dataclass(frozen=True, eq=False)
class PrintedBlacks(Stage[Blacks]):
    """The solid blacks that are printed in ink."""

    solids: Solids
    coloured: Points

    def make(self, get: Get) -> Blacks:
        solids = get(self.solids)
        return solids.without(solids.at(self.coloured))


@dataclass(frozen=True, eq=False)
class Hollowed(Stage[Byte], keep="on disk"):
    """Ink without the inside of solid blacks that take colour: their rim stays, as a line."""

    ink: Bounding
    bounding: Bounding
    solids: Solids
    coloured: Points

    def make(self, get: Get) -> Byte:
        solids = get(self.solids)
        return hollow(get(self.ink), solids, solids.at(self.coloured),
                      line_width(get(self.bounding)))


Coverage = Drawn | WithoutHatching | Hollowed


@dataclass(frozen=True, eq=False)
class Details(Stage[Byte], keep="on disk"):
    """Coverage of the second drawing, framed as the first is."""

    second: Decoded
    size: tuple[int, int]
    frame: Frame

    def make(self, get: Get) -> Byte:
        rgba = get(self.second)
        if rgba.shape[1::-1] != self.size:
            rgba = cv2.resize(rgba, self.size, interpolation=cv2.INTER_AREA)
        framed = apply_frame(rgba, self.frame.turn, self.frame.tilt, self.frame.crop)
        return prepare_lines(read_darkness(framed), InkStroke())


@dataclass(frozen=True, eq=False)
class Ink(Stage[Byte], keep="on disk"):
    """Ink coverage at full size, as it is printed: with inked closings, edges smoothed."""

    ink: Coverage
    coverage: Coverage
    hues: Hues
    inked: tuple[Points, ...]
    smoothed: bool
    details: Details | None

    def make(self, get: Get) -> Byte:
        unprinted = [h for h in get(self.hues.found) if self.hues.role_of(h) != "printed"]
        ink = get(self.ink)
        if unprinted:
            ink = without_hues(ink, [get(HueCoverage(self.hues.source, h)) for h in unprinted])
        if self.inked:
            ink = ink_closings(ink, self.inked, line_width(get(self.coverage)))
        if self.smoothed:
            ink = smooth_edges(ink)
        return ink if self.details is None else np.maximum(ink, get(self.details))


@dataclass(frozen=True, eq=False)
class FoundGaps(Stage[Gaps], keep="on disk"):
    """The gaps in the lines, whatever was decided about them."""

    coverage: Coverage

    def make(self, get: Get) -> Gaps:
        return find_gaps(get(self.coverage))


@dataclass(frozen=True, eq=False)
class FoundClosures(Stage[Closures], keep="on disk"):
    """Where lines may be missing: what open areas are shared out along."""

    coverage: Coverage

    def make(self, get: Get) -> Closures:
        return find_closures(get(self.coverage))


@dataclass(frozen=True, eq=False)
class SmallDarkness(Stage[Byte]):
    """Darkness for a view."""

    darkness: ReadDarkness
    view: View

    def make(self, get: Get) -> Byte:
        return shrink(get(self.darkness).values[self.view.slices], self.view)


@dataclass(frozen=True, eq=False)
class LineDraft(Stage[Byte], keep="nowhere"):
    """The lines for a view, prepared at its size: for a drag, in which they last a moment."""

    darkness: ReadDarkness
    stroke: InkStroke
    details: Details | None
    view: View

    def make(self, get: Get) -> Byte:
        small = get(SmallDarkness(self.darkness, self.view))
        lines = prepare_lines(replace(get(self.darkness), values=small), self.stroke,
                              self.view.scale)
        return lines if self.details is None else np.maximum(
            lines, shrink(get(self.details)[self.view.slices], self.view))


def shrink(image: Byte, view: View) -> Byte:
    """A picture at the scale of a view."""
    if view.scale == 1:
        return image
    height, width = view.shape
    return cv2.resize(image, (width, height), interpolation=cv2.INTER_AREA)


def pick(labels: NDArray[np.uint16], view: View) -> NDArray[np.uint16]:
    """Labels at the middles of the pixels of a view."""
    labels = labels[view.slices]
    if view.scale == 1:
        return labels
    ys, xs = (np.minimum((np.arange(n) + 0.5) / view.scale, most - 1).astype(int)
              for n, most in zip(view.shape, (view.height, view.width), strict=True))
    return np.ascontiguousarray(labels[ys][:, xs])


def prepare_lines(darkness: Darkness, stroke: InkStroke, scale: float = 1.0) -> Byte:
    """Ink coverage for the settings of a recipe.

    ``scale`` is the size of the darkness against the picture: lengths are in picture pixels.
    """
    ink = ink_coverage(darkness, stroke.threshold, stroke.paper)
    grain = INTAKES[darkness.kind].grain if stroke.grain is None else stroke.grain
    ink = remove_grain(ink, grain * scale)
    if stroke.strengthen:
        ink = strengthen(ink, stroke.strengthen)
    ink = change_weight(ink, stroke.weight * scale)
    return ink if stroke.edge == "smooth" else harden(ink)
