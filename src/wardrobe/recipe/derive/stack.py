"""The stack of a recipe."""

from collections.abc import Callable
from dataclasses import replace

from wardrobe.core.colour import from_hex
from wardrobe.core.composite.labelmap import Masks
from wardrobe.core.passes.table import GROUND
from wardrobe.core.stack.arrange import Figure, Planned, arrange, named
from wardrobe.core.stack.coverage import Coverage
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.paint import Canvas, paint_stack
from wardrobe.recipe.delivery import Delivery
from wardrobe.recipe.derive.keys import shrink
from wardrobe.recipe.derive.picture import Byte, PictureStage
from wardrobe.recipe.model import Recipe, hidden
from wardrobe.recipe.table import coats_of, ground_coat
from wardrobe.recipe.view import View


class Deriver(PictureStage):
    """Derives results from recipes.

    Parameters
    ----------
    load_source : callable
        Decoded RGBA pixels of an asset, by its SHA-256.
    cache : ContentCache, optional
        Where results are kept; one of its own if it is not given.
    """

    def figure(self, recipe: Recipe) -> Figure:
        """What the stack is made of."""
        out_of_sight = hidden(recipe.parts)
        halo = from_hex(recipe.halo.colour) if self.halo(recipe) is not None else None
        rows = list(enumerate(recipe.parts, start=1))
        return Figure(
            tuple(p.name for p in recipe.parts), tuple(coats_of(recipe)),
            tuple(from_hex(p.base) for p in recipe.parts), from_hex(recipe.background),
            from_hex(recipe.lines.colour), halo,
            frozenset(row for row, p in rows if p.pattern),
            frozenset(row for row, p in rows if p.id in out_of_sight),
            ground_coat(recipe).layers)

    def plan(self, recipe: Recipe) -> list[Planned]:
        """The stack's layers in their places, named, without their pixels."""
        layout = recipe.delivery.layout()
        return named(arrange(self.figure(recipe), self._coverage(recipe), layout), layout)

    def stack(self, recipe: Recipe, view: View | None = None,
              on_progress: Callable[[float], None] = lambda share: None) -> Stack:
        """The delivered stack, at full size or as small as a view of the whole picture."""
        view = view or View.whole(*recipe.size)

        def printed(row: int, x: int, y: int, shape: tuple[int, int]) -> Byte | None:
            if recipe.parts[row - 1].pattern is None:
                return None
            return self._pattern(recipe, row, (x / view.scale, y / view.scale), view.scale, shape)

        rim = self.halo(recipe)
        canvas = Canvas(self._stack_masks(recipe, view), shrink(self.silhouette(recipe), view),
                        None if rim is None else shrink(rim, view), printed)
        on_progress(0.1)
        return paint_stack(self.plan(recipe), self.figure(recipe), canvas,
                           lambda share: on_progress(0.1 + 0.9 * share))

    def _stack_masks(self, recipe: Recipe, view: View) -> Masks:
        """Masks with hidden parts in them, and the figure's shadow also where it hides it."""
        masks = self.masks(recipe, view)
        whole = self.parts_map(recipe) if view.scale == 1 else \
            self.assignment(recipe).part_of_area[self.sampled(recipe, view).labels]
        if GROUND in masks.keys:
            masks.levels[..., masks.keys.index(GROUND)] = self._ground(recipe, view)
        return replace(masks, parts=whole)

    def _coverage(self, recipe: Recipe) -> Coverage:
        """What is painted at all, measured at full size."""
        plain = recipe.model_copy(update={"delivery": Delivery(), "looks": ()})

        def measure() -> Coverage:
            masks = self._stack_masks(recipe, View.whole(*recipe.size))
            return Coverage.of(masks, len(recipe.parts))

        return self._cache.get(("coverage", plain.model_dump_json()), measure)
