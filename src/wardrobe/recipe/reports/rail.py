"""The rail: all looks of a piece, drawn together."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]


def rail_pictures(deriver: Deriver, worn: Sequence[Recipe], edge: int) -> list[Byte]:
    """A picture of every look.

    Parameters
    ----------
    deriver : Deriver
    worn : sequence of Recipe
        The piece in its looks; those with the same shapes go on from the same masks.
    edge : int
        Pixels of the longer edge.

    Returns
    -------
    list of ndarray of uint8, shape (h, w, 3)
    """
    return [deriver.picture(recipe, View.whole(*recipe.size, edge)) for recipe in worn]


def side_by_side(pictures: Sequence[Byte]) -> Byte:
    """Pictures of one size in a column, to be sent as one: shape (n * h, w, 3)."""
    return np.concatenate(pictures, axis=0)
