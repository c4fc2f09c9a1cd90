"""A piece in the colours of a palette."""

from collections.abc import Sequence
from math import ceil

import numpy as np
from scipy.optimize import linear_sum_assignment

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import ChangePart, EditRefusedError, Several


def dressed_in(recipe: Recipe, colours: Sequence[tuple[str, str]]) -> Several:
    """The edit by which each part takes a colour of a palette.

    A part takes the colour of its own name; the others share out what the palette has so that
    the differences from what they had (CIEDE2000) are least together, each colour as often as
    any other, give or take one. Scenery stays as it is.

    Parameters
    ----------
    recipe : Recipe
    colours : sequence of (str, str)
        Names, and colours ``#rrggbb``.

    Raises
    ------
    EditRefusedError
        If there are no parts to dress.

    References
    ----------
    H. W. Kuhn, "The Hungarian method for the assignment problem", Naval Research Logistics
    Quarterly 2, 1955; worked out by SciPy.
    """
    parts = [p for p in recipe.parts if p.scenery is None]
    if not parts:
        raise EditRefusedError("There are no parts to dress yet: cut the drawing into parts first.")
    by_name = {name.casefold(): colour for name, colour in colours}
    worn = {p.id: by_name[p.name.casefold()] for p in parts if p.name.casefold() in by_name}
    left = [p for p in parts if p.id not in worn]
    if left:
        have, offered = (srgb_to_lab(np.array([from_hex(c) for c in found]) / 255)
                         for found in ([p.base for p in left], [c for _, c in colours]))
        steps = delta_e_2000(have[:, None], offered[None])
        times = ceil(len(left) / len(colours))
        rows, columns = linear_sum_assignment(np.tile(steps, times))
        worn |= {left[r].id: colours[c % len(colours)][1]
                 for r, c in zip(rows.tolist(), columns.tolist(), strict=True)}
    return Several(edits=tuple(ChangePart(part=p.id, base=worn[p.id]) for p in parts))
