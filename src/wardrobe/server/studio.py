"""What the routes share: the store, the deriver, the jobs, and the work that joins them."""

import hashlib
import io
import re
import threading
from collections.abc import Callable
from dataclasses import replace
from functools import reduce
from pathlib import Path

import numpy as np
import structlog
from numpy.typing import NDArray

from wardrobe.core.errors import UnreadableImageError
from wardrobe.core.formats.flat import encode_flat
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits, StackLimits
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.model import Stack
from wardrobe.core.timing.plan import STEPS
from wardrobe.recipe.archive import (
    ArchivedCharacter,
    PieceFacts,
    read_archive,
    write_archive,
)
from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.edits import (
    AddRecut,
    ChangePart,
    Edit,
    EditRefusedError,
    MoveLight,
    SetBackground,
    SetDelivery,
    SetPasses,
    SetPattern,
    apply,
)
from wardrobe.recipe.files import replacing
from wardrobe.recipe.gap_report import report_gaps
from wardrobe.recipe.lighting import SideLight
from wardrobe.recipe.memo import Memo
from wardrobe.recipe.model import Pattern, PlacedPicture, Recipe, ShareArea, Source
from wardrobe.recipe.pictures import draw
from wardrobe.recipe.proposals import EvenOut, propose
from wardrobe.recipe.suggest import first_edits
from wardrobe.recipe.types import ASSET
from wardrobe.recipe.view import View
from wardrobe.server.assets import AssetStore, sweep_folder, write_whole
from wardrobe.server.characters import CharacterStore
from wardrobe.server.db.session import open_database
from wardrobe.server.deliveries import DELIVERABLES, Order
from wardrobe.server.jobs import Job, JobRunner
from wardrobe.server.layered import LayeredFiles
from wardrobe.server.pieces import PieceStore
from wardrobe.server.schemas import DeliveryRequest, Piece
from wardrobe.server.settings import Settings
from wardrobe.server.templates import TemplateStore

log = structlog.get_logger()

# Raise when rendering changes, so that pictures of an older version are not shown.
RENDER_VERSION = 5
_CARD_EDGE = 520
_MOST_CARDS = 400
_PLACED_EDGE = 1600  # px that an SVG is drawn at, to lie on a part


