"""Bases moved until a part is told from all that lies beside it."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.checks.apart import colours_apart, least_told, lightness_apart
from wardrobe.core.colour import from_hex, oklch_to_srgb, srgb_to_oklch, to_bytes, to_hex
from wardrobe.recipe.checks.borders import (
    ALIKE,
    CLOSE_HUES,
    CONFUSED,
    SAME_VALUE,
    RunTogether,
    of_borders,
)
from wardrobe.recipe.checks.finding import Desk, Noticed, Repair
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.edits import ChangePart, apply
from wardrobe.recipe.reports.sheet import colour_sheet

Float = NDArray[np.float64]

ROOM = 1.2  # a repaired pair is this much farther apart than it must be
_MOST_TRIED = 40  # changes of base
_SHIFTS = [s * k / 50 for k in range(2, 30) for s in (1, -1)]  # of Oklab lightness


def part_apart(desk: Desk, noticed: Noticed) -> Repair | None:
    """One of two parts lighter or darker, as little as can be, until the two are told apart and
    neither is too like any other neighbour."""
    return first_free(desk, [(shift, part, moved) for part in desk.recipe.parts
                              if part.id in noticed.ids
                              for shift, moved in lighter_and_darker(part)],
                       frozenset(noticed.ids))


def as_real(colour: str) -> Float:
    return np.array(from_hex(colour)) / 255


def lighter_and_darker(part: Part) -> list[tuple[float, Float]]:
    """A part's base, lighter and darker."""
    lightness, chroma, hue = srgb_to_oklch(as_real(part.base))
    return [(shift, np.array(to_bytes(oklch_to_srgb([lightness + shift, chroma, hue]))) / 255)
            for shift in _SHIFTS if 0.12 <= lightness + shift <= 0.97]


def first_free(desk: Desk, found: list[tuple[float, Part, Float]],
                mended: frozenset[str] = frozenset()) -> Repair | None:
    """The smallest of some changes of base that brings no clash of colours.

    Parameters
    ----------
    found : list of (float, Part, ndarray)
        How far each moves the base, of which part, and to where.
    mended : frozenset of str
        Parts that must no longer clash with each other.
    """
    near = near_parts(desk)
    before: dict[str, set[Clash]] = {}
    for shift, part, moved in sorted(found, key=lambda f: abs(f[0]))[:_MOST_TRIED]:
        if part.pattern or part.own:
            continue
        around = only_parts(desk.recipe, near.get(part.id, set()) | {part.id})
        edit = ChangePart(part=part.id, base=to_hex(to_bytes(moved)))
        if part.id not in before:
            before[part.id] = {c for c in clashes(around, part.id) if not mended <= c.parts
                               or len(mended) < 2}
        if clashes(apply(around, edit), part.id) <= before[part.id]:
            return Repair(f"Make {part.name} {'lighter' if shift > 0 else 'darker'}", edit)
    return None


def near_parts(desk: Desk) -> dict[str, set[str]]:
    """The parts that lie beside each part."""
    stage = of_borders(RunTogether)(desk)
    assert isinstance(stage, RunTogether)
    found: dict[str, set[str]] = {}
    for pair in stage.pairs(desk.deriver.store):
        one, other = stage.ids[pair.one], stage.ids[pair.other]
        found.setdefault(one, set()).add(other)
        found.setdefault(other, set()).add(one)
    return found


def only_parts(recipe: Recipe, ids: set[str]) -> Recipe:
    """The recipe with some of its parts: only what lies beside a part can clash with it."""
    return recipe.model_copy(update={"parts": tuple(p for p in recipe.parts if p.id in ids)})


class Clash(NamedTuple):
    """Two colours that are too alike, or one that is marked on the sheet."""

    parts: frozenset[str]
    names: tuple[str, ...]
    what: str


def clashes(recipe: Recipe, part_id: str) -> set[Clash]:
    """What is too alike between a part and the others, in light and in shade, with room."""
    rows = {row.part: row for row in colour_sheet(recipe).rows}
    mine = rows[part_id]
    found = {Clash(frozenset([part_id]), (cell.name,), cell.mark) for cell in mine.cells
             if cell.mark in ("faint", "heavy", "in the line")}
    tones = [(row.part, cell.name, as_real(cell.colour)) for row in rows.values()
             for cell in row.cells if cell.name in ("base", "shade")]
    ours = [t for t in tones if t[0] == part_id]
    theirs = [t for t in tones if t[0] != part_id]
    if not theirs:
        return found
    a, b = (np.array([colour for *_, colour in side]) for side in (ours, theirs))
    step = colours_apart(a[:, None], b)
    light, least = lightness_apart(a[:, None], b), least_told(a[:, None], b)
    for what, where in (
            ("alike", step < ROOM * ALIKE),
            ("one value", (light < ROOM * SAME_VALUE) & (step < ROOM * CLOSE_HUES)),
            ("confused", least < ROOM * CONFUSED)):
        found |= {Clash(frozenset([part_id, theirs[k][0]]), (ours[j][1], theirs[k][1]), what)
                  for j, k in zip(*np.nonzero(where), strict=True)}
    return found
