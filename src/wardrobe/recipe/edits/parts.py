"""Edits of the part list and of what parts hold."""

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field

from wardrobe.recipe.document.look import without_parts
from wardrobe.recipe.document.model import (
    MAX_PARTS,
    Claim,
    Fill,
    Opacity,
    Part,
    PlaneKey,
    Recipe,
    check_families,
    family,
)
from wardrobe.recipe.document.name_sets import NamedParts
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.document.types import (
    MOST_PART_NUMBER,
    Colour,
    Frozen,
    MaterialKey,
    PartId,
    PartName,
    Point,
    Strokes,
)
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, changed_part, next_number, part_of
from wardrobe.recipe.edits.target import Targeted


class AddPart(Frozen):
    """A new part without areas."""

    kind: Literal["add_part"] = "add_part"
    name: PartName
    material: MaterialKey = "matte cloth"
    base: Colour = "#9a9aa2"
    scenery: PlaneKey | None = None


class AddParts(Frozen):
    """New parts without areas; names that are there already are left as they are."""

    kind: Literal["add_parts"] = "add_parts"
    parts: NamedParts


class ChangePart(Targeted):
    """Rename a part, or change its material, base colour or place; what is not given stays.

    ``scenery`` is the plane of what lies around the figure, or ``figure`` for what is of it;
    ``behind`` is what shows through a part that is not opaque: another part, or the ``ground``.
    """

    kind: Literal["change_part"] = "change_part"
    part: PartId
    name: PartName | None = None
    material: MaterialKey | None = None
    base: Colour | None = None
    visible: bool | None = None
    with_parent: bool | None = None
    scenery: PlaneKey | Literal["figure"] | None = None
    opacity: Opacity | None = None
    behind: PartId | Literal["ground"] | None = None


class ArrangePart(Frozen):
    """Put a part, with those that belong to it, right before another in the list, or at its
    end; and say what it belongs to."""

    kind: Literal["arrange_part"] = "arrange_part"
    part: PartId
    before: PartId | None = None
    parent: PartId | None = None
    with_parent: bool = False


class RemovePart(Frozen):
    """Remove a part; its areas belong to no part afterwards."""

    kind: Literal["remove_part"] = "remove_part"
    part: PartId


class ReplaceParts(Frozen):
    """Put a whole set of parts and claims in place of what there is."""

    kind: Literal["replace_parts"] = "replace_parts"
    parts: Annotated[tuple[Part, ...], Field(max_length=MAX_PARTS)]
    claims: tuple[Claim, ...]
    proposed: bool = False


class KeepParts(Frozen):
    """Accept the parts that were suggested."""

    kind: Literal["keep_parts"] = "keep_parts"


class ClaimAreas(Frozen):
    """Give the areas under strokes to a part, take them away, or mark ground."""

    kind: Literal["claim_areas"] = "claim_areas"
    to: PartId | Literal["none", "ground", "figure"]
    strokes: Strokes


class SetPattern(Targeted):
    """Put a pattern on a part, or take it away."""

    kind: Literal["set_pattern"] = "set_pattern"
    part: PartId
    pattern: Pattern | None


class SetFill(Frozen):
    """Whether parts run under the line to its middle, or exactly to the line."""

    kind: Literal["set_fill"] = "set_fill"
    fill: Fill


class ColourBlack(Frozen):
    """Make a solid black, named by a place within, an area of a part of its own, which begins in
    the colour of the lines; or print it in ink again."""

    kind: Literal["colour_black"] = "colour_black"
    place: Point
    coloured: bool = True


def next_part_id(recipe: Recipe) -> str:
    """An id that neither a part nor a claim has used."""
    used = [p.id for p in recipe.parts] + [c.to for c in recipe.claims if c.to.startswith("p")]
    return f"p{next_number((int(i[1:]) for i in used), MOST_PART_NUMBER)}"


def _check_name(recipe: Recipe, name: str, but: str | None = None) -> None:
    if any(p.name.casefold() == name.casefold() and p.id != but for p in recipe.parts):
        raise EditRefusedError(f"There is a part “{name}” already; choose another name.")


