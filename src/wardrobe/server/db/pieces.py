"""Pieces in the database: create, change, undo, redo.

A piece is stored as its edits, with its whole state now and then.
"""

from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from typing import get_args

from sqlalchemy import ColumnElement, delete, func, select, update
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import Edit, EditRefusedError, apply
from wardrobe.recipe.events import PieceState, Reference
from wardrobe.server.db.history import (
    EDIT,
    Histories,
    entry,
    is_snapshot,
    last_position,
    note_assets,
    thin_out,
)
from wardrobe.server.db.models import (
    AssetUseRow,
    BirthRow,
    CharacterRow,
    EventRow,
    HistoryRow,
    LayeredFileRow,
    PieceRow,
    SeriesRow,
    SittingRow,
    now,
)
from wardrobe.server.problems import NotFoundError, StaleEditError


@dataclass(frozen=True)
class StoredPiece:
    """A piece at the place in its history that is shown.

    Attributes
    ----------
    changes : int
        That can be undone.
    spent : dict of str to float
        Seconds of work by step.
    """

    id: int
    title: str
    planned_minutes: float
    revision: int
    recipe: Recipe
    changes: int
    can_redo: bool
    spent: dict[str, float] = field(default_factory=dict)

    @property
    def can_undo(self) -> bool:
        """Whether there is a change to undo."""
        return self.changes > 0


@dataclass(frozen=True)
class PieceFacts:
    """What is told of a piece without its recipe; ``spent`` in seconds."""

    id: int
    title: str
    planned_minutes: float
    spent: float
    step: str
    revision: int
    demo: bool
    due: date | None
    occasion: str
    tags: tuple[str, ...]
    away: bool
    state: PieceState
    changed: datetime
    character: str | None
    series: str | None


