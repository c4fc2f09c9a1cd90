"""Proposed looks: worked out, not random, each with what it keeps."""

from dataclasses import dataclass
from functools import reduce
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from wardrobe.core.colour import from_hex, srgb_to_oklch, to_hex
from wardrobe.core.colour.srgb import to_bytes
from wardrobe.core.looks.schemes import SCHEMES
from wardrobe.core.looks.vary import (
    Palette,
    Variation,
    limited,
    measured,
    vary,
    vary_by_palette,
)
from wardrobe.core.shades.illumination import LIGHTS
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.look import PIECE, Wearer
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Colour, Frozen, PartId, one_of
from wardrobe.recipe.edits import EditRefusedError, apply, dressed
from wardrobe.recipe.reports.looks import measure
from wardrobe.recipe.reports.proposals import LightBy, propose
from wardrobe.recipe.stages import Deriver

# Names of hues, from 0 degrees in OKLCH, 30 degrees each: pale and deep.
_HUE_WORDS = (("rose", "wine"), ("coral", "brick"), ("apricot", "rust"), ("honey", "ochre"),
              ("straw", "olive"), ("lime", "moss"), ("mint", "fir"), ("sea", "spruce"),
              ("sky", "petrol"), ("ice", "ink"), ("lilac", "plum"), ("orchid", "berry"))
_GREY_WORDS = (0.3, "coal"), (0.55, "slate"), (0.8, "ash"), (2.0, "chalk")
_COLOURLESS = 0.03


class _Vary(Frozen):
    """What all wishes have: the look to start from, what is locked, which of many."""

    start: Wearer = PIECE
    locked: Annotated[tuple[PartId, ...], Field(max_length=200)] = ()
    count: Annotated[int, Field(ge=1, le=12)] = 6
    seed: Annotated[int, Field(ge=0, le=10**6)] = 0


class ByHarmony(_Vary):
    """Hues by a scheme; near a leading hue if there is one ("more like this")."""

    kind: Literal["harmony"] = "harmony"
    scheme: Annotated[str, one_of("scheme", SCHEMES)] = "opposite"
    lead: Annotated[float, Field(ge=0, le=360, allow_inf_nan=False)] | None = None


class ByPalette(_Vary):
    """Hues and chromas of given colours: of a picture, a card."""

    kind: Literal["palette"] = "palette"
    colours: Annotated[tuple[Colour, ...], Field(min_length=1, max_length=64)]


class ByFew(_Vary):
    """Few of the piece's own colours for all parts."""

    kind: Literal["few"] = "few"
    colours: Annotated[int, Field(ge=1, le=8)] = 3


class ByTime(_Vary):
    """The piece at other times of the day: other lights, the same colours."""

    kind: Literal["time"] = "time"


VaryWish = Annotated[ByHarmony | ByPalette | ByFew | ByTime, Field(discriminator="kind")]


@dataclass(frozen=True)
class ProposedLook:
    """A look that could be hung on the rail.

    Attributes
    ----------
    name : str
    bases : dict of str to str
        Parts that differ from the start.
    light, passes : Light or None, Passes or None
    lead : float or None
        Leading hue, to ask for more like it.
    said : str
        What it keeps.
    """

    name: str
    bases: dict[str, str]
    light: Light | None
    passes: Passes | None
    lead: float | None
    said: str


def propose_looks(deriver: Deriver, recipe: Recipe, wish: VaryWish) -> list[ProposedLook]:
    """Proposals, the most different first.

    Raises
    ------
    EditRefusedError
        If there are no parts, or all are locked.
    """
    start = dressed(recipe, wish.start)
    if isinstance(wish, ByTime):
        return _times(start)
    locked = np.array([p.id in wish.locked or p.scenery is not None for p in start.parts], bool)
    if locked.all():
        raise EditRefusedError("There is no part whose colour may change: add parts, or unlock "
                               "some.")
    sizes = measure(deriver, recipe)
    bases = np.array([from_hex(p.base) for p in start.parts]) / 255
    palette = Palette(bases, sizes.areas, sizes.pairs, locked)
    if isinstance(wish, ByHarmony):
        found = vary(palette, wish.scheme, wish.count, wish.seed, wish.lead)
    elif isinstance(wish, ByPalette):
        colours = np.array([from_hex(c) for c in wish.colours]) / 255
        found = vary_by_palette(palette, colours, wish.count, wish.seed)
    else:
        few = limited(bases[~locked], sizes.areas[~locked], wish.colours)
        found = vary_by_palette(palette, few, wish.count, wish.seed)
    names: set[str] = set()
    return [_told(start, palette, one, names) for one in found]


def _told(start: Recipe, palette: Palette, one: Variation, names: set[str]) -> ProposedLook:
    bases = {p.id: to_hex(to_bytes(c)) for p, c in zip(start.parts, one.bases, strict=True)}
    changed = {p.id: bases[p.id] for p in start.parts if bases[p.id] != p.base}
    moved = [k for k, p in enumerate(start.parts) if p.id in changed]
    largest = sorted(moved, key=lambda k: -palette.areas[k])
    name = " and ".join(dict.fromkeys(colour_word(one.bases[k]) for k in largest[:2])) or "as it is"
    number, unique = 1, name
    while unique in names:
        number += 1
        unique = f"{name} {number}"
    names.add(unique)
    lead = float(srgb_to_oklch(one.bases[largest[0]])[2]) if largest else None
    kept = f"{one.kept} of {one.contrasts} contrasts of neighbours as strong, the others to " \
           f"{one.weakest:.0%}" if one.kept < one.contrasts else "all contrasts of neighbours"
    still = int(palette.locked.sum())
    locked = f", {still} locked" if still else ""
    return ProposedLook(unique[:1].upper() + unique[1:], changed, None, None,
                        None if lead is None else round(lead, 1),
                        f"Keeps values to {max(0.1, one.value_shift):.1f} L*, {kept}{locked}.")


def _times(start: Recipe) -> list[ProposedLook]:
    """The start under each light that has a name."""
    found = []
    for name in LIGHTS:
        edit = propose(start, LightBy(light=name)).edit
        changed: Recipe = reduce(apply, (edit,), start)
        if (changed.light, changed.passes) == (start.light, start.passes):
            continue
        found.append(ProposedLook(name[:1].upper() + name[1:], {}, changed.light, changed.passes,
                                  None, "Keeps every base colour; light, shade and ambient "
                                  "change."))
    return found


def colour_word(srgb: "np.ndarray[tuple[int, ...], np.dtype[np.float64]]") -> str:
    """A word for a colour, 0..1."""
    lightness, chroma, hue = srgb_to_oklch(srgb)
    if chroma < _COLOURLESS:
        return next(word for limit, word in _GREY_WORDS if lightness < limit)
    pale, deep = _HUE_WORDS[int((hue + 15) % 360 // 30)]
    return pale if lightness > 0.62 else deep


def kept_by(deriver: Deriver, recipe: Recipe, look: str) -> Variation:
    """What a look keeps of the piece."""
    sizes, shown = measure(deriver, recipe), dressed(recipe, look)
    palette = Palette(np.array([from_hex(p.base) for p in recipe.parts]) / 255, sizes.areas,
                      sizes.pairs, np.zeros(len(recipe.parts), bool))
    return measured(palette, np.array([from_hex(p.base) for p in shown.parts]) / 255)
