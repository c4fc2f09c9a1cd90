"""What somebody saw when they gave their verdict, and what has changed since."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Colour, Frozen, PartId, PartName
from wardrobe.recipe.reports.light import directions_apart
from wardrobe.recipe.reports.sheet import colour_sheet

_SEEN = 1.0  # CIEDE2000 from which a change of colour counts

# What a person would say has changed, and the fields of the recipe that decide it.
_SUBJECTS = {
    "the drawing": ("source", "frame", "details"),
    "the lines": ("lines", "boundaries", "halo", "hatching", "coloured_blacks", "ink"),
    "what belongs to which part": ("closings", "left_open", "open_figure", "silhouette_growth",
                                   "recuts", "fill", "claims"),
    "the light": ("light",),
    "shapes of shade and light": ("touch_ups",),
    "the ground": ("background",),
    "the finish": ("finish", "finish_amount", "focus"),
}

_MANY = ("the lines", "shapes of shade and light")


class ShownPart(Frozen):
    """A part as it was: its name, and what was seen in the base and in each pass."""

    id: PartId
    name: PartName
    colours: Annotated[dict[str, Colour], Field(max_length=60)]
    rest: Annotated[str, Field(max_length=16)] = ""


class Shown(Frozen):
    """A piece as it was: its parts, where the light stood (degrees), and a digest of everything
    else by subject."""

    parts: Annotated[tuple[ShownPart, ...], Field(max_length=400)]
    azimuth: float = 0.0
    height: float = 0.0
    subjects: Annotated[dict[str, Annotated[str, Field(max_length=16)]], Field(max_length=40)]


@dataclass(frozen=True)
class Since:
    """Something that has changed since.

    Attributes
    ----------
    what : str
        A part, or a subject.
    part : str or None
        Id of the part, if it is one that is there.
    words : str
    step : float
        CIEDE2000 of its largest change of colour, 0 if it is of another kind.
    before, after : str or None
        The two colours.
    """

    what: str
    part: str | None
    words: str
    step: float = 0.0
    before: str | None = None
    after: str | None = None


def shown_of(recipe: Recipe) -> Shown:
    """What is to be seen of a piece now."""
    rows = {row.part: row for row in colour_sheet(recipe).rows}
    parts = tuple(ShownPart(id=p.id, name=p.name,
                            colours={c.name: c.colour for c in rows[p.id].cells},
                            rest=_digest(p.model_dump_json(exclude={
                                "name", "base", "own",  # told by themselves
                                *(() if p.see_through else ("opacity", "behind"))})))
                  for p in recipe.parts)
    whole = {subject: _digest(recipe.model_dump_json(include=set(fields)))
             for subject, fields in _SUBJECTS.items()}
    return Shown(parts=parts, azimuth=recipe.light.azimuth, height=recipe.light.height,
                 subjects=whole)


def changed_since(shown: Shown, recipe: Recipe) -> list[Since]:
    """What has changed of a piece since it was shown, the largest changes of colour first."""
    now = shown_of(recipe)
    before = {p.id: p for p in shown.parts}
    found = [Since(p.name, None, "is gone") for p in shown.parts
             if p.id not in {q.id for q in now.parts}]
    colours: list[Since] = []
    for part in now.parts:
        old = before.get(part.id)
        if old is None:
            found.append(Since(part.name, part.id, "is new"))
            continue
        if old.name != part.name:
            found.append(Since(part.name, part.id, f"was called {old.name}"))
        told = _furthest(old, part)
        if told:
            colours.append(told)
        elif old.rest != part.rest:
            found.append(Since(part.name, part.id, "takes the light in another way"))
    colours.sort(key=lambda s: -s.step)
    moved = directions_apart(shown.azimuth, shown.height, now.azimuth, now.height)
    whole = [Since(subject, None, f"moved by {moved:.0f}°" if subject == "the light" and moved >= 1
                   else "have changed" if subject in _MANY else "has changed")
             for subject in now.subjects
             if shown.subjects.get(subject, "") != now.subjects[subject]]
    return [*colours, *found, *whole]


def _furthest(old: ShownPart, new: ShownPart) -> Since | None:
    """The largest change of colour of a part, if one is seen."""
    names = [n for n in new.colours if n in old.colours]
    steps = _steps([old.colours[n] for n in names], [new.colours[n] for n in names])
    gone = [PASSES[n].label.lower() for n in old.colours if n not in new.colours and n in PASSES]
    come = [PASSES[n].label.lower() for n in new.colours if n not in old.colours and n in PASSES]
    k = int(np.argmax(steps)) if len(steps) else 0
    if len(steps) and steps[k] >= _SEEN:
        where = "base" if names[k] == "base" else PASSES[names[k]].label.lower()
        return Since(new.name, new.id, f"{where} {steps[k]:.1f} away", float(steps[k]),
                     old.colours[names[k]], new.colours[names[k]])
    if come or gone:
        return Since(new.name, new.id, "; ".join(
            [*(f"has {c} now" for c in come), *(f"has no {g} any more" for g in gone)]))
    return None


def _steps(one: Sequence[str], other: Sequence[str]) -> np.ndarray:
    if not one:
        return np.zeros(0)
    mine, theirs = (np.array([from_hex(c) for c in colours]) / 255 for colours in (one, other))
    return delta_e_2000(srgb_to_lab(mine), srgb_to_lab(theirs))


def _digest(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()[:16]
