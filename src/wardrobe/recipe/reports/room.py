"""Room around a drawing, and what of its figure ends at the old edge."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.document.model import MAX_CLOSINGS, Closing, Recipe
from wardrobe.recipe.edits import CloseGaps, SetFrame, Several, SingleEdit
from wardrobe.recipe.stages import Deriver

_BEYOND = 0.5  # px beyond the edge that a figure is closed at: all that it had stays its own
_LEAST = 3  # px of an area along the edge


def give_room(deriver: Deriver, recipe: Recipe, left: int, top: int, right: int,
              bottom: int) -> Several:
    """The edit that gives a picture more room, or less where a number is negative, px.

    Areas of the figure that the edge of the picture bounded are closed there, so that they do
    not run out into the room.
    """
    width, height = recipe.size
    x, y = recipe.frame.crop[:2] if recipe.frame.crop else (0, 0)
    frame = recipe.frame.model_copy(update={"crop": (
        x - left, y - top, width + left + right, height + top + bottom)})
    closings = tuple(_open_edges(deriver, recipe, (left > 0, top > 0, right > 0, bottom > 0)))
    edits: list[SingleEdit] = []
    if closings:
        edits.append(CloseGaps(closings=closings[:MAX_CLOSINGS - len(recipe.closings)]))
    return Several(edits=(*edits, SetFrame(frame=frame)))


def _open_edges(deriver: Deriver, recipe: Recipe,
                sides: tuple[bool, bool, bool, bool]) -> Iterator[Closing]:
    """Where the figure meets an edge that room is given beyond."""
    if not recipe.parts or not any(sides):
        return
    labels = deriver.areas(recipe).labels
    figure = (deriver.assignment(recipe).part_of_area > 0)[labels]
    height, width = labels.shape
    lines: list[tuple[bool, NDArray[np.bool_], float, bool]] = [
        (sides[0], figure[:, 0], -_BEYOND, True), (sides[1], figure[0], -_BEYOND, False),
        (sides[2], figure[:, -1], width + _BEYOND, True),
        (sides[3], figure[-1], height + _BEYOND, False)]
    for wanted, along, at, upright in lines:
        if not wanted:
            continue
        change = np.flatnonzero(np.diff(np.concatenate([[0], along.astype(np.int8), [0]])))
        for first, last in change.reshape(-1, 2):
            if last - first >= _LEAST:
                ends = float(first - 2), float(last + 2)
                yield Closing(points=tuple((at, e) if upright else (e, at) for e in ends))
