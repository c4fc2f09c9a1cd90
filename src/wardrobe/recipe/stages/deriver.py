"""What can be asked of a recipe."""

from collections import OrderedDict
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.complete import Completeness
from wardrobe.core.areas.segment import Areas
from wardrobe.core.form import Form, Traits
from wardrobe.core.ground.figure import Figure as FigureOnGround
from wardrobe.core.hatching.find import Hatching
from wardrobe.core.layers.layer import Masks
from wardrobe.core.light.shapes import Shapes
from wardrobe.core.lines.blacks import Blacks
from wardrobe.core.lines.coverage import Darkness
from wardrobe.core.lines.gaps import Gaps
from wardrobe.core.lines.hues import HueLines
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.core.stack.plan import Figure, Planned, planned_layers
from wardrobe.recipe.document.finish import FinishLayer
from wardrobe.recipe.document.look import Look, worn
from wardrobe.recipe.document.model import BoundaryRole, Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import finish
from wardrobe.recipe.stages.colours import Dressed
from wardrobe.recipe.stages.cut import Assignment
from wardrobe.recipe.stages.form import casting, front_to_behind
from wardrobe.recipe.stages.graph import Graph
from wardrobe.recipe.stages.picture import Sampled
from wardrobe.recipe.stages.store import Store

Byte = NDArray[np.uint8]
_GRAPHS = 64


