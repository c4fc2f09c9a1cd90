"""A piece as one archive: recipe, history, assets and renders; and back."""

import hashlib
import json
import zipfile
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import reduce
from pathlib import Path
from typing import IO, Annotated, Any, Literal, TypeVar

from annotated_types import MaxLen
from pydantic import AwareDatetime, BaseModel, Field, TypeAdapter, ValidationError

from wardrobe.core.errors import UnreadableImageError, WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.members import Members, members_of
from wardrobe.core.formats.tokens import MOST_COLOURS
from wardrobe.recipe.document.colouring import Wash
from wardrobe.recipe.document.finish import pictures_in
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import ASSET, Colour, Frozen, PartName, Title
from wardrobe.recipe.edits import Edit, StoredEdit, apply
from wardrobe.recipe.events import (
    MOST_EVENTS,
    Happened,
    Reference,
    as_events,
    assets_of,
    noted,
    parted,
)
from wardrobe.recipe.events.planning import Step
from wardrobe.recipe.exchange.card import CheckedColour

_MOST_MEMBERS, _MOST_BYTES, _MOST_TEXT = 1000, 1024**3, 64 * 1024**2
_EDITS: TypeAdapter[list[Edit]] = TypeAdapter(list[StoredEdit])
_EVENTS: TypeAdapter[list[Happened]] = TypeAdapter(
    Annotated[list[Happened], MaxLen(MOST_EVENTS)])


class ArchiveError(UnreadableImageError):
    """The file is no archive of a piece, or it is damaged."""

    title = "This archive cannot be restored"


class ArchivedCharacter(Frozen):
    """Whose picture the piece is, with the colour card; outfits by name, colours by part name."""

    name: Title
    card: Annotated[tuple[CheckedColour, ...], Field(max_length=MOST_COLOURS)] = ()
    washes: dict[str, Wash] = Field(default_factory=dict)
    outfits: dict[Title, Annotated[dict[PartName, Colour], Field(max_length=MOST_COLOURS)]] = (
        Field(default_factory=dict))


class ArchivedSitting(Frozen):
    """Time that was given to a step; a correction may take some away."""

    number: Annotated[int, Field(ge=1, le=2**53)]
    step: Step
    began: AwareDatetime
    seconds: Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]
    kind: Literal["work", "look", "by hand", "correction"] = "work"
    note: Annotated[str, Field(max_length=200)] = ""
    corrects: Annotated[int, Field(ge=1, le=2**53)] | None = None


class PieceFacts(Frozen):
    """What is known of a piece besides its recipe."""

    archive_version: Literal[1] = 1
    title: Title
    planned_minutes: Annotated[float, Field(gt=0, le=6000, allow_inf_nan=False)] = 40.0
    spent_minutes: dict[str, Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]] = \
        Field(default_factory=dict)
    sittings: Annotated[tuple[ArchivedSitting, ...], Field(max_length=100_000)] = ()
    character: ArchivedCharacter | None = None


@dataclass(frozen=True)
class Archived:
    """What an archive holds.

    Attributes
    ----------
    first : Recipe
        Where the history begins.
    edits : tuple of Edit
        From there to the piece as it is.
    events : tuple of Happened
    assets : dict of str to bytes
        By SHA-256, which has been checked.
    """

    facts: PieceFacts
    first: Recipe
    edits: tuple[Edit, ...]
    events: tuple[Happened, ...]
    assets: Mapping[str, bytes]

    @property
    def recipe(self) -> Recipe:
        """The piece as it is."""
        return reduce(apply, self.edits, self.first)


def write_archive(path: Path, facts: PieceFacts, first: Recipe, edits: tuple[Edit, ...],
                  events: Sequence[Happened], load: Callable[[str], bytes],
                  renders: Mapping[str, bytes]) -> None:
    """Write an archive.

    Parameters
    ----------
    path : Path
    facts : PieceFacts
    first : Recipe
    edits : tuple of Edit
        What was done since; the recipe is what they lead to.
    events : sequence of Happened
    load : callable
        Gives the bytes of an asset.
    renders : mapping of str to bytes
        Pictures by file name, for whoever has no Wardrobe; they are not read back.
    """
    recipe = reduce(apply, edits, first)
    told = _EDITS.dump_json(list(edits)).decode()
    names = sorted({*ASSET.findall(first.model_dump_json() + told), *assets_of(events)})
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        _put(archive, "piece.json", facts.model_dump_json(indent=1))
        _put(archive, "recipe.json", recipe.model_dump_json(indent=1))
        _put(archive, "history.json",
             f'{{"first": {first.model_dump_json()},\n"edits": {told}}}')
        _put(archive, "events.json", _EVENTS.dump_json(list(events), indent=1).decode())
        for name in names:
            _put(archive, f"assets/{name}", load(name))
        for name, data in renders.items():
            _put(archive, f"renders/{name}", data)


