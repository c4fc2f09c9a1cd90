"""The kinds of picture that the screens show."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex, oklch_to_srgb
from wardrobe.core.layers.flat import compose_flat, lay_flat
from wardrobe.core.layers.layer import INK, Masks, planes
from wardrobe.core.layers.paint import paint
from wardrobe.core.layers.runs import find_runs
from wardrobe.core.passes.as_layers import layers_of, prints_as_images
from wardrobe.core.passes.layers import Coat, Over
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.cut import Assigned, Completed
from wardrobe.recipe.stages.graph import Graph
from wardrobe.recipe.stages.inked import SmallInk
from wardrobe.recipe.stages.lines import LineDraft, Source
from wardrobe.recipe.stages.picture import PartsSeen, Prints, Sample
from wardrobe.recipe.stages.see_through import BEHIND, opaque, see_through, shown_through
from wardrobe.recipe.stages.stage import Get, Stage

Byte = NDArray[np.uint8]

_GROUND = (22, 22, 25)
_UNCLAIMED = (58, 20, 44)
_TINT_LINES = (236, 236, 240)
_QUIET_LINES = (120, 120, 126)
_ALARM = (255, 92, 158)
_DONE = (46, 46, 50)
_GOLDEN_ANGLE = 137.508
_CROSS = np.array([[0, 1, 0], [1, 1, 1], [0, 1, 0]], np.uint8)


def draw(deriver: Deriver, recipe: Recipe, kind: str, view: View, draft: bool = False) -> Byte:
    """Draw one kind of picture, as :func:`picture_stage` describes it.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    return deriver.store(picture_stage(deriver, recipe, kind, view, draft))


def picture_stage(deriver: Deriver, recipe: Recipe, kind: str, view: View,
                  draft: bool = False) -> Stage[Byte]:
    """What gives one kind of picture.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    kind : str
        ``picture`` finished; ``before`` the drawing as it came in, on white; ``lines`` the
        prepared lines on white; ``parts`` areas in loud tints over a dark ground;
        ``unclaimed`` only what has no part yet; ``bases`` base colours without light;
        ``borders`` each part's border; ``faults`` where the fill is not complete.
    view : View
    draft : bool
        Draw the shapes of a finished picture at half their resolution, and lines from the
        drawing as small as it is shown.
    """
    g = deriver.stages(recipe)
    if kind == "picture":
        return g.picture(view, draft)
    if kind == "before":
        return Before(g.source, view)
    if kind == "lines":
        return OnWhite(g.line_draft(view) if draft else SmallInk(g.ink, view),
                       recipe.lines.colour)
    sample = g.sample(view, hidden_lines=True)
    if kind == "parts":
        return Tints(sample, g.assigned, len(recipe.parts))
    if kind == "unclaimed":
        return Unclaimed(sample, g.assigned)
    if kind == "borders":
        return Borders(sample, g.assigned, len(recipe.parts))
    bases = _bases(g, view, recipe.lines.colour)
    return Faults(bases, g.completed, view) if kind == "faults" else bases


def _bases(g: Graph, view: View, ink: str | None) -> "Bases":
    recipe = g.recipe
    return Bases(g.parts_seen(view), (recipe.background, *(p.base for p in recipe.parts)), ink,
                 g.prints(view), shown_through(recipe, unlit=False),
                 _bases(g.behind, view, None) if see_through(recipe) else None)


def upto(recipe: Recipe, name: str) -> Recipe:
    """The recipe without what is laid on after a pass: to see them one by one."""
    order = list(PASSES)
    later = order[order.index(name) + 1:]
    off = tuple(dict.fromkeys((*recipe.passes.off, *later)))
    return recipe.model_copy(update={
        "passes": recipe.passes.model_copy(update={"off": off}), "finish": ()})


def without_ground(recipe: Recipe) -> Recipe:
    """The recipe with what finishes its figure, and nothing of what lies beside it."""
    parts = tuple(p.model_copy(update={"visible": False}) if p.scenery else p
                  for p in recipe.parts)
    kept = (f.model_copy(update={"scope": "figure"}) if f.scope == "everything" else f
            for f in recipe.finish if f.scope != "ground")
    return recipe.model_copy(update={"finish": tuple(kept), "parts": parts})


@dataclass(frozen=True, eq=False)
class Before(Stage[Byte], keep="nowhere"):
    """The drawing as it came in, on white."""

    source: Source
    view: View

    def make(self, get: Get) -> Byte:
        rgba = get(self.source)[self.view.slices]
        if self.view.scale < 1:
            height, width = self.view.shape
            rgba = cv2.resize(rgba, (width, height), interpolation=cv2.INTER_AREA)
        alpha = rgba[..., 3:].astype(np.float32) / np.float32(255)
        return (rgba[..., :3] * alpha + 255 * (1 - alpha) + 0.5).astype(np.uint8)


