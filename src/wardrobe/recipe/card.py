"""A character's colour card against the parts of a piece."""

from dataclasses import dataclass

import numpy as np

from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.formats.tokens import CardColour
from wardrobe.core.light.materials import MATERIALS
from wardrobe.recipe.edits import ChangePart, EditRefusedError, Several
from wardrobe.recipe.model import Recipe

SAME = 1.0  # CIEDE2000 up to which two bases count as one colour; just noticeable is about 1


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
    """

    name: str
    part: str | None
    base: str | None
    card: str | None
    material: str | None
    step: float | None


def compare(recipe: Recipe, card: list[CardColour]) -> list[CardLine]:
    """Each part of the piece and each further colour of the card."""
    by_name = {c.name.casefold(): c for c in card}
    lines = []
    for part in recipe.parts:
        entry = by_name.pop(part.name.casefold(), None)
        step = None
        if entry:
            labs = srgb_to_lab(np.array([from_hex(part.base), from_hex(entry.colour)]) / 255)
            step = round(float(delta_e_2000(labs[0], labs[1])), 2)
        lines.append(CardLine(part.name, part.id, part.base, entry.colour if entry else None,
                              entry.material if entry else None, step))
    lines += [CardLine(c.name, None, None, c.colour, c.material, None) for c in by_name.values()]
    return lines


def wear(recipe: Recipe, card: list[CardColour]) -> Several:
    """The edit that gives every part of the card's names the card's colours.

    Raises
    ------
    EditRefusedError
        If no part has a name that is on the card.
    """
    changes = tuple(
        ChangePart(part=line.part, base=line.card,
                   material=line.material if line.material in MATERIALS else None)
        for line in compare(recipe, card) if line.part and line.card)
    if not changes:
        raise EditRefusedError("No part has a name that is on the card.")
    return Several(edits=changes)


def card_of(recipe: Recipe) -> list[CardColour]:
    """The piece's own bases as a card."""
    return [CardColour(p.name, p.base, p.material) for p in recipe.parts]
