"""Files are written for a piece, whole or not at all, and kept on record."""

import hashlib
import io
import zipfile
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import get_args

import structlog

from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.flat import encode_flat
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import dressed
from wardrobe.recipe.edits.target import look_of
from wardrobe.recipe.events import Delivered
from wardrobe.recipe.exchange.archive import (
    ArchivedCharacter,
    ArchivedSitting,
    PieceFacts,
    write_archive,
)
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.exchange.handout.stickers import StickerFormat, room_for
from wardrobe.recipe.reports.looks import FIRST_NAME
from wardrobe.server.deliverables import DELIVERABLES, Order
from wardrobe.server.jobs import Job
from wardrobe.server.schemas.delivery import DeliveryRequest, Format
from wardrobe.server.studio import Studio, file_name

log = structlog.get_logger()

_STACK_BYTES_PER_PIXEL, _FLAT_BYTES_PER_PIXEL = 60, 17


def deliver_piece(studio: Studio, job: Job, piece_id: int, request: DeliveryRequest) -> None:
    """Write the file to download."""
    piece = studio.pieces.get(piece_id)
    original = piece.recipe.source.original
    order = Order(studio.deriver, piece.recipe, piece.title, request, job.report,
                  lambda: studio.assets.get(original) if original else b"",
                  tuple(studio.events.of(piece_id)), partial(studio.pieces.recipe_after, piece_id),
                  partial(studio.pieces.history, piece_id))
    if request.format == "archive":
        suffix, ending = "zip", "archive"
        write: Callable[[Path, Order], None] = _archive(studio, piece_id)
    else:
        kind = DELIVERABLES[request.format]
        suffix, ending, write = kind.suffix, kind.ending, kind.write
    name = file_name(piece.title)
    several = request.looks if "looks" not in kind_options(request.format) else ()
    if len(several) == 1:
        order = replace(order, recipe=dressed(piece.recipe, several[0]))
        name = f"{name}-{file_name(look_name(piece.recipe, several[0]))}"
    elif several:
        suffix, ending, write = "zip", f"{ending}-looks".strip("-"), _several(write, suffix)
    path = studio.scratch.folder / f"{job.id}.{suffix}"
    with studio.memory.reserved(_room(order), job.check), replacing(path) as temporary:
        write(temporary, order)
    job.file, job.file_name = path, f"{name}{f'-{ending}' if ending else ''}.{suffix}"
    _note_delivery(studio, job, piece_id, request, path, piece.changes)


def _note_delivery(studio: Studio, job: Job, piece_id: int, request: DeliveryRequest, path: Path,
                   changes: int) -> None:
    """Keep on record that a file was written, and how to know it again."""
    with path.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
    try:
        studio.note(piece_id, Delivered(
            format=request.format, name=job.file_name or path.name, size=path.stat().st_size,
            digest=digest, looks=tuple(request.looks), changes=changes))
    except WardrobeError as error:  # the record is full, or the piece gone: the file is there
        log.warning("a delivery could not be noted", error=error.message)


def _room(order: Order) -> int:
    """Bytes that writing a file takes at its peak, as measured."""
    width, height = order.recipe.size
    scaled = ((order.request.long_edge or 0) / max(width, height))**2
    room = int(width * height * (_STACK_BYTES_PER_PIXEL + _FLAT_BYTES_PER_PIXEL * scaled))
    if order.request.format in get_args(StickerFormat):
        room += room_for(order.recipe.delivery.paper.paper(), order.dpi)
    return room


def kind_options(form: Format) -> tuple[str, ...]:
    """What of the request a kind of file heeds by itself."""
    return DELIVERABLES[form].options if form in DELIVERABLES else ("looks",)


def look_name(recipe: Recipe, wearer: str) -> str:
    """The name of a look."""
    return FIRST_NAME if wearer == PIECE else look_of(recipe, wearer).name


def _several(write: Callable[[Path, Order], None],
             suffix: str) -> Callable[[Path, Order], None]:
    """A file for every look, in one archive."""
    def write_all(path: Path, order: Order) -> None:
        wearers = order.request.looks
        with zipfile.ZipFile(path, "w") as archive:
            for k, wearer in enumerate(wearers):
                one = path.with_suffix(f".look.{suffix}")
                name = file_name(look_name(order.recipe, wearer))

                def passed_on(progress: float, doing: str | None = None, k: int = k,
                              name: str = name) -> None:
                    order.report((k + progress) / len(wearers), f"{name}: {doing or ''}")

                write(one, replace(order, recipe=dressed(order.recipe, wearer),
                                   report=passed_on))
                archive.write(one, f"{k + 1:02d}-{name}.{suffix}")
                one.unlink()
    return write_all


def _archive(studio: Studio, piece_id: int) -> Callable[[Path, Order], None]:
    def write(path: Path, order: Order) -> None:
        piece, character = studio.pieces.get(piece_id), studio.characters.of_piece(piece_id)
        facts = PieceFacts(
            title=piece.title, planned_minutes=piece.planned_minutes,
            spent_minutes={step: s / 60 for step, s in piece.spent.items()},
            sittings=tuple(ArchivedSitting(number=s.id, step=s.step, began=s.began,
                                           seconds=s.seconds, kind=s.kind, note=s.note,
                                           corrects=s.corrects)
                           for s in studio.sittings.all(piece_id)),
            character=character and ArchivedCharacter(
                name=character.name, card=tuple(character.card), washes=character.washes,
                outfits={o.name: o.colours for o in character.outfits}))
        picture, stack = order.picture(), order.stack()
        layered = io.BytesIO()
        write_openraster(layered, stack, picture, order.dpi,
                         order.written("Writing the archive"))
        first, edits = studio.pieces.history(piece_id)
        write_archive(path, facts, first, edits, studio.events.of(piece_id), studio.assets.get, {
            "picture.png": encode_flat(picture, "png", order.dpi),
            "stack.ora": layered.getvalue()})
    return write