def _add_part(recipe: Recipe, edit: AddPart) -> Recipe:
    _check_name(recipe, edit.name)
    if len(recipe.parts) >= MAX_PARTS:
        raise EditRefusedError(f"A piece has at most {MAX_PARTS} parts.")
    part = Part(id=next_part_id(recipe), name=edit.name, material=edit.material, base=edit.base,
                scenery=edit.scenery)
    return recipe.model_copy(update={"parts": (*recipe.parts, part), "proposed": False})


def _add_parts(recipe: Recipe, edit: AddParts) -> Recipe:
    there = {p.name.casefold(): p.id for p in recipe.parts}
    for named in edit.parts:
        if named.name.casefold() in there:
            continue
        recipe = _add_part(recipe, AddPart(name=named.name, material=named.material,
                                           base=named.base))
        added = recipe.parts[-1]
        there[named.name.casefold()] = added.id
        parent = there.get(named.parent.casefold()) if named.parent else None
        if parent and parent != added.id:
            recipe = recipe.model_copy(update={"parts": (
                *recipe.parts[:-1], added.model_copy(update={"parent": parent}))})
    return recipe


def _change_part(recipe: Recipe, edit: ChangePart) -> Recipe:
    part = part_of(recipe, edit.part)
    if edit.name is not None:
        _check_name(recipe, edit.name, but=edit.part)
    if edit.with_parent and part.parent is None:
        raise EditRefusedError("The part belongs to no other.")
    changes = edit.model_dump(exclude={"kind", "part", "targets"}, exclude_none=True)
    if edit.behind == "ground":
        changes["behind"] = None
    elif edit.behind is not None and part_of(recipe, edit.behind).id == part.id:
        raise EditRefusedError("Another part shows through, or the ground.")
    if edit.scenery == "figure":
        changes["scenery"] = None
    elif edit.scenery and part.scenery is None:
        # It stands by itself, and so does what belonged to it.
        changes |= _ALONE
        recipe = recipe.model_copy(update={"parts": _let_go(recipe.parts, part)})
    return changed_part(recipe, part.id, **changes)


_ALONE = {"parent": None, "with_parent": False}


def _let_go(parts: tuple[Part, ...], head: Part) -> tuple[Part, ...]:
    """The parts, what belonged to one of them belonging to what that belonged to."""
    left = {"parent": head.parent, "with_parent": False}
    return tuple(p.model_copy(update=left) if p.parent == head.id else p for p in parts)


def _remove_part(recipe: Recipe, edit: RemovePart) -> Recipe:
    part = part_of(recipe, edit.part)
    # The claims stay, so that areas do not fall back to whom they belonged before.
    claims = tuple(c.model_copy(update={"to": "none"}) if c.to == edit.part else c
                   for c in recipe.claims)
    return recipe.model_copy(update={
        "parts": tuple(p.model_copy(update={"behind": None}) if p.behind == part.id else p
                       for p in _let_go(recipe.parts, part) if p.id != part.id),
        "claims": claims, "proposed": False, **_of_parts(recipe, lambda i: i != part.id)})


def _colour_black(recipe: Recipe, edit: ColourBlack) -> Recipe:
    others = tuple(p for p in recipe.coloured_blacks if p != edit.place)
    if edit.coloured:
        names = {p.name.casefold() for p in recipe.parts}
        name = next(f"black {k}" for k in range(1, len(names) + 2) if f"black {k}" not in names)
        added = _add_part(recipe, AddPart(name=name, material="plain", base=recipe.lines.colour))
        claim = Claim(to=added.parts[-1].id, strokes=((edit.place,),))
        return added.model_copy(update={"coloured_blacks": (*others, edit.place),
                                        "claims": (*recipe.claims, claim)})
    mine = [c for c in recipe.claims if c.strokes == ((edit.place,),)]
    changed = recipe.model_copy(update={
        "coloured_blacks": others, "claims": tuple(c for c in recipe.claims if c not in mine)})
    # The part that it had goes with it, unless it was given more.
    for part in {c.to for c in mine} - {c.to for c in changed.claims}:
        if any(p.id == part for p in changed.parts):
            changed = _remove_part(changed, RemovePart(part=part))
    return changed


