"""A first set of parts for a new piece."""

from wardrobe.core.areas.segment import Areas
from wardrobe.core.areas.suggest import group_areas
from wardrobe.recipe.edits import ReplaceParts
from wardrobe.recipe.model import Claim, Part

# Bases chosen in OKLCH: middle values, restrained chroma, neighbours far apart in hue.
STARTER_BASES = (
    "#c98f4a", "#4f6f8f", "#b5553f", "#7d9077", "#e3c9a8", "#6a5a7d", "#d9b44f",
    "#3f6b66", "#a8788a", "#8a6748", "#93a7b8", "#5f7347", "#cf8a76", "#45506b",
)


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
