"""Pieces in the database: create, change, undo, redo."""

import json
from functools import lru_cache

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import Text, cast, delete, func, select, update
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.timing.plan import STEPS
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import ASSET
from wardrobe.recipe.edits import Edit, EditRefusedError, StoredEdit, apply
from wardrobe.server.db.models import (
    BirthRow,
    HistoryRow,
    LayeredFileRow,
    PieceRow,
    SittingRow,
    now,
)
from wardrobe.server.db.session import NewerVersionError
from wardrobe.server.problems import NotFoundError, StaleEditError
from wardrobe.server.schemas.pieces import Piece, PieceCard

_EDIT: TypeAdapter[Edit] = TypeAdapter(StoredEdit)
_MOST_SECONDS = 120.0  # one report of work; a sleeping laptop must not count


class PieceStore:
    """All reads and writes of pieces; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def create(self, title: str, planned_minutes: float, recipe: Recipe,
               edits: tuple[Edit, ...] = (), demo: str | None = None) -> int:
        """Make a piece whose history begins with a recipe and these edits; return its id."""
        states = [_history(0, None, recipe)]
        for position, edit in enumerate(edits, start=1):
            recipe = apply(recipe, edit)
            states.append(_history(position, edit, recipe))
        with self._sessions.begin() as session:
            row = PieceRow(title=title, planned_minutes=planned_minutes, demo=demo,
                           position=len(edits))
            session.add(row)
            session.flush()
            for state in states:
                state.piece_id = row.id
            session.add_all(states)
            return row.id

    def cards(self) -> list[PieceCard]:
        """All pieces, latest change first."""
        with self._sessions() as session:
            spent = dict(session.execute(
                select(SittingRow.piece_id, func.sum(SittingRow.seconds))
                .group_by(SittingRow.piece_id)).tuples().all())
            rows = session.scalars(select(PieceRow).order_by(PieceRow.changed.desc(),
                                                             PieceRow.id.desc()))
            return [PieceCard(id=r.id, title=r.title, planned_minutes=r.planned_minutes,
                              spent_minutes=spent.get(r.id, 0) / 60, step=r.step,
                              revision=r.revision, demo=r.demo is not None) for r in rows]

    def get(self, piece_id: int) -> Piece:
        """A piece with its recipe at the place in the history that is shown."""
        with self._sessions() as session:
            return _piece(session, _row(session, piece_id))

    def recipe(self, piece_id: int, seen: int | None = None) -> Recipe:
        """Only the recipe; that of revision ``seen``, if it is given, or a StaleEditError."""
        with self._sessions() as session:
            row = _row(session, piece_id)
            if seen is not None:
                _check_fresh(row, seen)
            return _recipe(session, row)

    def edit(self, piece_id: int, seen: int, edit: Edit) -> Piece:
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
        state = _history(0, edit, changed)
        with self._sessions.begin() as session:
            row = self._fresh(session, piece_id, seen)
            session.execute(delete(HistoryRow).where(HistoryRow.piece_id == piece_id,
                                                     HistoryRow.position > row.position))
            row.position += 1
            self._touch(row)
            state.piece_id, state.position = piece_id, row.position
            session.add(state)
            session.flush()
            return _piece(session, row)

    def travel(self, piece_id: int, seen: int, by: int) -> Piece:
        """Undo (-1) or redo (+1)."""
        with self._sessions.begin() as session:
            row = self._fresh(session, piece_id, seen)
            target = row.position + by
            if not 0 <= target <= _last_position(session, piece_id):
                raise EditRefusedError("There is nothing more to "
                                       + ("undo." if by < 0 else "redo."))
            row.position = target
            self._touch(row)
            return _piece(session, row)

    def history(self, piece_id: int) -> tuple[Recipe, tuple[Edit, ...]]:
        """The recipe that a piece began with, and the edits that led to what is shown."""
        with self._sessions() as session:
            row = _row(session, piece_id)
            states = session.scalars(
                select(HistoryRow).where(HistoryRow.piece_id == piece_id,
                                         HistoryRow.position <= row.position)
                .order_by(HistoryRow.position)).all()
            return (_parse(json.dumps(states[0].recipe)),
                    tuple(_EDIT.validate_python(s.edit) for s in states[1:]))

    def rename(self, piece_id: int, title: str | None, planned_minutes: float | None) -> Piece:
        """Change title or planned minutes; these are about the piece, not part of its recipe."""
        with self._sessions.begin() as session:
            row = _row(session, piece_id)
            row.title = title or row.title
            row.planned_minutes = planned_minutes or row.planned_minutes
            return _piece(session, row)

    def remove(self, piece_id: int) -> None:
        """Delete a piece with its history."""
        with self._sessions.begin() as session:
            session.delete(_row(session, piece_id))

    def assets_in_use(self) -> set[str]:
        """Names of all assets that any state of any piece refers to."""
        edit, recipe = cast(HistoryRow.edit, Text), cast(HistoryRow.recipe, Text)
        with self._sessions() as session:
            # What a piece began with, and the few edits that name a picture.
            told = [*session.scalars(select(recipe).where(HistoryRow.position == 0)),
                    *session.scalars(select(edit).where(edit.contains('"asset"')))]
            return {name for text in told for name in ASSET.findall(text)} \
                | set(session.scalars(select(LayeredFileRow.asset)))

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

    def record(self, piece_id: int, step: str, seconds: float,
               most: float = _MOST_SECONDS) -> None:
        """Add work on a step; remembers the furthest step reached."""
        with self._sessions.begin() as session:
            row = _row(session, piece_id)
            session.add(SittingRow(piece_id=piece_id, step=step, seconds=min(seconds, most)))
            row.step = max(row.step, step, key=STEPS.index)

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


def _row(session: Session, piece_id: int) -> PieceRow:
    row = session.get(PieceRow, piece_id, populate_existing=True)
    if row is None:
        raise NotFoundError("This piece is not there; it may have been deleted.")
    return row


def _check_fresh(row: PieceRow, seen: int) -> None:
    if row.revision != seen:
        raise StaleEditError("Somebody changed this piece in another window. It has been "
                             "refreshed; your last change was not made, do it again.")


@lru_cache(maxsize=64)
def _parse(stored: str) -> Recipe:
    try:
        return Recipe.model_validate_json(stored)
    except ValidationError as error:
        raise NewerVersionError("This piece was written by a newer version of Wardrobe, or "
                                "changed by hand. It is as it was; open it with the newer "
                                "version.") from error


def _recipe(session: Session, row: PieceRow) -> Recipe:
    # As text: a recipe that is asked for again and again, as in a drag, is parsed once.
    return _parse(session.scalars(select(cast(HistoryRow.recipe, Text)).where(
        HistoryRow.piece_id == row.id, HistoryRow.position == row.position)).one())


def _last_position(session: Session, piece_id: int) -> int:
    return session.scalar(select(func.max(HistoryRow.position))
                          .where(HistoryRow.piece_id == piece_id)) or 0


def _history(position: int, edit: Edit | None, recipe: Recipe) -> HistoryRow:
    """A state of a piece that is yet to be said."""
    return HistoryRow(position=position,
                      edit=edit.model_dump(mode="json") if edit else None,
                      recipe=recipe.model_dump(mode="json"))


def _piece(session: Session, row: PieceRow) -> Piece:
    spent = session.execute(
        select(SittingRow.step, func.sum(SittingRow.seconds))
        .where(SittingRow.piece_id == row.id).group_by(SittingRow.step)).tuples().all()
    recipe = _recipe(session, row)
    width, height = recipe.size
    return Piece(
        id=row.id, title=row.title, planned_minutes=row.planned_minutes, revision=row.revision,
        recipe=recipe, width=width, height=height,
        can_undo=row.position > 0,
        can_redo=row.position < _last_position(session, row.id),
        spent_minutes={step: seconds / 60 for step, seconds in spent})
