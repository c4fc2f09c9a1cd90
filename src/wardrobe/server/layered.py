"""Layered files that came in: kept as they came, read when they are looked at."""

from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from typing import TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray
from sqlalchemy import delete, select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.formats.openraster_read import Opened
from wardrobe.core.stack.check import StackFinding, check_stack
from wardrobe.core.stack.check.canvas import where_on
from wardrobe.core.stack.check.repair import repaired
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.recipe.document.view import View
from wardrobe.recipe.reports.section import Section, section_of
from wardrobe.recipe.stages.stage import Stage
from wardrobe.server.assets import AssetStore
from wardrobe.server.db.models import LayeredFileRow, now
from wardrobe.server.memory import Ceiling, patient
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.layered import LayeredCard, LayeredFile

Byte = NDArray[np.uint8]
Report = Callable[[float, str], None]

LAYER_EDGE = 1400  # px that a layer's own picture is shown at
_DPI = 300
_KEPT = timedelta(days=30)  # that a removed file can be put back
_PATIENCE = 45.0  # seconds that a request waits for a file to be read again
_BYTES_PER_PIXEL = 40  # that repairing takes at its peak


T = TypeVar("T")


@dataclass(frozen=True, eq=False)
class OfFile(Stage[T]):
    """What is read from a layered file, by the asset and what it is."""

    asset: str
    what: str


