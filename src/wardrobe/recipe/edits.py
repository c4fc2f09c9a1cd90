"""Edits: each a small document that turns one recipe into the next."""

from collections.abc import Callable, Sequence
from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from pydantic import Field

from wardrobe.core.errors import WardrobeError
from wardrobe.core.lines.frame import frame_matrix, turned_size
from wardrobe.core.lines.hues import same_hue
from wardrobe.recipe.model import (
    MAX_CLOSINGS,
    Boundary,
    Claim,
    Closing,
    Colour,
    Frame,
    Frozen,
    Halo,
    Light,
    Lines,
    MaterialKey,
    OpenGap,
    Part,
    PartId,
    PartName,
    Recipe,
    Strokes,
    Wash,
)

T = TypeVar("T")

MAX_PARTS = 200
SMALLEST_CROP = 64


class EditRefusedError(WardrobeError):
    """The edit does not fit the recipe; nothing was changed."""

    title = "This change was not made"


class SetFrame(Frozen):
    """Turn, level and crop; everything that names places moves along."""

    kind: Literal["set_frame"] = "set_frame"
    frame: Frame


class TurnPicture(Frozen):
    """A quarter turn, clockwise or back, of what is kept."""

    kind: Literal["turn_picture"] = "turn_picture"
    clockwise: bool = True


class SetLines(Frozen):
    """How the drawing becomes lines."""

    kind: Literal["set_lines"] = "set_lines"
    lines: Lines


class NameBoundary(Frozen):
    """Say what lines of a hue are for."""

    kind: Literal["name_boundary"] = "name_boundary"
    boundary: Boundary


class CloseGaps(Frozen):
    """Close gaps, or add closings drawn by hand."""

    kind: Literal["close_gaps"] = "close_gaps"
    closings: Annotated[tuple[Closing, ...], Field(min_length=1, max_length=MAX_CLOSINGS)]


class InkClosing(Frozen):
    """Print a closing with the lines, or not."""

    kind: Literal["ink_closing"] = "ink_closing"
    index: Annotated[int, Field(ge=0)]
    inked: bool


class RemoveClosing(Frozen):
    """Take a closing away."""

    kind: Literal["remove_closing"] = "remove_closing"
    index: Annotated[int, Field(ge=0)]


class LeaveOpen(Frozen):
    """Leave a gap open for good: its two sides are one area."""

    kind: Literal["leave_open"] = "leave_open"
    gap: OpenGap


class AskAgain(Frozen):
    """Forget that a gap is to stay open."""

    kind: Literal["ask_again"] = "ask_again"
    index: Annotated[int, Field(ge=0)]


class GrowSilhouette(Frozen):
    """How far the silhouette reaches under the outline, px."""

    kind: Literal["grow_silhouette"] = "grow_silhouette"
    growth: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)]


class SetHalo(Frozen):
    """The light rim of solid blacks: its width (0 is none) and colour."""

    kind: Literal["set_halo"] = "set_halo"
    halo: Halo


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
    SetFrame | TurnPicture | SetLines | NameBoundary | CloseGaps | InkClosing | RemoveClosing
    | LeaveOpen | AskAgain | GrowSilhouette | SetHalo | AddPart | ChangePart | RemovePart
    | ClaimAreas | ReplaceParts | SetPass | MoveLight | SetBackground,
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


