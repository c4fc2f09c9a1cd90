"""Parts carried over from coloured pictures of a series to another picture."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.carry.carried import SURE, Carried, Drawing
from wardrobe.core.carry.leaks import leaks, surer
from wardrobe.recipe.document.model import (
    MAX_PARTS,
    MAX_RECUTS,
    Claim,
    Part,
    Recipe,
    ShareArea,
    lineage,
)
from wardrobe.recipe.edits import (
    AddRecut,
    EditRefusedError,
    NameBoundary,
    ReplaceParts,
    SetInk,
    Several,
    SingleEdit,
    TouchUpPass,
    apply,
)
from wardrobe.recipe.stages import Deriver
from wardrobe.recipe.stages.carry import CarriedParts, CutDrawing

MOST_SOURCES = 3
_MOST_SHARES = 200
_DOUBTS = 400  # that are listed, the largest first
_OFF = 0.03  # of the figure's size by which a stroke's places may miss
_LEAST = 0.55  # chance from which a part is given at all
_GROUND = 0.8  # chance from which what was taken for ground is figure, or the other way round
_SIZES = (0.6, 1.7)  # of a part against what it was, between which what was drawn on it fits

Int = NDArray[np.int64]


@dataclass(frozen=True)
class Doubt:
    """An area whose part is not sure.

    Attributes
    ----------
    place : (x, y)
        Its innermost point.
    part, second : str or None
        Ids of the part that it was given and of the likeliest other one; None is ground, or
        something that is in none of the coloured pictures.
    chance : float, 0..1
    pixels : int
    """

    place: tuple[float, float]
    part: str | None
    second: str | None
    chance: float
    pixels: int


@dataclass(frozen=True)
class CarriedOver:
    """What carrying over comes to.

    Attributes
    ----------
    edit : Several
    areas : int
        Of the figure.
    sure : float, 0..1
        Share of the figure's pixels whose part is sure.
    doubts : tuple of Doubt
        Least sure first.
    strokes, left : int
        Touch-ups that travelled with their parts, and those whose part is too different.
    agreement : float
        Best agreement of the figures as wholes with a coloured picture.
    """

    edit: Several
    areas: int
    sure: float
    doubts: tuple[Doubt, ...]
    strokes: int
    left: int
    agreement: float


def path_of(parts: Sequence[Part], part_id: str) -> tuple[str, ...]:
    """By what a part is known in all pictures of a series: its name, within those of what it
    belongs to."""
    names = {p.id: p.name.casefold() for p in parts}
    return tuple(names[i] for i in reversed(lineage(parts, part_id)))


def carried_stage(deriver: Deriver, one: Recipe, other: Recipe) -> CarriedParts:
    """The stage that matches two pieces."""
    a, b = deriver.stages(one), deriver.stages(other)
    return CarriedParts(CutDrawing(a.areas, a.assigned, a.coverage),
                        CutDrawing(b.areas, b.assigned, b.coverage))


def carry_over(deriver: Deriver, coloured: Sequence[Recipe], recipe: Recipe) -> CarriedOver:
    """Give the areas of a picture the parts that they have in coloured ones.

    Parts come with their colours, materials, patterns and forms, lines with their colours, hues
    of lines with what they are for; touch-ups travel with their parts where these have about the
    same size and every place of the stroke is found again.

    Parameters
    ----------
    deriver : Deriver
    coloured : sequence of Recipe
        The nearest first; so many as MOST_SOURCES count.
    recipe : Recipe
        What parts it has is replaced; how it is cut stays.

    Raises
    ------
    EditRefusedError
        If there is no coloured picture with parts, or they have too many together.
    """
    sources = [r for r in coloured if r.parts][:MOST_SOURCES]
    if not sources:
        raise EditRefusedError("There is no coloured picture to carry over from. Colour one, and "
                               "keep its parts.")
    found = [deriver.store(carried_stage(deriver, sources[0], recipe))]
    recuts = _shared_out(deriver, sources[0], recipe, found[0])
    if recuts:
        recipe = reduce(apply, recuts, recipe)
    found = [deriver.store(carried_stage(deriver, one, recipe)) for one in sources]
    # What lies around this picture's figures, as its balloons, is its own.
    own = [p for p in recipe.parts if p.scenery]
    parts, rows = _joined(sources, own)
    part, second, chance = _agreed(found, rows)
    areas, ground = deriver.areas(recipe), deriver.assignment(recipe).ground
    edits: list[SingleEdit] = [_replaced(recipe, parts, own, part, chance, areas.seeds, ground)]
    first = sources[0]
    ink = first.ink.without({p.id for p in parts})  # scenery may not have come along
    if ink != recipe.ink:
        edits.append(SetInk(ink=ink))
    edits += [NameBoundary(boundary=b) for b in first.boundaries
              if b not in recipe.boundaries]
    strokes, left = _travelled(deriver, first, recipe, found[0], part == 0) \
        if not recipe.touch_ups else ([], 0)
    figure = (part > 0) | ~ground
    figure[0] = False
    pixels = areas.pixels
    ids = [None, *(p.id for p in parts)]
    doubtful = np.flatnonzero(figure & (chance < SURE))
    doubtful = doubtful[np.argsort(-pixels[doubtful], kind="stable")][:_DOUBTS]
    doubts = tuple(Doubt((float(areas.seeds[a, 0]) + 0.5, float(areas.seeds[a, 1]) + 0.5),
                         ids[part[a]], ids[second[a]], round(float(chance[a]), 3),
                         int(pixels[a]))
                   for a in doubtful[np.argsort(chance[doubtful], kind="stable")].tolist())
    sure = float(pixels[figure & (chance >= SURE)].sum() / max(1, pixels[figure].sum()))
    return CarriedOver(Several(edits=(*recuts, *edits, *strokes)), int(figure.sum()), sure, doubts,
                       len(strokes), left, max(f.agreement for f in found))


def _shared_out(deriver: Deriver, source: Recipe, recipe: Recipe,
                found: Carried) -> list[SingleEdit]:
    """What parts areas that ran together of several parts, if more is known then."""
    cut = Drawing(deriver.areas(recipe), deriver.assignment(recipe).ground,
                  deriver.coverage(recipe))
    room = MAX_RECUTS - len(recipe.recuts)
    edits: list[SingleEdit] = [AddRecut(recut=ShareArea(places=tuple(points[:_MOST_SHARES])))
                               for points in leaks(found, cut)[:room]]
    if not edits:
        return []
    mended = reduce(apply, edits, recipe)
    again = deriver.store(carried_stage(deriver, source, mended))
    after = Drawing(deriver.areas(mended), deriver.assignment(mended).ground,
                    deriver.coverage(mended))
    return edits if surer(found, cut, again, after) else []


def _joined(sources: Sequence[Recipe], own: Sequence[Part]) -> tuple[tuple[Part, ...], list[Int]]:
    """The parts of all sources, each once, as the first has them, with room for the picture's
    own; and for each source the row among these of each of its own rows."""
    parts = [p for p in sources[0].parts if not p.scenery]
    row_of = {path_of(parts, p.id): row for row, p in enumerate(parts, 1)}
    of = [sources[0]] * len(parts)  # where each is from
    number = max((int(p.id[1:]) for r in sources for p in r.parts), default=0)
    rows = []
    for recipe in sources:
        mine = [0]
        for part in recipe.parts:
            if part.scenery:
                mine.append(0)
                continue
            path = path_of(recipe.parts, part.id)
            if path not in row_of:
                number += 1
                parent = row_of.get(path[:-1])
                parts.append(part.model_copy(update={
                    "id": f"p{number}", "parent": parts[parent - 1].id if parent else None}))
                row_of[path] = len(parts)
                of.append(recipe)
            mine.append(row_of[path])
        rows.append(np.array(mine))
    if len(parts) + len(own) > MAX_PARTS:
        raise EditRefusedError(f"The coloured pictures have {len(parts)} parts together; a piece "
                               f"has at most {MAX_PARTS}.")
    # Edges were drawn on a picture and belong to it; what shows through a part has come along.
    behind = [row_of.get(path_of(r.parts, p.behind)) if p.behind else None
              for p, r in zip(parts, of, strict=True)]
    return tuple(p.model_copy(update={
        "form": p.form.model_copy(update={"edges": ()}),
        "behind": parts[row - 1].id if row else None})
        for p, row in zip(parts, behind, strict=True)), rows


def _agreed(found: Sequence[Carried], rows: Sequence[Int]) -> tuple[
        Int, Int, NDArray[np.float64]]:
    """What the sources say together: the surest counts, less sure where others disagree."""
    part, second = rows[0][found[0].part], rows[0][found[0].second]
    chance = found[0].chance.copy()
    for one, row in zip(found[1:], rows[1:], strict=True):
        its = row[one.part]
        better = one.chance > chance
        other = np.where(better, part, its)
        differs = its != part
        weaker = np.minimum(one.chance, chance)
        chance = np.where(differs, np.maximum(one.chance, chance) * (1 - 0.5 * weaker),
                          np.maximum(one.chance, chance))
        part = np.where(better, its, part)
        second = np.where(differs, other, second)
    return part, second, chance


def _replaced(recipe: Recipe, parts: tuple[Part, ...], own: Sequence[Part], part: Int,
              chance: NDArray[np.float64], seeds: NDArray[np.int32],
              ground: NDArray[np.bool_]) -> ReplaceParts:
    """The parts and their areas, each named by a click; what is the picture's own stays."""
    given = np.where(chance >= _LEAST, part, 0)
    given[ground & (chance < _GROUND)] = 0
    claims = [c for c in recipe.claims if c.to in ("ground", "figure")]
    figure = np.flatnonzero((given > 0) & ground)
    if len(figure):
        claims.append(Claim(to="figure", strokes=_clicks(seeds[figure])))
    claims += [Claim(to=p.id, strokes=_clicks(seeds[mine])) for row, p in enumerate(parts, 1)
               if len(mine := np.flatnonzero(given == row))]
    first = 1 + max((int(p.id[1:]) for p in parts), default=0)
    again = {p.id: f"p{first + k}" for k, p in enumerate(own)}
    kept = tuple(p.model_copy(update={"id": again[p.id], "parent": None,
                                      "behind": again.get(p.behind or "")}) for p in own)
    claims += [c.model_copy(update={"to": again[c.to]}) for c in recipe.claims if c.to in again]
    return ReplaceParts(parts=(*parts, *kept), claims=tuple(claims), proposed=True)


