"""The ink of a view: which line is whose, how far it faces the light, how heavy it is."""

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ink.facing import facing_seen, line_facing
from wardrobe.core.ink.stretches import Stretches, find_stretches, in_front, lumps, taken_away
from wardrobe.core.ink.weight import weighed
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.lines.stroke import change_weight, spine_of
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.cut import Assigned, Cut
from wardrobe.recipe.stages.form import AnyForm, Order
from wardrobe.recipe.stages.lines import Byte, Coverage, Ink, pick, shrink
from wardrobe.recipe.stages.stage import Get, Stage

_KNOTS = 1.25  # px between widths of lines that are worked out: less than an edge is soft
Labels = NDArray[np.uint16]
Real = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class FoundStretches(Stage[Stretches], keep="on disk"):
    """The stretches of the lines, at full size."""

    areas: Cut
    assigned: Assigned
    ink: Coverage | Ink

    def make(self, get: Get) -> Stretches:
        areas = get(self.areas)
        parts = get(self.assigned).painted[areas.labels]
        return find_stretches(parts, get(self.ink), areas.line_width)


@dataclass(frozen=True, eq=False)
class StretchesSeen(Stage[Labels]):
    """The stretch of every pixel of a view."""

    stretches: FoundStretches
    view: View

    def make(self, get: Get) -> Labels:
        return pick(get(self.stretches).labels, self.view)


@dataclass(frozen=True, eq=False)
class Fronts(Stage[NDArray[np.float64]]):
    """How far in front each row of the parts lies; the ground behind all."""

    assigned: Assigned
    form: AnyForm
    order: Order

    def make(self, get: Get) -> NDArray[np.float64]:
        form = get(self.form)
        owners = form.owners(get(self.assigned).part_of_area)
        depth = self.order.depth(form, owners)
        pixels = np.maximum(np.bincount(form.labels.ravel(), minlength=len(owners)), 1)
        rows = len(self.order.told)
        mean = np.bincount(owners, depth * pixels, rows) / np.maximum(
            np.bincount(owners, pixels, rows), 1)
        mean[np.bincount(owners, minlength=rows) == 0] = self.order.told.min() - 1
        mean[0] = -np.inf
        return mean


@dataclass(frozen=True, eq=False)
class Owners(Stage[Labels]):
    """Rows beside each stretch, that in front first: it owns the line."""

    stretches: FoundStretches
    fronts: Fronts

    def make(self, get: Get) -> Labels:
        return in_front(get(self.stretches).pairs, get(self.fronts))


@dataclass(frozen=True, eq=False)
class LineRows(Stage[tuple[int, ...]]):
    """Rows that own lines."""

    owners: Owners

    def make(self, get: Get) -> tuple[int, ...]:
        stretches = self.owners.stretches
        drawn = np.unique(get(stretches).labels[get(stretches.ink) > 0])
        return tuple(np.unique(get(self.owners)[drawn, 0]).tolist())


@dataclass(frozen=True, eq=False)
class LineOwnersSeen(Stage[Labels]):
    """Row whose line each pixel of a view is."""

    owners: Owners
    view: View

    def make(self, get: Get) -> Labels:
        front: Labels = get(self.owners)[:, 0][get(StretchesSeen(self.owners.stretches, self.view))]
        return front


@dataclass(frozen=True, eq=False)
class LineFacing(Stage[Real]):
    """How far lines face the light, on the grid of the form."""

    form: AnyForm
    assigned: Assigned
    order: Order
    key: KeyLight

    def make(self, get: Get) -> Real:
        form = get(self.form)
        owners = form.owners(get(self.assigned).part_of_area)
        return line_facing(form, self.order.depth(form, owners), self.key)


@dataclass(frozen=True, eq=False)
class FacingSeen(Stage[Byte]):
    """How far lines face the light in a view, 0..255."""

    facing: LineFacing
    view: View

    def make(self, get: Get) -> Byte:
        v = self.view
        return facing_seen(get(self.facing), get(self.facing.form), v.x, v.y, v.scale, v.shape)


