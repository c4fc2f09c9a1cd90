"""From a recipe and its assets to pictures: calls into the core, cached by content."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from wardrobe.core.areas.claim import touched
from wardrobe.core.areas.marked import BESIDE, INSIDE, marked_areas
from wardrobe.core.areas.segment import Areas, segment
from wardrobe.core.areas.silhouette import silhouette_mask
from wardrobe.core.colour import from_hex, srgb_to_lab
from wardrobe.core.composite.labelmap import compose, lay_flat
from wardrobe.core.form import Form, solve_form
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.shapes import Shapes, draw_shapes, rasterise
from wardrobe.core.lines.blacks import Blacks, halo, solid_blacks
from wardrobe.core.lines.closing import ink_closings
from wardrobe.core.lines.coverage import Darkness, ink_coverage, read_darkness
from wardrobe.core.lines.frame import apply_frame
from wardrobe.core.lines.gaps import Gaps, find_gaps
from wardrobe.core.lines.hues import HueLines, find_hues, hue_coverage, same_hue, without_hues
from wardrobe.core.lines.intake import INTAKES
from wardrobe.core.lines.stroke import (
    change_weight,
    harden,
    remove_grain,
    smooth_edges,
    strengthen,
)
from wardrobe.core.lines.width import line_width
from wardrobe.core.stack.build import build_stack
from wardrobe.core.stack.model import Stack
from wardrobe.recipe.cache import ContentCache
from wardrobe.recipe.model import BoundaryRole, Claim, Frame, Lines, Recipe
from wardrobe.recipe.table import colour_table
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]
SourceLoader = Callable[[str], Byte]

CACHE_BYTES = 2_000_000_000
DARK = 38.0  # L* below which a base does not stand off from black
SHADE_EDGE: BoundaryRole = "shade edge"
LIGHT_EDGE: BoundaryRole = "light edge"
_CLAIMS = TypeAdapter(tuple[Claim, ...])
_ANY_MATERIAL = "matte cloth"  # fills the ground's row, which takes no light


@dataclass(frozen=True)
class Assignment:
    """What the claims come to.

    Attributes
    ----------
    part_of_area : ndarray of uint16, shape (areas + 1,)
        Row of the recipe's parts, from 1; 0 for ground and for areas without a part.
    ground : ndarray of bool, shape (areas + 1,)
    """

    part_of_area: NDArray[np.uint16]
    ground: NDArray[np.bool_]


@dataclass(frozen=True)
class Sampled:
    """The label map and the lines, cut and scaled to a view."""

    labels: NDArray[np.uint16]
    ink: Byte


class Deriver:
    """Derives results from recipes.

    Parameters
    ----------
    load_source : callable
        Decoded RGBA pixels of an asset, by its SHA-256.
    capacity : int
        Bytes of the cache.
    """

    def __init__(self, load_source: SourceLoader, capacity: int = CACHE_BYTES) -> None:
        self._load = load_source
        self._cache = ContentCache(capacity)

    def source(self, recipe: Recipe) -> Byte:
        """The drawing as it came in, framed, RGBA."""
        asset, frame = recipe.source.asset, recipe.frame
        whole = self._cache.get(("source", asset), lambda: self._load(asset))
        if frame == Frame():
            return whole
        return self._cache.get(("framed", *_source_key(recipe)), lambda: apply_frame(
            whole, frame.turn, frame.tilt, frame.crop))

    def darkness(self, recipe: Recipe) -> Darkness:
        """Darkness against the paper, and the kind of drawing."""
        lines = recipe.lines
        return self._cache.get(
            ("darkness", *_source_key(recipe), lines.kind, lines.even),
            lambda: read_darkness(self.source(recipe), lines.kind, lines.even))

    def coverage(self, recipe: Recipe) -> Byte:
        """Ink coverage at full size, as it bounds areas."""
        def prepare() -> Byte:
            # A pale line bounds as a dark one does.
            pale = [self.hue_coverage(recipe, h) for h in self.hues(recipe)]
            lines = prepare_lines(self.darkness(recipe), recipe.lines)
            return np.maximum.reduce([lines, *pale])

        return self._cache.get(("coverage", *_lines_key(recipe)), prepare)

    def hues(self, recipe: Recipe) -> list[HueLines]:
        """The hues that lines are drawn in."""
        return self._cache.get(("hues", *_source_key(recipe)),
                               lambda: find_hues(self.source(recipe)))

    def hue_coverage(self, recipe: Recipe, lines: HueLines) -> Byte:
        """Coverage of the lines of one hue."""
        return self._cache.get(("hue", *_source_key(recipe), lines.hue),
                               lambda: hue_coverage(self.source(recipe), lines))

    def role_of(self, recipe: Recipe, lines: HueLines) -> BoundaryRole:
        """What lines of a hue are for."""
        named = (b.role for b in recipe.boundaries if same_hue(b.hue, lines.hue))
        return next(named, "printed")

    def _marked(self, recipe: Recipe, role: BoundaryRole) -> NDArray[np.uint8] | None:
        """What edges of a pass tell each area about it; None if there are none."""
        edges = [h for h in self.hues(recipe) if self.role_of(recipe, h) == role]
        if not edges:
            return None
        part_of_area = self.assignment(recipe).part_of_area
        key = ("marked", role, *_cut_key(recipe), tuple(h.hue for h in edges),
               part_of_area.tobytes())
        return self._cache.get(key, lambda: marked_areas(
            self.areas(recipe), np.maximum.reduce([self.hue_coverage(recipe, h) for h in edges]),
            part_of_area))

    def ink(self, recipe: Recipe) -> Byte:
        """Ink coverage at full size, as it is printed: with inked closings, edges smoothed."""
        inked = tuple(c.points for c in recipe.closings if c.inked)
        smoothed = recipe.lines.edge == "hard, smoothed"
        unprinted = [h for h in self.hues(recipe) if self.role_of(recipe, h) != "printed"]
        if not inked and not smoothed and not unprinted:
            return self.coverage(recipe)

        def draw() -> Byte:
            ink = without_hues(self.coverage(recipe),
                               [self.hue_coverage(recipe, h) for h in unprinted])
            if inked:
                ink = ink_closings(ink, inked, line_width(self.coverage(recipe)))
            return smooth_edges(ink) if smoothed else ink

        key = ("ink", *_lines_key(recipe), inked, tuple(h.hue for h in unprinted))
        return self._cache.get(key, draw)

    def gaps(self, recipe: Recipe) -> Gaps:
        """The gaps in the lines, whatever was decided about them."""
        return self._cache.get(("gaps", *_lines_key(recipe)),
                               lambda: find_gaps(self.coverage(recipe)))

    def areas(self, recipe: Recipe) -> Areas:
        """The areas that the lines and closings bound."""
        closings = [c.points for c in recipe.closings]
        left_open = [g.sides for g in recipe.left_open]
        return self._cache.get(("areas", *_cut_key(recipe)), lambda: segment(
            self.coverage(recipe), self.darkness(recipe).clear, closings=closings,
            left_open=left_open))

    def assignment(self, recipe: Recipe) -> Assignment:
        """Which part each area belongs to."""
        claims = hashlib.sha256(_CLAIMS.dump_json(recipe.claims)).digest()
        ids = tuple(p.id for p in recipe.parts)
        return self._cache.get(("assignment", *_cut_key(recipe), claims, ids),
                               lambda: _assign(self.areas(recipe), recipe))

    def form(self, recipe: Recipe) -> Form:
        """The volume guessed for the figure."""
        areas = self.areas(recipe)
        figure, folds = self._form_input(recipe)
        return self._cache.get(self._form_key(recipe), lambda: solve_form(
            areas.labels, self.coverage(recipe), figure, areas.line_width, folds))

    def _form_for(self, recipe: Recipe, draft: bool) -> Form:
        form = self.form(recipe)
        if not draft:
            return form
        return self._cache.get(("draft", *self._form_key(recipe)), form.coarser)

    def _form_input(self, recipe: Recipe) -> tuple[NDArray[np.bool_], NDArray[np.float32]]:
        """Which areas are figure, and how deeply strokes fold them: all that a form depends on."""
        part_of_area = self.assignment(recipe).part_of_area
        folds = np.array([0.0, *(MATERIALS[p.material].fold for p in recipe.parts)], np.float32)
        return part_of_area > 0, folds[part_of_area]

    def _form_key(self, recipe: Recipe) -> tuple[object, ...]:
        figure, folds = self._form_input(recipe)
        return ("form", *_cut_key(recipe), figure.tobytes(), folds.tobytes())

    def shapes(self, recipe: Recipe, draft: bool = False) -> Shapes:
        """Shade and light shapes under the recipe's light; a draft has half the resolution."""
        form = self._form_for(recipe, draft)
        owners = form.owners(self.assignment(recipe).part_of_area)
        materials = [MATERIALS[_ANY_MATERIAL], *(MATERIALS[p.material] for p in recipe.parts)]
        light = recipe.light
        key = ("shapes", draft, self._form_key(recipe), owners.tobytes(),
               tuple(m.key for m in materials), light.azimuth, light.height)
        return self._cache.get(key, lambda: draw_shapes(
            form, KeyLight(light.azimuth, light.height), owners, materials))

    def picture(self, recipe: Recipe, view: View, draft: bool = False) -> Byte:
        """The finished picture, RGB, shape ``view.shape + (3,)``."""
        parts, shade, light, ink = self.masks(recipe, view, draft)
        picture = compose(parts, shade, light, ink, colour_table(recipe))
        rim = self.halo(recipe)
        if rim is None:
            return picture
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        return lay_flat(picture, _shrink(rim[rows, columns], view), from_hex(recipe.halo.colour))

    def stack(self, recipe: Recipe,
              on_progress: Callable[[float], None] = lambda share: None) -> Stack:
        """The delivered stack at full size."""
        view = View.whole(*recipe.size)
        parts, shade, light, ink = self.masks(recipe, view)
        names = ["", *(p.name for p in recipe.parts)]
        rim = self.halo(recipe)
        over = None if rim is None else (rim, from_hex(recipe.halo.colour))
        return build_stack(parts, shade, light, ink, self.silhouette(recipe),
                           colour_table(recipe), names, over, on_progress)

    def blacks(self, recipe: Recipe) -> Blacks:
        """The solid blacks among the ink."""
        return self._cache.get(("blacks", *_lines_key(recipe)), lambda: solid_blacks(
            self.coverage(recipe), line_width(self.coverage(recipe))))

    def halo(self, recipe: Recipe) -> Byte | None:
        """Coverage of the rim of solid blacks at full size, or None if there is none."""
        if recipe.halo.width == 0 or not self.blacks(recipe).solids:
            return None
        areas, part_of_area = self.areas(recipe), self.assignment(recipe).part_of_area
        bases = [recipe.background, *(p.base for p in recipe.parts)]
        dark = np.array([srgb_to_lab(np.array(from_hex(b)) / 255)[0] < DARK for b in bases])
        key = ("halo", *_cut_key(recipe), recipe.halo.width, part_of_area.tobytes(),
               dark.tobytes())
        return self._cache.get(key, lambda: halo(
            self.blacks(recipe), dark[part_of_area][areas.labels], recipe.halo.width))

    def silhouette(self, recipe: Recipe) -> Byte:
        """All parts together, grown under the outline; 0 or 255 at full size."""
        areas = self.areas(recipe)
        parts = self.assignment(recipe).part_of_area[areas.labels]
        return silhouette_mask(parts, areas.core, recipe.silhouette_growth)

    def sampled(self, recipe: Recipe, view: View) -> Sampled:
        """Areas and ink, cut and scaled to a view."""
        if view.scale < 1:
            return self._cache.get(("sampled", *_cut_key(recipe), _printed(recipe), view),
                                   lambda: self._sample(recipe, view))
        return self._sample(recipe, view)

    def lines_only(self, recipe: Recipe, view: View) -> Byte:
        """The lines for a view, without cutting areas."""
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        return _shrink(self.ink(recipe)[rows, columns], view)

    def line_draft(self, recipe: Recipe, view: View) -> Byte:
        """The lines for a view, prepared at its size: for a drag, in which they last a moment."""
        darkness = self.darkness(recipe)
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        small = self._cache.get(
            ("small darkness", *_source_key(recipe), recipe.lines.kind, recipe.lines.even, view),
            lambda: _shrink(darkness.values[rows, columns], view))
        return prepare_lines(replace(darkness, values=small), recipe.lines, view.scale)

    def masks(self, recipe: Recipe, view: View,
              draft: bool = False) -> tuple[NDArray[np.uint16], Byte, Byte, Byte]:
        """Part rows, shade, light and ink for a view, as the compositor takes them."""
        sampled = self.sampled(recipe, view)
        shade, light = rasterise(self.shapes(recipe, draft), self._form_for(recipe, draft),
                                 sampled.labels, view.x, view.y, view.scale)
        for mask, role in ((shade, SHADE_EDGE), (light, LIGHT_EDGE)):
            told = self._marked(recipe, role)
            if told is not None:
                what = told[sampled.labels]
                mask[what == INSIDE] = 255
                mask[what == BESIDE] = 0
        return (self.assignment(recipe).part_of_area[sampled.labels], shade, light, sampled.ink)

    def _sample(self, recipe: Recipe, view: View) -> Sampled:
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        labels = self.areas(recipe).labels[rows, columns]
        ink = self.ink(recipe)[rows, columns]
        if view.scale == 1:
            return Sampled(labels, ink)
        height, width = view.shape
        ys = np.minimum((np.arange(height) + 0.5) / view.scale, view.height - 1).astype(int)
        xs = np.minimum((np.arange(width) + 0.5) / view.scale, view.width - 1).astype(int)
        return Sampled(np.ascontiguousarray(labels[ys][:, xs]), _shrink(ink, view))