def _clicks(seeds: NDArray[np.int32]) -> tuple[tuple[tuple[float, float], ...], ...]:
    return tuple(((float(x) + 0.5, float(y) + 0.5),) for x, y in seeds)


def _travelled(deriver: Deriver, source: Recipe, recipe: Recipe, found: Carried,
               none: NDArray[np.bool_]) -> tuple[list[SingleEdit], int]:
    """Touch-ups where they come to lie, and how many have no place."""
    if not source.touch_ups:
        return [], 0
    before = np.bincount(deriver.assignment(source).part_of_area,
                         deriver.areas(source).pixels, len(source.parts) + 1)
    areas = deriver.areas(recipe)
    after = np.bincount(found.part, areas.pixels, len(source.parts) + 1)
    scale = _scale(found)
    fits = (after > _SIZES[0] * before * scale**2) & (after < _SIZES[1] * before * scale**2)
    row_of = {p.id: row for row, p in enumerate(source.parts, 1) if not p.scenery}
    edits: list[SingleEdit] = []
    for touch in source.touch_ups:
        points, off = found.travel(np.array(touch.points, np.float64))
        x, y = np.clip(points.astype(int), 0, np.array(recipe.size) - 1).T
        lands = ~none[areas.labels[y, x]]
        fit = touch.part is None or (touch.part in row_of and fits[row_of[touch.part]])
        if not fit or np.quantile(off, 0.9) > _OFF or lands.mean() < 0.5:
            continue
        edits.append(TouchUpPass(
            name=touch.name, act=touch.act, part=touch.part,
            points=tuple((round(float(u), 2), round(float(v), 2)) for u, v in points),
            widths=tuple(min(2000.0, max(0.2, round(w * scale, 2))) for w in touch.widths)))
    return edits, len(source.touch_ups) - len(edits)


def _scale(found: Carried) -> float:
    """Size in the second picture of what has size 1 in the first."""
    one, other = (abs(float(np.linalg.det(m[:, :2])))**0.5
                  for m in (found.one_to_square, found.other_to_square))
    (xy, xx), (yy, yx) = (np.gradient(found.field[..., k]) for k in (0, 1))
    back = float(np.median(np.abs(xx * yy - xy * yx)))**0.5
    return one / max(other * back, 1e-6)
