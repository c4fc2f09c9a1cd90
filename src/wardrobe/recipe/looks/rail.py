"""The rail: all looks of a piece, drawn together."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex
from wardrobe.core.composite.labelmap import compose
from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.model import Recipe
from wardrobe.recipe.table import program_of
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]


def rail_pictures(deriver: Deriver, worn: Sequence[Recipe], edge: int) -> list[Byte]:
    """A picture of every look.

    Parameters
    ----------
    deriver : Deriver
    worn : sequence of Recipe
        The piece in its looks. What has the same shapes is drawn from one set of masks: then
        only the colour table differs.
    edge : int
        Pixels of the longer edge.

    Returns
    -------
    list of ndarray of uint8, shape (h, w, 3)
    """
    masks, found = {}, []
    for recipe in worn:
        view = View.whole(*recipe.size, edge)
        if deriver.halo(recipe) is not None:  # it depends on which parts are dark
            found.append(deriver.picture(recipe, view))
            continue
        key = _shapes_key(recipe)
        if key not in masks:
            masks[key] = deriver.masks(recipe, view)
        found.append(compose(masks[key], program_of(recipe), from_hex(recipe.lines.colour),
                             deriver.prints(recipe, view)))
    return found


def _shapes_key(recipe: Recipe) -> tuple[object, ...]:
    """What the masks of a recipe depend on, among looks of one piece."""
    return (recipe.light.model_dump_json(), program_of(recipe).shapes,
            tuple((p.material, p.visible) for p in recipe.parts))


def side_by_side(pictures: Sequence[Byte]) -> Byte:
    """Pictures of one size in a column, to be sent as one: shape (n * h, w, 3)."""
    return np.concatenate(pictures, axis=0)
