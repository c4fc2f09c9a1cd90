"""What results depend on, as keys of the cache."""


import cv2
import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.model import Recipe
from wardrobe.recipe.view import View

Byte = NDArray[np.uint8]


def shrink(image: Byte, view: View) -> Byte:
    if view.scale == 1:
        return image
    height, width = view.shape
    return cv2.resize(image, (width, height), interpolation=cv2.INTER_AREA)


def source_key(recipe: Recipe) -> tuple[object, ...]:
    frame = recipe.frame
    return recipe.source.asset, frame.turn, frame.tilt, frame.crop


def drawn_key(recipe: Recipe) -> tuple[object, ...]:
    """What the ink depends on: all settings of the lines but the colour."""
    lines = recipe.lines
    return (*source_key(recipe), lines.kind, lines.even, lines.paper, lines.threshold,
            lines.grain, lines.strengthen, lines.weight, lines.edge)


def lines_key(recipe: Recipe) -> tuple[object, ...]:
    """What the lines that bound areas depend on."""
    return *drawn_key(recipe), recipe.hatching, recipe.coloured_blacks


def cut_key(recipe: Recipe) -> tuple[object, ...]:
    """What the areas depend on."""
    return (*lines_key(recipe), tuple(c.points for c in recipe.closings),
            tuple(g.sides for g in recipe.left_open), recipe.recuts)


def cut_objects(recipe: Recipe) -> tuple[object, ...]:
    """The parts of a recipe on which the areas, and who has them, depend."""
    return (recipe.source, recipe.frame, recipe.lines, recipe.hatching, recipe.coloured_blacks,
            recipe.closings, recipe.left_open, recipe.recuts, recipe.claims, recipe.parts)


def printed_key(recipe: Recipe) -> tuple[object, ...]:
    """What decides which lines are printed."""
    return tuple(c.inked for c in recipe.closings), recipe.boundaries, recipe.details
