"""The stack that is delivered."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from wardrobe.core.colour import from_hex
from wardrobe.core.parallel import each_outer
from wardrobe.core.passes.layers import Over
from wardrobe.core.stack.arrange import arrange, named
from wardrobe.core.stack.coverage import Coverage
from wardrobe.core.stack.model import Stack
from wardrobe.core.stack.paint import Canvas, paint_stack
from wardrobe.core.stack.plan import Figure, Layout, Planned, PlannedLayer, planned_layers
from wardrobe.recipe.stages.colours import Colouring, coats_of, ground_coat
from wardrobe.recipe.stages.cut import HaloOfBlacks, Silhouette
from wardrobe.recipe.stages.inked import LineOwnersSeen, LineRows, SmallInk
from wardrobe.recipe.stages.lines import Byte, shrink
from wardrobe.recipe.stages.picture import (
    HALO,
    DrawnMasks,
    Images,
    Planes,
    Prints,
    origin_of,
)
from wardrobe.recipe.stages.stage import Get, Stage


@dataclass(frozen=True, eq=False)
class PaintedCoverage(Stage[Coverage]):
    """What is painted at all, measured at full size."""

    masks: DrawnMasks
    rows: int

    def make(self, get: Get) -> Coverage:
        return Coverage.of(get(self.masks), self.rows)


@dataclass(frozen=True, eq=False)
class StackFigure(Stage[Figure]):
    """What the stack is made of.

    Attributes
    ----------
    names : tuple of str
        Of the parts.
    patterned, hidden : tuple of int
        Rows.
    over : tuple of Over
        What lies over all parts.
    scenery : tuple of int
        Rows of what lies around the figure, the farthest first.
    """

    colouring: Colouring
    names: tuple[str, ...]
    patterned: tuple[int, ...]
    hidden: tuple[int, ...]
    over: tuple[Over, ...]
    halo: HaloOfBlacks | None
    line_rows: LineRows | None
    scenery: tuple[int, ...] = ()

    def make(self, get: Get) -> Figure:
        c = self.colouring
        bare = self.halo is not None and get(self.halo) is None
        return Figure(self.names, tuple(coats_of(c)), tuple(from_hex(p.base) for p in c.parts),
                      from_hex(c.background),
                      tuple(o for o in self.over if not (bare and o.soft == HALO)),
                      frozenset(self.patterned), frozenset(self.hidden), ground_coat(c).layers,
                      get(self.line_rows) if self.line_rows else (), self.scenery)


@dataclass(frozen=True, eq=False)
class PlannedStack(Stage[list[Planned]]):
    """The stack's layers in their places, named, without their pixels."""

    figure: StackFigure
    coverage: PaintedCoverage
    layout: Layout

    def make(self, get: Get) -> list[Planned]:
        return named(arrange(get(self.figure), get(self.coverage), self.layout), self.layout)


@dataclass(frozen=True, eq=False)
class PaintedStack(Stage[Stack], keep="nowhere"):
    """The stack with its pixels, at full size."""

    plan: PlannedStack
    masks: DrawnMasks
    silhouette: Silhouette
    prints: Prints
    planes: Planes
    images: Images
    line_owners: LineOwnersSeen | None
    all_ink: SmallInk | None

    def make(self, get: Get) -> Stack:
        return self.paint(get, lambda share: None)

    def paint(self, get: Get, on_progress: Callable[[float], None],
              only: Callable[[PlannedLayer], bool] | None = None) -> Stack:
        """The stack, or some of its layers in a row; ``on_progress`` is called with a share 0..1,
        and may raise to cancel."""
        view = self.masks.sample.view

        def printed(row: int, x: int, y: int, shape: tuple[int, int]) -> Byte | None:
            pattern = self.prints.pattern(row, (x / view.scale, y / view.scale), view.scale,
                                          shape)
            return None if pattern is None else get(pattern)

        found = each_outer(get, [stage for _, stage in self.planes])
        planes = {name: plane for (name, _), plane in zip(self.planes, found, strict=True)
                  if plane is not None}
        canvas = Canvas(replace(get(self.masks), soft=planes),
                        shrink(get(self.silhouette), view), printed,
                        {name: get(stage) for name, stage in self.images}, origin_of(view),
                        get(self.line_owners) if self.line_owners else None,
                        get(self.all_ink) if self.all_ink else None)
        on_progress(0.1)
        plan = get(self.plan)
        wanted = plan if only is None else [p for p in planned_layers(plan) if only(p)]
        return paint_stack(wanted, get(self.plan.figure), canvas,
                           lambda share: on_progress(0.1 + 0.9 * share))


class SmallStack(PaintedStack, keep="in memory"):
    """The stack as small as the screen shows it."""
