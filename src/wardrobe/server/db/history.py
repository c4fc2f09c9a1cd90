"""The history of a piece: its edits, and its whole state now and then."""

import threading
from collections import OrderedDict
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import Text, cast, exists, func, select, update
from sqlalchemy.orm import Session, aliased

from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.document.types import ASSET
from wardrobe.recipe.edits import Edit, EditRefusedError, StoredEdit, apply
from wardrobe.server.db.models import AssetUseRow, HistoryRow
from wardrobe.server.db.session import NewerVersionError

EDIT: TypeAdapter[Edit] = TypeAdapter(StoredEdit)
SNAPSHOT_EVERY = 64  # edits; more take longer to make again than a hand waits
_NEAR = 4  # snapshots that are kept at that distance; beyond them only one in _FAR edits
_FAR = 16 * SNAPSHOT_EVERY
_AT_HAND = 64  # states


class Histories:
    """States of pieces, made again from the snapshot before them; the last few that were asked for
    are at hand, by the row that they are the outcome of."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[int, datetime], Recipe] = OrderedDict()
        self._lock = threading.Lock()

    def state(self, session: Session, piece_id: int, position: int) -> Recipe:
        """The recipe at a place in the history."""
        key = session.execute(
            select(HistoryRow.id, HistoryRow.made).where(
                HistoryRow.piece_id == piece_id, HistoryRow.position == position)).tuples().one()
        known = self._get(key)
        if known is not None:
            return known
        from_, stored = session.execute(
            select(HistoryRow.position, cast(HistoryRow.recipe, Text)).where(
                HistoryRow.piece_id == piece_id, HistoryRow.position <= position,
                HistoryRow.recipe.is_not(None))
            .order_by(HistoryRow.position.desc()).limit(1)).one()
        recipe = _again(_parse(stored), self.edits(session, piece_id, position, from_))
        self._put(key, recipe)
        return recipe

    def keep(self, row: HistoryRow, recipe: Recipe) -> None:
        """Have a state at hand that was just stored."""
        self._put((row.id, row.made.replace(tzinfo=None)), recipe)  # as SQLite gives it back

    def edits(self, session: Session, piece_id: int, position: int,
              after: int = 0) -> Sequence[Any]:
        """The edits after a place up to another, as they were stored."""
        return session.scalars(
            select(HistoryRow.edit).where(
                HistoryRow.piece_id == piece_id, HistoryRow.position > after,
                HistoryRow.position <= position).order_by(HistoryRow.position)).all()

    def _get(self, key: tuple[int, datetime]) -> Recipe | None:
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def _put(self, key: tuple[int, datetime], recipe: Recipe) -> None:
        with self._lock:
            self._kept[key] = recipe
            while len(self._kept) > _AT_HAND:
                self._kept.popitem(last=False)


def _parse(stored: str) -> Recipe:
    try:
        return Recipe.model_validate_json(stored)
    except ValidationError as error:
        raise NewerVersionError("This piece was written by a newer version of Wardrobe, or "
                                "changed by hand. It is as it was; open it with the newer "
                                "version.") from error


def _again(recipe: Recipe, edits: Sequence[Any]) -> Recipe:
    """A state made again from one before it."""
    try:
        for edit in edits:
            recipe = apply(recipe, EDIT.validate_python(edit))
    except (ValidationError, EditRefusedError) as error:
        raise NewerVersionError("A change of this piece was written by a newer version of "
                                "Wardrobe, or changed by hand. It is as it was; open it with the "
                                "newer version.") from error
    return recipe


def is_snapshot(position: int) -> bool:
    """Whether the whole state is stored at a place in the history."""
    return position % SNAPSHOT_EVERY == 0


def note_assets(session: Session, states: Sequence[HistoryRow]) -> None:
    """Remember which assets edits, and the beginning, name."""
    for state in states:
        said = repr(state.edit if state.position else state.recipe)
        session.add_all(AssetUseRow(history_id=state.id, asset=name)
                        for name in {*ASSET.findall(said)})


def thin_out(session: Session, piece_id: int, position: int) -> None:
    """Drop snapshots that lie far behind the last ones."""
    past = position - _NEAR * SNAPSHOT_EVERY
    if past <= 0 or past % _FAR == 0:
        return
    before = aliased(HistoryRow)
    # Versions that stored every state may have come to it by other rules: those states stay.
    alone = ~exists().where(before.piece_id == piece_id, before.recipe.is_not(None),
                            before.position == HistoryRow.position - 1)
    session.execute(update(HistoryRow).where(
        HistoryRow.piece_id == piece_id, HistoryRow.position <= past,
        HistoryRow.position > past - SNAPSHOT_EVERY, alone).values(recipe=None)
        .execution_options(synchronize_session=False))


def last_position(session: Session, piece_id: int) -> int:
    """The last place in the history that can be gone to."""
    return session.scalar(select(func.max(HistoryRow.position))
                          .where(HistoryRow.piece_id == piece_id)) or 0


def entry(position: int, edit: Edit | None, recipe: Recipe, whole: bool) -> HistoryRow:
    """A state of a piece that is yet to be said; ``whole`` with its recipe."""
    return HistoryRow(position=position, edit=edit.model_dump(mode="json") if edit else None,
                      recipe=recipe.model_dump(mode="json") if whole else None)
