"""Ink that bounds nothing, as it is offered."""

from dataclasses import dataclass

from wardrobe.core.hatching.families import Family, HatchingKind
from wardrobe.recipe.document.lighting import MAX_TOUCH_UPS
from wardrobe.recipe.document.model import Hatching, Recipe
from wardrobe.recipe.document.types import Point
from wardrobe.recipe.edits import SetHatching, Several, TouchUpPass
from wardrobe.recipe.reports.gaps import place_in_words
from wardrobe.recipe.stages import Deriver

SHADE = "shade"
_MOST_POINTS = 400  # of an outline that becomes a touch-up
_NAMES: dict[HatchingKind, str] = {
    "hatching": "Hatching", "cross-hatching": "Cross-hatching", "stipple": "Stipple",
    "strokes": "Loose strokes"}


@dataclass(frozen=True)
class HatchingLine:
    """One family of strokes.

    Attributes
    ----------
    place : (float, float)
        On one of its strokes, picture pixels; names it.
    outline : list of list of (float, float)
        Where it lies.
    words : str
        What it is and where.
    strokes : int
    bounds : bool
        Whether areas are cut along it.
    chance : float, 0..1
        How likely it bounds nothing.
    index : int or None
        Entry of the recipe that says that it bounds nothing.
    shade : Several or None
        Makes the place where it lies a place in shadow; None without parts, or where it is.
    """

    place: Point
    outline: list[list[Point]]
    words: str
    strokes: int
    bounds: bool
    chance: float
    index: int | None
    shade: Several | None


@dataclass(frozen=True)
class HatchingReport:
    """The families of a drawing, most strokes first, and how many strokes bound nothing by hand."""

    families: list[HatchingLine]
    by_hand: int


def certain_hatching(deriver: Deriver, recipe: Recipe) -> SetHatching | None:
    """What is taken off the lines of a new drawing without asking."""
    sure = tuple(Hatching(places=(f.place,)) for f in deriver.hatching(recipe).families if f.taken)
    return SetHatching(hatching=sure) if sure else None


def report_hatching(deriver: Deriver, recipe: Recipe) -> HatchingReport:
    """The families of strokes that seem to bound nothing, and what was decided about each."""
    found = deriver.hatching(recipe)
    decided: dict[int, int] = {}
    for index, entry in enumerate(recipe.hatching):
        if not entry.by_hand:
            decided.update(dict.fromkeys(found.named(entry.places), index))
    lines = [_line(family, decided.get(k), recipe)
             for k, family in enumerate(found.families, start=1)]
    return HatchingReport(sorted(lines, key=lambda line: -line.strokes),
                          sum(entry.by_hand for entry in recipe.hatching))


def _line(family: Family, index: int | None, recipe: Recipe) -> HatchingLine:
    where = place_in_words(*family.place, recipe)
    return HatchingLine(family.place, family.outline, f"{_NAMES[family.kind]}, {where}",
                        family.strokes, index is None, family.chance, index,
                        _shade(family, recipe))


def _shade(family: Family, recipe: Recipe) -> Several | None:
    room = MAX_TOUCH_UPS - len(recipe.touch_ups)
    there = {t.points for t in recipe.touch_ups if t.name == SHADE and t.act == "put in"}
    wanted = [points for points in map(_thinned, family.outline) if points not in there]
    if not recipe.parts or not wanted or len(wanted) > room:
        return None
    return Several(edits=tuple(
        TouchUpPass(name=SHADE, act="put in", points=points) for points in wanted))


def _thinned(points: list[Point]) -> tuple[Point, ...]:
    every = -(-len(points) // _MOST_POINTS)
    return tuple(points[::every]) if len(points) // every > 2 else tuple(points)
