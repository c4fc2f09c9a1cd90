"""What the colour arithmetic proposes: each a change to look at before it is made."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import reduce
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from wardrobe.core.colour import from_hex, srgb_to_oklch, to_bytes, to_hex
from wardrobe.core.colour.nudge import COOL, WARM
from wardrobe.core.passes.layers import Rgb
from wardrobe.core.passes.methods import AMOUNTS, Ink
from wardrobe.core.passes.table import PASSES
from wardrobe.core.shades.even import OneWash, even_out, match
from wardrobe.core.shades.illumination import LIGHTS, NamedLight, by_kelvin
from wardrobe.core.shades.search import Hues
from wardrobe.core.shades.steps import SPANS
from wardrobe.recipe.document.colouring import Passes, Wash
from wardrobe.recipe.document.model import Part, Recipe
from wardrobe.recipe.document.types import Frozen
from wardrobe.recipe.edits import (
    ChooseColours,
    EditRefusedError,
    MoveLight,
    SetMethod,
    SetPasses,
    Several,
    SingleEdit,
    apply,
)
from wardrobe.recipe.reports.sheet import BASE, SheetRow, colour_sheet
from wardrobe.recipe.stages.colours import method_of

_WASHED = ("one shade", "light out of dark", "soft then hard")
_HUE_REACH = 15.0
_LOOSE = 90.0
_GREY = 0.01  # OKLCH chroma of what has no hue
_COLOURED, _MOST_CHROMA = 0.035, 0.08  # OKLCH; beyond, a wash drowns the colours beneath it


class EvenOut(Frozen):
    """One wash by which all parts read alike.

    ``hue`` in OKLCH degrees, or ``as it is``, ``any``, ``warm``, ``cool``.
    """

    kind: Literal["even_out"] = "even_out"
    name: Literal["shade", "light"] = "shade"
    wanted: Annotated[float, Field(ge=2, le=60, allow_inf_nan=False)] | None = None
    hue: Annotated[float, Field(ge=0, le=360, allow_inf_nan=False)] | Literal[
        "as it is", "any", "warm", "cool"] = "as it is"
    own: bool = True


class Match(Frozen):
    """One wash a pass, nearest to what is seen now."""

    kind: Literal["match"] = "match"


class SpellOut(Frozen):
    """What is seen now, as colours of each part's own."""

    kind: Literal["spell_out"] = "spell_out"


class LightBy(Frozen):
    """Light and shade coloured by a temperature or a name; None keeps the light as it is.

    With ``from_background`` the background is what lights the shade.
    """

    kind: Literal["light_by"] = "light_by"
    light: Annotated[float, Field(ge=1700, le=25_000, allow_inf_nan=False)] | Annotated[
        str, Field(max_length=40)] | None = None
    from_background: bool = False


Wish = Annotated[EvenOut | Match | SpellOut | LightBy, Field(discriminator="kind")]


@dataclass(frozen=True)
class ProposedRow:
    """What one part would get in one pass.

    Attributes
    ----------
    part, name : str
        Id of the part, key of the pass.
    before, after : str
        Colours seen.
    step_before, step_after : float
        CIEDE2000 from the base.
    off : float
        What remains between the result and the wish.
    own : bool
        It gets a colour of its own.
    """

    part: str
    name: str
    before: str
    after: str
    step_before: float
    step_after: float
    off: float
    own: bool


@dataclass(frozen=True)
class Proposal:
    """A change, and what comes of it.

    Attributes
    ----------
    edit : Several
    rows : list of ProposedRow
    worst : float
        Largest ``off``.
    said : str
        In words.
    """

    edit: Several
    rows: list[ProposedRow]
    worst: float
    said: str


def propose(recipe: Recipe, wish: Any) -> Proposal:
    """Work out a wish.

    Raises
    ------
    EditRefusedError
        If there is nothing to work on, or the method has no wash.
    """
    if not recipe.parts and not isinstance(wish, LightBy):
        raise EditRefusedError("There are no parts yet.")
    return _RULES[type(wish)](recipe, wish)