def _set_frame(recipe: Recipe, edit: SetFrame) -> Recipe:
    source, frame = recipe.source, edit.frame
    width, height = turned_size(source.width, source.height, frame.turn)
    if frame.crop:
        x, y, w, h = frame.crop
        if min(x, y) < 0 or x + w > width or y + h > height:
            raise EditRefusedError("The crop reaches beyond the picture.")
        if min(w, h) < SMALLEST_CROP:
            raise EditRefusedError(f"At least {SMALLEST_CROP} px on each edge must be kept.")
    before, after = (frame_matrix(source.width, source.height, f.turn, f.tilt, f.crop)
                     for f in (recipe.frame, frame))
    move = after @ np.linalg.inv(before)

    def moved(points: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        xy = np.array(points) @ move[:2, :2].T + move[:2, 2]
        return tuple((round(float(x), 2), round(float(y), 2)) for x, y in xy)

    def pair(points: tuple[tuple[float, float], tuple[float, float]],
             ) -> tuple[tuple[float, float], tuple[float, float]]:
        one, two = moved(points)
        return one, two

    return recipe.model_copy(update={
        "frame": frame,
        "claims": tuple(Claim(to=c.to, strokes=tuple(moved(s) for s in c.strokes))
                        for c in recipe.claims),
        "closings": tuple(Closing(points=moved(c.points), inked=c.inked)
                          for c in recipe.closings),
        "left_open": tuple(OpenGap(ends=pair(g.ends), sides=pair(g.sides))
                           for g in recipe.left_open)})


def _turn_picture(recipe: Recipe, edit: TurnPicture) -> Recipe:
    frame, source = recipe.frame, recipe.source
    crop = frame.crop
    if crop:
        x, y, w, h = crop
        width, height = turned_size(source.width, source.height, frame.turn)
        crop = (height - y - h, x, h, w) if edit.clockwise else (y, width - x - w, h, w)
    turn = (frame.turn + (1 if edit.clockwise else 3)) % 4
    return _set_frame(recipe, SetFrame(frame=Frame(turn=turn, tilt=frame.tilt, crop=crop)))


def _name_boundary(recipe: Recipe, edit: NameBoundary) -> Recipe:
    new = edit.boundary
    others = tuple(b for b in recipe.boundaries if not same_hue(b.hue, new.hue))
    return recipe.model_copy(update={"boundaries": (*others, new)})


def _close_gaps(recipe: Recipe, edit: CloseGaps) -> Recipe:
    if len(recipe.closings) + len(edit.closings) > MAX_CLOSINGS:
        raise EditRefusedError(f"A piece has at most {MAX_CLOSINGS} closings.")
    return recipe.model_copy(update={"closings": (*recipe.closings, *edit.closings)})


def _entry(entries: tuple[T, ...], index: int, what: str) -> T:
    if index >= len(entries):
        raise EditRefusedError(f"The {what} is no longer there.")
    return entries[index]


def _ink_closing(recipe: Recipe, edit: InkClosing) -> Recipe:
    closing = _entry(recipe.closings, edit.index, "closing")
    inked = closing.model_copy(update={"inked": edit.inked})
    return recipe.model_copy(update={"closings": (
        *recipe.closings[:edit.index], inked, *recipe.closings[edit.index + 1:])})


def _remove_entry(field: str, what: str) -> Callable[[Recipe, Any], Recipe]:
    def change(recipe: Recipe, edit: Any) -> Recipe:
        entries = getattr(recipe, field)
        _entry(entries, edit.index, what)
        return recipe.model_copy(update={
            field: (*entries[:edit.index], *entries[edit.index + 1:])})
    return change


_APPLY: dict[type[Frozen], Callable[[Recipe, Any], Recipe]] = {
    SetFrame: _set_frame,
    TurnPicture: _turn_picture,
    SetLines: lambda recipe, edit: recipe.model_copy(update={"lines": edit.lines}),
    SetHalo: lambda recipe, edit: recipe.model_copy(update={"halo": edit.halo}),
    NameBoundary: _name_boundary,
    CloseGaps: _close_gaps,
    InkClosing: _ink_closing,
    RemoveClosing: _remove_entry("closings", "closing"),
    LeaveOpen: lambda recipe, edit: recipe.model_copy(
        update={"left_open": (*recipe.left_open, edit.gap)}),
    AskAgain: _remove_entry("left_open", "gap"),
    GrowSilhouette: lambda recipe, edit: recipe.model_copy(
        update={"silhouette_growth": edit.growth}),
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