def _shrink(image: Byte, view: View) -> Byte:
    if view.scale == 1:
        return image
    height, width = view.shape
    return cv2.resize(image, (width, height), interpolation=cv2.INTER_AREA)


def _source_key(recipe: Recipe) -> tuple[object, ...]:
    frame = recipe.frame
    return recipe.source.asset, frame.turn, frame.tilt, frame.crop


def _lines_key(recipe: Recipe) -> tuple[object, ...]:
    """What the lines depend on: all settings but the colour."""
    lines = recipe.lines
    return (*_source_key(recipe), lines.kind, lines.even, lines.paper, lines.threshold,
            lines.grain, lines.strengthen, lines.weight, lines.edge)


def _cut_key(recipe: Recipe) -> tuple[object, ...]:
    """What the areas depend on."""
    return (*_lines_key(recipe), tuple(c.points for c in recipe.closings),
            tuple(g.sides for g in recipe.left_open))


def _printed(recipe: Recipe) -> tuple[object, ...]:
    """What decides which lines are printed."""
    return (tuple(c.inked for c in recipe.closings), recipe.boundaries)


def prepare_lines(darkness: Darkness, lines: Lines, scale: float = 1.0) -> Byte:
    """Ink coverage for the settings of a recipe.

    ``scale`` is the size of the darkness against the picture: lengths are in picture pixels.
    """
    ink = ink_coverage(darkness, lines.threshold, lines.paper)
    grain = INTAKES[darkness.kind].grain if lines.grain is None else lines.grain
    ink = remove_grain(ink, grain * scale)
    if lines.strengthen:
        ink = strengthen(ink, lines.strengthen)
    ink = change_weight(ink, lines.weight * scale)
    return ink if lines.edge == "smooth" else harden(ink)


def _assign(areas: Areas, recipe: Recipe) -> Assignment:
    ground = areas.ground.copy()
    part_of_area = np.zeros(areas.count + 1, np.uint16)
    rows = {part.id: row for row, part in enumerate(recipe.parts, start=1)}
    for claim in recipe.claims:
        hit = touched(areas, claim.strokes)
        if claim.to in ("ground", "figure"):
            ground[hit] = claim.to == "ground"
        elif claim.to == "none":
            part_of_area[hit] = 0
        else:
            part_of_area[hit[~ground[hit]]] = rows.get(claim.to, 0)
    part_of_area[ground] = 0
    return Assignment(part_of_area, ground)
