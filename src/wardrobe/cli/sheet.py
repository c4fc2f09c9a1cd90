"""Colour arithmetic on the command line."""

import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

from wardrobe.cli.colour import read_recipe
from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.errors import WardrobeError
from wardrobe.core.shades.even import OneWash, OwnColour, even_out
from wardrobe.core.shades.search import Hues
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.reports.sheet import colour_sheet

_HUE_REACH, _LEAST_CHROMA = 15.0, 0.02
_MOST_BASES = 500


def write_sheet(recipe_path: Path, report: Path) -> None:
    """Write a recipe's sheet as JSON.

    Raises
    ------
    WardrobeError
        If the recipe cannot be read.
    """
    recipe = read_recipe(recipe_path)
    sheet = colour_sheet(recipe)
    names = {p.id: p.name for p in recipe.parts}
    _write(report, {
        "method": recipe.passes.method,
        "columns": [asdict(c) for c in sheet.columns],
        "parts": [{"part": names[row.part], "method": row.method,
                   "passes": [asdict(c) for c in row.cells]} for row in sheet.rows]})
    marks = sum(c.mark is not None for row in sheet.rows for c in row.cells)
    print(f"{len(sheet.rows)} parts, {marks} marks")


def write_even_out(bases: str, step: float, report: Path, hue: float | None,
                   screen: bool) -> None:
    """Find one wash for some bases and write it as JSON.

    Raises
    ------
    WardrobeError
        If a base is not a colour, or there are none or too many.
    """
    colours = [from_hex(text) for text in bases.split(",") if text.strip()]
    if not 1 <= len(colours) <= _MOST_BASES:
        raise WardrobeError(f"1 to {_MOST_BASES} base colours are expected, separated by commas; "
                            f"there are {len(colours)}.")
    hues = None if hue is None else Hues(hue, _HUE_REACH, _LEAST_CHROMA)
    one = even_out(colours, step, screen, hues)
    spared = even_out(colours, step, screen, hues, spare=True)
    name = "light" if screen else "shade"
    _write(report, {**_described(one, name), "with_overrides": _described(spared, name)})
    print(f"{to_hex(one.wash.colour)} at {one.wash.strength:.0%}, worst part off by "
          f"{one.worst:.2f}")


def _described(one: OneWash, name: str) -> dict[str, Any]:
    return {
        name: {"colour": to_hex(one.wash.colour), "strength": one.wash.strength},
        "worst": one.worst,
        "parts": [{"base": to_hex(p.base), "result": to_hex(p.result), "step": p.step,
                   "override": _override(p.own)} for p in one.parts]}


def _override(own: OwnColour | None) -> dict[str, Any] | None:
    if own is None:
        return None
    return {"pass": own.name, "mode": own.mode, "colour": to_hex(own.colour), "strength": 1.0,
            "result": to_hex(own.result), "step": own.step}


def _write(path: Path, content: dict[str, Any]) -> None:
    with replacing(path) as temporary:
        temporary.write_text(json.dumps(content, indent=1) + "\n")
