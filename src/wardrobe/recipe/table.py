"""The colours of a recipe, as the compositor takes them and as the sheet shows them."""

from dataclasses import dataclass

import numpy as np

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab, to_hex
from wardrobe.core.composite.labelmap import ColourTable
from wardrobe.recipe.model import Recipe


@dataclass(frozen=True)
class SheetRow:
    """What one part shows.

    Attributes
    ----------
    part : str
        Id of the part.
    base, shade, light : str
        Colours seen in the picture, ``#rrggbb``.
    shade_step, light_step : float
        CIEDE2000 difference to the base.
    """

    part: str
    base: str
    shade: str
    light: str
    shade_step: float
    light_step: float


def colour_table(recipe: Recipe) -> ColourTable:
    """The compositor's table: row 0 is the background, then one row a part."""
    rows = len(recipe.parts) + 1
    on_part = np.ones(rows, np.float32)
    on_part[0] = 0
    bases = [recipe.background, *(p.base for p in recipe.parts)]
    shade, light = recipe.passes.shade, recipe.passes.light
    return ColourTable(
        base=np.array([from_hex(c) for c in bases], np.uint8),
        shade=np.tile(np.array(from_hex(shade.colour), np.uint8), (rows, 1)),
        light=np.tile(np.array(from_hex(light.colour), np.uint8), (rows, 1)),
        shade_strength=on_part * np.float32(shade.strength),
        light_strength=on_part * np.float32(light.strength),
        ink=np.array(from_hex(recipe.lines.colour), np.uint8),
    )


def colour_sheet(recipe: Recipe) -> list[SheetRow]:
    """One row a part: the colours that result, and their steps from the base."""
    base, shade, light = colour_table(recipe).pass_colours()
    labs = [srgb_to_lab(c / 255) for c in (base, shade, light)]
    shade_step, light_step = delta_e_2000(labs[0], labs[1]), delta_e_2000(labs[0], labs[2])
    return [
        SheetRow(part.id, to_hex(base[row]), to_hex(shade[row]), to_hex(light[row]),
                 round(float(shade_step[row]), 2), round(float(light_step[row]), 2))
        for row, part in enumerate(recipe.parts, start=1)
    ]
