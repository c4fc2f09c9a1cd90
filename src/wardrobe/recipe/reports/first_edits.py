"""How a new piece begins."""

from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.lines.closing import closing_curve
from wardrobe.core.lines.gaps import LIKELY, find_gaps
from wardrobe.recipe.document.model import Closing, Recipe
from wardrobe.recipe.edits import (
    CloseGaps,
    Edit,
    EditRefusedError,
    ReplaceParts,
    apply,
)
from wardrobe.recipe.reports.figure import certain_figure
from wardrobe.recipe.reports.hatching import certain_hatching
from wardrobe.recipe.reports.palettes import suggest_parts
from wardrobe.recipe.stages import Deriver

_DESPERATE = 14.0  # line widths up to which gaps are closed where nothing else is closed


def first_edits(deriver: Deriver, recipe: Recipe) -> tuple[Edit, ...]:
    """What is done to a drawing that has just come in: hatching that is sure bounds nothing, its
    figure is told from its ground where that is sure, and its areas are grouped into parts.

    Where nothing is closed, the likely gaps are.

    Raises
    ------
    NoLinesError
        If the drawing holds no line art, or no closed area even then.
    """
    edits: list[Edit] = []
    hatching = certain_hatching(deriver, recipe)
    if hatching:
        edits.append(hatching)
        recipe = apply(recipe, hatching)
    figure = certain_figure(deriver, recipe)
    if figure:
        edits.append(figure)
        recipe = apply(recipe, figure)
    try:
        areas = deriver.areas(recipe)
    except NoClosedAreaError:
        edits.append(_close_likely(deriver, recipe))
        recipe = apply(recipe, edits[-1])
        areas = deriver.areas(recipe)
    edits.append(suggest_parts(areas, recipe, deriver.assignment(recipe).ground,
                               deriver.coverage(recipe)))
    return tuple(edits)


def _close_likely(deriver: Deriver, recipe: Recipe) -> CloseGaps:
    gaps = find_gaps(deriver.coverage(recipe), _DESPERATE)
    likely = [k for k in range(len(gaps)) if gaps.chance[k] >= LIKELY]
    if not likely:
        raise NoClosedAreaError("No closed area was found: every fill would run out into the "
                                "ground. Close the outline of the drawing and try again.")
    return CloseGaps(closings=tuple(Closing(points=tuple(closing_curve(
        *gaps.ends[k].tolist(), *gaps.directions[k].tolist()))) for k in likely))


def more_parts(deriver: Deriver, recipe: Recipe) -> ReplaceParts:
    """A proposal for what has no part yet.

    Raises
    ------
    EditRefusedError
        If every area of the figure has a part.
    """
    assignment = deriver.assignment(recipe)
    taken = (assignment.part_of_area > 0) | assignment.ground
    if taken[1:].all():
        raise EditRefusedError("Every area of the figure has a part.")
    return suggest_parts(deriver.areas(recipe), recipe, taken, deriver.coverage(recipe))
