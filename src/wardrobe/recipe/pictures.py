"""The kinds of picture that the screens show."""

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex, oklch_to_srgb
from wardrobe.core.composite.labelmap import lay_flat
from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.model import Recipe
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]

_GROUND = (22, 22, 25)
_UNCLAIMED = (58, 20, 44)
_TINT_LINES = (236, 236, 240)
_GOLDEN_ANGLE = 137.508


def draw(deriver: Deriver, recipe: Recipe, kind: str, view: View, draft: bool = False) -> Byte:
    """Draw one kind of picture.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    kind : str
        ``picture`` finished; ``before`` the drawing as it came in, on white; ``lines`` the
        prepared lines on white; ``parts`` areas in loud tints over a dark ground.
    view : View
    draft : bool
        Draw the shapes of a finished picture at half their resolution, and lines from the
        drawing as small as it is shown.

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
    """
    if kind == "before":
        return _before(deriver, recipe, view)
    if kind == "lines":
        ink = deriver.line_draft(recipe, view) if draft else deriver.lines_only(recipe, view)
        return lay_flat(np.full((*ink.shape, 3), 255, np.uint8), ink, from_hex(recipe.lines.colour))
    if kind == "parts":
        return _tints(deriver, recipe, view)
    return deriver.picture(recipe, view, draft)


def _before(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    rgba = deriver.source(recipe)[view.y:view.y + view.height, view.x:view.x + view.width]
    if view.scale < 1:
        height, width = view.shape
        rgba = cv2.resize(rgba, (width, height), interpolation=cv2.INTER_AREA)
    alpha = rgba[..., 3:].astype(np.float32) / np.float32(255)
    return (rgba[..., :3] * alpha + 255 * (1 - alpha) + 0.5).astype(np.uint8)


def _tints(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    sampled, assignment = deriver.sampled(recipe, view), deriver.assignment(recipe)
    tints = np.full((len(recipe.parts) + 1, 3), _UNCLAIMED, np.float64)
    for row in range(1, len(tints)):
        tints[row] = 255 * oklch_to_srgb([0.74 - 0.12 * (row % 2), 0.17,
                                          20 + row * _GOLDEN_ANGLE])
    table = tints[assignment.part_of_area]
    # Areas of one part differ a little, so that their borders can be seen.
    shades = 1 - 0.16 * (np.arange(len(table)) * 0.618 % 1)
    colours = (table * shades[:, None]).astype(np.uint8)
    colours[assignment.ground] = _GROUND
    return lay_flat(colours[sampled.labels], sampled.ink, _TINT_LINES)
