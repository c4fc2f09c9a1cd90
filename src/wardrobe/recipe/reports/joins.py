"""Why the areas of a part are together, and how it would come apart."""

from dataclasses import dataclass, replace

import numpy as np

from wardrobe.core.areas.suggest import explain_groups
from wardrobe.recipe.document.model import MAX_PARTS, Claim, Part, Recipe
from wardrobe.recipe.edits import ReplaceParts, next_part_id
from wardrobe.recipe.stages import Deriver


@dataclass(frozen=True)
class JoinedPart:
    """A part of several areas.

    Attributes
    ----------
    part : str
        Its id.
    areas : int
        How many it has.
    reason : str
        Why they are together.
    split : ReplaceParts or None
        What gives the half that is least like the rest to a part of its own; None if there is no
        room for another part.
    """

    part: str
    areas: int
    reason: str
    split: ReplaceParts | None


def joined_parts(deriver: Deriver, recipe: Recipe) -> list[JoinedPart]:
    """The parts that have more than one area."""
    areas, assignment = deriver.areas(recipe), deriver.assignment(recipe)
    groups = [np.flatnonzero(assignment.part_of_area == row)
              for row in range(1, len(recipe.parts) + 1)]
    found = []
    explained = explain_groups(replace(areas, ground=assignment.ground), groups)
    for part, members, join in zip(recipe.parts, groups, explained, strict=True):
        if join is None:
            continue
        apart = areas.seeds[join.halves[1]] + 0.5
        found.append(JoinedPart(part.id, len(members), join.reason,
                                _split(recipe, part, apart.tolist())))
    return found


def _split(recipe: Recipe, part: Part, places: list[list[float]]) -> ReplaceParts | None:
    if len(recipe.parts) >= MAX_PARTS:
        return None
    names = {p.name.casefold() for p in recipe.parts}
    name = next(n for n in (f"{part.name} {k}" for k in range(2, MAX_PARTS + 3))
                if n.casefold() not in names)
    new = part.model_copy(update={"id": next_part_id(recipe), "name": name})
    at = recipe.parts.index(part) + 1
    claim = Claim(to=new.id, strokes=tuple(((x, y),) for x, y in places))
    return ReplaceParts(parts=(*recipe.parts[:at], new, *recipe.parts[at:]),
                        claims=(*recipe.claims, claim), proposed=recipe.proposed)