class LayeredFiles:
    """Layered files of all pieces and of none.

    Parameters
    ----------
    sessions : sessionmaker
    assets : AssetStore
        Holds their bytes.
    memory : Ceiling
    read : callable
        Gives what is in a file and its flat picture on white; calls what it is given besides
        again and again, which raises if the file is not wanted any more.
    """

    def __init__(self, sessions: sessionmaker[Session], assets: AssetStore, memory: Ceiling,
                 read: Callable[[Path, Callable[[], None]], tuple[Opened, Byte]]) -> None:
        self._sessions, self._assets = sessions, assets
        self._memory, self._store, self._read = memory, memory.store, read

    def take_in(self, file: Path, title: str, piece: int | None, report: Report,
                made_from: int | None = None) -> int:
        """Read a file to see that it can be read, and keep it; return its id."""
        report(0.1, "Reading the layers")
        read = self._read(file, lambda: report(0.1, "Reading the layers"))
        asset = self._assets.put(file.read_bytes())
        self._store(OfFile[tuple[Opened, Byte]](asset, "layers"), lambda: read)
        report(0.95, "Saving")
        with self._sessions.begin() as session:
            row = LayeredFileRow(title=title, asset=asset, piece_id=piece, made_from=made_from)
            session.add(row)
            session.flush()
            return row.id

    def cards(self, piece: int | None = None) -> list[LayeredCard]:
        """All files, or those of a piece, the latest first."""
        with self._sessions() as session:
            wanted = select(LayeredFileRow).where(LayeredFileRow.removed.is_(None)).order_by(
                LayeredFileRow.id.desc())
            if piece is not None:
                wanted = wanted.where(LayeredFileRow.piece_id == piece)
            rows = list(session.scalars(wanted))
            there = {r.id for r in rows}
            return [LayeredCard(id=r.id, title=r.title, piece=r.piece_id,
                                made_from=r.made_from if r.made_from in there else None)
                    for r in rows]

    def get(self, file_id: int) -> LayeredFile:
        """A file and its layers."""
        row = self._row(file_id)
        opened = self._opened(row.asset)
        with self._sessions() as session:
            source = session.get(LayeredFileRow, row.made_from) if row.made_from else None
            made_from = source.id if source and source.removed is None else None
        return LayeredFile(
            id=row.id, title=row.title, piece=row.piece_id, made_from=made_from,
            width=opened.stack.width, height=opened.stack.height, dpi=opened.dpi,
            notes=list(opened.notes), section=self.section(row.asset))

    def section(self, asset: str) -> Section:
        """A file's stack as a section."""
        return self._store(OfFile[Section](asset, "section"),
                           lambda: section_of(self._opened(asset).stack))

    def stack(self, file_id: int) -> Stack:
        """A file's stack."""
        return self._opened(self._row(file_id).asset).stack

    def asset(self, file_id: int) -> str:
        """The name of a file's bytes."""
        return self._row(file_id).asset

    def data(self, file_id: int) -> tuple[str, bytes]:
        """A file's title and bytes, as they came."""
        row = self._row(file_id)
        return row.title, self._assets.get(row.asset)

    def flat(self, file_id: int) -> Byte:
        """A file's flat picture, on white where it is clear, RGB."""
        return self._flat(self._row(file_id).asset)

    def picture(self, file_id: int, view: View) -> Byte:
        """A rectangle of the flat picture, on white where it is clear, RGB."""
        flat = self._flat(self._row(file_id).asset)
        view = view.within(flat.shape[1], flat.shape[0])
        cut = flat[view.y:view.y + view.height, view.x:view.x + view.width]
        if view.scale < 1:
            height, width = view.shape
            cut = cv2.resize(cut, (width, height), interpolation=cv2.INTER_AREA)
        return cut

    def layer(self, file_id: int, index: int) -> Byte:
        """Where a layer is painted, scaled to the screen, 0..255."""
        stack = self.stack(file_id)
        layers = list(stack.layers())
        if not 0 <= index < len(layers):
            raise NotFoundError("There is no such layer.")
        return layer_shape(layers[index], stack)

    def findings(self, file_id: int) -> list[StackFinding]:
        """What a check notices."""
        asset = self._row(file_id).asset
        return self._store(OfFile[list[StackFinding]](asset, "findings"),
                           lambda: check_stack(self._opened(asset).stack))

    def repair(self, file_id: int, which: list[int], report: Report,
               room: Callable[[], AbstractContextManager[Path]]) -> int:
        """Repair findings in a new version, written in a ``room``; the file stays as it is."""
        row, found = self._row(file_id), self.findings(file_id)
        if any(k >= len(found) for k in which):
            raise NotFoundError("The findings have changed; check the file again.")
        opened = self._opened(row.asset)
        pixels = opened.stack.width * opened.stack.height
        title = f"{row.title.removesuffix(', repaired')}, repaired"[:120]
        with room() as folder:
            with self._memory.reserved(_BYTES_PER_PIXEL * pixels,
                                       lambda: report(0.1, "Waiting for memory")):
                report(0.2, "Repairing")
                stack = repaired(opened.stack, [found[k] for k in which])
                report(0.4, "Composing the picture")
                merged = flatten(stack)
                report(0.6, "Writing the new version")
                write_openraster(folder / "repaired.ora", stack, merged,
                                 round(opened.dpi) if opened.dpi and opened.dpi >= 1 else _DPI)
            return self.take_in(folder / "repaired.ora", title, row.piece_id,
                                lambda share, doing: report(0.8 + 0.2 * share, doing), row.id)

    def belongs_to(self, file_id: int, piece: int) -> None:
        """Say whose file it is."""
        with self._sessions.begin() as session:
            _row(session, file_id).piece_id = piece

    def remove(self, file_id: int) -> None:
        """Take a file away; it can be put back for a while."""
        with self._sessions.begin() as session:
            _row(session, file_id).removed = now()

    def put_back(self, file_id: int) -> None:
        """Have a file again that was removed."""
        with self._sessions.begin() as session:
            row = session.get(LayeredFileRow, file_id)
            if row is None:
                raise NotFoundError("This file was removed too long ago to be put back.")
            row.removed = None

    def forget_removed(self) -> None:
        """Forget what was removed longer ago than it can be put back."""
        with self._sessions.begin() as session:
            session.execute(delete(LayeredFileRow).where(LayeredFileRow.removed < now() - _KEPT))

    def _row(self, file_id: int) -> LayeredFileRow:
        with self._sessions() as session:
            row = _row(session, file_id)
            session.expunge(row)
            return row

    def _opened(self, asset: str) -> Opened:
        return self._both(asset)[0]

    def _flat(self, asset: str) -> Byte:
        return self._both(asset)[1]

    def _both(self, asset: str) -> tuple[Opened, Byte]:
        return self._store(OfFile[tuple[Opened, Byte]](asset, "layers"), lambda: self._read(
            self._assets.path(asset), patient(_PATIENCE)))


def layer_shape(layer: Layer, stack: Stack) -> Byte:
    """A layer's alpha on the canvas, at most LAYER_EDGE px on the longer edge."""
    plane = np.zeros((stack.height, stack.width), np.uint8)
    where, alpha = where_on(layer, plane.shape)
    plane[where] = alpha
    height, width = View.whole(stack.width, stack.height, LAYER_EDGE).shape
    return cv2.resize(plane, (width, height), interpolation=cv2.INTER_AREA)


def _row(session: Session, file_id: int) -> LayeredFileRow:
    row = session.get(LayeredFileRow, file_id)
    if row is None or row.removed is not None:
        raise NotFoundError("This file is not there; it may have been removed.")
    return row
