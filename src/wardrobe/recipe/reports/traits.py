"""What of a drawing tells how long it takes."""

from wardrobe.core.timing.estimate import Traits
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.reports.gaps import report_gaps
from wardrobe.recipe.stages import Deriver


def traits_of_drawing(deriver: Deriver, recipe: Recipe) -> Traits:
    """How many areas, parts, gaps, and parts of hair a drawing has."""
    figure = [p for p in recipe.parts if not p.scenery]
    return Traits(areas=deriver.areas(recipe).count, parts=len(figure),
                  gaps=sum(1 for g in report_gaps(deriver, recipe).gaps if g.listed),
                  hair=sum(1 for p in figure if p.material == "hair" and p.parent is None))