def _even(recipe: Recipe, wish: EvenOut) -> Proposal:
    served = [p for p in recipe.parts if method_of(recipe, p).key in _WASHED
              and wish.name not in p.own]
    if recipe.passes.method in _WASHED and not served:
        raise EditRefusedError("Every part has a colour of its own in this pass.")
    if recipe.passes.method not in _WASHED:
        raise EditRefusedError("Even out works on washes: choose a method that has one shade for "
                               "all parts, or match one to these colours first.")
    span, screen = SPANS[wish.name], wish.name == "light"
    wanted = wish.wanted or span.wanted
    wash = recipe.passes.wash_of(wish.name)
    found = even_out([from_hex(p.base) for p in served], wanted, screen,
                     _hues(wish.hue, wash, screen), wash.strength, spare=wish.own)
    under = [] if screen else _soft_amounts(recipe)
    passes = _with_wash(recipe.passes, wish.name, _less_soft(found.wash, under))
    edits: list[SingleEdit] = [SetPasses(passes=passes)]
    for part, got in zip(served, found.parts, strict=True):
        if wish.own and got.own:
            edits.append(ChooseColours(part=part.id,
                                       own={got.own.name: to_hex(got.own.result)}))
    owned = {p.id: got.own.name for p, got in zip(served, found.parts, strict=True)
             if wish.own and got.own}
    off = {p.id: abs(got.own.step - wanted) if p.id in owned and got.own else got.off
           for p, got in zip(served, found.parts, strict=True)}
    after = _after(recipe, edits)
    names = {p.id: owned.get(p.id, wish.name) for p in served}
    rows = _rows(recipe, after, names, served, off, owned)
    mine = f", and {len(owned)} with a colour of their own" if owned else ""
    return Proposal(Several(edits=tuple(edits)), rows, max(off.values()),
                    f"{to_hex(found.wash.colour)} at {found.wash.strength:.0%} brings all parts "
                    f"within {found.worst:.1f} of a step of {wanted:.1f}{mine}.")


def _match(recipe: Recipe, wish: Match) -> Proposal:
    rows = colour_sheet(recipe).rows
    bases = [from_hex(p.base) for p in recipe.parts]
    passes = recipe.passes.model_copy(update={"method": "one shade"})
    found: dict[str, OneWash] = {}
    laid: dict[tuple[str, int], Rgb] = {}  # what is seen in a pass of a part
    for name, under in (("shade", BASE), ("deep shade", "shade"), ("light", BASE),
                        ("glint", "light")):
        has = [k for k, row in enumerate(rows) if _cell(row, name)]
        if not has:
            continue
        start = [laid.get((under, k), bases[k]) for k in has]
        aims = [from_hex(rows[k].colour(name)) for k in has]
        found[name] = match(start, aims, screen=name in ("light", "glint"))
        laid |= {(name, k): p.result for k, p in zip(has, found[name].parts, strict=True)}
        passes = _with_wash(passes, name, found[name].wash)
    edits: list[SingleEdit] = [SetPasses(passes=passes)]
    edits += [ChooseColours(part=p.id, own=dict.fromkeys(p.own)) for p in recipe.parts if p.own]
    edits += [SetMethod(part=p.id, method=None) for p in recipe.parts if p.method]
    after = _after(recipe, edits)
    listed = []
    for name, one in found.items():
        with_it = [p for p, row in zip(recipe.parts, rows, strict=True) if _cell(row, name)]
        off = {p.id: got.off for p, got in zip(with_it, one.parts, strict=True)}
        listed += _rows(recipe, after, dict.fromkeys(off, name), with_it, off, {})
    worst = max((one.worst for one in found.values()), default=0.0)
    return Proposal(Several(edits=tuple(edits)), listed, worst,
                    f"One wash a pass comes within {worst:.1f} of every colour seen now.")


def _spell_out(recipe: Recipe, wish: SpellOut) -> Proposal:
    passes = recipe.passes.model_copy(update={"method": "picked"})
    edits: list[SingleEdit] = [SetPasses(passes=passes)]
    for part, row in zip(recipe.parts, colour_sheet(recipe).rows, strict=True):
        own = {c.name: c.colour for c in row.cells
               if c.name in ("shade", "deep shade", "light", "glint")}
        if own:
            edits.append(ChooseColours(part=part.id, own=own))
    return Proposal(Several(edits=tuple(edits)), [], 0.0,
                    "Every part keeps the colours seen now in shade, deep shade, light and glint, "
                    "as its own; gradients and half tones are left out.")


