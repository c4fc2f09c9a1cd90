"""Sittings in the database: time that was given to pieces."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.timing.plan import STEPS
from wardrobe.recipe.events import EventRefusedError
from wardrobe.server.db.models import PieceRow, SittingRow, in_utc
from wardrobe.server.problems import NotFoundError

SittingKind = Literal["work", "look", "by hand", "correction"]


@dataclass(frozen=True)
class Sitting:
    """A stretch of time that was given to a step of a piece; ``began`` in UTC.

    Attributes
    ----------
    corrects : int or None
        The sitting that a correction, whose seconds may be negative, belongs to.
    """

    id: int
    piece: int
    step: str
    began: datetime
    seconds: float
    kind: SittingKind
    note: str
    corrects: int | None


class SittingRepository:
    """All reads and writes of sittings; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def begin(self, piece_id: int, step: str, began: datetime, seconds: float,
              kind: SittingKind = "work", note: str = "") -> int:
        """Note a stretch of time; return its id. The piece has reached that step."""
        with self._sessions.begin() as session:
            piece = session.get(PieceRow, piece_id)
            if piece is None:
                raise NotFoundError("This piece is not there; it may have been deleted.")
            row = SittingRow(piece_id=piece_id, step=step, began=in_utc(began), seconds=seconds,
                             kind=kind, note=note)
            session.add(row)
            piece.step = max(piece.step, step, key=STEPS.index)
            session.flush()
            return row.id

    def extend(self, sitting_id: int, seconds: float) -> bool:
        """Add seconds to a sitting that goes on; False if it has been deleted."""
        with self._sessions.begin() as session:
            found = session.execute(update(SittingRow).where(SittingRow.id == sitting_id)
                                    .values(seconds=SittingRow.seconds + seconds)
                                    .returning(SittingRow.id)).first()
            return found is not None

    def correct(self, sitting_id: int, seconds: float, note: str) -> Sitting:
        """Say how long a sitting really was; what was counted stays as it was noted.

        Raises
        ------
        EventRefusedError
            If a correction itself is to be corrected.
        """
        with self._sessions.begin() as session:
            row = session.get(SittingRow, sitting_id)
            if row is None:
                raise NotFoundError("This sitting is not there.")
            if row.kind == "correction":
                raise EventRefusedError("A correction is corrected by correcting its sitting "
                                        "again.")
            before = session.scalar(select(func.sum(SittingRow.seconds)).where(
                SittingRow.corrects == sitting_id)) or 0.0
            new = SittingRow(piece_id=row.piece_id, step=row.step, began=row.began,
                             seconds=seconds - row.seconds - before, kind="correction", note=note,
                             corrects=sitting_id)
            session.add(new)
            session.flush()
            return _sitting(new)

    def all(self, piece_id: int | None = None, since: datetime | None = None,
            until: datetime | None = None) -> list[Sitting]:
        """Sittings in the order in which they began."""
        wanted = select(SittingRow).order_by(SittingRow.began, SittingRow.id)
        if piece_id is not None:
            wanted = wanted.where(SittingRow.piece_id == piece_id)
        if since is not None:
            wanted = wanted.where(SittingRow.began >= in_utc(since))
        if until is not None:
            wanted = wanted.where(SittingRow.began < in_utc(until))
        with self._sessions() as session:
            return [_sitting(row) for row in session.scalars(wanted)]

    def spent(self, piece_id: int) -> dict[str, float]:
        """Seconds by step."""
        with self._sessions() as session:
            return dict(session.execute(
                select(SittingRow.step, func.sum(SittingRow.seconds))
                .where(SittingRow.piece_id == piece_id)
                .group_by(SittingRow.step)).tuples().all())

    def spent_by_piece(self) -> dict[int, dict[str, float]]:
        """Seconds by step of every piece."""
        found: dict[int, dict[str, float]] = {}
        with self._sessions() as session:
            for piece, step, seconds in session.execute(
                    select(SittingRow.piece_id, SittingRow.step, func.sum(SittingRow.seconds))
                    .group_by(SittingRow.piece_id, SittingRow.step)).tuples():
                found.setdefault(piece, {})[step] = seconds
        return found

    def take_over(self, piece_id: int, sittings: Sequence[Sitting]) -> None:
        """Give a piece that has none the sittings that came with it."""
        with self._sessions.begin() as session:
            new: dict[int, int] = {}
            for old in sittings:
                row = SittingRow(piece_id=piece_id, step=old.step, began=in_utc(old.began),
                                 seconds=old.seconds, kind=old.kind, note=old.note,
                                 corrects=new.get(old.corrects or 0))
                session.add(row)
                session.flush()
                new[old.id] = row.id
            if sittings:
                piece = session.get_one(PieceRow, piece_id)
                piece.step = max(piece.step, *(s.step for s in sittings), key=STEPS.index)


def _sitting(row: SittingRow) -> Sitting:
    kind: SittingKind = row.kind  # type: ignore[assignment]
    return Sitting(row.id, row.piece_id, row.step, row.began.replace(tzinfo=UTC), row.seconds, kind,
                   row.note, row.corrects)
