"""A part of a piece as a lesson: what was drawn against what Wardrobe draws."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.geometry.outline import outlines_of, solid
from wardrobe.core.learn.judge import Verdict, compare
from wardrobe.core.learn.strokes import drawn_mask
from wardrobe.recipe.document.lighting import MAX_TOUCH_UPS
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.strokes import DrawnStroke
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import EditRefusedError, Several, SingleEdit, TouchUpPass
from wardrobe.recipe.reports.light import light_of_shade
from wardrobe.recipe.stages import Deriver

_LEAST = 24  # px: smaller differences are not worth a touch-up
_MOST_EDITS = 200

Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Practised:
    """What was measured of a drawn pass.

    Attributes
    ----------
    verdict : Verdict
        Against the piece's own; ``azimuth_error`` is by how far the lights differ that both
        imply on the guessed form.
    edit : Several or None
        What makes the drawn shape the piece's; None if nothing differs.
    """

    verdict: Verdict
    edit: Several | None


def practise(deriver: Deriver, recipe: Recipe, part: str, name: str,
             strokes: Sequence[tuple[DrawnStroke, bool]]) -> Practised:
    """Measure a pass that was drawn for a part.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    part : str
    name : str
        The pass.
    strokes : sequence of (DrawnStroke, bool)
        And whether each takes away.

    Raises
    ------
    EditRefusedError
        If the part has no such pass.
    """
    masks = deriver.masks(recipe, View.whole(*recipe.size))
    row = next((k for k, p in enumerate(recipe.parts, start=1) if p.id == part), 0)
    if not row:
        raise EditRefusedError("The part is no longer there.")
    if name not in masks.keys:
        raise EditRefusedError("The piece does not draw this pass.")
    areas = deriver.areas(recipe)
    mine = masks.parts == row
    free = mine & areas.core
    truth = masks.level(name) > 127
    answer = drawn_mask(strokes, (recipe.size[1], recipe.size[0])) & mine
    nothing = np.zeros_like(free)
    verdict = compare(answer, truth, free, nothing, free, max(2.0, areas.line_width))
    lights = [light_of_shade(deriver, recipe, m & mine, part) for m in (answer, truth)]
    if name == "shade" and None not in lights:
        turn = (float(lights[0] or 0) - float(lights[1] or 0) + 180) % 360 - 180
        verdict = Verdict(**{**verdict.__dict__, "azimuth_error": turn})
    return Practised(verdict, _kept(recipe, part, name, answer, truth & mine))


def _kept(recipe: Recipe, part: str, name: str, answer: Mask, have: Mask) -> Several | None:
    edits: list[SingleEdit] = []
    room = min(_MOST_EDITS, MAX_TOUCH_UPS - len(recipe.touch_ups))
    for act, mask in (("take out", solid(have & ~answer)), ("put in", solid(answer & ~have))):
        for outline in outlines_of(mask, _LEAST)[:max(0, room - len(edits))]:
            edits.append(TouchUpPass(name=name, act=act, part=part,
                                     points=tuple(map(tuple, outline.round(2).tolist()))))
    return Several(edits=tuple(edits)) if edits else None
