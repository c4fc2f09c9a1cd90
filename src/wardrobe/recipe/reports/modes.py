"""A finish layer or a pass in every blend mode: how far it moves what it lies on, and where that
clips."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from wardrobe.core.checks.spread import clipped
from wardrobe.core.colour.difference import delta_e_2000
from wardrobe.core.colour.lab import srgb_to_lab
from wardrobe.core.composite.modes import MODES
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.finish import FinishLayer
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import EditRefusedError
from wardrobe.recipe.stages import Deriver

Byte = NDArray[np.uint8]

EDGE = 320  # px of the longer edge at which modes are compared
_MOVED = 0.5  # of the largest step: where a layer has its full say


@dataclass(frozen=True)
class ModeSeen:
    """What a layer or pass does in a mode.

    Attributes
    ----------
    mode : str
    step : float
        Median CIEDE2000 between the picture without and with the layer, where it moves it by
        more than half of the most.
    clipped : float, 0..1
        Share of what it moves in which a channel runs to 0 or 255 that did not before.
    place : (float, float) or None
        In the middle of the most of that, picture pixels.
    """

    mode: str
    step: float
    clipped: float
    place: tuple[float, float] | None


def in_modes(deriver: Deriver, recipe: Recipe, name: str) -> list[ModeSeen]:
    """What a finish layer or a pass would do in each mode, those of the table in their order.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    name : str
        Id of a finish layer, or key of a pass.

    Raises
    ------
    EditRefusedError
        If there is no such layer.
    """
    view = View.whole(*recipe.size, EDGE)
    below, *shown = pictures_in_modes(deriver, recipe, name, view)
    labs = srgb_to_lab(below / 255)
    return [_measured(mode, below, picture, labs, view)
            for mode, picture in zip(MODES, shown, strict=True)]


def pictures_in_modes(deriver: Deriver, recipe: Recipe, name: str, view: View) -> list[Byte]:
    """The picture without a layer or pass, and with it in each mode."""
    tried = _pass_in_modes(recipe, name) if name in PASSES else _layer_in_modes(recipe, name)
    return [deriver.picture(one, view) for one in tried]


def _pass_in_modes(recipe: Recipe, name: str) -> Iterator[Recipe]:
    passes = recipe.passes
    others = tuple(key for key in passes.off if key != name)
    yield recipe.model_copy(update={"passes": passes.model_copy(update={"off": (*others, name)})})
    for mode in MODES:
        laid = passes.model_copy(update={"off": others, "modes": {**passes.modes, name: mode}})
        yield recipe.model_copy(update={"passes": laid})


def _layer_in_modes(recipe: Recipe, layer_id: str) -> Iterator[Recipe]:
    if all(f.id != layer_id for f in recipe.finish):
        raise EditRefusedError("The layer is no longer there.")

    def with_layer(**changes: object) -> Recipe:
        def changed(layer: FinishLayer) -> FinishLayer:
            return layer.model_copy(update=changes) if layer.id == layer_id else layer
        return recipe.model_copy(update={"finish": tuple(map(changed, recipe.finish))})

    yield with_layer(visible=False)
    yield from (with_layer(mode=mode, visible=True) for mode in MODES)


def _measured(mode: str, below: Byte, picture: Byte, labs: NDArray[np.float64],
              view: View) -> ModeSeen:
    moved = (picture != below).any(axis=2)
    if not moved.any():
        return ModeSeen(mode, 0.0, 0.0, None)
    steps = delta_e_2000(labs[moved], srgb_to_lab(picture[moved] / 255))
    out = clipped(below, picture)
    return ModeSeen(mode, round(float(np.median(steps[steps >= _MOVED * steps.max()])), 1),
                    round(np.count_nonzero(out) / np.count_nonzero(moved), 4),
                    middle_of_most(out, view.scale) if out.any() else None)


def middle_of_most(where: NDArray[np.bool_], scale: float) -> tuple[float, float]:
    """In the middle of the most of a mask, picture pixels."""
    most = ndimage.uniform_filter(where.astype(np.float32), 15)
    y, x = np.unravel_index(int(np.argmax(np.where(where, most, -1))), where.shape)
    return round((float(x) + 0.5) / scale, 1), round((float(y) + 0.5) / scale, 1)
