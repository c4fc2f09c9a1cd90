"""Ground that no scenery has yet, shared out among the pieces of scenery."""

import numpy as np
from scipy import ndimage

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ClaimAreas, EditRefusedError, Several
from wardrobe.recipe.stages import Deriver

_UPRIGHT = 8.0  # how much farther up and down counts than to the sides: scenery lies in layers
_EDGE = 900  # px of the longer edge at which distances are measured


def share_ground(deriver: Deriver, recipe: Recipe) -> Several:
    """Give each area of ground that has no scenery to that which is nearest to most of it: what
    shows between an arm and a body belongs to what lies behind both, at the same height.

    Raises
    ------
    EditRefusedError
        If there is no scenery, or no ground is left.
    """
    if not any(p.scenery for p in recipe.parts):
        raise EditRefusedError("There is no scenery yet: add a part, and choose its plane.")
    areas, assignment = deriver.areas(recipe), deriver.assignment(recipe)
    bare = np.flatnonzero(assignment.ground & (assignment.scenery == 0))
    bare = bare[bare > 0]
    held = assignment.scenery > 0
    if not len(bare):
        raise EditRefusedError("All of the ground has its scenery.")
    if not held.any():
        raise EditRefusedError("Give the large areas of ground to your scenery first; the rest "
                               "follows.")
    view = View.whole(*recipe.size, _EDGE)
    labels = deriver.sampled(recipe, view).labels
    at = ndimage.distance_transform_edt(~held[labels], sampling=(_UPRIGHT, 1),
                                        return_distances=False, return_indices=True)
    nearest = assignment.scenery[labels][tuple(at)]
    claims: dict[int, list[tuple[tuple[float, float], ...]]] = {}
    for area in bare.tolist():
        x, y = areas.seeds[area].tolist()
        mine = nearest[labels == area]
        row = int(np.bincount(mine).argmax()) if len(mine) else int(nearest[
            min(int(y * view.scale), nearest.shape[0] - 1),
            min(int(x * view.scale), nearest.shape[1] - 1)])
        claims.setdefault(row, []).append(((x + 0.5, y + 0.5),))
    return Several(edits=tuple(ClaimAreas(to=recipe.parts[row - 1].id, strokes=tuple(strokes))
                               for row, strokes in claims.items()))
