"""What was done on all pieces: the log, the figures, the time sheet, dates, estimates."""

import heapq
from collections.abc import Iterator
from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.timing.estimate import Finished, Traits
from wardrobe.core.timing.figures import Done, Figures, Stretch, figures_of, gathered
from wardrobe.core.timing.today import Day, Waiting, plan_day
from wardrobe.recipe.events import EVENT, Plan, traits_of
from wardrobe.recipe.events.words import said_of
from wardrobe.server.db.events import EventRepository
from wardrobe.server.db.models import EventRow, HistoryRow, PieceRow, SittingRow, in_utc
from wardrobe.server.db.pieces import PieceFacts, PieceRepository
from wardrobe.server.db.sittings import Sitting, SittingRepository
from wardrobe.server.schemas.time import LogLine, LogPage, SittingLine


class Records:
    """Reads of everything that was noted, over all pieces."""

    def __init__(self, sessions: sessionmaker[Session], pieces: PieceRepository,
                 events: EventRepository, sittings: SittingRepository) -> None:
        self._sessions = sessions
        self._pieces, self._events, self._sittings = pieces, events, sittings

    def log(self, pieces: set[int] | None = None, text: str = "", before: datetime | None = None,
            since: datetime | None = None, kinds: frozenset[str] = frozenset(),
            most: int = 200) -> LogPage:
        """A page of the log, latest first.

        Parameters
        ----------
        pieces : set of int or None
            Ids; None for all.
        text : str
            That a line or the title of its piece is to hold.
        before, since : datetime or None
        kinds : frozenset of str
            Empty for all.
        most : int
            Lines, and those of the same time as the last.
        """
        words = text.casefold().split()
        titles = self._pieces.titles()
        wanted = set(titles) if pieces is None else pieces & set(titles)
        with self._sessions() as session:
            sources = [make(session, wanted, before, since, titles)
                       for kind, make in _SOURCES.items() if not kinds or kind in kinds]
            merged = heapq.merge(*sources, key=lambda line: line.at, reverse=True)
            fitting = (line for line in merged
                       if all(w in f"{line.title} {line.words} {line.what}".casefold()
                              for w in words))
            found: list[LogLine] = []
            for line in fitting:
                # The next page begins before this time: what happened at once stays together.
                if len(found) >= most and line.at != found[-1].at:
                    return LogPage(found, found[-1].at)
                found.append(line)
        return LogPage(found, None)

    def sittings(self, piece_id: int | None = None, since: datetime | None = None,
                 until: datetime | None = None) -> list[SittingLine]:
        """Sittings with their corrections, latest first."""
        found = self._sittings.all(piece_id, since, until)
        corrected: dict[int, list[Sitting]] = {}
        for sitting in found:
            if sitting.corrects is not None:
                corrected.setdefault(sitting.corrects, []).append(sitting)
        lines = []
        for s in found:
            if s.corrects is None:
                by = corrected.get(s.id, [])
                lines.append(SittingLine(
                    s.id, s.piece, s.step, s.began,
                    (s.seconds + sum(c.seconds for c in by)) / 60, s.seconds / 60, s.kind,
                    next((c.note for c in reversed(by) if c.note), s.note)))
        return lines[::-1]

    def figures(self, pieces: set[int] | None = None, since: datetime | None = None,
                until: datetime | None = None) -> Figures:
        """What the records come to, with the pieces that were finished then; days are those of
        this machine."""
        lines = [s for s in self.sittings(None, since, until)
                 if pieces is None or s.piece in pieces]
        stretches = [Stretch(s.piece, s.step, s.began.astimezone().date(), s.minutes)
                     for s in lines]
        took = {p: sum(m.values()) / 60 for p, m in self._sittings.spent_by_piece().items()}
        done, plans = [], self._events.by_piece("plan")
        closed = {p: events[-1].at for p, events in self._events.by_piece("completion").items()}
        for facts in self._pieces.all():
            if facts.state != "done" or (pieces is not None and facts.id not in pieces):
                continue
            if (since and closed[facts.id] < since) or (until and closed[facts.id] >= until):
                continue
            said = next((h.event.estimated for h in plans.get(facts.id, ())
                         if isinstance(h.event, Plan) and h.event.estimated), None)
            done.append(Done(facts.id, facts.title, facts.planned_minutes, took.get(facts.id, 0.0),
                             *((said.low, said.likely, said.high) if said else ())))
        return figures_of(stretches, done)

    def history(self, but: int) -> list[Finished]:
        """Finished pieces, for estimates of another."""
        spent, closed = self._sittings.spent_by_piece(), self._events.by_piece("completion")
        found = []
        for facts in self._pieces.all():
            if facts.state != "done" or facts.id == but or facts.id not in spent:
                continue
            traits = traits_of(closed.get(facts.id, ()))
            if traits:
                found.append(Finished(facts.id, Traits(**traits.model_dump(mode="json")),
                                      {s: v / 60 for s, v in spent[facts.id].items()}))
        return found

    def day(self, minutes: float, today: date) -> Day:
        """What is next, and what fits."""
        return plan_day([Waiting(f.id, f.planned_minutes - f.spent / 60, f.due,
                                 f.state == "sent") for f in self._pieces.all() if is_open(f)],
                        minutes, today)


