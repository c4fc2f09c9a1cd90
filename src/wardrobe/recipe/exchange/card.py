"""A character's colour card against the parts of a piece."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab, to_hex
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.passes.table import PASSES
from wardrobe.recipe.document.colouring import Wash, WashKey
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import part_name
from wardrobe.recipe.edits import (
    ChangePart,
    ChooseColours,
    EditRefusedError,
    SetPasses,
    Several,
    SingleEdit,
)
from wardrobe.recipe.reports.sheet import colour_sheet

KEPT: tuple[WashKey, ...] = ("shade", "deep shade", "light", "glint")
Shades = Literal["leave", "washes", "per part"]


def checked(colour: CardColour) -> CardColour:
    """An entry of a card as it may be kept: its name is one that a part can have.

    Raises
    ------
    ValueError
        If it is not, or something in it is no colour.
    """
    material = part_name(colour.material) if colour.material else None
    return replace(colour, name=part_name(colour.name), material=material,
                   colour=to_hex(from_hex(colour.colour)),
                   passes={key: to_hex(from_hex(value)) for key, value in colour.passes.items()
                           if key in PASSES})


CheckedColour = Annotated[CardColour, AfterValidator(checked)]


@dataclass(frozen=True)
class CardPass:
    """What is seen in a pass, here and on the card; step is their CIEDE2000 difference."""

    name: str
    here: str
    card: str
    step: float


@dataclass(frozen=True)
class CardLine:
    """One part against its card.

    Attributes
    ----------
    name : str
    part : str or None
        Id of the piece's part, None if it has none of that name.
    base : str or None
        Its base colour.
    card : str or None
        The card's colour, None if the card has no such part.
    material : str or None
        The card's.
    step : float or None
        CIEDE2000 difference of the two.
    passes : list of CardPass
        For each pass that both have.
    """

    name: str
    part: str | None
    base: str | None
    card: str | None
    material: str | None
    step: float | None
    passes: list[CardPass]


def compare(recipe: Recipe, card: list[CardColour]) -> list[CardLine]:
    """Each part of the piece and each further colour of the card."""
    by_name = {c.name.casefold(): c for c in card}
    lines = []
    for part, row in zip(recipe.parts, colour_sheet(recipe).rows, strict=True):
        entry = by_name.pop(part.name.casefold(), None)
        if entry is None:
            lines.append(CardLine(part.name, part.id, part.base, None, None, None, []))
            continue
        passes = [CardPass(c.name, c.colour, entry.passes[c.name],
                           _step(c.colour, entry.passes[c.name]))
                  for c in row.cells if c.name in entry.passes]
        lines.append(CardLine(part.name, part.id, part.base, entry.colour, entry.material,
                              _step(part.base, entry.colour), passes))
    lines += [CardLine(c.name, None, None, c.colour, c.material, None, [])
              for c in by_name.values()]
    return lines


def _step(one: str, other: str) -> float:
    labs = srgb_to_lab(np.array([from_hex(one), from_hex(other)]) / 255)
    return round(float(delta_e_2000(labs[0], labs[1])), 2)


def wear(recipe: Recipe, card: list[CardColour], shades: Shades = "leave",
         washes: Mapping[str, Wash] | None = None) -> Several:
    """The edit that gives every part of the card's names the card's colours.

    Parameters
    ----------
    recipe : Recipe
    card : list of CardColour
    shades : str
        ``leave`` changes the bases only; ``washes`` takes the card's one shade and one light for
        all; ``per part`` takes the colours that were seen in each pass.
    washes : mapping of str to Wash, optional
        The card's, by pass.

    Raises
    ------
    EditRefusedError
        If no part has a name that is on the card, or the card has no such shades.
    """
    lines = [line for line in compare(recipe, card) if line.part and line.card]
    if not lines:
        raise EditRefusedError("No part has a name that is on the card.")
    edits: list[SingleEdit] = [
        ChangePart(part=line.part, base=line.card,
                   material=line.material if line.material in MATERIALS else None)
        for line in lines if line.part]
    if shades == "washes":
        if not washes:
            raise EditRefusedError("There are no washes on this card.")
        changed = {key.replace(" ", "_"): wash for key, wash in washes.items() if key in KEPT}
        edits.append(SetPasses(passes=recipe.passes.model_copy(
            update={"method": "one shade", **changed})))
        edits += [ChooseColours(part=p.id, own=dict.fromkeys(p.own)) for p in recipe.parts
                  if p.own]
    if shades == "per part":
        by_name = {c.name.casefold(): c.passes for c in card}
        chosen = [(line.part, by_name[line.name.casefold()]) for line in lines
                  if line.part and by_name[line.name.casefold()]]
        if not chosen:
            raise EditRefusedError("There are no shades on this card.")
        edits += [ChooseColours(part=part, own=dict(passes)) for part, passes in chosen]
    return Several(edits=tuple(edits))


def card_of(recipe: Recipe) -> list[CardColour]:
    """The piece's own bases, and what is seen in their passes, as a card."""
    return [CardColour(part.name, part.base, part.material,
                       {c.name: c.colour for c in row.cells if c.name in KEPT})
            for part, row in zip(recipe.parts, colour_sheet(recipe).rows, strict=True)]


def washes_of(recipe: Recipe) -> dict[str, Wash]:
    """The piece's washes as a card keeps them."""
    return {key: recipe.passes.wash_of(key) for key in KEPT}
