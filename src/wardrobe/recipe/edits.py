"""Edits: each a small document that turns one recipe into the next."""

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field

from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.model import (
    Claim,
    Colour,
    Frozen,
    Light,
    MaterialKey,
    Part,
    PartId,
    PartName,
    Recipe,
    Strokes,
    Wash,
)

MAX_PARTS = 200


class EditRefusedError(WardrobeError):
    """The edit does not fit the recipe; nothing was changed."""

    title = "This change was not made"


class SetThreshold(Frozen):
    """How dark a pixel must be to count as ink."""

    kind: Literal["set_threshold"] = "set_threshold"
    threshold: Annotated[float, Field(ge=0.02, le=0.98)]


class SetLineColour(Frozen):
    """Colour the lines."""

    kind: Literal["set_line_colour"] = "set_line_colour"
    colour: Colour


class AddPart(Frozen):
    """A new part without areas."""

    kind: Literal["add_part"] = "add_part"
    name: PartName
    material: MaterialKey = "matte cloth"
    base: Colour = "#9a9aa2"


class ChangePart(Frozen):
    """Rename a part, or change its material or base colour; what is not given stays."""

    kind: Literal["change_part"] = "change_part"
    part: PartId
    name: PartName | None = None
    material: MaterialKey | None = None
    base: Colour | None = None


class RemovePart(Frozen):
    """Remove a part; its areas belong to no part afterwards."""

    kind: Literal["remove_part"] = "remove_part"
    part: PartId


class ClaimAreas(Frozen):
    """Give the areas under strokes to a part, take them away, or mark ground."""

    kind: Literal["claim_areas"] = "claim_areas"
    to: PartId | Literal["none", "ground", "figure"]
    strokes: Strokes


class ReplaceParts(Frozen):
    """Put a whole set of parts and claims in place of what there is."""

    kind: Literal["replace_parts"] = "replace_parts"
    parts: Annotated[tuple[Part, ...], Field(max_length=MAX_PARTS)]
    claims: tuple[Claim, ...]


class SetPass(Frozen):
    """The colour and strength of the shade or the light pass."""

    kind: Literal["set_pass"] = "set_pass"
    name: Literal["shade", "light"]
    wash: Wash


class MoveLight(Frozen):
    """Move the key light."""

    kind: Literal["move_light"] = "move_light"
    light: Light


class SetBackground(Frozen):
    """Colour the background."""

    kind: Literal["set_background"] = "set_background"
    colour: Colour


Edit = Annotated[
    SetThreshold | SetLineColour | AddPart | ChangePart | RemovePart | ClaimAreas | ReplaceParts
    | SetPass | MoveLight | SetBackground,
    Field(discriminator="kind"),
]


def apply(recipe: Recipe, edit: Any) -> Recipe:
    """The recipe after an edit; the one given is not changed.

    Raises
    ------
    EditRefusedError
        If the edit names a part that is not there, or a name that is taken.
    """
    return _APPLY[type(edit)](recipe, edit)


def next_part_id(recipe: Recipe) -> str:
    """An id that neither a part nor a claim has used."""
    used = [p.id for p in recipe.parts] + [c.to for c in recipe.claims if c.to.startswith("p")]
    return f"p{max((int(i[1:]) for i in used), default=0) + 1}"


def _part(recipe: Recipe, part_id: str) -> Part:
    for part in recipe.parts:
        if part.id == part_id:
            return part
    raise EditRefusedError("The part is no longer there.")


def _check_name(recipe: Recipe, name: str, but: str | None = None) -> None:
    if any(p.name.casefold() == name.casefold() and p.id != but for p in recipe.parts):
        raise EditRefusedError(f"There is a part “{name}” already; choose another name.")


def _add_part(recipe: Recipe, edit: AddPart) -> Recipe:
    _check_name(recipe, edit.name)
    if len(recipe.parts) >= MAX_PARTS:
        raise EditRefusedError(f"A piece has at most {MAX_PARTS} parts.")
    part = Part(id=next_part_id(recipe), name=edit.name, material=edit.material, base=edit.base)
    return recipe.model_copy(update={"parts": (*recipe.parts, part)})


def _change_part(recipe: Recipe, edit: ChangePart) -> Recipe:
    _part(recipe, edit.part)
    if edit.name is not None:
        _check_name(recipe, edit.name, but=edit.part)
    changes = edit.model_dump(exclude={"kind", "part"}, exclude_none=True)
    parts = tuple(p.model_copy(update=changes) if p.id == edit.part else p for p in recipe.parts)
    return recipe.model_copy(update={"parts": parts})


def _remove_part(recipe: Recipe, edit: RemovePart) -> Recipe:
    part = _part(recipe, edit.part)
    # The claims stay, so that areas do not fall back to whom they belonged before.
    claims = tuple(c.model_copy(update={"to": "none"}) if c.to == edit.part else c
                   for c in recipe.claims)
    return recipe.model_copy(update={
        "parts": tuple(p for p in recipe.parts if p is not part), "claims": claims})


def _claim(recipe: Recipe, edit: ClaimAreas) -> Recipe:
    if edit.to.startswith("p"):
        _part(recipe, edit.to)
    last = recipe.claims[-1] if recipe.claims else None
    if last and last.to == edit.to and len(last.strokes) + len(edit.strokes) <= 4000:
        claims = (*recipe.claims[:-1],
                  Claim(to=edit.to, strokes=(*last.strokes, *edit.strokes)))
    else:
        claims = (*recipe.claims, Claim(to=edit.to, strokes=edit.strokes))
    return recipe.model_copy(update={"claims": claims})


def _replace_parts(recipe: Recipe, edit: ReplaceParts) -> Recipe:
    names = {p.name.casefold() for p in edit.parts}
    ids = {p.id for p in edit.parts}
    if len(names) < len(edit.parts) or len(ids) < len(edit.parts):
        raise EditRefusedError("Two parts have the same name.")
    if any(c.to.startswith("p") and c.to not in ids for c in edit.claims):
        raise EditRefusedError("A claim names a part that is not there.")
    return recipe.model_copy(update={"parts": edit.parts, "claims": edit.claims})


def _set_lines(field: str) -> Callable[[Recipe, Any], Recipe]:
    def change(recipe: Recipe, edit: Any) -> Recipe:
        lines = recipe.lines.model_copy(update={field: getattr(edit, field)})
        return recipe.model_copy(update={"lines": lines})
    return change


_APPLY: dict[type[Frozen], Callable[[Recipe, Any], Recipe]] = {
    SetThreshold: _set_lines("threshold"),
    SetLineColour: _set_lines("colour"),
    AddPart: _add_part,
    ChangePart: _change_part,
    RemovePart: _remove_part,
    ClaimAreas: _claim,
    ReplaceParts: _replace_parts,
    SetPass: lambda recipe, edit: recipe.model_copy(
        update={"passes": recipe.passes.model_copy(update={edit.name: edit.wash})}),
    MoveLight: lambda recipe, edit: recipe.model_copy(update={"light": edit.light}),
    SetBackground: lambda recipe, edit: recipe.model_copy(update={"background": edit.colour}),
}
