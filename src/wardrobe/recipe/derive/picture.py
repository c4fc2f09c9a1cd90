"""The pictures of a recipe."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.areas.marked import BESIDE, INSIDE
from wardrobe.core.colour import from_hex
from wardrobe.core.composite.labelmap import Masks, compose, lay_flat
from wardrobe.core.light.ground import ground_shadow
from wardrobe.core.light.raster import rasterise, settle
from wardrobe.core.light.rig import KeyLight
from wardrobe.core.light.touch import Touch, draw_touch, touch_up
from wardrobe.core.passes.table import GROUND
from wardrobe.recipe.cache import ContentCache
from wardrobe.recipe.derive.form import FormStage
from wardrobe.recipe.derive.keys import cut_key, lines_key, printed_key, shrink
from wardrobe.recipe.derive.lines import SourceLoader
from wardrobe.recipe.lighting import GroundShadow
from wardrobe.recipe.memo import Memo
from wardrobe.recipe.model import BoundaryRole, Recipe
from wardrobe.recipe.prints import Ground, draw_pattern
from wardrobe.recipe.table import program_of
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]
SHADE_EDGE: BoundaryRole = "shade edge"
LIGHT_EDGE: BoundaryRole = "light edge"
_NO_PART = 2**16 - 1


@dataclass(frozen=True)
class Sampled:
    """The label map and the lines, cut and scaled to a view."""

    labels: NDArray[np.uint16]
    ink: Byte


class PictureStage(FormStage):
    """Masks and pictures.

    Parameters
    ----------
    load_source : callable
        Decoded RGBA pixels of an asset, by its SHA-256.
    cache : ContentCache, optional
        Where results are kept; one of its own if it is not given.
    """

    def __init__(self, load_source: SourceLoader, cache: ContentCache | None = None) -> None:
        super().__init__(load_source, cache)
        self._drawn_touches: Memo[list[Touch]] = Memo(8)

    def picture(self, recipe: Recipe, view: View, draft: bool = False) -> Byte:
        """The finished picture, RGB, shape ``view.shape + (3,)``."""
        picture = compose(self.masks(recipe, view, draft), program_of(recipe),
                          from_hex(recipe.lines.colour), self.prints(recipe, view, draft))
        rim = self.halo(recipe)
        if rim is None:
            return picture
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        return lay_flat(picture, shrink(rim[rows, columns], view), from_hex(recipe.halo.colour))

    def prints(self, recipe: Recipe, view: View, draft: bool = False) -> Byte | None:
        """The patterns for a view, straight alpha, each cut to its part; None without any."""
        shown = self.shown(recipe)
        patterned = [row for row, part in enumerate(recipe.parts, start=1)
                     if part.pattern and (shown == row).any()]
        if not patterned:
            return None

        def assemble() -> Byte:
            parts = shown[self.sampled(recipe, view).labels]
            out = np.zeros((*view.shape, 4), np.uint8)
            for row, box in enumerate(ndimage.find_objects(parts, max(patterned)), start=1):
                if row in patterned and box:
                    corner = (view.x + box[1].start / view.scale,
                              view.y + box[0].start / view.scale)
                    inside = parts[box] == row
                    out[box][inside] = self._pattern(recipe, row, corner, view.scale,
                                                     inside.shape, draft)[inside]
            return out

        patterns = tuple(p.pattern for p in recipe.parts)
        key = ("prints", *self._form_key(recipe), shown.tobytes(), patterns, view, draft)
        return self._cache.get(key, assemble)

    def _pattern(self, recipe: Recipe, row: int, corner: tuple[float, float], scale: float,
                 shape: tuple[int, int], draft: bool = False) -> Byte:
        """The pattern of one part over a rectangle."""
        areas, pattern = self.areas(recipe), recipe.parts[row - 1].pattern
        assert pattern is not None
        mine = np.flatnonzero(self.assignment(recipe).part_of_area == row)
        x, y = areas.seeds[mine[np.argmax(areas.pixels[mine])]].tolist()
        form, member = None, np.zeros(1, bool)
        if pattern.follow:
            form = self._form_for(recipe, draft)
            member = np.isin(np.arange(int(form.labels.max()) + 1), form.form_of_area[mine])
            member[0] = False
        picture = self._load_picture(pattern.picture.asset) if pattern.picture else None
        return draw_pattern(pattern, Ground((x, y), form, member), picture, corner, scale, shape)

    def _load_picture(self, asset: str) -> Byte:
        return self._cache.get(("source", asset), lambda: self._load(asset))

    def sampled(self, recipe: Recipe, view: View) -> Sampled:
        """Areas and ink, cut and scaled to a view."""
        if view.scale < 1:
            return self._cache.get(("sampled", *cut_key(recipe), printed_key(recipe), view),
                                   lambda: self._sample(recipe, view))
        return self._sample(recipe, view)

    def masks(self, recipe: Recipe, view: View, draft: bool = False) -> Masks:
        """Part rows, shapes and ink for a view, as the compositor takes them."""
        sampled = self.sampled(recipe, view)
        keys = program_of(recipe).shapes
        levels = rasterise(self.shapes(recipe, draft), self._form_for(recipe, draft),
                           sampled.labels, view.x, view.y, view.scale, GROUND in keys)
        for name, role in (("shade", SHADE_EDGE), ("light", LIGHT_EDGE)):
            told = self._marked(recipe, role)
            if told is not None:
                what = told[sampled.labels]
                if name in keys:
                    levels[what == INSIDE, keys.index(name)] = 255
                    levels[what == BESIDE, keys.index(name)] = 0
                if name == "light" and "shade" in keys:
                    levels[what == INSIDE, keys.index("shade")] = 0
        if recipe.touch_ups:
            parts = self.assignment(recipe).part_of_area[sampled.labels]
            touch_up(levels, keys, parts, self._touches(recipe, view))
        settle(levels, keys)
        parts = self._parts_seen(recipe, view)
        if GROUND in keys:
            levels[..., keys.index(GROUND)] = np.where(parts == 0, self._ground(recipe, view), 0)
        return Masks(parts, levels, sampled.ink, keys)

    def _ground(self, recipe: Recipe, view: View) -> Byte:
        """The figure's shadow on the ground, also where the figure hides it."""
        light = recipe.light
        ground = light.ground or GroundShadow()
        return ground_shadow(self.form(recipe), KeyLight(light.azimuth, light.height),
                             ground.pitch, ground.drop, ground.soft, view.x, view.y, view.scale,
                             view.shape)

    def _touches(self, recipe: Recipe, view: View) -> list[Touch]:
        """The touch-ups as they lie on a view."""
        def draw() -> list[Touch]:
            rows = {p.id: row for row, p in enumerate(recipe.parts, start=1)}
            drawn = [draw_touch(t.name, t.act, rows.get(t.part, _NO_PART) if t.part else None,
                                (np.array(t.points) - (view.x, view.y)) * view.scale,
                                np.array(t.widths) * view.scale, view.shape)
                     for t in recipe.touch_ups]
            return [touch for touch in drawn if touch]

        return self._drawn_touches.get((recipe.touch_ups, recipe.parts), view, draw)

    def _parts_seen(self, recipe: Recipe, view: View) -> NDArray[np.uint16]:
        """Row of the part of every pixel of a view."""
        shown = self.shown(recipe)

        def look_up() -> NDArray[np.uint16]:
            found: NDArray[np.uint16] = shown[self.sampled(recipe, view).labels]
            return found

        if view.scale == 1:
            return look_up()
        return self._cache.get(("parts seen", *cut_key(recipe), shown.tobytes(), view), look_up)

    def _sample(self, recipe: Recipe, view: View) -> Sampled:
        rows, columns = slice(view.y, view.y + view.height), slice(view.x, view.x + view.width)
        labels = self.areas(recipe).labels[rows, columns]
        if view.scale == 1:
            return Sampled(labels, self.ink(recipe)[rows, columns])
        inked = tuple(c.points for c in recipe.closings if c.inked)
        ink = self._cache.get(
            ("small ink", *lines_key(recipe), inked, recipe.boundaries, recipe.details, view),
            lambda: shrink(self.ink(recipe)[rows, columns], view))
        height, width = view.shape
        ys = np.minimum((np.arange(height) + 0.5) / view.scale, view.height - 1).astype(int)
        xs = np.minimum((np.arange(width) + 0.5) / view.scale, view.width - 1).astype(int)
        return Sampled(np.ascontiguousarray(labels[ys][:, xs]), ink)