def _put(archive: zipfile.ZipFile, name: str, data: str | bytes) -> None:
    info = zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0))
    # Pictures are packed already.
    packed = isinstance(data, str)
    info.compress_type = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
    archive.writestr(info, data)


def read_archive(file: Path | IO[bytes], limits: ImageLimits | None = None) -> Archived:
    """Read an archive. Members are read by name and never unpacked to disk.

    Parameters
    ----------
    file : Path or binary file
    limits : ImageLimits
        Of the pictures in it.

    Raises
    ------
    ArchiveError
        If it is damaged, lacks something, or holds something else.
    ImageLimitError
        If it asks for more than the limits.
    """
    damaged = ArchiveError("This is not the archive of a piece, or it is damaged or cut short.")
    with members_of(file, _MOST_MEMBERS, _MOST_BYTES, damaged) as members:
        return _read(members, limits or ImageLimits())


def _read(members: Members, limits: ImageLimits) -> Archived:
    facts = _parsed(PieceFacts, "piece.json", members)
    recipe = _parsed(Recipe, "recipe.json", members)
    began, edits = _history(members.read("history.json", _MOST_TEXT)
                            if "history.json" in members else b"", recipe)
    events = tuple(_events(members, recipe))
    named = sorted({*ASSET.findall(began.model_dump_json() + _EDITS.dump_json(
        list(edits)).decode()), *assets_of(events)})
    assets = {name: members.read(f"assets/{name}", limits.file_bytes * 4) for name in named}
    for name, data in assets.items():
        if hashlib.sha256(data).hexdigest() != name:
            raise ArchiveError("A picture in the archive is damaged: its bytes are not what its "
                               "name says.")
    _check_pictures(recipe, events, assets, limits)
    return Archived(facts, began, edits, events, assets)


def _events(members: Members, recipe: Recipe) -> list[Happened]:
    try:
        if "events.json" not in members:  # an earlier version kept answers in the recipe
            stored = json.loads(members.read("recipe.json", _MOST_TEXT)).get("answers") or ()
            return noted(as_events(stored, {look.id: look.name for look in recipe.looks}))
        found = _EVENTS.validate_json(members.read("events.json", _MOST_TEXT))
    except ValidationError as error:
        raise _another("events.json", error) from error
    except (KeyError, TypeError, AttributeError) as error:
        raise ArchiveError("The archive was changed by hand: its answers are none.") from error
    if [h.number for h in found] != list(range(1, len(found) + 1)):
        raise ArchiveError("The archive was changed by hand: its events are not in their order.")
    return found


M = TypeVar("M", bound=BaseModel)


def _parsed(kind: type[M], name: str, members: Members) -> M:
    try:
        return kind.model_validate_json(members.read(name, _MOST_TEXT))
    except ValidationError as error:
        raise _another(name, error) from error


def _another(name: str, error: ValidationError) -> ArchiveError:
    first = error.errors(include_input=False)[0]
    where = ".".join(str(p) for p in first["loc"])
    return ArchiveError(f"The archive was made by another version, or changed by hand: {name}"
                        f"{f', {where}' if where else ''}: {first['msg']}.")


def _history(data: bytes, recipe: Recipe) -> tuple[Recipe, tuple[Edit, ...]]:
    """First recipe and edits, if they still lead to the recipe; else the recipe alone."""
    try:
        told: dict[str, Any] = json.loads(data)
        first = Recipe.model_validate(told["first"])
        left, _ = parted(told["edits"], {})
        edits = tuple(_EDITS.validate_python([edit for edit in left if edit is not None]))
        return (first, edits) if reduce(apply, edits, first) == recipe else (recipe, ())
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError, WardrobeError):
        return recipe, ()


def _check_pictures(recipe: Recipe, events: Sequence[Happened], assets: Mapping[str, bytes],
                    limits: ImageLimits) -> None:
    first = recipe.source.width, recipe.source.height
    # A corrected drawing that is not laid on the first lies at its corner, whatever its size.
    wanted: list[tuple[str, tuple[int, int] | None]] = [
        (d.asset, (d.laid.width, d.laid.height) if d.laid else first if d.number == 1 else None)
        for d in (recipe.source, *recipe.other_drawings)]
    placed = [p.pattern.picture for p in recipe.parts if p.pattern and p.pattern.picture]
    placed += pictures_in((*recipe.finish, *(f for k in recipe.looks for f in k.finish or ())))
    beside = [h.event.picture for h in events if isinstance(h.event, Reference)]
    wanted += [(p.asset, (p.width, p.height)) for p in (*placed, *beside, recipe.details) if p]
    for name, size in wanted:
        if not assets[name].startswith(b"\x89PNG"):
            raise ArchiveError("A picture in the archive is no PNG, as those that Wardrobe keeps.")
        pixels = decode_image(assets[name], limits)
        if size is not None and (pixels.shape[1], pixels.shape[0]) != size:
            raise ArchiveError("A picture in the archive has another size than the recipe says.")
