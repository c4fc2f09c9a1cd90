"""Looks: colour versions of a piece, each only what differs from it."""

from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
from pydantic import Field

from wardrobe.core.colour import from_hex, oklch_to_srgb, srgb_to_oklch, to_bytes, to_hex
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.finish import MAX_FINISH, MAX_FOCUS, FinishLayer, Focus
from wardrobe.recipe.document.ink import Inking
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.types import Colour, Frozen, MaterialKey, PartId, PassKey, Share

if TYPE_CHECKING:
    from wardrobe.recipe.document.model import Part, Recipe

MAX_LOOKS = 48
_GREY = 0.02  # OKLCH chroma of what has no hue to turn

MOST_LOOK_NUMBER = 999_999
LookId = Annotated[str, Field(pattern=r"^k[0-9]{1,6}$")]
PIECE: Literal["piece"] = "piece"  # the first look, which is the piece itself
Wearer = Literal["piece"] | LookId
LookName = Annotated[str, Field(min_length=1, max_length=80)]
# Of a look, where it has them of its own.
WHOLES = ("background", "light", "passes", "ink", "finish", "finish_amount", "focus")
Bases = Annotated[dict[PartId, Colour], Field(max_length=200)]


class Look(Frozen):
    """One colour version: what is not named here follows the piece for ever.

    Attributes
    ----------
    bases : dict of str to str
        Base colours by part.
        The colour of a part's stripes, dots or checks moves along with its base.
    own : dict of str to (dict of str to str)
        Pass colours that a part chooses itself. A part whose base differs does without those
        that it has in the piece, which were chosen for the other base.
    materials : dict of str to str
    plain : tuple of str
        Parts that do without their pattern.
    background : str or None
    light : Light or None
    passes : Passes or None
        Method, washes and amounts.
    ink : Inking or None
    finish : tuple of FinishLayer or None
    finish_amount : float or None
    focus : tuple of Focus or None
    retired : bool
        Taken off the rail, but kept.
    """

    id: LookId
    name: LookName
    bases: Bases = Field(default_factory=dict)
    own: dict[PartId, dict[PassKey, Colour]] = Field(default_factory=dict)
    materials: dict[PartId, MaterialKey] = Field(default_factory=dict)
    plain: Annotated[tuple[PartId, ...], Field(max_length=200)] = ()
    background: Colour | None = None
    light: Light | None = None
    passes: Passes | None = None
    ink: Inking | None = None
    finish: Annotated[tuple[FinishLayer, ...], Field(max_length=MAX_FINISH)] | None = None
    finish_amount: Share | None = None
    focus: Annotated[tuple[Focus, ...], Field(max_length=MAX_FOCUS)] | None = None
    retired: bool = False


def worn(recipe: "Recipe", look: Look, parts: "tuple[Part, ...] | None" = None) -> "Recipe":
    """The piece as it is in a look; looks themselves are left out.

    Names of parts that are no longer there are passed over. ``parts`` are the dressed parts, if
    they are at hand.
    """
    changes: dict[str, object] = {"looks": (), "parts": parts or dressed_parts(recipe.parts, look)}
    for what in WHOLES:
        value = getattr(look, what)
        if value is not None:
            changes[what] = value
    return recipe.model_copy(update=changes)


def dressed_parts(parts: "tuple[Part, ...]", look: Look) -> "tuple[Part, ...]":
    """The parts of a piece as they are in a look."""
    return tuple(_dressed(part, look) for part in parts)


def _dressed(part: "Part", look: Look) -> "Part":
    changes: dict[str, object] = {}
    if part.id in look.bases and look.bases[part.id] != part.base:
        base = look.bases[part.id]
        changes |= {"base": base, "own": {}}
        if part.pattern and not part.pattern.picture:
            changes["pattern"] = part.pattern.model_copy(update={
                "colour": moved_along(part.pattern.colour, part.base, base)})
    if part.id in look.own:
        changes["own"] = look.own[part.id]
    if part.id in look.materials:
        changes["material"] = look.materials[part.id]
    if part.id in look.plain:
        changes["pattern"] = None
    return part.model_copy(update=changes) if changes else part


def moved_along(colour: str, old: str, new: str) -> str:
    """A colour that stands to a new base as it does to the old one, in OKLCH."""
    lch, before, after = (srgb_to_oklch(np.array(from_hex(c)) / 255) for c in (colour, old, new))
    chroma = lch[1] * after[1] / max(before[1], 1e-3) if before[1] > _GREY else lch[1]
    hue = lch[2] + after[2] - before[2] if min(before[1], after[1]) > _GREY else \
        (after[2] if after[1] > _GREY else lch[2])
    lightness = np.clip(lch[0] + after[0] - before[0], 0, 1)
    return to_hex(to_bytes(oklch_to_srgb([lightness, min(chroma, 0.37), hue])))


def without_parts(looks: tuple[Look, ...], stay: set[str]) -> tuple[Look, ...]:
    """The looks without what they say of parts that do not stay."""
    def kept(look: Look) -> Look:
        found = {what: {p: v for p, v in getattr(look, what).items() if p in stay}
                 for what in ("bases", "own", "materials")}
        plain = tuple(p for p in look.plain if p in stay)
        ink = look.ink and look.ink.without(stay)
        if (plain, ink) == (look.plain, look.ink) and all(
                found[what] == getattr(look, what) for what in found):
            return look
        return look.model_copy(update={**found, "plain": plain, "ink": ink})

    return tuple(map(kept, looks))