class Deriver:
    """Artefacts of recipes, by what they are called.

    Parameters
    ----------
    store : Store or callable
        Where artefacts are kept; or decoded RGBA pixels of an asset by its SHA-256, for a store
        of its own.
    """

    def __init__(self, store: Store | Callable[[str], Byte]) -> None:
        self.store = store if isinstance(store, Store) else Store(store)
        self._graphs: OrderedDict[int, Graph] = OrderedDict()

    def stages(self, recipe: Recipe) -> Graph:
        """The stages of a recipe. Those of the last few recipes are at hand with their keys."""
        graph = self._graphs.get(id(recipe))
        if graph is None:  # the graph holds its recipe, so no other has its identity
            graph = self._graphs[id(recipe)] = Graph(recipe)
            while len(self._graphs) > _GRAPHS:
                self._graphs.popitem(last=False)
        return graph

    def worn(self, recipe: Recipe, look: Look) -> Recipe:
        """The piece as it is in a look: the same parts each time, whose digests are at hand."""
        return worn(recipe, look, self.store(Dressed(recipe.parts, look)))

    def source(self, recipe: Recipe) -> Byte:
        """The drawing as it came in, framed, RGBA."""
        return self.store(self.stages(recipe).source)

    def darkness(self, recipe: Recipe) -> Darkness:
        """Darkness against the paper, and the kind of drawing."""
        return self.store(self.stages(recipe).darkness)

    def drawn(self, recipe: Recipe) -> Byte:
        """Coverage of all ink at full size."""
        return self.store(self.stages(recipe).drawn)

    def hatching(self, recipe: Recipe) -> Hatching:
        """The strokes of the drawing, and which of them seem to bound nothing."""
        return self.store(self.stages(recipe).hatching)

    def solids(self, recipe: Recipe) -> Blacks:
        """The solid blacks of the drawing, also those that take colour."""
        return self.store(self.stages(recipe).solids)

    def coverage(self, recipe: Recipe) -> Byte:
        """Ink coverage at full size, as it bounds areas."""
        return self.store(self.stages(recipe).coverage)

    def hues(self, recipe: Recipe) -> list[HueLines]:
        """The hues that lines are drawn in."""
        return self.store(self.stages(recipe).hues.found)

    def role_of(self, recipe: Recipe, hue: HueLines) -> BoundaryRole:
        """What lines of a hue are for."""
        return self.stages(recipe).hues.role_of(hue)

    def ink(self, recipe: Recipe) -> Byte:
        """Ink coverage at full size, as it is printed."""
        return self.store(self.stages(recipe).ink)

    def gaps(self, recipe: Recipe) -> Gaps:
        """The gaps in the lines, whatever was decided about them."""
        return self.store(self.stages(recipe).gaps)

    def areas(self, recipe: Recipe) -> Areas:
        """The areas that the lines and closings bound, with what was recut by hand."""
        return self.store(self.stages(recipe).areas)

    def figure_and_ground(self, recipe: Recipe) -> FigureOnGround:
        """The figure, with what is open in its outline closed."""
        return self.store(self.stages(recipe).figure_and_ground)

    def assignment(self, recipe: Recipe) -> Assignment:
        """Which part each area belongs to."""
        return self.store(self.stages(recipe).assigned)

    def shown(self, recipe: Recipe) -> NDArray[np.uint16]:
        """Part of each area, 0 where it is hidden."""
        return self.store(self.stages(recipe).shown)

    def parts_map(self, recipe: Recipe) -> NDArray[np.uint16]:
        """Part of every pixel at full size, as it is delivered."""
        return self.store(self.stages(recipe).parts_map)

    def completeness(self, recipe: Recipe) -> tuple[Completeness, Byte]:
        """How completely the figure is filled, and where not."""
        return self.store(self.stages(recipe).completed)

    def silhouette(self, recipe: Recipe) -> Byte:
        """All parts together, grown under the outline; 0 or 255 at full size."""
        return self.store(self.stages(recipe).silhouette)

    def traits(self, recipe: Recipe) -> Traits:
        """All that a form depends on beside the drawing."""
        return self.store(self.stages(recipe).traits)

    def form(self, recipe: Recipe) -> Form:
        """The volume guessed for the figure."""
        return self.store(self.stages(recipe).form)

    def shapes(self, recipe: Recipe, draft: bool = False) -> Shapes:
        """The shapes of all passes under the light; a draft has half the resolution."""
        return self.store(self.stages(recipe).shapes(draft))

    def front_to_behind(self, recipe: Recipe) -> list[str]:
        """Ids of the parts that have areas, from front to behind."""
        rows = front_to_behind(self.form(recipe), self.assignment(recipe),
                               self.stages(recipe).order)
        return [recipe.parts[row - 1].id for row in rows]

    def casting(self, recipe: Recipe) -> list[tuple[str, str]]:
        """Ids of parts that touch, the one that is in front first."""
        rows = casting(self.form(recipe), self.assignment(recipe), self.stages(recipe).order)
        return [(recipe.parts[a - 1].id, recipe.parts[b - 1].id) for a, b in rows]

    def sampled(self, recipe: Recipe, view: View) -> Sampled:
        """Areas and ink, cut and scaled to a view."""
        return self.store(self.stages(recipe).sample(view))

    def masks(self, recipe: Recipe, view: View, draft: bool = False) -> Masks:
        """Part rows, shapes and ink for a view, as the compositor takes them."""
        return self.store(self.stages(recipe).masks(view, draft))

    def prints(self, recipe: Recipe, view: View, draft: bool = False) -> Byte | None:
        """The patterns for a view, straight alpha, each cut to its part; None without any."""
        return self.store(self.stages(recipe).prints(view, draft))

    def picture(self, recipe: Recipe, view: View, draft: bool = False) -> Byte:
        """The finished picture, RGB, shape ``view.shape + (3,)``."""
        return self.store(self.stages(recipe).picture(view, draft))

    def figure(self, recipe: Recipe) -> Figure:
        """What the stack is made of."""
        return self.store(self.stages(recipe).stack_figure)

    def plan(self, recipe: Recipe) -> list[Planned]:
        """The stack's layers in their places, named, without their pixels."""
        return self.store(self.stages(recipe).plan)

    def stack(self, recipe: Recipe, view: View | None = None,
              on_progress: Callable[[float], None] = lambda share: None) -> Stack:
        """The delivered stack, at full size or as small as a view of the whole picture, which is
        kept."""
        if view is not None:
            return self.store(self.stages(recipe).stack(view, kept=True))
        whole = self.stages(recipe).stack(View.whole(*recipe.size))
        return whole.paint(self.store, on_progress)

    def finish_layers(self, recipe: Recipe) -> list[tuple[FinishLayer, Layer]]:
        """The finish layers that are seen, bottom to top, as they are delivered."""
        whole = self.stages(recipe).stack(View.whole(*recipe.size))
        of = [(finish.over_of(recipe, layer), layer) for layer in finish.drawn(recipe)]
        if not of:
            return []
        plan = [p for p in planned_layers(self.plan(recipe)) if p.over in [o for o, _ in of]]
        painted = whole.paint(self.store, lambda share: None, plan.__contains__).layers()
        found = []
        for own, layer in zip(plan, painted, strict=True):
            at = next(k for k, (over, _) in enumerate(of) if over == own.over)
            found.append((of.pop(at)[1], layer))
        return found
