"""Coloured lines: which stretch each belongs to, how far it faces the light, and its colour."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.ink.draw import Shares, draw_lines, mixed, shares_of
from wardrobe.core.ink.rule import Rule, Side, line_colours
from wardrobe.core.ink.shading import Hand, Sheet, draw, swell_seen
from wardrobe.core.ink.tones import Tones, against_paper, print_tones
from wardrobe.core.lines.intake import INTAKES
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages.finish_shapes import FocusPlane, PassPlane, inside, widened
from wardrobe.recipe.stages.form import AnyForm
from wardrobe.recipe.stages.inked import (
    FacingSeen,
    FoundStretches,
    HiddenLines,
    Owners,
    Printed,
    SmallInk,
    StretchesSeen,
)
from wardrobe.recipe.stages.lines import Byte, ReadDarkness, Source, shrink
from wardrobe.recipe.stages.picture import PartsSeen
from wardrobe.recipe.stages.stage import Get, Stage

Labels = NDArray[np.uint16]
Real = NDArray[np.float32]
IMAGE, DRAWING = "lines", "drawing"  # names of the images of their colours, and of the drawing
GROUND, ITSELF, ALL = -1, -2, -3  # what is beside a line, if no part


@dataclass(frozen=True)
class Chosen:
    """A colour that some lines have, by rows: ``beside`` may be GROUND, ITSELF or ALL."""

    row: int
    beside: int
    colour: tuple[int, int, int]

    def fits(self, pairs: Labels) -> NDArray[np.bool_]:
        """Which stretches it is for."""
        front, behind = pairs[:, 0].astype(int), pairs[:, 1].astype(int)
        if self.beside == ALL:
            return front == self.row
        other = {GROUND: 0, ITSELF: self.row}.get(self.beside, self.beside)
        return ((front == self.row) & (behind == other)) | ((front == other) & (behind == self.row))


@dataclass(frozen=True, eq=False)
class LineTable(Stage[Byte]):
    """Colour of each stretch by how far it faces the light."""

    owners: Owners
    sides: tuple[Side, ...]
    rule: Rule
    chosen: tuple[Chosen, ...]
    plain: tuple[int, int, int]

    def make(self, get: Get) -> Byte:
        pairs = get(self.owners)
        table = line_colours(list(self.sides), pairs, self.rule)
        table[(pairs == 0).all(axis=1)] = self.plain
        # Of a border before of a part: the last that is written counts.
        for chosen in sorted(self.chosen, key=lambda c: c.beside != ALL):
            table[chosen.fits(pairs)] = chosen.colour
        return table


@dataclass(frozen=True, eq=False)
class LineShares(Stage[Shares]):
    """Which stretches have a say where in a view.

    Attributes
    ----------
    blend : float
        Line widths over which one colour turns into the next.
    size : (int, int)
        Width and height of the picture.
    """

    stretches: FoundStretches
    ink: Printed
    blend: float
    size: tuple[int, int]
    view: View

    def make(self, get: Get) -> Shares:
        view = self.view
        radius = round(self.blend * get(self.stretches.areas).line_width * view.scale / 2)
        wide = widened(view, 2 * radius, self.size) if radius else view
        ink = get(SmallInk(self.ink, wide))
        shares = shares_of(get(StretchesSeen(self.stretches, wide)), ink, radius)
        return shares if wide == view else shares.within(inside(view, wide, ink.shape), ink.shape)


@dataclass(frozen=True, eq=False)
class LineImage(Stage[Byte], keep="nowhere"):
    """The colours of the lines of a view."""

    shares: LineShares
    facing: FacingSeen
    table: LineTable
    towards: "Towards | None" = None

    def make(self, get: Get) -> Byte:
        shares, facing = get(self.shares), get(self.facing)
        lines = draw_lines(shares, facing, get(self.table))
        if self.towards is None:
            return lines
        there = draw_lines(shares, facing, get(self.towards.table))
        return mixed(shares, lines, there, get(self.towards.focus))


@dataclass(frozen=True)
class Towards:
    """What lines become where the eye is to go."""

    table: LineTable
    focus: FocusPlane


@dataclass(frozen=True, eq=False)
class AgainstPaper(Stage[Byte], keep="on disk"):
    """The drawing with its paper made white, at full size.

    Attributes
    ----------
    even : bool or None
        Even out the light on the paper; None follows from the kind of drawing.
    """

    source: Source
    darkness: ReadDarkness
    even: bool | None
    hues: bool

    def make(self, get: Get) -> Byte:
        even = INTAKES[get(self.darkness).kind].even if self.even is None else self.even
        return against_paper(get(self.source), even, self.hues)


@dataclass(frozen=True, eq=False)
class DrawingSeen(Stage[Byte]):
    """The drawing as it is printed in a view.

    Attributes
    ----------
    paper : float or None
        As in :class:`~wardrobe.core.ink.tones.Tones`; None as far as its noise reaches.
    hidden : HiddenLines or None
        What of it is not printed.
    """

    drawing: AgainstPaper
    tones: Tones
    paper: float | None
    view: View
    hidden: HiddenLines | None

    def make(self, get: Get) -> Byte:
        value = shrink(get(self.drawing)[self.view.slices], self.view)
        if self.hidden is not None:
            gone = shrink(get(self.hidden)[self.view.slices], self.view)
            value = np.maximum(value, gone if value.ndim == 2 else gone[..., None])
        paper = get(self.drawing.darkness).noise if self.paper is None else self.paper
        return print_tones(np.ascontiguousarray(value), replace(self.tones, paper=paper))


def shade_name(number: int) -> str:
    """Name of the soft plane of a pass drawn in ink."""
    return f"ink {number}"


@dataclass(frozen=True, eq=False)
class InkPlane(Stage[Byte]):
    """A pass drawn in ink, over a view.

    Attributes
    ----------
    shape : PassPlane
        Its shape over ``wide``, which is larger by what has a say in the view.
    rows : tuple of int or None
        Parts that it keeps to; None for all.
    taper, gap : float
        In line widths, as it is said.
    """

    shape: PassPlane
    parts: PartsSeen
    form: AnyForm
    ink: Printed
    hand: Hand
    rows: tuple[int, ...] | None
    wide: View
    view: View

    def make(self, get: Get) -> Byte:
        wide, view = self.wide, self.view
        parts = get(self.parts)
        kept = parts > 0 if self.rows is None else np.isin(parts, self.rows)
        mask = np.where(kept, get(self.shape), 0).astype(np.uint8)
        width = get(self.shape.masks.sample.areas).line_width
        hand = replace(self.hand, taper=self.hand.taper * width, gap=self.hand.gap * width)
        plane = draw(hand, Sheet(
            mask, get(SmallInk(self.ink, wide)),
            swell_seen(get(self.form), wide.x, wide.y, wide.scale, mask.shape),
            (float(wide.x), float(wide.y)), 1 / wide.scale, width))
        return np.ascontiguousarray(plane[inside(view, wide, plane.shape)])
