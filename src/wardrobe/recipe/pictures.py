"""The kinds of picture that the screens show."""

from collections.abc import Callable
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.core.colour import from_hex, oklch_to_srgb
from wardrobe.core.composite.labelmap import Masks, compose, compose_flat, lay_flat, planes
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.model import Recipe
from wardrobe.recipe.table import bare_program
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]

_GROUND = (22, 22, 25)
_UNCLAIMED = (58, 20, 44)
_TINT_LINES = (236, 236, 240)
_QUIET_LINES = (120, 120, 126)
_ALARM = (255, 92, 158)
_DONE = (46, 46, 50)
_GOLDEN_ANGLE = 137.508
_CROSS = np.array([[0, 1, 0], [1, 1, 1], [0, 1, 0]], np.uint8)


def draw(deriver: Deriver, recipe: Recipe, kind: str, view: View, draft: bool = False) -> Byte:
    """Draw one kind of picture.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    kind : str
        ``picture`` finished; ``before`` the drawing as it came in, on white; ``lines`` the
        prepared lines on white; ``parts`` areas in loud tints over a dark ground;
        ``unclaimed`` only what has no part yet; ``bases`` base colours without light;
        ``borders`` each part's border; ``faults`` where the fill is not complete.
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
    if kind in _PART_VIEWS:
        return _PART_VIEWS[kind](deriver, recipe, view)
    return deriver.picture(recipe, view, draft)


def upto(recipe: Recipe, name: str) -> Recipe:
    """The recipe without the passes that are laid on after one: to see them one by one."""
    order = list(PASSES)
    later = order[order.index(name) + 1:]
    off = tuple(dict.fromkeys((*recipe.passes.off, *later)))
    return recipe.model_copy(update={
        "passes": recipe.passes.model_copy(update={"off": off})})


def _before(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    rgba = deriver.source(recipe)[view.y:view.y + view.height, view.x:view.x + view.width]
    if view.scale < 1:
        height, width = view.shape
        rgba = cv2.resize(rgba, (width, height), interpolation=cv2.INTER_AREA)
    alpha = rgba[..., 3:].astype(np.float32) / np.float32(255)
    return (rgba[..., :3] * alpha + 255 * (1 - alpha) + 0.5).astype(np.uint8)


@lru_cache
def _loud(count: int) -> NDArray[np.float64]:
    """One loud tint a part, shape (count + 1, 3); row 0 is for what has no part."""
    tints = np.full((count + 1, 3), _UNCLAIMED, np.float64)
    for row in range(1, len(tints)):
        tints[row] = 255 * oklch_to_srgb([0.74 - 0.12 * (row % 2), 0.17,
                                          20 + row * _GOLDEN_ANGLE])
    return tints


def _tints(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    sampled, assignment = deriver.sampled(recipe, view), deriver.assignment(recipe)
    table = _loud(len(recipe.parts))[assignment.part_of_area]
    # Areas of one part differ a little, so that their borders can be seen.
    shades = 1 - 0.16 * (np.arange(len(table)) * 0.618 % 1)
    colours = (table * shades[:, None]).astype(np.uint8)
    colours[assignment.ground] = _GROUND
    return compose_flat(sampled.labels, colours, sampled.ink, _TINT_LINES)


def _unclaimed(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    sampled, assignment = deriver.sampled(recipe, view), deriver.assignment(recipe)
    bare = (assignment.part_of_area == 0) & ~assignment.ground
    colours = np.where(bare[:, None], _ALARM, _DONE).astype(np.uint8)
    colours[assignment.ground] = _GROUND
    return compose_flat(sampled.labels, colours, sampled.ink, _QUIET_LINES)


def _bases(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    sampled = deriver.sampled(recipe, view)
    masks = Masks(deriver.shown(recipe)[sampled.labels],
                  np.zeros((*sampled.ink.shape, planes(0)), np.uint8), sampled.ink, ())
    return compose(masks, bare_program(recipe), from_hex(recipe.lines.colour),
                   deriver.prints(recipe, view))


def _borders(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    sampled, assignment = deriver.sampled(recipe, view), deriver.assignment(recipe)
    parts = assignment.part_of_area[sampled.labels]
    tints = _loud(len(recipe.parts)).astype(np.uint8)  # a copy
    tints[0] = _GROUND
    picture = lay_flat(np.full((*parts.shape, 3), _DONE, np.uint8), sampled.ink // 3, _TINT_LINES)
    # On each side of a border the colour of the part there.
    high, low = cv2.dilate(parts, _CROSS, iterations=2), cv2.erode(parts, _CROSS, iterations=2)
    edge = (high != low)
    picture[edge] = tints[parts[edge]]
    return picture


def _faults(deriver: Deriver, recipe: Recipe, view: View) -> Byte:
    faults = deriver.completeness(recipe)[1]
    picture = _bases(deriver, recipe, view)
    picture = (picture // 3 + 40).astype(np.uint8)
    # A fault of one pixel must be seen however small the view is.
    spot = max(3, round(5 / view.scale)) | 1
    marked = cv2.dilate(faults[view.y:view.y + view.height, view.x:view.x + view.width],
                        np.ones((spot, spot), np.uint8))
    height, width = view.shape
    small = cv2.resize(marked, (width, height), interpolation=cv2.INTER_NEAREST)
    picture[small > 0] = _ALARM
    return picture


_PART_VIEWS: dict[str, Callable[[Deriver, Recipe, View], Byte]] = {
    "parts": _tints, "unclaimed": _unclaimed, "bases": _bases, "borders": _borders,
    "faults": _faults,
}
