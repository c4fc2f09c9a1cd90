"""Parts for areas that likely belong together, as a proposal."""

from dataclasses import replace
from itertools import count

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas
from wardrobe.core.areas.suggest import group_areas
from wardrobe.recipe.edits import ReplaceParts, next_part_id
from wardrobe.recipe.model import Claim, Part, Recipe

# Bases chosen in OKLCH: middle values, restrained chroma, neighbours far apart in hue.
STARTER_BASES = (
    "#c98f4a", "#4f6f8f", "#b5553f", "#7d9077", "#e3c9a8", "#6a5a7d", "#d9b44f",
    "#3f6b66", "#a8788a", "#8a6748", "#93a7b8", "#5f7347", "#cf8a76", "#45506b",
)


def suggest_parts(areas: Areas, recipe: Recipe | None = None,
                  taken: NDArray[np.bool_] | None = None) -> ReplaceParts:
    """Parts for areas that likely belong together, as a proposal.

    Parameters
    ----------
    areas : Areas
    recipe : Recipe, optional
        What there is already; it stays.
    taken : ndarray of bool, shape (areas + 1,), optional
        Areas that have a part, or are ground; if not given, what is ground by itself.
    """
    parts = list(recipe.parts) if recipe else []
    claims = list(recipe.claims) if recipe else []
    first = int(next_part_id(recipe)[1:]) if recipe else 1
    names = {p.name.casefold() for p in parts}
    free = areas if taken is None else replace(areas, ground=taken)
    for number, members in enumerate(group_areas(free), start=first):
        base = STARTER_BASES[(number - 1) % len(STARTER_BASES)]
        name = next(n for n in (f"part {k}" for k in count(number)) if n not in names)
        names.add(name)
        parts.append(Part(id=f"p{number}", name=name, base=base))
        strokes = tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in areas.seeds[members])
        claims.append(Claim(to=f"p{number}", strokes=strokes))
    return ReplaceParts(parts=tuple(parts), claims=tuple(claims), proposed=True)
