"""Gestures on the cut: what a stroke or a click means depends on the areas that it meets."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.areas.recut import area_at, beyond_the_neck
from wardrobe.core.areas.segment import Areas
from wardrobe.recipe.document.model import JoinAreas, Recipe, ShareArea, SplitArea
from wardrobe.recipe.document.types import Point
from wardrobe.recipe.edits import (
    AddRecut,
    ChangeShares,
    ClaimAreas,
    Edit,
    EditRefusedError,
    Several,
    SingleEdit,
    apply,
    refusing,
)
from wardrobe.recipe.stages import Deriver

Gesture = Literal["split", "join", "move border", "share out"]
_MOST_STEPS = 1_000_000  # places that are looked at along a stroke
_LOOK_BACK = 12  # shared areas that a new click may belong to


def meaning(deriver: Deriver, recipe: Recipe, gesture: Gesture, stroke: Sequence[Point],
            part: str | None = None) -> Edit:
    """The edit that a gesture comes to.

    Parameters
    ----------
    gesture : str
        ``split`` parts the areas under the stroke, or only the ground if ``part`` is scenery,
        so that a horizon can be drawn across the figure; ``join`` makes one of all areas under it;
        ``move border`` lets the border between two areas run along it; ``share out`` gives the
        place of a click, and what is nearer to it than to those of other parts, to ``part``.

    Raises
    ------
    EditRefusedError
        If the gesture comes to nothing; says what was expected.
    """
    with refusing():
        if gesture == "share out":
            if part is None:
                raise EditRefusedError("Select or make a part first.")
            return _share(deriver, recipe, stroke[0], part)
        if gesture == "join":
            return _join(deriver, recipe, stroke)
        scenery = any(p.id == part and p.scenery for p in recipe.parts)
        return _split(deriver, recipe, stroke, gesture, scenery and gesture == "split")


def _split(deriver: Deriver, recipe: Recipe, stroke: Sequence[Point], gesture: Gesture,
           behind: bool) -> Edit:
    if len(stroke) < 2:
        raise EditRefusedError("A stroke is needed: draw from one line to another.")
    split = AddRecut(recut=SplitArea(stroke=tuple(stroke), behind=behind))
    before, after = deriver.areas(recipe), deriver.areas(apply(recipe, split))
    if after is before:
        raise EditRefusedError(
            "The stroke parts no ground: draw it right across, from edge to edge." if behind else
            "The stroke parts no area: draw it right across, from line to line.")
    edits: list[SingleEdit] = [split]
    if gesture == "move border":
        edits += _hand_over(deriver, recipe, before, after)
    else:
        edits += _keep_owners(deriver, recipe, before, after)
    return Several(edits=tuple(edits))


def _seed(areas: Areas, area: int) -> Point:
    x, y = areas.seeds[area]
    return float(x) + 0.5, float(y) + 0.5


def _keep_owners(deriver: Deriver, recipe: Recipe, before: Areas,
                 after: Areas) -> list[ClaimAreas]:
    """All pieces of an area stay with the part that it had."""
    claims = []
    for piece in range(before.count + 1, after.count + 1):
        place = _seed(after, piece)
        claims += _claim(deriver, recipe, before, place)
        claims += _claim(deriver, recipe, before, _seed(after, area_at(before, place)))
    return claims


def _claim(deriver: Deriver, recipe: Recipe, before: Areas, place: Point) -> list[ClaimAreas]:
    """Say again whose a place is; nothing where it is nobody's."""
    owner = deriver.assignment(recipe).painted[area_at(before, place)]
    return [ClaimAreas(to=recipe.parts[owner - 1].id, strokes=((place,),))] if owner else []


