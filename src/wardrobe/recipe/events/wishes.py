"""What a remark wishes for, as the edit that does it."""

import numpy as np

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import EditRefusedError, TouchUpPass
from wardrobe.recipe.events.review import Remark, Wish
from wardrobe.recipe.stages import Deriver

_PASSES: dict[Wish, str] = {"shade here": "shade", "light here": "light"}
_CLOSED = 0.3  # of its length: a stroke whose ends are nearer to each other goes round a place
_PEN = 0.012  # of the longer edge


def edit_of(deriver: Deriver, recipe: Recipe, remark: Remark) -> TouchUpPass:
    """The touch-up that was drawn: what the stroke goes round, or the stroke itself, of the part
    that most of it lies on.

    Raises
    ------
    EditRefusedError
        If the remark does not say what is to be done, or lies on no part.
    """
    name = _PASSES.get(remark.wish)
    if name is None or len(remark.points) < 2:
        raise EditRefusedError("This remark does not draw where shade or light is to be; it is "
                               "settled by hand.")
    points = np.array(remark.points)
    steps = np.hypot(*np.diff(points, axis=0).T)
    closed = len(points) > 3 and float(np.hypot(*(points[-1] - points[0]))) < _CLOSED * steps.sum()
    labels = deriver.areas(recipe).labels
    at = np.vstack([points, points.mean(axis=0)]) if closed else points
    x, y = np.clip(at.astype(int), 0, np.array(labels.shape[::-1]) - 1).T
    rows = np.bincount(deriver.assignment(recipe).part_of_area[labels[y, x]],
                       minlength=len(recipe.parts) + 1)
    if not rows[1:].any():
        raise EditRefusedError("This remark lies on no part.")
    part = recipe.parts[int(np.argmax(rows[1:]))].id
    wide = round(_PEN * max(recipe.size), 1)
    return TouchUpPass(name=name, act="put in", part=part, points=remark.points,
                       widths=() if closed else (wide,) * len(remark.points))