class Studio:
    """Everything that lives as long as the server."""

    def __init__(self, settings: Settings) -> None:
        data = settings.data_dir
        self.settings = settings
        sessions = open_database(data / "wardrobe.sqlite3")
        self.pieces, self.characters = PieceStore(sessions), CharacterStore(sessions)
        self.templates = TemplateStore(sessions)
        self.assets = AssetStore(data / "assets")
        self.layered = LayeredFiles(sessions, self.assets, StackLimits(
            replace(settings.limits, shortest_edge=1)))
        self.jobs = JobRunner()
        self.deriver = Deriver(self._load_source, settings.cache_bytes)
        self._small: Memo[Stack] = Memo(2)
        self._cards = data / "cards"
        self._deliveries = data / "deliveries"
        for folder, keep in ((self._cards, _MOST_CARDS), (self._deliveries, 0)):
            folder.mkdir(parents=True, exist_ok=True)
            sweep_folder(folder, keep)
        sweep_folder(data / "assets", 0)
        self.assets.prune(self.pieces.assets_in_use())

    def warm_up(self) -> None:
        """Load the compiled kernels in the background, so that the first request is quick."""
        threading.Thread(target=_exercise, name="warm-up", daemon=True).start()

    def close(self) -> None:
        """Stop the jobs."""
        self.jobs.close()

    def import_drawing(self, job: Job, data: bytes, title: str, planned_minutes: float,
                       long_edge: int, like: int | None = None) -> None:
        """From an uploaded file to a piece with its first parts.

        ``like`` names a piece whose card, light, method and stack settings it begins with.
        """
        job.report(0.05, "Reading the file")
        recipe = read_drawing(self.assets, data, self.settings.limits, long_edge)
        job.report(0.3, "Finding the lines")
        self.deriver.coverage(recipe)
        job.report(0.4, "Cutting areas")
        edits = first_edits(self.deriver, recipe)
        if like is not None:
            edits += begun_like(self.pieces.recipe(like))
        job.report(0.7, "Guessing forms")
        self.card(reduce(apply, edits, recipe))
        job.report(0.98, "Saving")
        piece = self.pieces.create(title, planned_minutes, recipe, edits)
        character = self.characters.of_piece(like) if like is not None else None
        if character:
            self.characters.give(piece, character.id)
        job.piece = piece

    def deliver(self, job: Job, piece_id: int, request: DeliveryRequest) -> None:
        """Write the file to download."""
        piece = self.pieces.get(piece_id)
        order = Order(self.deriver, piece.recipe, piece.title, request, job,
                      lambda: self.assets.get(piece.recipe.source.original or ""))
        if request.format == "archive":
            suffix, ending = "zip", "archive"
            write: Callable[[Path, Order], None] = self._archive(piece_id)
        else:
            kind = DELIVERABLES[request.format]
            suffix, ending, write = kind.suffix, kind.ending, kind.write
        path = self._deliveries / f"{job.id}.{suffix}"
        with replacing(path) as temporary:
            write(temporary, order)
        name = file_name(piece.title)
        job.file, job.file_name = path, f"{name}{f'-{ending}' if ending else ''}.{suffix}"

    def _archive(self, piece_id: int) -> Callable[[Path, Order], None]:
        def write(path: Path, order: Order) -> None:
            piece, character = self.pieces.get(piece_id), self.characters.of_piece(piece_id)
            facts = PieceFacts(
                title=piece.title, planned_minutes=piece.planned_minutes,
                spent_minutes=piece.spent_minutes, character=character and ArchivedCharacter(
                    name=character.name, card=tuple(character.card), washes=character.washes))
            picture, stack = order.picture(), order.stack()
            layered = io.BytesIO()
            write_openraster(layered, stack, picture, order.dpi,
                             order.written("Writing the archive"))
            first, edits = self.pieces.history(piece_id)
            write_archive(path, facts, first, edits, self.assets.get, {
                "picture.png": encode_flat(picture, "png", order.dpi),
                "stack.ora": layered.getvalue()})
        return write

    def restore(self, job: Job, data: bytes) -> None:
        """From an archive to a piece."""
        job.report(0.1, "Reading the archive")
        archived = read_archive(io.BytesIO(data), self.settings.limits)
        job.report(0.5, "Storing its pictures")
        for asset in archived.assets.values():
            self.assets.put(asset)
        facts = archived.facts
        job.report(0.7, "Drawing the piece")
        self.card(archived.recipe)
        piece = self.pieces.create(facts.title, facts.planned_minutes, archived.first,
                                   archived.edits)
        for step, minutes in facts.spent_minutes.items():
            if step in STEPS and minutes > 0:
                self.pieces.record(piece, step, minutes * 60, most=minutes * 60)
        if facts.character:
            known = {c.name: c.id for c in self.characters.all()}
            character = known.get(facts.character.name) or self.characters.create(
                facts.character.name, list(facts.character.card), facts.character.washes).id
            self.characters.give(piece, character)
        job.piece = piece

    def store_picture(self, data: bytes) -> PlacedPicture:
        """Keep the pixels of an uploaded picture."""
        rgba = decode_image(data, replace(self.settings.limits, shortest_edge=1), _PLACED_EDGE)
        return PlacedPicture(asset=self.assets.put(encode_png(rgba)), width=rgba.shape[1],
                             height=rgba.shape[0])

    def edit(self, piece_id: int, seen: int, edit: Edit) -> Piece:
        """Make an edit whose pictures are all there."""
        for name in set(ASSET.findall(edit.model_dump_json())):
            if name not in self.assets:
                raise EditRefusedError("The picture that the edit names is not there; choose it "
                                       "again.")
        return self.pieces.edit(piece_id, seen, edit)

    def picture(self, recipe: Recipe, kind: str, view: View, draft: bool = False) -> bytes:
        """A picture as PNG."""
        view = view.within(*recipe.size)
        return encode_png(draw(self.deriver, recipe, kind, view, draft))

    def small_stack(self, recipe: Recipe, view: View) -> Stack:
        """The stack as small as the screen shows it; that of the last recipe is remembered."""
        return self._small.get((recipe,), view, lambda: self.deriver.stack(recipe, view))

    def card(self, recipe: Recipe) -> bytes:
        """The small picture for Home, kept on disk."""
        path = self._cards / f"{content_key(recipe)}.png"
        try:
            return path.read_bytes()
        except FileNotFoundError:
            view = View.whole(*recipe.size, _CARD_EDGE * 2)
            picture = draw(self.deriver, recipe, "picture", view)
            data = encode_png(_halved(picture), level=2)
            write_whole(path, data)
            return data

    def _load_source(self, asset: str) -> NDArray[np.uint8]:
        try:
            data = self.assets.get(asset)
        except FileNotFoundError as error:
            raise UnreadableImageError("A picture that this piece uses is no longer in the data "
                                       "folder.") from error
        return decode_image(data, ImageLimits(file_bytes=2**40, shortest_edge=1))


