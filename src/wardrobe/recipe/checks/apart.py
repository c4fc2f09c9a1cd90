"""Bases moved until a part is told from all that lies beside it."""

from collections.abc import Sequence
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
    pairs_of,
)
from wardrobe.recipe.checks.finding import Desk, Noticed, Repair
from wardrobe.recipe.checks.seen import ids_of
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.edits import ChangePart, Edit, apply
from wardrobe.recipe.reports.sheet import SheetRow, colour_sheet

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
    shifts = [s for s in _SHIFTS if 0.12 <= lightness + s <= 0.97]
    moved = oklch_to_srgb([[lightness + s, chroma, hue] for s in shifts]) if shifts else ()
    return [(s, np.array(to_bytes(to)) / 255) for s, to in zip(shifts, moved, strict=True)]


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
    tried: list[tuple[float, Part, ChangePart]] = [
        (shift, part, ChangePart(part=part.id, base=to_hex(to_bytes(moved))))
        for shift, part, moved in sorted(found, key=lambda f: abs(f[0]))[:_MOST_TRIED]
        if not (part.pattern or part.own)]
    free: dict[int, bool] = {}
    for part in {p.id: p for _, p, _ in tried}.values():
        around = only_parts(desk.recipe, near.get(part.id, set()) | {part.id})
        mine = [k for k, (_, p, _) in enumerate(tried) if p.id == part.id]
        now, *then = clashes(around, part.id, [tried[k][2] for k in mine])
        before = {c for c in now if not mended <= c.parts or len(mended) < 2}
        free |= {k: new <= before for k, new in zip(mine, then, strict=True)}
    for k, (shift, part, edit) in enumerate(tried):
        if free[k]:
            return Repair(f"Make {part.name} {'lighter' if shift > 0 else 'darker'}", edit)
    return None


def near_parts(desk: Desk) -> dict[str, set[str]]:
    """The parts that lie beside each part."""
    ids, found = ids_of(desk.recipe), dict[str, set[str]]()
    for pair in desk.deriver.store(pairs_of(desk)):
        one, other = ids[pair.one], ids[pair.other]
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


def clashes(recipe: Recipe, part_id: str, edits: Sequence[Edit]) -> list[set[Clash]]:
    """What is too alike between a part and the others, in light and in shade, with room: as the
    part is, and as it is after each of some edits of it."""
    at = next(k for k, p in enumerate(recipe.parts) if p.id == part_id)
    others = (*recipe.parts[:at], *recipe.parts[at + 1:])
    mine = (recipe.parts[at], *(apply(recipe, e).parts[at] for e in edits))
    # One sheet, on which the part stands as often as it is tried.
    rows = colour_sheet(recipe.model_copy(update={"parts": (*others, *mine)})).rows
    theirs = _tones(rows[:len(others)])
    return _clashing(rows[len(others):], theirs)


def _tones(rows: list[SheetRow]) -> list[tuple[str, str, Float]]:
    return [(row.part, cell.name, as_real(cell.colour)) for row in rows for cell in row.cells
            if cell.name in ("base", "shade")]


def _clashing(rows: list[SheetRow], theirs: list[tuple[str, str, Float]]) -> list[set[Clash]]:
    found = [{Clash(frozenset([row.part]), (cell.name,), cell.mark) for cell in row.cells
              if cell.mark in ("faint", "heavy", "in the line")} for row in rows]
    if not theirs:
        return found
    ours = [(k, *tone) for k, row in enumerate(rows) for tone in _tones([row])]
    a, b = (np.array([colour for *_, colour in side]) for side in (ours, theirs))
    step = colours_apart(a[:, None], b)
    light, least = lightness_apart(a[:, None], b), least_told(a[:, None], b)
    for what, where in (
            ("alike", step < ROOM * ALIKE),
            ("one value", (light < ROOM * SAME_VALUE) & (step < ROOM * CLOSE_HUES)),
            ("confused", least < ROOM * CONFUSED)):
        for j, k in zip(*np.nonzero(where), strict=True):
            row, mine, tone, _ = ours[j]
            found[row].add(Clash(frozenset([mine, theirs[k][0]]), (tone, theirs[k][1]), what))
    return found