def _hand_over(deriver: Deriver, recipe: Recipe, before: Areas,
               after: Areas) -> list[SingleEdit]:
    """The piece between the old border and the stroke joins the area beyond the old border."""
    pieces = [*range(before.count + 1, after.count + 1)]
    origin = {area_at(before, _seed(after, p)) for p in pieces}
    pieces += sorted(origin)
    piece = min(pieces, key=lambda k: int(after.pixels[k]))
    parent = area_at(before, _seed(after, piece))
    mine = (after.labels == piece) & after.core
    rows, columns = np.flatnonzero(mine.any(axis=1)), np.flatnonzero(mine.any(axis=0))
    box = np.s_[max(0, rows[0] - 2):rows[-1] + 3, max(0, columns[0] - 2):columns[-1] + 3]
    near, core = after.labels[box], after.core[box]
    inside = (near == piece) & core
    ring = np.zeros(inside.shape, bool)
    for shift, axis in ((1, 0), (-1, 0), (1, 1), (-1, 1)):
        ring |= np.roll(inside, shift, axis) & core & ~inside
    beyond = near[ring]
    beyond = beyond[before.labels[box][ring] != parent]
    if len(beyond) == 0:
        raise EditRefusedError("No open border runs along this stroke: draw it where the border "
                               "should be, from line to line, in one of the two areas.")
    other = int(np.bincount(beyond).argmax())
    places = (_seed(after, piece), _seed(after, other))
    edits: list[SingleEdit] = [AddRecut(recut=JoinAreas(places=places))]
    rest = [p for p in pieces if p != piece and area_at(before, _seed(after, p)) == parent]
    for place in (places[1], *(_seed(after, p) for p in rest)):
        edits += _claim(deriver, recipe, before, place)
    return edits


def _join(deriver: Deriver, recipe: Recipe, stroke: Sequence[Point]) -> Edit:
    areas = deriver.areas(recipe)
    met = _met(areas, np.array(stroke, np.float64))
    if len(met) < 2:
        raise EditRefusedError("Draw from one area into another to join them.")
    first, *others = met
    joins = [AddRecut(recut=JoinAreas(places=(_seed(areas, first), _seed(areas, other))))
             for other in others]
    return Several(edits=(*joins, *_claim(deriver, recipe, areas, _seed(areas, first))))


def _met(areas: Areas, points: NDArray[np.float64]) -> list[int]:
    """The areas under a stroke, in its order."""
    height, width = areas.labels.shape
    points = np.clip(points, -1, (width, height))
    lengths = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(lengths)])
    at = np.linspace(0, along[-1], min(int(along[-1]) + 2, _MOST_STEPS))
    x, y = (np.floor(np.interp(at, along, points[:, k])).astype(int) for k in (0, 1))
    here = (x >= 0) & (y >= 0) & (x < width) & (y < height)
    x, y = x[here], y[here]
    labels = areas.labels[y, x][areas.core[y, x]]
    found, first = np.unique(labels, return_index=True)
    return [int(k) for k in found[np.argsort(first)]]


def _share(deriver: Deriver, recipe: Recipe, place: Point, part: str) -> Edit:
    areas = deriver.areas(recipe)
    claim = ClaimAreas(to=part, strokes=((place,),))
    area = area_at(areas, place)
    # A click into an area that is shared out already takes part in that sharing.
    shares = [k for k, r in enumerate(recipe.recuts) if r.kind == "share"]
    for index in reversed(shares[-_LOOK_BACK:]):
        step = recipe.recuts[index]
        if step.kind != "share" or not any(area_at(areas, p) == area for p in step.places):
            continue
        return Several(edits=(ChangeShares(index=index, places=(*step.places, place)), claim))
    owner = deriver.assignment(recipe).part_of_area[area]
    if owner == 0 or recipe.parts[owner - 1].id == part:
        return claim  # the first click: all of it, until others come
    theirs = beyond_the_neck(areas, place)
    return Several(edits=(AddRecut(recut=ShareArea(places=(theirs, place))),
                          ClaimAreas(to=recipe.parts[owner - 1].id, strokes=((theirs,),)), claim))