def is_open(facts: PieceFacts) -> bool:
    """Whether something is left to be done on a piece."""
    return not facts.away and facts.state not in ("done", "approved")


def _edits(session: Session, pieces: set[int], before: datetime | None, since: datetime | None,
           titles: dict[int, str]) -> Iterator[LogLine]:
    kind = HistoryRow.edit["kind"].as_string()
    wanted = select(HistoryRow.piece_id, HistoryRow.made, kind).where(HistoryRow.position > 0)
    rows = session.execute(_between(wanted, HistoryRow.made, before, since)
                           .order_by(HistoryRow.made.desc(), HistoryRow.id.desc())
                           .execution_options(yield_per=500)).tuples()
    for gesture in gathered((made.replace(tzinfo=UTC), (piece, str(what)))
                            for piece, made, what in rows if piece in pieces):
        piece, what = gesture.kind
        times = f", {gesture.count} times" if gesture.count > 1 else ""
        yield LogLine(gesture.began, piece, titles[piece], "edit", what,
                      f"{what.replace('_', ' ').capitalize()}{times}")


def _sat(session: Session, pieces: set[int], before: datetime | None, since: datetime | None,
         titles: dict[int, str]) -> Iterator[LogLine]:
    words = {"work": "Worked on", "look": "Looked at, hands off", "by hand": "Entered by hand for",
             "correction": "Corrected by hand:"}
    for row in session.scalars(_between(select(SittingRow), SittingRow.began, before, since)
                               .order_by(SittingRow.began.desc(), SittingRow.id.desc())
                               .execution_options(yield_per=500)):
        if row.piece_id in pieces:
            note = f" ({row.note})" if row.note else ""
            yield LogLine(row.began.replace(tzinfo=UTC), row.piece_id, titles[row.piece_id],
                          "sitting", row.kind,
                          f"{words.get(row.kind, row.kind)} {row.step}{note}", row.seconds / 60)


def _happened(session: Session, pieces: set[int], before: datetime | None,
              since: datetime | None, titles: dict[int, str]) -> Iterator[LogLine]:
    for row in session.scalars(_between(select(EventRow), EventRow.at, before, since)
                               .order_by(EventRow.at.desc(), EventRow.piece_id.desc(),
                                         EventRow.number.desc())
                               .execution_options(yield_per=200)):
        if row.piece_id in pieces:
            event = EVENT.validate_python(row.event)
            yield LogLine(row.at.replace(tzinfo=UTC), row.piece_id, titles[row.piece_id], "event",
                          event.kind, said_of(event))


def _begun(session: Session, pieces: set[int], before: datetime | None, since: datetime | None,
           titles: dict[int, str]) -> Iterator[LogLine]:
    for piece, created in session.execute(
            _between(select(PieceRow.id, PieceRow.created), PieceRow.created, before, since)
            .order_by(PieceRow.created.desc(), PieceRow.id.desc())).tuples():
        if piece in pieces:
            yield LogLine(created.replace(tzinfo=UTC), piece, titles[piece], "piece", "begun",
                          "Begun")


_SOURCES = {"edit": _edits, "sitting": _sat, "event": _happened, "piece": _begun}


def _between(wanted: Any, column: Any, before: datetime | None, since: datetime | None) -> Any:
    if before is not None:
        wanted = wanted.where(column < in_utc(before))
    return wanted if since is None else wanted.where(column >= in_utc(since))
