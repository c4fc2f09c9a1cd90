"""What the routes share: the store, the deriver, the jobs, and the work that joins them."""

import re
import shutil
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import structlog
from numpy.typing import NDArray
from sqlalchemy.exc import SQLAlchemyError

from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits
from wardrobe.core.formats.openraster_read import Opened
from wardrobe.core.formats.png import encode_png
from wardrobe.core.press.profile import looks_like_profile
from wardrobe.recipe.checks.maps import any_picture
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.paper import KeptProfile
from wardrobe.recipe.document.pattern import PlacedPicture
from wardrobe.recipe.document.types import ASSET
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import (
    Edit,
    EditRefusedError,
)
from wardrobe.recipe.events import (
    Completion,
    DrawingTraits,
    Event,
    EventRefusedError,
    Happened,
    Reference,
    references,
)
from wardrobe.recipe.exchange.archive import Archived
from wardrobe.recipe.reports.sides import Held
from wardrobe.recipe.reports.traits import traits_of_drawing
from wardrobe.recipe.stages import Deriver, Store
from wardrobe.recipe.stages.picture import Picture
from wardrobe.recipe.stages.stage import Get, Stage
from wardrobe.server.apart import SHARED, Bounds
from wardrobe.server.apart.tasks import ReadPicture
from wardrobe.server.assets import AssetStore
from wardrobe.server.characters import CharacterStore
from wardrobe.server.db.events import EventRepository
from wardrobe.server.db.jobs import JobRepository
from wardrobe.server.db.pieces import PieceRepository, StoredPiece
from wardrobe.server.db.plans import PlanShelf
from wardrobe.server.db.practice import Practice
from wardrobe.server.db.series import SeriesRepository
from wardrobe.server.db.session import folder_error, open_database
from wardrobe.server.db.shelf import Shelf
from wardrobe.server.db.sittings import SittingRepository
from wardrobe.server.jobs import JobRunner
from wardrobe.server.layered import LayeredFiles
from wardrobe.server.memory import Ceiling, patient
from wardrobe.server.overview import Overview
from wardrobe.server.problems import NotFoundError
from wardrobe.server.records import Records
from wardrobe.server.schemas.pieces import KeptReference
from wardrobe.server.scratch import HeldLock, Scratch
from wardrobe.server.settings import Settings
from wardrobe.server.templates import TemplateStore
from wardrobe.server.timekeeping import Timekeeper
from wardrobe.server.turns import Turns
from wardrobe.server.warm import warm_up

Byte = NDArray[np.uint8]

log = structlog.get_logger()

_CARD_EDGE = 520
_LOOK = 0.2  # seconds between looks at whether a wait should end
_PATIENCE = 45.0  # seconds that a request waits for a picture to be read


@dataclass(frozen=True, eq=False)
class Card(Stage[bytes], keep="on disk", by_name=True):
    """A picture at half its size, as PNG."""

    picture: Picture

    def make(self, get: Get) -> bytes:
        return encode_png(_halved(get(self.picture)), level=2)


