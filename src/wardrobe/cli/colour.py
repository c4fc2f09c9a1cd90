"""Colour one file."""

import json
from functools import reduce
from pathlib import Path

from pydantic import ValidationError

from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import apply
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.reports.first_edits import first_edits
from wardrobe.recipe.stages import Deriver


def colour_file(line: Path, recipe_path: Path | None, ora: Path | None, png: Path | None,
                save_recipe: Path | None, long_edge: int) -> None:
    """Read line art, colour it, and write what is asked for.

    Raises
    ------
    WardrobeError
        With a message for the user; files that were there before are untouched.
    """
    if not (ora or png or save_recipe):
        raise WardrobeError("Nothing to write: give --ora, --png or --save-recipe.")
    rgba = decode_image(line.read_bytes(), long_edge=long_edge)
    deriver = Deriver(lambda asset: rgba)
    height, width = rgba.shape[:2]
    source = Source(asset="0" * 64, width=width, height=height)
    if recipe_path:
        recipe = read_recipe(recipe_path)
        made_for = recipe.source.width, recipe.source.height
        if made_for != (width, height):
            raise WardrobeError(
                f"{recipe_path} was made for {made_for[0]} x {made_for[1]} px, but this drawing "
                f"has {width} x {height} px; for an SVG, give --long-edge {max(made_for)}.")
        recipe = recipe.model_copy(update={"source": source})
    else:
        recipe = Recipe(source=source)
        recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    merged = deriver.picture(recipe, View.whole(*recipe.size))
    if png:
        with replacing(png) as path:
            path.write_bytes(encode_png(merged, level=3, dpi=300))
    if ora:
        with replacing(ora) as path:
            write_openraster(path, deriver.stack(recipe), merged)
    if save_recipe:
        with replacing(save_recipe) as path:
            path.write_text(recipe.model_dump_json(indent=1) + "\n")
    print(f"{len(recipe.parts)} parts, {deriver.areas(recipe).count} areas, "
          f"{width} x {height} px")


def read_recipe(path: Path) -> Recipe:
    """Read a recipe, or say what is wrong with it."""
    try:
        return Recipe.model_validate(json.loads(path.read_bytes()))
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise WardrobeError(f"{path} is not JSON: {error}.") from error
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise WardrobeError(f"{path} is not a recipe: {where}: {first['msg']}.") from error