@dataclass(frozen=True, eq=False)
class Spine(Stage[Byte]):
    """The middle of the ink's lines, at full size."""

    ink: Coverage | Ink

    def make(self, get: Get) -> Byte:
        return spine_of(get(self.ink))


@dataclass(frozen=True, eq=False)
class ChangedWeight(Stage[Byte], keep="on disk"):
    """The ink at full size, its lines wider by some px."""

    ink: Coverage | Ink
    by: float

    def make(self, get: Get) -> Byte:
        return change_weight(get(self.ink), self.by,
                             get(Spine(self.ink)) if self.by < 0 else None)


@dataclass(frozen=True, eq=False)
class WeighedInk(Stage[Byte]):
    """Lines heavier in shade and where a part lies over another, thinner towards the light.

    Attributes
    ----------
    amount, over : float
        Line widths by which lines in shade are wider, and those between two parts.
    size : (int, int)
        Width and height of the picture.
    """

    ink: Coverage | Ink
    facing: LineFacing
    stretches: FoundStretches
    amount: float
    over: float
    size: tuple[int, int]

    def make(self, get: Get) -> Byte:
        return self.seen(get, View.whole(*self.size))

    def seen(self, get: Get, view: View) -> Byte:
        """The ink of a view."""
        pairs = get(self.stretches).pairs
        lies_over = (pairs[:, 0] > 0) & (pairs[:, 0] != pairs[:, 1])
        width = get(self.stretches.areas).line_width
        amount, over = self.amount * width, self.over * width
        # At widths that all amounts have in common.
        first, last = math.floor(-amount / _KNOTS), math.ceil((amount + over) / _KNOTS)
        knots = [(k * _KNOTS, get(SmallInk(ChangedWeight(self.ink, k * _KNOTS) if k else self.ink,
                                           view))) for k in range(first, max(last, first + 1) + 1)]
        return weighed(knots, get(FacingSeen(self.facing, view)), amount, over,
                       lies_over[get(StretchesSeen(self.stretches, view))])


@dataclass(frozen=True, eq=False)
class HiddenLines(Stage[Byte], keep="on disk"):
    """How much of the ink, and of what lies in them, goes with parts that are not shown."""

    owners: Owners
    rows: tuple[int, ...]

    def make(self, get: Get) -> Byte:
        stage, owners = self.owners.stretches, get(self.owners)
        stretches, ink, areas = get(stage), get(stage.ink), get(stage.areas)
        gone = np.isin(owners[:, 0], self.rows)[stretches.labels]
        parts = get(stage.assigned).painted[areas.labels]
        gone |= lumps(stretches, owners, self.rows, parts, ink, areas.line_width)
        return taken_away(gone, ink, areas.line_width)


@dataclass(frozen=True, eq=False)
class LinesLeft(Stage[Byte]):
    """The ink without the lines of hidden parts."""

    ink: Coverage | Ink | WeighedInk
    hidden: HiddenLines
    size: tuple[int, int]

    def make(self, get: Get) -> Byte:
        return self.seen(get, View.whole(*self.size))

    def seen(self, get: Get, view: View) -> Byte:
        """The ink of a view."""
        left = 255 - shrink(get(self.hidden)[view.slices], view)
        return cv2.multiply(get(SmallInk(self.ink, view)), left, scale=1 / 255)


Printed = Coverage | Ink | ChangedWeight | WeighedInk | LinesLeft


@dataclass(frozen=True, eq=False)
class SmallInk(Stage[Byte]):
    """The lines for a view."""

    ink: Printed
    view: View

    def make(self, get: Get) -> Byte:
        if isinstance(self.ink, WeighedInk | LinesLeft):
            return self.ink.seen(get, self.view)
        return shrink(get(self.ink)[self.view.slices], self.view)