class Studio:
    """Everything that lives as long as the server.

    Raises
    ------
    DataFolderError
        If the data folder cannot be used; it is as it was then.
    """

    def __init__(self, settings: Settings) -> None:
        data = settings.data_dir
        self.settings = settings
        self._path = data / "wardrobe.sqlite3"
        self._database, sessions = open_database(self._path)
        try:
            self.scratch = Scratch(data / "scratch")
            self.assets = AssetStore(data / "assets", self.scratch.folder)
            self._lock = HeldLock(data / ".lock")
        except OSError as error:
            raise folder_error(error, self._path) from error
        self.pieces, self.characters = PieceRepository(sessions), CharacterStore(sessions)
        self.events, self.sittings = EventRepository(sessions), SittingRepository(sessions)
        self.records = Records(sessions, self.pieces, self.events, self.sittings)
        self.timekeeper = Timekeeper(self.sittings)
        self.templates, self.shelf = TemplateStore(sessions), Shelf(sessions)
        self.practice = Practice(sessions)
        self.plans, self.series = PlanShelf(sessions), SeriesRepository(sessions)
        self.overview = Overview(self.pieces.recipe)
        self.store = Store(self._load_source, folder=data / "artefacts",
                           disk_bytes=settings.artefact_bytes)
        self.memory = Ceiling(settings.memory_bytes, self.store, SHARED.close)
        self.turns = Turns()
        self.layered = LayeredFiles(sessions, self.assets, self.memory, self._read_stack)
        records = JobRepository(sessions)
        self.jobs = JobRunner(records)
        self._held: dict[str, threading.Lock] = {}
        self.deriver = Deriver(self.store)
        if self._lock.held:
            try:
                records.stopped()
                self._tidy()
            except (OSError, SQLAlchemyError) as error:
                # A full disk keeps nobody from looking at pieces.
                log.warning("the data folder could not be tidied", error=str(error)[:400])

    @property
    def alone(self) -> bool:
        """Whether no other server or command works with this data folder."""
        return self._lock.held

    def warm_up(self) -> None:
        """Load the compiled kernels in the background, so that the first request is quick."""
        warm_up()
        SHARED.warm_up()

    def close(self) -> None:
        """Stop the jobs and let others have the data folder."""
        self.jobs.close()
        try:
            self.pieces.settle()
        except SQLAlchemyError as error:  # the edits are there
            log.warning("pieces could not be settled", error=str(error)[:400])
        self.memory.close()
        self.store.close()
        self.scratch.close()
        self._database.dispose()
        self._lock.release()

    def _tidy(self) -> None:
        """Sweep what killed processes left, and move drawings that nothing uses to the trash."""
        self.scratch.sweep()
        for folder in ("deliveries", "cards"):  # of versions before
            shutil.rmtree(self._path.parent / folder, ignore_errors=True)
        self.layered.forget_removed()
        # A database without pieces may be one that was put in the place of a damaged one.
        if self.pieces.count():
            moved = self.assets.prune(
                self.pieces.assets_in_use() | self.series.assets_in_use(), self.pieces.began())
            if moved:
                log.info("drawings that no piece uses were moved to the trash",
                         files=len(moved), folder=str(moved[0].parent))

    @contextmanager
    def one_at_a_time(self, what: str, check: Callable[[], None]) -> Iterator[None]:
        """Hold something that is worked on by one job at a time; ``check`` may end the wait."""
        lock = self._held.setdefault(what, threading.Lock())
        while not lock.acquire(timeout=_LOOK):
            check()
        try:
            yield
        finally:
            lock.release()

    def read_picture(self, file: Path, long_edge: int, shortest_edge: int = 32,
                     check: Callable[[], None] = lambda: None) -> ReadPicture:
        """Decode a picture from outside."""
        return self._read(check, "picture", file,
                          replace(self.settings.limits, shortest_edge=shortest_edge), long_edge)

    def read_piece(self, file: Path, check: Callable[[], None] = lambda: None) -> Archived:
        """Read the archive of a piece."""
        return self._read(check, "piece", file, self.settings.limits, times=2, share=2)

    def _read_stack(self, file: Path, check: Callable[[], None]) -> tuple[Opened, Byte]:
        return self._read(check, "stack", file, self.settings.stack_limits, times=6, share=2)

    def _read(self, check: Callable[[], None], task: str, *arguments: object,
              times: int = 1, share: int = 1) -> Any:
        """Read apart, in ``times`` the time that a picture may take, and so many thirds of the
        memory that is for work."""
        seconds, most = self.settings.read_seconds * times, self.memory.for_work // 3 * share
        with self.memory.reserved(most, check):
            return SHARED.run(task, *arguments, check=check,
                              bounds=Bounds(seconds, 6 * seconds, most))

    def store_picture(self, file: Path, long_edge: int) -> PlacedPicture:
        """Keep the pixels of an uploaded picture; an SVG is drawn with this longer edge, px."""
        read = self.read_picture(file, long_edge, 1, patient(_PATIENCE))
        return PlacedPicture(asset=self.assets.put(read.png), width=read.width,
                             height=read.height)

    def keep_pixels(self, pixels: Byte) -> PlacedPicture:
        """Keep pixels, RGBA, as a picture that layers may be painted with."""
        return PlacedPicture(asset=self.assets.put(encode_png(pixels, level=2)),
                             width=pixels.shape[1], height=pixels.shape[0])

    def keep_profile(self, file: Path) -> KeptProfile:
        """Keep the profile of a press."""
        data, name = self._read(patient(_PATIENCE), "profile", file)
        return KeptProfile(asset=self.assets.put(data), name=name)

    def edit(self, piece_id: int, seen: int, edit: Edit) -> StoredPiece:
        """Make an edit whose pictures are all there."""
        for name in set(ASSET.findall(edit.model_dump_json())):
            if name not in self.assets:
                raise EditRefusedError("The picture that the edit names is not there; choose it "
                                       "again.")
        return self.pieces.edit(piece_id, seen, edit)

    def note(self, piece_id: int, event: Event) -> list[Happened]:
        """Note an event whose pictures are all there."""
        if isinstance(event, Reference) and event.picture.asset not in self.assets:
            raise EventRefusedError("The picture is not there; choose it again.")
        recipe = self.pieces.recipe(piece_id)
        if isinstance(event, Completion) and event.done:
            traits = traits_of_drawing(self.deriver, recipe)
            event = event.model_copy(update={"traits": DrawingTraits(**asdict(traits))})
        return self.events.add(piece_id, event, recipe)

    def references(self, piece_id: int) -> list[KeptReference]:
        """The pictures that are kept beside a piece, those of its own first."""
        character = self.characters.of_piece(piece_id)
        others = [i for i in character.pieces if i != piece_id] if character else []
        return [KeptReference(piece=i, number=number, name=r.name, note=r.note, shared=r.shared,
                              width=r.picture.width, height=r.picture.height)
                for i in (piece_id, *others)
                for number, r in references(self.events.of(i)).items()
                if i == piece_id or r.shared]

    def reference(self, piece_id: int, number: int) -> Reference:
        """One of the pictures that were ever pinned to a piece.

        Raises
        ------
        NotFoundError
            If there is none of this number.
        """
        event = next((h.event for h in self.events.of(piece_id) if h.number == number), None)
        if not isinstance(event, Reference):
            raise NotFoundError("There is no such reference.")
        return event

    def sides(self, piece_id: int) -> Held:
        """What the sides of a comparison are looked up in."""
        return Held(partial(self.pieces.recipe_back, piece_id),
                    lambda number: self.reference(piece_id, number).picture)

    def shrunk(self, picture: PlacedPicture, edge: int) -> bytes:
        """A stored picture as PNG, no larger than an edge."""
        pixels = self._load_source(picture.asset)
        scale = edge / max(pixels.shape[:2])
        if scale < 1:
            size = (max(1, round(pixels.shape[1] * scale)), max(1, round(pixels.shape[0] * scale)))
            pixels = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)
        return encode_png(pixels)

    def picture(self, recipe: Recipe, kind: str, view: View, draft: bool = False) -> bytes:
        """A picture as PNG."""
        view = view.within(*recipe.size)
        return encode_png(self.store(any_picture(self.deriver, recipe, kind, view, draft)))

    def card(self, recipe: Recipe) -> Card:
        """The small picture for Home."""
        view = View.whole(*recipe.size, _CARD_EDGE * 2)
        return Card(self.deriver.stages(recipe).picture(view))

    def _load_source(self, asset: str) -> NDArray[np.uint8]:
        data = self.assets.get(asset)
        if looks_like_profile(data):
            return np.frombuffer(data, np.uint8)
        return decode_image(data, ImageLimits(file_bytes=2**40, shortest_edge=1))


def file_name(title: str) -> str:
    """A title as a file may be named."""
    return re.sub(r"[^\w\- ]+", "", title).strip().replace(" ", "-").lower() or "piece"


def _halved(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    height, width = picture.shape[0] // 2 * 2, picture.shape[1] // 2 * 2
    blocks = picture[:height, :width].reshape(height // 2, 2, width // 2, 2, 3)
    return (blocks.mean(axis=(1, 3)) + 0.5).astype(np.uint8)