class PieceRepository:
    """All reads and writes of pieces; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions
        self._histories = Histories()

    def create(self, title: str, planned_minutes: float, recipe: Recipe,
               edits: tuple[Edit, ...] = (), demo: str | None = None) -> int:
        """Make a piece whose history begins with a recipe and these edits; return its id."""
        states = [entry(0, None, recipe, whole=True)]
        for position, edit in enumerate(edits, start=1):
            recipe = apply(recipe, edit)
            states.append(entry(position, edit, recipe, position == len(edits)))
        with self._sessions.begin() as session:
            row = PieceRow(title=title, planned_minutes=planned_minutes, demo=demo,
                           position=len(edits))
            session.add(row)
            session.flush()
            for state in states:
                state.piece_id = row.id
            session.add_all(states)
            session.flush()
            note_assets(session, states)
            return row.id

    def all(self) -> list[PieceFacts]:
        """All pieces, latest change first."""
        return self._facts()

    def facts(self, piece_id: int) -> PieceFacts:
        """What is told of a piece without its recipe."""
        found = self._facts(PieceRow.id == piece_id)
        if not found:
            raise NotFoundError("This piece is not there; it may have been deleted.")
        return found[0]

    def _facts(self, *of: ColumnElement[bool]) -> list[PieceFacts]:
        spent = select(SittingRow.piece_id, func.sum(SittingRow.seconds).label("seconds")) \
            .join(PieceRow, PieceRow.id == SittingRow.piece_id).where(*of) \
            .group_by(SittingRow.piece_id).subquery()
        p = PieceRow
        # Columns, not objects: a list of a thousand is read three times as fast.
        wanted = select(p.id, p.title, p.planned_minutes, func.coalesce(spent.c.seconds, 0.0)
                        .label("spent"), p.step, p.revision,
                        p.demo.is_not(None).label("is_demo"), p.due, p.occasion, p.tags, p.away,
                        p.state, p.changed, CharacterRow.name,
                        SeriesRow.title.label("series")) \
            .outerjoin(spent, spent.c.piece_id == p.id) \
            .outerjoin(CharacterRow, CharacterRow.id == p.character_id) \
            .outerjoin(SeriesRow, SeriesRow.id == p.series_id) \
            .where(*of).order_by(p.changed.desc(), p.id.desc())
        with self._sessions() as session:
            return [PieceFacts(r.id, r.title, r.planned_minutes, r.spent, r.step, r.revision,
                               r.is_demo, r.due, r.occasion, tuple(r.tags), r.away,
                               cast_state(r.state), r.changed.replace(tzinfo=UTC), r.name,
                               r.series)
                    for r in session.execute(wanted)]

    def get(self, piece_id: int) -> StoredPiece:
        """A piece with its recipe at the place in the history that is shown."""
        with self._sessions() as session:
            return self._piece(session, _row(session, piece_id))

    def recipe(self, piece_id: int, seen: int | None = None) -> Recipe:
        """Only the recipe; that of revision ``seen``, if it is given, or a StaleEditError."""
        with self._sessions() as session:
            row = _row(session, piece_id)
            if seen is not None:
                _check_fresh(row, seen)
            return self._histories.state(session, piece_id, row.position)

    def recipe_back(self, piece_id: int, changes: int) -> Recipe:
        """The recipe so many changes ago, or as the piece began if it has fewer."""
        with self._sessions() as session:
            row = _row(session, piece_id)
            return self._histories.state(session, piece_id, max(0, row.position - changes))

    def recipe_after(self, piece_id: int, changes: int) -> Recipe:
        """The recipe after so many changes, or as it is if there are fewer now."""
        with self._sessions() as session:
            row = _row(session, piece_id)
            return self._histories.state(session, piece_id, min(changes, row.position))

    def edit(self, piece_id: int, seen: int, edit: Edit) -> StoredPiece:
        """Apply an edit; what had been undone is forgotten.

        Raises
        ------
        StaleEditError
            If the piece is not at revision ``seen`` any more.
        """
        # Worked out before the write lock is taken, which all pieces share.
        recipe = self.recipe(piece_id, seen)
        changed = apply(recipe, edit)
        if changed == recipe:
            return self.get(piece_id)
        with self._sessions.begin() as session:
            row = self._fresh(session, piece_id, seen)
            session.execute(delete(HistoryRow).where(HistoryRow.piece_id == piece_id,
                                                     HistoryRow.position > row.position))
            row.position += 1
            self._touch(row)
            state = entry(row.position, edit, changed, is_snapshot(row.position))
            state.piece_id = piece_id
            session.add(state)
            session.flush()
            note_assets(session, [state])
            if state.recipe is not None:
                thin_out(session, piece_id, row.position)
            piece = self._piece(session, row, changed)
        self._histories.keep(state, changed)
        return piece

    def travel(self, piece_id: int, seen: int, by: int) -> StoredPiece:
        """Undo (-1) or redo (+1)."""
        with self._sessions.begin() as session:
            row = self._fresh(session, piece_id, seen)
            target = row.position + by
            if not 0 <= target <= last_position(session, piece_id):
                raise EditRefusedError("There is nothing more to "
                                       + ("undo." if by < 0 else "redo."))
            row.position = target
            self._touch(row)
            return self._piece(session, row)

    def history(self, piece_id: int) -> tuple[Recipe, tuple[Edit, ...]]:
        """The recipe that a piece began with, and the edits that led to what is shown."""
        with self._sessions() as session:
            row = _row(session, piece_id)
            edits = self._histories.edits(session, piece_id, row.position)
            return (self._histories.state(session, piece_id, 0),
                    tuple(map(EDIT.validate_python, edits)))

    def rename(self, piece_id: int, title: str) -> StoredPiece:
        """Change the title, which is about the piece, not part of its recipe."""
        with self._sessions.begin() as session:
            row = _row(session, piece_id)
            row.title = title
            return self._piece(session, row)

    def remove(self, piece_id: int) -> None:
        """Delete a piece with its history."""
        with self._sessions.begin() as session:
            session.delete(_row(session, piece_id))

    def assets_in_use(self) -> set[str]:
        """Names of all assets that states and events of pieces, or a layered file, refer to."""
        with self._sessions() as session:
            kept = session.scalars(select(EventRow.event).where(
                EventRow.event["kind"].as_string() == "reference"))
            return {*session.scalars(select(AssetUseRow.asset).distinct()),
                    *session.scalars(select(LayeredFileRow.asset)),
                    *(Reference.model_validate(event).picture.asset for event in kept)}

    def settle(self) -> None:
        """Store the state that each piece is in, so that no later version has to work it out."""
        with self._sessions() as session:
            bare = session.execute(
                select(HistoryRow.id, HistoryRow.piece_id, HistoryRow.position)
                .join(PieceRow, PieceRow.id == HistoryRow.piece_id)
                .where(HistoryRow.position == PieceRow.position,
                       HistoryRow.recipe.is_(None))).all()
        for row_id, piece_id, position in bare:
            with self._sessions.begin() as session:
                recipe = self._histories.state(session, piece_id, position)
                session.execute(update(HistoryRow).where(
                    HistoryRow.id == row_id, HistoryRow.position == position)
                    .values(recipe=recipe.model_dump(mode="json")))

    def count(self) -> int:
        """How many pieces there are."""
        with self._sessions() as session:
            return session.scalar(select(func.count()).select_from(PieceRow)) or 0

    def began(self) -> float:
        """When the database began, Unix time."""
        with self._sessions() as session:
            return session.scalars(select(BirthRow.began)).one()

    def remove_demo(self) -> None:
        """Delete the demo pieces and nothing else."""
        with self._sessions.begin() as session:
            session.execute(delete(PieceRow).where(PieceRow.demo.is_not(None)))

    def mark_demo(self, piece_id: int, demo: str) -> None:
        """Say that a piece came with the demo."""
        with self._sessions.begin() as session:
            _row(session, piece_id).demo = demo

    def titles(self) -> dict[int, str]:
        """Titles by id."""
        with self._sessions() as session:
            return dict(session.execute(select(PieceRow.id, PieceRow.title)).tuples().all())

    def _piece(self, session: Session, row: PieceRow, recipe: Recipe | None = None) -> StoredPiece:
        spent = session.execute(
            select(SittingRow.step, func.sum(SittingRow.seconds))
            .where(SittingRow.piece_id == row.id).group_by(SittingRow.step)).tuples().all()
        recipe = recipe or self._histories.state(session, row.id, row.position)
        return StoredPiece(row.id, row.title, row.planned_minutes, row.revision, recipe,
                           row.position, row.position < last_position(session, row.id), dict(spent))

    def _fresh(self, session: Session, piece_id: int, seen: int) -> PieceRow:
        # Taking the write lock first makes the check and the change one step.
        session.execute(update(PieceRow).where(PieceRow.id == piece_id)
                        .values(revision=PieceRow.revision))
        row = _row(session, piece_id)
        _check_fresh(row, seen)
        return row

    @staticmethod
    def _touch(row: PieceRow) -> None:
        row.revision += 1
        row.changed = now()


def cast_state(stored: str) -> PieceState:
    """A state as it is stored; one that a newer version knows is none."""
    return stored if stored in get_args(PieceState) else "in work"  # type: ignore[return-value]


def _row(session: Session, piece_id: int) -> PieceRow:
    row = session.get(PieceRow, piece_id, populate_existing=True)
    if row is None:
        raise NotFoundError("This piece is not there; it may have been deleted.")
    return row


def _check_fresh(row: PieceRow, seen: int) -> None:
    if row.revision != seen:
        raise StaleEditError("Somebody changed this piece in another window. It has been "
                             "refreshed; your last change was not made, do it again.")