def _of_parts(recipe: Recipe, stays: Callable[[str], bool]) -> dict[str, object]:
    """What names parts elsewhere in the recipe, without those that do not stay."""
    light = recipe.light
    pairs = tuple(p for p in light.pairs if stays(p.caster) and stays(p.receiver))
    left = {p.id for p in recipe.parts if stays(p.id)}
    return {"light": light.model_copy(update={"pairs": pairs}),
            "ink": recipe.ink.without(left), "looks": without_parts(recipe.looks, left),
            "touch_ups": tuple(t for t in recipe.touch_ups if t.part is None or stays(t.part))}


def _claim(recipe: Recipe, edit: ClaimAreas) -> Recipe:
    if edit.to.startswith("p"):
        part_of(recipe, edit.to)
    last = recipe.claims[-1] if recipe.claims else None
    if last and last.to == edit.to and len(last.strokes) + len(edit.strokes) <= 4000:
        claims = (*recipe.claims[:-1],
                  Claim(to=edit.to, strokes=(*last.strokes, *edit.strokes)))
    else:
        claims = (*recipe.claims, Claim(to=edit.to, strokes=edit.strokes))
    return recipe.model_copy(update={"claims": claims, "proposed": False})


def _replace_parts(recipe: Recipe, edit: ReplaceParts) -> Recipe:
    names = {p.name.casefold() for p in edit.parts}
    ids = {p.id for p in edit.parts}
    if len(names) < len(edit.parts) or len(ids) < len(edit.parts):
        raise EditRefusedError("Two parts have the same name.")
    if any(c.to.startswith("p") and c.to not in ids for c in edit.claims):
        raise EditRefusedError("A claim names a part that is not there.")
    if any(p.behind is not None and (p.behind not in ids or p.behind == p.id)
           for p in edit.parts):
        raise EditRefusedError("What shows through a part is not there.")
    try:
        check_families(edit.parts)
    except ValueError as error:
        raise EditRefusedError(f"{error}.") from error
    # An id may stand for another part now; what was drawn on the one before is not for it.
    kept = {p.id for p in edit.parts} & {p.id for p in recipe.parts if p.name.casefold() in names}
    return recipe.model_copy(update={
        "parts": edit.parts, "claims": edit.claims, "proposed": edit.proposed,
        **_of_parts(recipe, lambda i: i in kept)})


def _arrange_part(recipe: Recipe, edit: ArrangePart) -> Recipe:
    part = part_of(recipe, edit.part)
    moving = family(recipe.parts, part.id)
    for other in (edit.before, edit.parent):
        if other is not None:
            part_of(recipe, other)
    if edit.parent is not None and (part.scenery or part_of(recipe, edit.parent).scenery):
        raise EditRefusedError("Scenery belongs to no part, and no part to it.")
    if edit.parent in moving:
        raise EditRefusedError("A part cannot belong to one of its own parts.")
    changed = part.model_copy(update={"parent": edit.parent,
                                      "with_parent": edit.with_parent and edit.parent is not None})
    group = [changed if p is part else p for p in recipe.parts if p.id in moving]
    rest = [p for p in recipe.parts if p.id not in moving]
    at = next((k for k, p in enumerate(rest) if p.id == edit.before), len(rest))
    return recipe.model_copy(update={"parts": (*rest[:at], *group, *rest[at:]),
                                     "proposed": False})


RULES: Rules = {
    AddPart: _add_part,
    AddParts: _add_parts,
    ChangePart: _change_part,
    ArrangePart: _arrange_part,
    RemovePart: _remove_part,
    ColourBlack: _colour_black,
    ReplaceParts: _replace_parts,
    KeepParts: lambda recipe, edit: recipe.model_copy(update={"proposed": False}),
    ClaimAreas: _claim,
    SetPattern: lambda recipe, edit: changed_part(recipe, edit.part, pattern=edit.pattern),
    SetFill: lambda recipe, edit: recipe.model_copy(update={"fill": edit.fill}),
}
