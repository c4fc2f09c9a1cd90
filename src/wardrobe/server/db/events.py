"""Events of pieces in the database: added, read, never changed."""

from collections.abc import Iterable
from datetime import UTC

from sqlalchemy import select, update
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.events import (
    EVENT,
    MOST_EVENTS,
    Delivered,
    Event,
    EventRefusedError,
    Happened,
    Plan,
    checked,
    filing_of,
    plan_of,
    state_of,
)
from wardrobe.recipe.events.limits import MOST_NOTED
from wardrobe.server.db.models import EventRow, PieceRow, now
from wardrobe.server.problems import NotFoundError


class EventRepository:
    """Reads of events, and additions, each one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def of(self, piece_id: int, kind: str | None = None) -> list[Happened]:
        """Events of a piece in their order, all or those of a kind."""
        with self._sessions() as session:
            _check_there(session, piece_id)
            return _events(session, piece_id, kind)

    def by_piece(self, kind: str) -> dict[int, list[Happened]]:
        """Events of a kind of all pieces, in their order."""
        found: dict[int, list[Happened]] = {}
        with self._sessions() as session:
            for row in session.scalars(
                    select(EventRow).where(EventRow.event["kind"].as_string() == kind)
                    .order_by(EventRow.piece_id, EventRow.number)):
                found.setdefault(row.piece_id, []).append(_happened(row))
        return found

    def add(self, piece_id: int, event: Event, recipe: Recipe) -> list[Happened]:
        """Note an event of a piece that is as in ``recipe``; return all of its events.

        Raises
        ------
        EventRefusedError
            If it is about something that is not there, or there are too many.
        """
        with self._sessions.begin() as session:
            # Taking the write lock first makes reading and adding one step.
            session.execute(update(PieceRow).where(PieceRow.id == piece_id)
                            .values(revision=PieceRow.revision))
            _check_there(session, piece_id)
            before = _events(session, piece_id)
            most = MOST_NOTED if isinstance(event, Delivered) else MOST_EVENTS
            if len(before) >= most:
                raise EventRefusedError(f"A piece keeps at most {most} events.")
            new = Happened(number=len(before) + 1, at=now(), event=checked(event, recipe, before))
            session.add(_row(piece_id, new))
            _tell_piece(session, piece_id, [*before, new])
            return [*before, new]

    def take_over(self, piece_id: int, events: Iterable[Happened]) -> None:
        """Give a piece that has none the events that came with it."""
        with self._sessions.begin() as session:
            taken = list(events)
            session.add_all(_row(piece_id, event) for event in taken)
            _tell_piece(session, piece_id, taken)


def _check_there(session: Session, piece_id: int) -> None:
    if session.get(PieceRow, piece_id) is None:
        raise NotFoundError("This piece is not there; it may have been deleted.")


def _row(piece_id: int, event: Happened) -> EventRow:
    return EventRow(piece_id=piece_id, number=event.number, at=event.at,
                    event=event.event.model_dump(mode="json"))


def _tell_piece(session: Session, piece_id: int, events: list[Happened]) -> None:
    """Let the piece have what its events come to."""
    row = session.get_one(PieceRow, piece_id)
    plan, filing = plan_of(events, row.planned_minutes), filing_of(events)
    if any(isinstance(h.event, Plan) for h in events):
        row.planned_minutes = plan.total
    row.due, row.occasion = plan.due, plan.occasion
    row.tags, row.away = list(filing.tags), filing.away
    row.state = state_of(events)


def _events(session: Session, piece_id: int, kind: str | None = None) -> list[Happened]:
    wanted = select(EventRow).where(EventRow.piece_id == piece_id)
    if kind is not None:
        wanted = wanted.where(EventRow.event["kind"].as_string() == kind)
    rows = session.scalars(wanted.order_by(EventRow.number))
    return [_happened(row) for row in rows]


def _happened(row: EventRow) -> Happened:
    # SQLite gives times back without their zone.
    return Happened(number=row.number, at=row.at.replace(tzinfo=UTC),
                    event=EVENT.validate_python(row.event))