def _light_by(recipe: Recipe, wish: LightBy) -> Proposal:
    named = None if wish.light is None else _named(wish.light)
    key = named.key if named else from_hex(recipe.light.colour)
    ambient = from_hex(recipe.background) if wish.from_background else \
        named.ambient if named else from_hex(recipe.light.ambient)
    moved = recipe.light.model_copy(update={"colour": to_hex(key), "ambient": to_hex(ambient)})
    passes = recipe.passes
    if named:
        passes = _with_wash(passes, "light", Ink(key, passes.light.strength))
    wash = recipe.passes.shade
    _, chroma, hue = srgb_to_oklch(np.array(ambient) / 255)
    hues = _hues(float(hue), wash) if chroma > _GREY else Hues(most=_GREY)
    bases = [from_hex(p.base) for p in recipe.parts] or [(150, 150, 150)]
    found = even_out(bases, SPANS["shade"].wanted, hues=hues,
                     strength=wash.strength, spare=True)
    passes = _with_wash(passes, "shade", _less_soft(found.wash, _soft_amounts(recipe)))
    deep = to_bytes(np.array(found.wash.colour) / 255 * 0.92)
    passes = _with_wash(passes, "deep shade", Ink(deep, recipe.passes.deep_shade.strength))
    edits: list[SingleEdit] = [MoveLight(light=moved), SetPasses(passes=passes)]
    after = _after(recipe, edits)
    off = {p.id: part.off for p, part in zip(recipe.parts, found.parts, strict=False)}
    rows = _rows(recipe, after, dict.fromkeys(off, "shade"), list(recipe.parts), off, {})
    return Proposal(Several(edits=tuple(edits)), rows, found.worst,
                    f"Light {to_hex(key)}, and a shade lit by {to_hex(ambient)}.")


_RULES: dict[type[Frozen], Callable[[Recipe, Any], Proposal]] = {
    EvenOut: _even, Match: _match, SpellOut: _spell_out, LightBy: _light_by,
}


def _named(light: float | str) -> NamedLight:
    if isinstance(light, str):
        if light not in LIGHTS:
            raise EditRefusedError(f"There is no light “{light}”; one of {', '.join(LIGHTS)} is "
                                   "expected.")
        return LIGHTS[light]
    return by_kelvin(light)


def _hues(hue: float | str, wash: Wash, screen: bool = False) -> Hues:
    """What an evened wash may look like; as it is, it keeps about its hue and its chroma."""
    if isinstance(hue, float | int):
        return Hues(float(hue), _HUE_REACH, _COLOURED, _MOST_CHROMA)
    if hue in ("warm", "cool"):
        return Hues(WARM if hue == "warm" else COOL, _LOOSE, _COLOURED, _MOST_CHROMA)
    source = np.array(from_hex(wash.colour)) / 255
    shown = source if screen else 1 - wash.strength + wash.strength * source
    _, chroma, angle = srgb_to_oklch(shown)
    if hue == "any" or chroma < _COLOURED:
        return Hues(most=_MOST_CHROMA)
    return Hues(float(angle), _HUE_REACH, 0.8 * float(chroma), 1.2 * float(chroma))


def _soft_amounts(recipe: Recipe) -> list[float]:
    """Strengths of the soft layers that lie under the shade in the shade's own colour."""
    passes = recipe.passes
    if passes.method != "soft then hard":
        return []
    return [passes.amounts.get(name, AMOUNTS[name].usual) for name in ("gradient", "soft shade")
            if name not in passes.off]


def _less_soft(wash: Ink, soft: list[float]) -> Ink:
    """The wash that, with soft layers of its colour beneath it, does what this one does alone."""
    if not soft:
        return wash
    goal = 1 - wash.strength + wash.strength * np.array(wash.colour) / 255
    low, high = np.zeros(3), np.ones(3)
    for _ in range(30):
        colour = (low + high) / 2
        total = np.prod([1 - a + a * colour for a in (*soft, wash.strength)], axis=0)
        low, high = np.where(total < goal, colour, low), np.where(total < goal, high, colour)
    return Ink(to_bytes(high), wash.strength)


def _with_wash(passes: Passes, name: str, wash: Ink) -> Passes:
    return passes.model_copy(update={name.replace(" ", "_"): Wash(
        colour=to_hex(wash.colour), strength=round(wash.strength, 4))})


def _after(recipe: Recipe, edits: list[SingleEdit]) -> Recipe:
    return reduce(apply, edits, recipe)


def _cell(row: SheetRow, name: str) -> bool:
    return any(c.name == name for c in row.cells)


def _rows(recipe: Recipe, after: Recipe, names: dict[str, str], parts: list[Part],
          off: dict[str, float], own: dict[str, str]) -> list[ProposedRow]:
    old = {r.part: {c.name: c for c in r.cells} for r in colour_sheet(recipe).rows}
    new = {r.part: {c.name: c for c in r.cells} for r in colour_sheet(after).rows}
    rows = []
    for part in parts:
        name = names[part.id]
        if name not in PASSES or name not in new[part.id]:
            continue
        was, now = old[part.id].get(name, old[part.id][BASE]), new[part.id][name]
        rows.append(ProposedRow(part.id, name, was.colour, now.colour, was.step, now.step,
                                round(off[part.id], 2), part.id in own))
    return rows

