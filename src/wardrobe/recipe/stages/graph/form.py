"""The volume of the figure, its light, and the colours of what lies on it."""

from functools import cached_property

from wardrobe.recipe.stages import finish, inked
from wardrobe.recipe.stages import form as forms
from wardrobe.recipe.stages.bodies import (
    Places,
    bodies_of,
    covers_of,
    lamps_of,
    order_of,
    places_of,
)
from wardrobe.recipe.stages.colours import Coated, Colouring, WantedShapes
from wardrobe.recipe.stages.graph.cut import CutGraph


class FormGraph(CutGraph):
    """The volume of the figure, its light, and the colours of what lies on it."""

    @cached_property
    def _places(self) -> Places:
        return places_of(self.recipe)

    @cached_property
    def traits(self) -> forms.ReadTraits:
        return forms.ReadTraits(self.areas, self.assigned, bodies_of(self.recipe, self._places))

    @cached_property
    def form(self) -> forms.SolvedForm | forms.Relief:
        solved = forms.SolvedForm(self.areas, self.coverage, self.traits)
        depths = (1.0, *(p.form.depth for p in self.recipe.parts))
        if all(depth == 1 for depth in depths):
            return solved
        return forms.Relief(solved, self.assigned, depths)

    @cached_property
    def draft_form(self) -> forms.DraftForm:
        return forms.DraftForm(self.form)

    @cached_property
    def order(self) -> forms.Order:
        return order_of(self.recipe, self._places)

    @cached_property
    def coated(self) -> Coated:
        return Coated(Colouring.of(self.recipe))

    @cached_property
    def wanted(self) -> WantedShapes:
        return WantedShapes(self.coated, finish.passes_wanted(self.recipe))

    def shapes(self, draft: bool = False) -> forms.DrawnShapes:
        posed = forms.Posed(self.draft_form if draft else self.form, self.assigned,
                           covers_of(self.recipe))
        return forms.DrawnShapes(posed, self.order, lamps_of(self.recipe, self._places),
                                 self.wanted, tuple(self.recipe.passes.softness.items()))

    @cached_property
    def fronts(self) -> inked.Fronts:
        return inked.Fronts(self.assigned, self.form, self.order)
