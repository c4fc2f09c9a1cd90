"""Series in the database: what they share, and which pieces are in them, in which order."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.recipe.events import PieceState
from wardrobe.recipe.series.page import PageSheet
from wardrobe.recipe.series.shared import Shared
from wardrobe.server.db.models import CharacterRow, PageRow, PieceRow, SeriesRow, now
from wardrobe.server.db.pieces import cast_state
from wardrobe.server.problems import NotFoundError, StaleEditError

MOST_MEMBERS = 20_000


@dataclass(frozen=True)
class Member:
    """A piece in a series; ``hold`` is for how many frames of a film it stays."""

    id: int
    title: str
    revision: int
    step: str
    state: PieceState
    scene: str
    hold: int
    page: int | None
    character: str | None


@dataclass(frozen=True)
class StoredSeries:
    """A series with its pieces in their order."""

    id: int
    title: str
    shared: Shared
    members: tuple[Member, ...]


@dataclass(frozen=True)
class SeriesFacts:
    """What is told of a series in a list; ``first`` are some of its first pieces."""

    id: int
    title: str
    changed: datetime
    pieces: int
    done: int
    first: tuple[int, ...]


@dataclass(frozen=True)
class StoredPage:
    """A page of a series."""

    id: int
    series: int
    title: str
    sheet: PageSheet
    revision: int


@dataclass(frozen=True)
class Place:
    """Where a piece is in its series: its number from 1, and its neighbours."""

    series: int
    title: str
    number: int
    count: int
    before: int | None
    after: int | None
    scene: str
    page: int | None


class SeriesRepository:
    """All reads and writes of series; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def all(self) -> list[SeriesFacts]:
        """All series, latest change first."""
        p = PieceRow
        with self._sessions() as session:
            counts = {row.series_id: (row.pieces, row.done) for row in session.execute(
                select(p.series_id, func.count().label("pieces"),
                       func.sum((p.state == "done").cast(p.id.type)).label("done"))
                .where(p.series_id.is_not(None)).group_by(p.series_id))}
            found = []
            for row in session.scalars(select(SeriesRow).order_by(SeriesRow.changed.desc(),
                                                                  SeriesRow.id.desc())):
                first = session.scalars(select(p.id).where(p.series_id == row.id)
                                        .order_by(p.place, p.id).limit(5))
                pieces, done = counts.get(row.id, (0, 0))
                found.append(SeriesFacts(row.id, row.title, row.changed.replace(tzinfo=UTC),
                                         pieces, int(done or 0), tuple(first)))
            return found

    def create(self, title: str, shared: Shared | None = None) -> int:
        """A new series without pieces; its id."""
        with self._sessions.begin() as session:
            row = SeriesRow(title=title, shared=(shared or Shared()).model_dump(mode="json"))
            session.add(row)
            session.flush()
            return row.id

    def get(self, series_id: int) -> StoredSeries:
        """A series with its pieces."""
        p = PieceRow
        with self._sessions() as session:
            row = _row(session, series_id)
            members = session.execute(
                select(p.id, p.title, p.revision, p.step, p.state, p.scene, p.hold, p.page_id,
                       CharacterRow.name)
                .outerjoin(CharacterRow, CharacterRow.id == p.character_id)
                .where(p.series_id == series_id).order_by(p.place, p.id))
            return StoredSeries(row.id, row.title, Shared.model_validate(row.shared), tuple(
                Member(m.id, m.title, m.revision, m.step, cast_state(m.state), m.scene, m.hold,
                       m.page_id, m.name) for m in members))

    def change(self, series_id: int, title: str | None = None,
               shared: Shared | None = None) -> None:
        """A new title, or other things shared."""
        with self._sessions.begin() as session:
            row = _row(session, series_id)
            row.title = title or row.title
            if shared is not None:
                row.shared = shared.model_dump(mode="json")
            row.changed = now()

    def remove(self, series_id: int) -> None:
        """Delete a series and its pages; the pieces stay."""
        with self._sessions.begin() as session:
            session.delete(_row(session, series_id))

    def arrange(self, series_id: int, order: Sequence[int]) -> None:
        """Put pieces into a series, in this order; those that are not named leave it."""
        with self._sessions.begin() as session:
            _row(session, series_id).changed = now()
            wanted = dict.fromkeys(order)
            session.execute(update(PieceRow).where(PieceRow.series_id == series_id,
                                                   PieceRow.id.not_in(wanted))
                            .values(series_id=None, page_id=None))
            for place, piece in enumerate(wanted):
                row = _piece(session, piece)
                if row.series_id != series_id:  # it is of no page of this series
                    row.series_id, row.page_id = series_id, None
                row.place = place

    def arrange_same(self, series_id: int, order: Sequence[int]) -> None:
        """Another order of the same pieces."""
        with self._sessions.begin() as session:
            for place, piece in enumerate(order):
                session.execute(update(PieceRow).where(
                    PieceRow.id == piece, PieceRow.series_id == series_id).values(place=place))

    def append(self, series_id: int, pieces: Sequence[int], page: int | None = None,
               scene: str = "") -> None:
        """Put pieces at the end of a series."""
        with self._sessions.begin() as session:
            _row(session, series_id).changed = now()
            last = session.scalar(select(func.max(PieceRow.place))
                                  .where(PieceRow.series_id == series_id))
            for place, piece in enumerate(pieces, start=0 if last is None else last + 1):
                row = _piece(session, piece)
                row.series_id, row.place, row.page_id = series_id, place, page
                row.scene = scene

    def set_member(self, piece_id: int, scene: str | None = None,
                   hold: int | None = None) -> None:
        """Say in which scene a piece plays, and how long it stays."""
        with self._sessions.begin() as session:
            row = _piece(session, piece_id)
            if scene is not None:
                row.scene = scene
            if hold is not None:
                row.hold = hold

    def place_of(self, piece_id: int) -> Place | None:
        """Where a piece is, None if it is in no series."""
        with self._sessions() as session:
            piece = _piece(session, piece_id)
            if piece.series_id is None:
                return None
            row = _row(session, piece.series_id)
            ids = list(session.scalars(select(PieceRow.id)
                                       .where(PieceRow.series_id == row.id)
                                       .order_by(PieceRow.place, PieceRow.id)))
            k = ids.index(piece_id)
            return Place(row.id, row.title, k + 1, len(ids), ids[k - 1] if k else None,
                         ids[k + 1] if k + 1 < len(ids) else None, piece.scene, piece.page_id)

    def add_page(self, series_id: int, title: str, sheet: PageSheet) -> int:
        """A new page without pieces; its id."""
        with self._sessions.begin() as session:
            _row(session, series_id)
            row = PageRow(series_id=series_id, title=title, sheet=sheet.model_dump(mode="json"))
            session.add(row)
            session.flush()
            return row.id

    def page(self, page_id: int) -> StoredPage:
        """A page."""
        with self._sessions() as session:
            return _stored_page(_page(session, page_id))

    def pages(self, series_id: int) -> list[StoredPage]:
        """The pages of a series, oldest first."""
        with self._sessions() as session:
            return [_stored_page(row) for row in session.scalars(
                select(PageRow).where(PageRow.series_id == series_id).order_by(PageRow.id))]

    def change_page(self, page_id: int, seen: int, sheet: PageSheet) -> StoredPage:
        """Another sheet.

        Raises
        ------
        StaleEditError
            If the page is not at revision ``seen`` any more.
        """
        with self._sessions.begin() as session:
            row = _page(session, page_id)
            if row.revision != seen:
                raise StaleEditError("Somebody changed this page in another window. It has been "
                                     "refreshed; your last change was not made, do it again.")
            row.sheet, row.revision = sheet.model_dump(mode="json"), seen + 1
            session.flush()
            return _stored_page(row)

    def remove_page(self, page_id: int) -> None:
        """Delete a page; the pieces of its panels stay."""
        with self._sessions.begin() as session:
            session.delete(_page(session, page_id))

    def assets_in_use(self) -> set[str]:
        """The drawings of all pages."""
        with self._sessions() as session:
            sheets = session.scalars(select(PageRow.sheet))
            return {str(name) for sheet in sheets for name in
                    (sheet["asset"], sheet.get("original")) if name}


def _row(session: Session, series_id: int) -> SeriesRow:
    row = session.get(SeriesRow, series_id)
    if row is None:
        raise NotFoundError("This series is not there; it may have been deleted.")
    return row


def _page(session: Session, page_id: int) -> PageRow:
    row = session.get(PageRow, page_id)
    if row is None:
        raise NotFoundError("This page is not there; it may have been deleted.")
    return row


def _piece(session: Session, piece_id: int) -> PieceRow:
    row = session.get(PieceRow, piece_id)
    if row is None:
        raise NotFoundError("This piece is not there; it may have been deleted.")
    return row


def _stored_page(row: PageRow) -> StoredPage:
    return StoredPage(row.id, row.series_id, row.title, PageSheet.model_validate(row.sheet),
                      row.revision)
