"""Edits of looks, and of the piece's own colours together with theirs."""

from typing import Annotated, Literal

from pydantic import Field

from wardrobe.core.colour import from_hex, to_hex
from wardrobe.core.colour.nudge import nudge_all
from wardrobe.recipe.document.colouring import Passes
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.look import (
    MAX_LOOKS,
    MOST_LOOK_NUMBER,
    Answer,
    Bases,
    Look,
    LookId,
    LookName,
    worn,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import Colour, Frozen, MaterialKey, NudgeKey, PartId, PassKey
from wardrobe.recipe.edits.rule import EditRefusedError, Rules, next_number, part_of

PIECE: Literal["piece"] = "piece"  # the first look, which is the piece itself
Wearer = Literal["piece"] | LookId
Wearers = Annotated[tuple[Wearer, ...], Field(min_length=1, max_length=MAX_LOOKS + 1)]
Parts = Annotated[tuple[PartId, ...], Field(min_length=1, max_length=200)]


class AddLook(Frozen):
    """A new look: like another one, with these base colours on top."""

    kind: Literal["add_look"] = "add_look"
    name: LookName
    like: Wearer = PIECE
    bases: Bases = Field(default_factory=dict)
    background: Colour | None = None
    light: Light | None = None


class ChangeLook(Frozen):
    """Rename a look, retire it or bring it back; give it a background, light or method of its
    own, or those of the piece again."""

    kind: Literal["change_look"] = "change_look"
    look: LookId
    name: LookName | None = None
    retired: bool | None = None
    background: Colour | Literal["piece"] | None = None
    light: Light | Literal["piece"] | None = None
    passes: Passes | Literal["piece"] | None = None


class MoveLook(Frozen):
    """Hang a look before another one, or at the end of the rail."""

    kind: Literal["move_look"] = "move_look"
    look: LookId
    before: LookId | None = None


class RemoveLook(Frozen):
    """Throw a look away."""

    kind: Literal["remove_look"] = "remove_look"
    look: LookId


class Dress(Frozen):
    """Base colours of parts, in one look, in several, or in the piece; None as in the piece."""

    kind: Literal["dress"] = "dress"
    looks: Wearers
    bases: Annotated[dict[PartId, Colour | None], Field(min_length=1, max_length=200)]


class DressNudge(Frozen):
    """Move the bases of parts by steps that look equal, each from where it is in its look."""

    kind: Literal["dress_nudge"] = "dress_nudge"
    looks: Wearers
    parts: Parts
    to: NudgeKey
    times: Annotated[int, Field(ge=1, le=60)] = 1


class DressPart(Frozen):
    """What else a look changes of a part: material, pattern, pass colours of its own; None as in
    the piece."""

    kind: Literal["dress_part"] = "dress_part"
    looks: Annotated[tuple[LookId, ...], Field(min_length=1, max_length=MAX_LOOKS)]
    part: PartId
    material: MaterialKey | None = None
    plain: bool = False
    own: dict[PassKey, Colour] | None = None


class RecordAnswer(Frozen):
    """What came back from whoever chooses among the looks."""

    kind: Literal["record_answer"] = "record_answer"
    answer: Answer


def _record(recipe: Recipe, edit: RecordAnswer) -> Recipe:
    if edit.answer.look not in (None, PIECE):
        look_of(recipe, str(edit.answer.look))
    return recipe.model_copy(update={"answers": (*recipe.answers, edit.answer)[-100:]})


def look_of(recipe: Recipe, look_id: str) -> Look:
    """The look of an id.

    Raises
    ------
    EditRefusedError
        If there is none.
    """
    for look in recipe.looks:
        if look.id == look_id:
            return look
    raise EditRefusedError("The look is no longer there.")


def dressed(recipe: Recipe, wearer: str) -> Recipe:
    """The piece as it is in one of its looks; ``piece`` for itself."""
    return recipe if wearer == PIECE else worn(recipe, look_of(recipe, wearer))


def _add(recipe: Recipe, edit: AddLook) -> Recipe:
    if len(recipe.looks) >= MAX_LOOKS:
        raise EditRefusedError(f"A piece has at most {MAX_LOOKS} looks; throw one away first.")
    number = next_number((int(k.id[1:]) for k in recipe.looks), MOST_LOOK_NUMBER)
    like = Look(id="k0", name="-") if edit.like == PIECE else look_of(recipe, edit.like)
    for part in edit.bases:
        part_of(recipe, part)
    same = {p.id: p.base for p in recipe.parts}
    new = like.model_copy(update={
        "id": f"k{number}", "name": edit.name, "retired": False,
        "bases": {p: c for p, c in {**like.bases, **edit.bases}.items() if c != same.get(p)},
        "own": {p: own for p, own in like.own.items() if p not in edit.bases},
        "background": edit.background or like.background, "light": edit.light or like.light})
    at = next((k + 1 for k, look in enumerate(recipe.looks) if look.id == edit.like),
              len(recipe.looks))
    return recipe.model_copy(update={"looks": (*recipe.looks[:at], new, *recipe.looks[at:])})


def _replaced(recipe: Recipe, new: Look) -> Recipe:
    return recipe.model_copy(update={
        "looks": tuple(new if look.id == new.id else look for look in recipe.looks)})


def _change(recipe: Recipe, edit: ChangeLook) -> Recipe:
    look = look_of(recipe, edit.look)
    changes: dict[str, object] = {}
    for what in ("name", "retired", "background", "light", "passes"):
        value = getattr(edit, what)
        if value is not None:
            changes[what] = None if value == PIECE and what not in ("name", "retired") else value
    return _replaced(recipe, look.model_copy(update=changes))


def _move(recipe: Recipe, edit: MoveLook) -> Recipe:
    look = look_of(recipe, edit.look)
    rest = [k for k in recipe.looks if k is not look]
    at = len(rest) if edit.before is None else rest.index(look_of(recipe, edit.before)) \
        if edit.before != edit.look else recipe.looks.index(look)
    return recipe.model_copy(update={"looks": (*rest[:at], look, *rest[at:])})


def _remove(recipe: Recipe, edit: RemoveLook) -> Recipe:
    look = look_of(recipe, edit.look)
    return recipe.model_copy(update={"looks": tuple(k for k in recipe.looks if k is not look)})


def _dress(recipe: Recipe, edit: Dress) -> Recipe:
    for part in edit.bases:
        part_of(recipe, part)
    for wearer in sorted(edit.looks, key=lambda w: w != PIECE):
        if wearer == PIECE:
            # Looks follow the piece, but for what they say themselves.
            recipe = recipe.model_copy(update={"proposed": False, "parts": tuple(
                p.model_copy(update={"base": edit.bases[p.id]}) if edit.bases.get(p.id) else p
                for p in recipe.parts)})
            continue
        look = look_of(recipe, wearer)
        bases = {**look.bases, **edit.bases}
        own = {p: v for p, v in look.own.items() if p not in edit.bases}
        same = {p.id: p.base for p in recipe.parts}
        recipe = _replaced(recipe, look.model_copy(update={
            "bases": {p: c for p, c in bases.items() if c not in (None, same.get(p))},
            "own": own}))
    return recipe


def _dress_nudge(recipe: Recipe, edit: DressNudge) -> Recipe:
    moved: dict[str, dict[str, str | None]] = {}
    for wearer in edit.looks:
        seen = {p.id: p.base for p in dressed(recipe, wearer).parts}
        found = nudge_all([from_hex(seen[part_of(recipe, part).id]) for part in edit.parts],
                          edit.to, edit.times)
        moved[wearer] = dict(zip(edit.parts, map(to_hex, found), strict=True))
    for wearer in sorted(moved, key=lambda w: w != PIECE):
        recipe = _dress(recipe, Dress(looks=(wearer,), bases=moved[wearer]))
    return recipe


def _dress_part(recipe: Recipe, edit: DressPart) -> Recipe:
    part_of(recipe, edit.part)
    for look_id in edit.looks:
        look = look_of(recipe, look_id)
        materials = {p: m for p, m in look.materials.items() if p != edit.part}
        own = {p: c for p, c in look.own.items() if p != edit.part}
        if edit.material:
            materials[edit.part] = edit.material
        if edit.own is not None:
            own[edit.part] = edit.own
        plain = tuple(p for p in look.plain if p != edit.part)
        recipe = _replaced(recipe, look.model_copy(update={
            "materials": materials, "own": own,
            "plain": (*plain, edit.part) if edit.plain else plain}))
    return recipe


RULES: Rules = {AddLook: _add, ChangeLook: _change, MoveLook: _move, RemoveLook: _remove,
                Dress: _dress, DressNudge: _dress_nudge, DressPart: _dress_part,
                RecordAnswer: _record}
