"""The stages of one recipe, each with its slice of it."""

from functools import cached_property

from wardrobe.recipe.document.model import Recipe, farthest_first, ground_rows
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import inked, picture, stack
from wardrobe.recipe.stages.graph.over import OverGraph
from wardrobe.recipe.stages.picture import Images
from wardrobe.recipe.stages.see_through import (
    BEHIND,
    GroundBelow,
    ImageBehind,
    PartsWithout,
    before_ground,
    see_through,
    without_them,
)


class Graph(OverGraph):
    """The stages of one recipe, each with its slice of it."""

    def picture(self, view: View, draft: bool = False, lines: bool = True) -> picture.Picture:
        """The finished picture; without its lines it is what lies under them."""
        prints = self.prints(view, draft)
        # Lines cover all borders, but those of scenery and those that hidden parts left.
        bare = view.scale < 1 and (bool(self._hidden_rows)
                                   or any(p.scenery for p in self.recipe.parts))
        return picture.Picture(
            picture.CutRuns(self.masks(view, draft)),
            picture.Layered(self.coated, prints.rows, self.over if lines else self.under_lines),
            prints,
            self.planes(view, draft), self.images(view, draft), view,
            picture.BareBorders(self.parts_seen(view)) if bare else None)

    @cached_property
    def behind(self) -> "Graph":
        """The stages of the piece without the parts that something shows through."""
        rows, recipe = before_ground(self.recipe), without_them(self.recipe)
        if not rows or all(p.scenery is None for p in recipe.parts):
            return Graph(recipe)
        around = tuple(sorted(ground_rows(recipe.parts)))
        return _BeforeScenery(recipe, GroundBelow(self.areas, self.assigned, rows, around))

    def images(self, view: View, draft: bool = False) -> Images:
        """The images that layers name, what shows through parts among them."""
        found = super().images(view, draft)
        return found if not see_through(self.recipe) else (
            *found, (BEHIND, ImageBehind(self.behind.picture(view, draft, lines=False))))

    @cached_property
    def stack_figure(self) -> stack.StackFigure:
        recipe = self.recipe
        rows = list(enumerate(recipe.parts, start=1))
        return stack.StackFigure(
            self.coated.colouring, tuple(p.name for p in recipe.parts),
            tuple(row for row, p in rows if p.pattern),
            self._hidden_rows,
            self.over, self.halo,
            inked.LineRows(self.line_owners) if self._lines_by_part else None,
            farthest_first(recipe.parts))

    @property
    def _lines_by_part(self) -> bool:
        return self.recipe.delivery.lines == "by part" and bool(self.recipe.parts)

    @cached_property
    def plan(self) -> stack.PlannedStack:
        whole = self.stack_masks(View.whole(*self.recipe.size))
        return stack.PlannedStack(self.stack_figure,
                                  stack.PaintedCoverage(whole, len(self.recipe.parts)),
                                  self.recipe.delivery.layout())

    def stack(self, view: View, kept: bool = False) -> stack.PaintedStack:
        kind = stack.SmallStack if kept else stack.PaintedStack
        return kind(self.plan, self.stack_masks(view), self.silhouette, self.prints(view),
                    self.planes(view), self.images(view),
                    inked.LineOwnersSeen(self.line_owners, view) if self._lines_by_part else None,
                    inked.SmallInk(self._weighed, view)
                    if self._lines_by_part and self._hidden_rows else None)


class _BeforeScenery(Graph):
    """A piece without parts that scenery shows through: it goes on under them."""

    def __init__(self, recipe: Recipe, below: GroundBelow) -> None:
        super().__init__(recipe)
        self._below = below

    def parts_seen(self, view: View) -> picture.PartsSeen:
        return PartsWithout(self.sample(view), self.shown, self._below)
