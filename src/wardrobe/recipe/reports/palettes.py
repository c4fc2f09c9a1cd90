"""Parts for areas that likely belong together, and their first colours, as a proposal."""

from dataclasses import dataclass, replace
from itertools import count

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.kinship import measure_areas
from wardrobe.core.areas.segment import Areas
from wardrobe.core.areas.suggest import group_areas
from wardrobe.core.looks.first import (
    FIRST_PALETTES,
    FigureParts,
    FirstPalette,
    first_colours,
)
from wardrobe.core.people.find import Person, find_person
from wardrobe.recipe.document.model import Claim, Part, Recipe
from wardrobe.recipe.edits import ChangePart, ReplaceParts, Several, next_part_id
from wardrobe.recipe.stages import Deriver

PLAIN = "plain"  # material of what nobody has named
_HAIR_LEAST = 0.03  # share of the figure
_ROLES = {"skin": "skin", "face": "skin", "hair": "hair", "eyes": "eye", "mouth": "lips",
          "lips": "lips"}
_NAMES = {"skin": ("skin", "skin"), "hair": ("hair", "hair"), "eye": ("eyes", "wet"),
          "lips": ("mouth", "skin")}


@dataclass(frozen=True)
class _Group:
    areas: NDArray[np.int64]
    role: str


def suggest_parts(areas: Areas, recipe: Recipe | None = None,
                  taken: NDArray[np.bool_] | None = None,
                  coverage: NDArray[np.uint8] | None = None) -> ReplaceParts:
    """Parts for areas that likely belong together, as a proposal.

    Parameters
    ----------
    areas : Areas
    recipe : Recipe, optional
        What there is already; it stays.
    taken : ndarray of bool, shape (areas + 1,), optional
        Areas that have a part, or are ground; if not given, what is ground by itself.
    coverage : ndarray of uint8, shape (height, width), optional
        Ink, in which a person is looked for.
    """
    parts = list(recipe.parts) if recipe else []
    claims = list(recipe.claims) if recipe else []
    first = int(next_part_id(recipe)[1:]) if recipe else 1
    names = {p.name.casefold() for p in parts}
    free = areas if taken is None else replace(areas, ground=taken)
    person = find_person(free, coverage) if coverage is not None else None
    groups = _groups(free, person)
    bases = first_colours(_measured(free, groups), FIRST_PALETTES[0])
    for number, (group, base) in enumerate(zip(groups, bases, strict=True), start=first):
        wanted, material = _NAMES.get(group.role, ("", PLAIN))
        name = wanted if wanted and wanted not in names else _numbered(number, names)
        names.add(name)
        parts.append(Part(id=f"p{number}", name=name, base=base, material=material))
        strokes = tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in areas.seeds[group.areas])
        claims.append(Claim(to=f"p{number}", strokes=strokes))
    return ReplaceParts(parts=tuple(parts), claims=tuple(claims), proposed=True)


@dataclass(frozen=True)
class PaletteOffer:
    """First colours for all parts: a name, and the edit that takes them."""

    name: str
    edit: Several


def first_palettes(deriver: Deriver, recipe: Recipe) -> list[PaletteOffer]:
    """Several palettes for the parts there are."""
    if not recipe.parts:
        return []
    areas, assignment = deriver.areas(recipe), deriver.assignment(recipe)
    groups = [_Group(np.flatnonzero(assignment.part_of_area == row),
                     _ROLES.get(p.name.casefold(), ""))
              for row, p in enumerate(recipe.parts, start=1)]
    measured = _measured(replace(areas, ground=assignment.ground), groups)
    return [PaletteOffer(palette.name, _worn(recipe, measured, palette))
            for palette in FIRST_PALETTES]


def _worn(recipe: Recipe, measured: FigureParts, palette: FirstPalette) -> Several:
    return Several(edits=tuple(
        ChangePart(part=p.id, base=base)
        for p, base in zip(recipe.parts, first_colours(measured, palette), strict=True)
        if p.scenery is None))


def _numbered(number: int, names: set[str]) -> str:
    return next(n for n in (f"part {k}" for k in count(number)) if n not in names)


def _groups(areas: Areas, person: Person | None) -> list[_Group]:
    """Groups of areas; a person's with the roles that these have."""
    found = group_areas(areas)
    if person is None:
        return [_Group(g, "") for g in found]
    own = {"skin": person.skin, "hair": person.hair, "eye": person.eyes, "lips": person.mouth}
    taken = np.array([area for some in own.values() for area in some], np.int64)
    groups = [_Group(np.sort(np.array(some, np.int64)), role)
              for role, some in own.items() if some]
    left = (g[~np.isin(g, taken)] for g in found)
    groups += [_Group(g, "") for g in left if len(g)]
    if not person.hair:
        hair = _hair(areas, groups)
        groups = [replace(g, role="hair") if k == hair else g for k, g in enumerate(groups)]
    return sorted(groups, key=lambda g: -int(areas.pixels[g.areas].sum()))


def _hair(areas: Areas, groups: list[_Group]) -> int | None:
    """The group that lies on top of the skin, with the longest border with it."""
    measured = _measured(areas, groups)
    skin = next(k for k, g in enumerate(groups) if g.role == "skin")
    height = [float(np.average(areas.seeds[g.areas, 1], weights=areas.pixels[g.areas]))
              for g in groups]
    above = [k for k, g in enumerate(groups) if not g.role and height[k] < height[skin]
             and measured.share[k] > _HAIR_LEAST and measured.contact[skin, k] > 0]
    return max(above, key=lambda k: float(measured.contact[skin, k]), default=None)


def _measured(areas: Areas, groups: list[_Group]) -> FigureParts:
    measures = measure_areas(areas)
    member = np.zeros((len(groups), len(measures.share)))
    for k, group in enumerate(groups):
        member[k, group.areas] = 1
    contact = member @ measures.contact @ member.T
    np.fill_diagonal(contact, 0)
    border = np.maximum((member @ measures.contact).sum(axis=1), 1)
    return FigureParts(member @ measures.share, contact / border[:, None],
                       [g.role for g in groups])
