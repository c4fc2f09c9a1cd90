"""The lines of a piece, stretch by stretch: their colours, and where they cannot be seen."""

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab, to_hex
from wardrobe.core.ink.rule import LEAST_STEP, stood_off
from wardrobe.recipe.document.ink import Inking
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.cut import Cut
from wardrobe.recipe.stages.graph import Graph
from wardrobe.recipe.stages.ink import LineImage
from wardrobe.recipe.stages.inked import Owners, SmallInk, StretchesSeen
from wardrobe.recipe.stages.stage import Get, Stage

EDGE = 1400  # px at which lines are measured
FAINT_WIDTHS = 3.0  # line widths that may be faint without being told
_SHORT_WIDTHS = 1.0  # a stretch that is shorter is none
_BEADS = 24  # places of a stretch that are told
_HALF = 127  # coverage
Float = NDArray[np.float64]
Point = tuple[float, float]


@dataclass(frozen=True)
class LineStretch:
    """Lines between two parts, or inside of one.

    Attributes
    ----------
    part : str
        Id of the part that they belong to.
    beside : str
        Id of the part on the other side, ``ground``, or ``itself``.
    colour : str
        As it is seen, on average.
    step : float
        CIEDE2000 from what lies beside them, on the nearer side, on average.
    length, faint : float
        px of line, and of the longest run that cannot be told from one of its sides.
    own : bool
        Their colour was chosen for them.
    mend : str or None
        The colour moved until it can be seen; None if nothing is to be mended.
    places : tuple of (float, float)
        Some places of them, px.
    """

    part: str
    beside: str
    colour: str
    step: float
    length: float
    faint: float
    own: bool
    mend: str | None
    places: tuple[Point, ...]


@dataclass(frozen=True)
class InkReport:
    """All stretches, those that cannot be seen first.

    Attributes
    ----------
    least : float
        CIEDE2000 by which a line must differ from both of its sides.
    mended : Inking or None
        Colours of lines by which all can be seen; None if they are so already.
    """

    stretches: tuple[LineStretch, ...]
    least: float
    mended: Inking | None


def report_ink(deriver: Deriver, recipe: Recipe) -> InkReport:
    """Measure the lines of a piece as they are seen."""
    return deriver.store(measured_ink(deriver.stages(recipe)))


@dataclass(frozen=True, eq=False)
class MeasuredInk(Stage[InkReport]):
    """The lines of a piece, measured as they are seen."""

    image: LineImage
    owners: Owners
    seen: StretchesSeen
    ink: SmallInk
    areas: Cut
    recipe: Recipe
    view: View

    def make(self, get: Get) -> InkReport:
        recipe, view = self.recipe, self.view
        if recipe.ink.drawing is not None:  # it is printed instead of lines
            return InkReport((), LEAST_STEP, None)
        image, pairs = get(self.image), get(self.owners)
        seen, ink = get(self.seen), get(self.ink)
        width = max(1.0, get(self.areas).line_width * view.scale)
        at = np.flatnonzero(ink.ravel() > _HALF)
        which, colours = seen.ravel()[at], image.reshape(-1, 4)[at, :3].astype(float)
        if not recipe.ink.on:
            colours[:] = from_hex(recipe.lines.colour)
        else:
            plain, amount = np.array(from_hex(recipe.lines.colour), float), recipe.ink.amount
            colours = plain + amount * (colours - plain)
        bases = np.array([from_hex(recipe.background), *(from_hex(p.base) for p in recipe.parts)],
                         float)
        steps = _steps(recipe.ink, colours, bases, pairs, which)
        runs = _runs(at[steps < LEAST_STEP], ink.shape)[at]
        ids = ["ground", *(p.id for p in recipe.parts)]
        found = []
        for stretch in np.unique(which):
            front, behind = pairs[stretch].tolist()
            mine = np.flatnonzero(which == stretch)
            if front == 0 or len(mine) < _SHORT_WIDTHS * width**2:
                continue
            faint = float(np.bincount(runs[mine])[1:].max(initial=0)) / width
            colour = to_hex(tuple(np.rint(colours[mine].mean(axis=0)).astype(int).tolist()))
            beside = "itself" if front == behind else ids[behind]
            told = faint > FAINT_WIDTHS * width
            found.append(LineStretch(
                ids[front], beside, colour, round(float(steps[mine].mean()), 1),
                round(len(mine) / width / view.scale, 1), round(faint / view.scale, 1),
                any(o.between in ({ids[front], beside}, {ids[front], None})
                    for o in recipe.ink.own),
                to_hex(stood_off(from_hex(colour), (_rgb(bases[front]), _rgb(bases[behind]))))
                if told else None, _beads(at[mine], ink.shape, view.scale)))
        found.sort(key=lambda s: (s.mend is None, -s.faint if s.mend else -s.length))
        return InkReport(tuple(found), LEAST_STEP, _mended(recipe, bases, found))


