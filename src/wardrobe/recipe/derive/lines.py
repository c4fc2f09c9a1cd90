"""The lines of a recipe: source, darkness, coverage, hues, gaps."""

from collections.abc import Callable
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.hatching.find import Hatching, find_hatching
from wardrobe.core.lines.blacks import Blacks, hollow, solid_blacks
from wardrobe.core.lines.closing import ink_closings
from wardrobe.core.lines.coverage import Darkness, ink_coverage, read_darkness
from wardrobe.core.lines.frame import apply_frame
from wardrobe.core.lines.gaps import Closures, Gaps, find_closures, find_gaps
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
from wardrobe.recipe.cache import ContentCache
from wardrobe.recipe.derive.keys import drawn_key, lines_key, shrink, source_key
from wardrobe.recipe.model import BoundaryRole, Frame, Lines, Recipe
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]
SourceLoader = Callable[[str], Byte]

CACHE_BYTES = 2_000_000_000


class LineStage:
    """The first stage: all that follows from the drawing and the settings of its lines."""

    def __init__(self, load_source: SourceLoader, cache: ContentCache | None = None) -> None:
        self._load = load_source
        self._cache = cache or ContentCache(CACHE_BYTES)

    def source(self, recipe: Recipe) -> Byte:
        """The drawing as it came in, framed, RGBA."""
        asset, frame = recipe.source.asset, recipe.frame
        whole = self._cache.get(("source", asset), lambda: self._load(asset))
        if frame == Frame():
            return whole
        return self._cache.get(("framed", *source_key(recipe)), lambda: apply_frame(
            whole, frame.turn, frame.tilt, frame.crop))

    def darkness(self, recipe: Recipe) -> Darkness:
        """Darkness against the paper, and the kind of drawing."""
        lines = recipe.lines
        return self._cache.get(
            ("darkness", *source_key(recipe), lines.kind, lines.even),
            lambda: read_darkness(self.source(recipe), lines.kind, lines.even))

    def drawn(self, recipe: Recipe) -> Byte:
        """Coverage of all ink at full size."""
        def prepare() -> Byte:
            # A pale line bounds as a dark one does.
            pale = [self.hue_coverage(recipe, h) for h in self.hues(recipe)]
            lines = prepare_lines(self.darkness(recipe), recipe.lines)
            return np.maximum.reduce([lines, *pale])

        return self._cache.get(("drawn", *drawn_key(recipe)), prepare)

    def hatching(self, recipe: Recipe) -> Hatching:
        """The strokes of the drawing, and which of them seem to bound nothing."""
        return self._cache.get(("hatching", *drawn_key(recipe)),
                               lambda: find_hatching(self.drawn(recipe)))

    def lines_and_blacks(self, recipe: Recipe) -> Byte:
        """Coverage of the ink that bounds areas, solid blacks included."""
        drawn = self.drawn(recipe)
        if not recipe.hatching:
            return drawn

        def leave_out() -> Byte:
            found = self.hatching(recipe)
            families = found.named([p for h in recipe.hatching if not h.by_hand for p in h.places])
            strokes = found.strokes_at([p for h in recipe.hatching if h.by_hand for p in h.places])
            return np.where(found.ink(families, strokes), 0, drawn).astype(np.uint8)

        return self._cache.get(("lines and blacks", *drawn_key(recipe), recipe.hatching),
                               leave_out)

    def solids(self, recipe: Recipe) -> Blacks:
        """The solid blacks of the drawing, also those that take colour."""
        def find() -> Blacks:
            ink = self.lines_and_blacks(recipe)
            return solid_blacks(ink, line_width(ink))

        return self._cache.get(("solids", *drawn_key(recipe), recipe.hatching), find)

    def coverage(self, recipe: Recipe) -> Byte:
        """Ink coverage at full size, as it bounds areas."""
        ink = self.lines_and_blacks(recipe)
        if not recipe.coloured_blacks:
            return ink
        return self._cache.get(("coverage", *lines_key(recipe)),
                               lambda: self._hollowed(recipe, ink))

    def _hollowed(self, recipe: Recipe, ink: Byte) -> Byte:
        """Ink without the inside of solid blacks that take colour: their rim stays, as a line."""
        if not recipe.coloured_blacks:
            return ink
        solids = self.solids(recipe)
        return hollow(ink, solids, solids.at(recipe.coloured_blacks),
                      line_width(self.lines_and_blacks(recipe)))

    def details(self, recipe: Recipe) -> Byte | None:
        """Coverage of the second drawing, framed as the first is; None without one."""
        second = recipe.details
        if second is None:
            return None

        def read() -> Byte:
            rgba = self._load(second.asset)
            wide, high = recipe.source.width, recipe.source.height
            if rgba.shape[:2] != (high, wide):
                rgba = cv2.resize(rgba, (wide, high), interpolation=cv2.INTER_AREA)
            frame = recipe.frame
            return prepare_lines(read_darkness(apply_frame(rgba, frame.turn, frame.tilt,
                                                           frame.crop)), Lines())

        return self._cache.get(("details", second.asset, *source_key(recipe)), read)

    def hues(self, recipe: Recipe) -> list[HueLines]:
        """The hues that lines are drawn in."""
        return self._cache.get(("hues", *source_key(recipe)),
                               lambda: find_hues(self.source(recipe)))

    def hue_coverage(self, recipe: Recipe, lines: HueLines) -> Byte:
        """Coverage of the lines of one hue."""
        return self._cache.get(("hue", *source_key(recipe), lines.hue),
                               lambda: hue_coverage(self.source(recipe), lines))

    def role_of(self, recipe: Recipe, lines: HueLines) -> BoundaryRole:
        """What lines of a hue are for."""
        named = (b.role for b in recipe.boundaries if same_hue(b.hue, lines.hue))
        return next(named, "printed")

    def ink(self, recipe: Recipe) -> Byte:
        """Ink coverage at full size, as it is printed: with inked closings, edges smoothed."""
        inked = tuple(c.points for c in recipe.closings if c.inked)
        smoothed = recipe.lines.edge == "hard, smoothed"
        unprinted = [h for h in self.hues(recipe) if self.role_of(recipe, h) != "printed"]
        details = self.details(recipe)
        if not inked and not smoothed and not unprinted and details is None:
            return self._cache.get(("ink", *lines_key(recipe)),
                                   lambda: self._hollowed(recipe, self.drawn(recipe)))

        def draw() -> Byte:
            ink = without_hues(self._hollowed(recipe, self.drawn(recipe)),
                               [self.hue_coverage(recipe, h) for h in unprinted])
            if inked:
                ink = ink_closings(ink, inked, line_width(self.coverage(recipe)))
            if smoothed:
                ink = smooth_edges(ink)
            return ink if details is None else np.maximum(ink, details)

        key = ("ink", *lines_key(recipe), inked, tuple(h.hue for h in unprinted), recipe.details)
        return self._cache.get(key, draw)

    def gaps(self, recipe: Recipe) -> Gaps:
        """The gaps in the lines, whatever was decided about them."""
        return self._cache.get(("gaps", *lines_key(recipe)),
                               lambda: find_gaps(self.coverage(recipe)))

    def closures(self, recipe: Recipe) -> Closures:
        """Where lines may be missing: what open areas are shared out along."""
        return self._cache.get(("closures", *lines_key(recipe)),
                               lambda: find_closures(self.coverage(recipe)))

    def blacks(self, recipe: Recipe) -> Blacks:
        """The solid blacks that are printed in ink."""
        solids = self.solids(recipe)
        if not recipe.coloured_blacks:
            return solids
        return self._cache.get(("blacks", *lines_key(recipe)), lambda: solids.without(
            solids.at(recipe.coloured_blacks)))

    def lines_only(self, recipe: Recipe, view: View) -> Byte:
        """The lines for a view, without cutting areas."""
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        return shrink(self.ink(recipe)[rows, columns], view)

    def line_draft(self, recipe: Recipe, view: View) -> Byte:
        """The lines for a view, prepared at its size: for a drag, in which they last a moment."""
        darkness = self.darkness(recipe)
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        small = self._cache.get(
            ("small darkness", *source_key(recipe), recipe.lines.kind, recipe.lines.even, view),
            lambda: shrink(darkness.values[rows, columns], view))
        lines = prepare_lines(replace(darkness, values=small), recipe.lines, view.scale)
        details = self.details(recipe)
        return lines if details is None else np.maximum(lines, shrink(details[rows, columns], view))


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
