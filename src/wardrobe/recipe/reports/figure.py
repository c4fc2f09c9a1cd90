"""The figure of a drawing against its ground, as a proposal."""

from dataclasses import dataclass
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.segment import Areas
from wardrobe.core.errors import NoClosedAreaError
from wardrobe.core.ground.confidence import SURE
from wardrobe.core.ground.figure import Figure
from wardrobe.core.lines.closing import Point
from wardrobe.recipe.document.model import MAX_CLOSINGS, Closing, Recipe
from wardrobe.recipe.edits import ClaimAreas, CloseGaps, Several, SingleEdit, apply
from wardrobe.recipe.reports.gaps import place_in_words
from wardrobe.recipe.reports.palettes import suggest_parts
from wardrobe.recipe.stages import Deriver

_NOTICED = 0.004  # share of the figure from which it is worth a word that it was open


@dataclass(frozen=True)
class FigureOffer:
    """What would make the figure whole.

    Attributes
    ----------
    edit : Several or None
        Closings, claims, and parts where they are suggested still; None if the figure is told
        from the ground as it would be by itself.
    closings : list of list of (x, y)
        The lines that would close it.
    sure : float, 0..1
        How likely it is right.
    added : float, 0..1
        Share of the figure that the ground has now.
    words : str
    left : str
        What stays ground though ink rings it on three sides, or nothing.
    """

    edit: Several | None
    closings: list[list[Point]]
    sure: float
    added: float
    words: str
    left: str


def certain_figure(deriver: Deriver, recipe: Recipe) -> Several | None:
    """What makes the figure of a new drawing whole, if that may be done without asking."""
    figure = deriver.figure_and_ground(recipe)
    if figure.sure < SURE:
        return None
    edits = _edits(deriver, recipe, figure)
    return Several(edits=tuple(edits)) if edits else None


def offer_figure(deriver: Deriver, recipe: Recipe) -> FigureOffer:
    """What would make the figure of a recipe whole, by the likeliest set of closings."""
    figure = deriver.figure_and_ground(recipe)
    left = _left_in_words(figure, recipe)
    if recipe.open_figure:
        return FigureOffer(None, [], figure.sure, 0.0, "The figure is left open.", left)
    edits = _edits(deriver, recipe, figure)
    added = _added(deriver, recipe, figure.mask) if edits else 0.0
    if not edits or (added < _NOTICED and not _cut_in_two(edits)):
        return FigureOffer(None, [], figure.sure, 0.0, "The figure stands off its ground.", left)
    if recipe.proposed:
        whole = reduce(apply, edits, recipe)
        bare = whole.model_copy(update={"parts": (), "claims": tuple(
            c for c in whole.claims if c.to in ("ground", "figure"))})
        edits.append(suggest_parts(deriver.areas(bare), bare, deriver.assignment(bare).ground,
                                   deriver.coverage(bare)))
    return FigureOffer(Several(edits=tuple(edits)), figure.closings, figure.sure, added,
                       _in_words(len(figure.closings), added), left)


def _edits(deriver: Deriver, recipe: Recipe, figure: Figure) -> list[SingleEdit]:
    """Closings, and claims of what they alone do not tell; none if nothing is closed then."""
    edits: list[SingleEdit] = []
    if figure.closings and len(figure.closings) <= MAX_CLOSINGS - len(recipe.closings):
        edits.append(CloseGaps(closings=tuple(
            Closing(points=tuple(points)) for points in figure.closings)))
    try:
        return edits + _claims(deriver, reduce(apply, edits, recipe), figure,
                               _holes(deriver.areas(recipe)))
    except NoClosedAreaError:
        return []


def _cut_in_two(edits: list[SingleEdit]) -> bool:
    """Whether part of the ground would be taken for figure otherwise."""
    return any(isinstance(e, ClaimAreas) and e.to == "ground" for e in edits)


def _added(deriver: Deriver, recipe: Recipe, mask: NDArray[np.bool_]) -> float:
    """Share of the figure that is ground as the recipe is."""
    try:
        areas, ground = deriver.areas(recipe), deriver.assignment(recipe).ground
    except NoClosedAreaError:
        return 1.0
    inside = mask & areas.core & ~_holes(areas)
    return float((inside & ground[areas.labels]).sum()) / max(1, int(inside.sum()))


def _in_words(closings: int, added: float) -> str:
    if not closings:
        return "Part of the ground was taken for the figure."
    by = "1 closing" if closings == 1 else f"{closings} closings"
    if added < _NOTICED:
        return f"{by} would tell the figure from its ground."
    share = max(1, round(100 * added))
    return f"{by} would make the figure whole: {share} % of it runs out into the ground."


def _left_in_words(figure: Figure, recipe: Recipe) -> str:
    places = list(dict.fromkeys(place_in_words(x, y, recipe) for x, y, _ in figure.bays[:3]))
    if not places:
        return ""
    return f"Left to the ground, though lines ring it on three sides: {', '.join(places)}."


def _holes(areas: Areas) -> NDArray[np.bool_]:
    """Pixels of ground that ink alone closes off: the ground seen through the figure."""
    labels = areas.labels
    outside = np.unique(np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]]))
    holes = areas.ground.copy()
    holes[outside] = False
    seen: NDArray[np.bool_] = holes[labels]
    return seen


def _claims(deriver: Deriver, recipe: Recipe, figure: Figure,
            holes: NDArray[np.bool_]) -> list[SingleEdit]:
    """What is figure though the cut takes it for ground, and the other way round; what a person
    claimed stays, and so do holes, of which an outline says nothing."""
    areas, ground = deriver.areas(recipe), deriver.assignment(recipe).ground
    inside = _shares(areas, figure.mask) > 0.5
    untouched = (ground == areas.ground) & (deriver.assignment(recipe).part_of_area == 0) \
        & (_shares(areas, holes) < 0.5)
    found: list[SingleEdit] = []
    for to, wrong in (("figure", ground & inside), ("ground", ~ground & ~inside)):
        which = np.flatnonzero(wrong & untouched)
        which = which[which > 0]
        if len(which):
            seeds = tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in areas.seeds[which])
            found.append(ClaimAreas(to="figure" if to == "figure" else "ground", strokes=seeds))
    return found


def _shares(areas: Areas, mask: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Share of each area's free pixels that a mask covers."""
    core = np.where(areas.core, areas.labels, 0).ravel()
    all_ = np.bincount(core, minlength=areas.count + 1)
    within = np.bincount(core, mask.ravel(), areas.count + 1)
    return within / np.maximum(all_, 1)