def read_drawing(assets: AssetStore, data: bytes, limits: ImageLimits,
                 long_edge: int) -> Recipe:
    """Decode a file, store it and its pixels, and begin a recipe."""
    rgba = decode_image(data, limits, long_edge)
    original = assets.put(data)
    asset = assets.put(encode_png(rgba))
    return Recipe(source=Source(asset=asset, original=original, width=rgba.shape[1],
                                height=rgba.shape[0]))


def begun_like(other: Recipe) -> tuple[Edit, ...]:
    """What a new piece takes over from another: its light, method and stack settings."""
    # Pairs name parts of the other drawing.
    light = other.light.model_copy(update={"pairs": ()})
    return (MoveLight(light=light), SetPasses(passes=other.passes),
            SetDelivery(delivery=other.delivery), SetBackground(colour=other.background))


def content_key(recipe: Recipe, *more: object) -> str:
    """A name for what a recipe gives."""
    text = f"{RENDER_VERSION}|{recipe.model_dump_json()}|{more}"
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def file_name(title: str) -> str:
    """A title as a file may be named."""
    return re.sub(r"[^\w\- ]+", "", title).strip().replace(" ", "-").lower() or "piece"


def _halved(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    height, width = picture.shape[0] // 2 * 2, picture.shape[1] // 2 * 2
    blocks = picture[:height, :width].reshape(height // 2, 2, width // 2, 2, 3)
    return (blocks.mean(axis=(1, 3)) + 0.5).astype(np.uint8)


def _exercise() -> None:
    """Run the whole way once on a tiny drawing."""
    axis = np.arange(96)
    ring = np.abs(np.hypot(axis - 48, (axis - 48)[:, None]) - 30) < 3
    rgba = np.zeros((96, 96, 4), np.uint8)
    rgba[..., 3] = ring * np.uint8(255)
    rgba[46:49, 60:] = 0
    deriver = Deriver(lambda asset: rgba)
    recipe = Recipe(source=Source(asset="0" * 64, width=96, height=96))
    recipe = reduce(apply, first_edits(deriver, recipe), recipe)
    report_gaps(deriver, recipe)
    deriver.completeness(recipe)
    propose(recipe, EvenOut())
    first = recipe.parts[0].id
    recipe = apply(recipe, SetPattern(part=first, pattern=Pattern()))
    # With more than four shapes masks are packed otherwise.
    side = SideLight(azimuth=0, height=0, colour="#ffffff", strength=0.5)
    lit = recipe.light.model_copy(update={"rim": side, "bounce": side})
    for material in ("hair", "glass", "metal"):  # each takes light in a way of its own
        worn = apply(recipe, ChangePart(part=first, material=material))
        draw(deriver, apply(worn, MoveLight(light=lit)), "picture", View.whole(96, 96))
    shared = ShareArea(places=((40.0, 48.0), (56.0, 48.0)))
    recipe = apply(recipe, AddRecut(recut=shared))
    encode_png(draw(deriver, recipe, "picture", View.whole(96, 96)))
    log.info("ready")