@dataclass(frozen=True, eq=False)
class OnWhite(Stage[Byte], keep="nowhere"):
    """The lines on white."""

    ink: SmallInk | LineDraft
    colour: str

    def make(self, get: Get) -> Byte:
        ink = get(self.ink)
        return lay_flat(np.full((*ink.shape, 3), 255, np.uint8), ink, from_hex(self.colour))


def _loud(count: int) -> NDArray[np.float64]:
    """One loud tint a part, shape (count + 1, 3); row 0 is for what has no part."""
    rows = np.arange(1, count + 1)
    lch = np.stack([0.74 - 0.12 * (rows % 2), np.full(count, 0.17), 20 + rows * _GOLDEN_ANGLE], 1)
    return np.concatenate([[_UNCLAIMED], 255 * oklch_to_srgb(lch)])


@dataclass(frozen=True, eq=False)
class Tints(Stage[Byte], keep="nowhere"):
    """Areas in the loud tints of their parts."""

    sample: Sample
    assigned: Assigned
    parts: int

    def make(self, get: Get) -> Byte:
        sampled, assignment = get(self.sample), get(self.assigned)
        table = _loud(self.parts)[assignment.painted]
        # Areas of one part differ a little, so that their borders can be seen.
        shades = 1 - 0.16 * (np.arange(len(table)) * 0.618 % 1)
        colours = (table * shades[:, None]).astype(np.uint8)
        colours[assignment.scenery > 0] = colours[assignment.scenery > 0] // 3
        colours[assignment.ground & (assignment.scenery == 0)] = _GROUND
        return compose_flat(sampled.labels, colours, sampled.ink, _TINT_LINES)


@dataclass(frozen=True, eq=False)
class Unclaimed(Stage[Byte], keep="nowhere"):
    """What has no part yet."""

    sample: Sample
    assigned: Assigned

    def make(self, get: Get) -> Byte:
        sampled, assignment = get(self.sample), get(self.assigned)
        bare = (assignment.part_of_area == 0) & ~assignment.ground
        colours = np.where(bare[:, None], _ALARM, _DONE).astype(np.uint8)
        colours[assignment.ground] = _GROUND
        return compose_flat(sampled.labels, colours, sampled.ink, _QUIET_LINES)


@dataclass(frozen=True, eq=False)
class Bases(Stage[Byte], keep="nowhere"):
    """Base colours without light.

    Attributes
    ----------
    colours : tuple of str
        The background's and the parts'.
    ink : str or None
        Colour of the lines, if they are drawn.
    through : tuple of Over
        What shows through parts.
    behind : Bases or None
        Its picture.
    """

    parts: PartsSeen
    colours: tuple[str, ...]
    ink: str | None
    prints: Prints
    through: tuple[Over, ...] = ()
    behind: "Bases | None" = None

    def make(self, get: Get) -> Byte:
        ink = get(self.parts.sample).ink
        runs = find_runs(Masks(get(self.parts), np.zeros((*ink.shape, planes(0)), np.uint8), ink,
                               ()))
        bases = [from_hex(colour) for colour in self.colours]
        lines = [Over("lines", "ink", from_hex(self.ink), shape=INK)] if self.ink else []
        layers = layers_of([Coat(base, ()) for base in bases], bases, self.prints.rows,
                           [*self.through, *lines])
        images = prints_as_images(get(self.prints), layers)
        if self.behind:
            images[BEHIND] = opaque(get(self.behind))
        return paint(runs, layers, images)


@dataclass(frozen=True, eq=False)
class Borders(Stage[Byte], keep="nowhere"):
    """The border of each part, on each side in the colour of the part there."""

    sample: Sample
    assigned: Assigned
    parts: int

    def make(self, get: Get) -> Byte:
        sampled = get(self.sample)
        parts = get(self.assigned).painted[sampled.labels]
        tints = _loud(self.parts).astype(np.uint8)
        tints[0] = _GROUND
        picture = lay_flat(np.full((*parts.shape, 3), _DONE, np.uint8), sampled.ink // 3,
                           _TINT_LINES)
        high, low = (change(parts, _CROSS, iterations=2) for change in (cv2.dilate, cv2.erode))
        edge = high != low
        picture[edge] = tints[parts[edge]]
        return picture


@dataclass(frozen=True, eq=False)
class Faults(Stage[Byte], keep="nowhere"):
    """Where the fill is not complete, on the faded bases."""

    bases: Bases
    completed: Completed
    view: View

    def make(self, get: Get) -> Byte:
        picture = (get(self.bases) // 3 + 40).astype(np.uint8)
        # A fault of one pixel must be seen however small the view is.
        spot = max(3, round(5 / self.view.scale)) | 1
        marked = cv2.dilate(get(self.completed)[1][self.view.slices],
                            np.ones((spot, spot), np.uint8))
        height, width = self.view.shape
        small = cv2.resize(marked, (width, height), interpolation=cv2.INTER_NEAREST)
        picture[small > 0] = _ALARM
        return picture