def measured_ink(graph: Graph) -> MeasuredInk:
    """What measures the lines of a piece."""
    recipe, view = graph.recipe, View.whole(*graph.recipe.size, EDGE)
    return MeasuredInk(
        graph.line_image(view), graph.line_table.owners, graph.stretches_seen(view),
        graph.small_ink(view), graph.areas, recipe.only("ink", "lines", "background", "parts"),
        view)


def _rgb(colour: Float) -> tuple[int, int, int]:
    r, g, b = (int(v) for v in colour)
    return r, g, b


def _steps(ink: Inking, colours: Float, bases: Float, pairs: NDArray[Any],
           which: NDArray[Any]) -> Float:
    """Step of each pixel from the nearer of its sides, as the lines are laid on them."""
    packed = (colours + 0.5).astype(np.int64) @ np.array([65536, 256, 1]) + \
        (which.astype(np.int64) << 24)
    kinds, first, back = np.unique(packed, return_index=True, return_inverse=True)
    found = np.full(len(kinds), np.inf)
    for side in (0, 1):
        base = bases[pairs[which[first], side]]
        laid = colours[first] * base / 255 if ink.mode == "multiply" else colours[first]
        laid = base + ink.opacity * (laid - base)
        found = np.minimum(found, delta_e_2000(srgb_to_lab(laid / 255), srgb_to_lab(base / 255)))
    result: Float = found[back]
    return result


def _runs(at: NDArray[Any], shape: tuple[int, ...]) -> NDArray[np.int32]:
    """Pixels that hang together, numbered from 1; 0 for all others."""
    faint = np.zeros(shape, np.uint8)
    faint.ravel()[at] = 1
    _, runs = cv2.connectedComponents(faint)
    found: NDArray[np.int32] = runs.ravel()
    return found


def _beads(at: NDArray[Any], shape: tuple[int, ...], scale: float) -> tuple[Point, ...]:
    """Some of the pixels, far from each other."""
    y, x = np.divmod(at, shape[1])
    cell = max(8, int(np.sqrt(max(np.ptp(x) + 1, 1) * max(np.ptp(y) + 1, 1) / _BEADS)))
    _, first = np.unique((y // cell) * 100_000 + x // cell, return_index=True)
    chosen = first[np.linspace(0, len(first) - 1, min(len(first), _BEADS)).astype(int)]
    return tuple((round(float(x[k] + 0.5) / scale, 1), round(float(y[k] + 0.5) / scale, 1))
                 for k in chosen)


def _mended(recipe: Recipe, bases: Float, found: list[LineStretch]) -> Inking | None:
    """All of it laid on in full; chosen colours that cannot be seen with another value."""
    faint = [s for s in found if s.mend]
    if not faint:
        return None
    rows = {"ground": 0} | {p.id: row for row, p in enumerate(recipe.parts, start=1)}
    own = {o.between: o for o in recipe.ink.own}
    for stretch in faint:
        chosen = own.get(frozenset([stretch.part, stretch.beside])) \
            or own.get(frozenset([stretch.part, None]))
        if chosen is None:
            continue
        sides = tuple(_rgb(bases[rows[side]]) for side in (
            stretch.part, stretch.part if stretch.beside == "itself" else stretch.beside))
        colour = to_hex(stood_off(from_hex(chosen.colour), (sides[0], sides[1])))
        fitting = chosen.model_copy(update={"part": stretch.part, "beside": stretch.beside,
                                            "colour": colour})
        own[fitting.between] = fitting
    mended = recipe.ink.model_copy(update={"on": True, "amount": 1.0, "opacity": 1.0,
                                           "mode": "normal", "own": tuple(own.values())})
    return mended if mended != recipe.ink else None
