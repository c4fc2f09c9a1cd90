"""How a new piece begins."""

from wardrobe.core.areas.segment import Areas
from wardrobe.core.areas.suggest import group_areas
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.lines.closing import closing_curve
from wardrobe.core.lines.gaps import LIKELY, find_gaps
from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.edits import CloseGaps, Edit, ReplaceParts, apply
from wardrobe.recipe.model import Claim, Closing, Part, Recipe

# Bases chosen in OKLCH: middle values, restrained chroma, neighbours far apart in hue.
STARTER_BASES = (
    "#c98f4a", "#4f6f8f", "#b5553f", "#7d9077", "#e3c9a8", "#6a5a7d", "#d9b44f",
    "#3f6b66", "#a8788a", "#8a6748", "#93a7b8", "#5f7347", "#cf8a76", "#45506b",
)

_DESPERATE = 14.0  # line widths up to which gaps are closed where nothing else is closed


def suggest_parts(areas: Areas) -> ReplaceParts:
    """Parts for the large areas, each with the small ones around it."""
    parts, claims = [], []
    for number, members in enumerate(group_areas(areas), start=1):
        part_id = f"p{number}"
        base = STARTER_BASES[(number - 1) % len(STARTER_BASES)]
        parts.append(Part(id=part_id, name=f"part {number}", base=base))
        strokes = tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in areas.seeds[members])
        claims.append(Claim(to=part_id, strokes=strokes))
    return ReplaceParts(parts=tuple(parts), claims=tuple(claims))


def first_edits(deriver: Deriver, recipe: Recipe) -> tuple[Edit, ...]:
    """What is done to a drawing that has just come in: its likely gaps are closed if no area is
    closed without, and its areas are grouped into parts.

    Raises
    ------
    NoLinesError
        If the drawing holds no line art, or no closed area even then.
    """
    edits: list[Edit] = []
    try:
        deriver.areas(recipe)
    except NoClosedAreaError:
        gaps = find_gaps(deriver.coverage(recipe), _DESPERATE)
        likely = [k for k in range(len(gaps)) if gaps.chance[k] >= LIKELY]
        if not likely:
            raise
        edits.append(CloseGaps(closings=tuple(Closing(points=tuple(closing_curve(
            *gaps.ends[k].tolist(), *gaps.directions[k].tolist()))) for k in likely)))
        recipe = apply(recipe, edits[0])
    edits.append(suggest_parts(deriver.areas(recipe)))
    return tuple(edits)
