"""What the routes share: the store, the deriver, the jobs, and the work that joins them."""

import hashlib
import re
import threading
from dataclasses import replace
from functools import reduce

import numpy as np
import structlog
from numpy.typing import NDArray

from wardrobe.core.errors import UnreadableImageError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.limits import ImageLimits, StackLimits
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.model import Stack
from wardrobe.recipe.derive import Deriver
from wardrobe.recipe.edits import (
    AddRecut,
    ChangePart,
    Edit,
    EditRefusedError,
    MoveLight,
    SetPattern,
    apply,
)
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
from wardrobe.server.jobs import JobRunner
from wardrobe.server.layered import LayeredFiles
from wardrobe.server.pieces import PieceStore
from wardrobe.server.schemas.pieces import Piece
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
        self.deliveries = data / "deliveries"
        for folder, keep in ((self._cards, _MOST_CARDS), (self.deliveries, 0)):
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
