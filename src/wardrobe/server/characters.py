"""Characters, their colour cards, and saved sets of names in the database."""

from collections.abc import Mapping
from dataclasses import asdict

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.formats.tokens import CardColour
from wardrobe.recipe.document.colouring import Wash
from wardrobe.recipe.document.name_sets import NamedPart
from wardrobe.server.db.models import CharacterRow, NameSetRow, PieceRow, now
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.characters import Character, Outfit, SavedNames


class CharacterStore:
    """All reads and writes of characters; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def all(self) -> list[Character]:
        """All characters by name."""
        with self._sessions() as session:
            rows = session.scalars(select(CharacterRow).order_by(CharacterRow.name))
            return [_character(session, row) for row in rows]

    def get(self, character_id: int) -> Character:
        """One character."""
        with self._sessions() as session:
            return _character(session, _row(session, character_id))

    def create(self, name: str, card: list[CardColour],
               washes: Mapping[str, Wash] | None = None) -> Character:
        """A new character."""
        with self._sessions.begin() as session:
            row = CharacterRow(name=name, card=[asdict(c) for c in card], changed=now(),
                               washes=_dumped(washes or {}))
            session.add(row)
            session.flush()
            return _character(session, row)

    def change(self, character_id: int, name: str | None, card: list[CardColour] | None,
               washes: Mapping[str, Wash] | None = None) -> Character:
        """A new name or card."""
        with self._sessions.begin() as session:
            row = _row(session, character_id)
            row.name = name or row.name
            if card is not None:
                row.card = [asdict(c) for c in card]
            if washes is not None:
                row.washes = _dumped(washes)
            row.changed = now()
            return _character(session, row)

    def keep_outfit(self, character_id: int, outfit: Outfit) -> Character:
        """Keep an outfit; one of the same name is replaced."""
        with self._sessions.begin() as session:
            row = _row(session, character_id)
            others = [o for o in row.outfits if o["name"] != outfit.name]
            row.outfits = [*others, outfit.model_dump(mode="json")]
            return _character(session, row)

    def remove_outfit(self, character_id: int, name: str) -> Character:
        """Forget an outfit; looks made from it stay."""
        with self._sessions.begin() as session:
            row = _row(session, character_id)
            row.outfits = [o for o in row.outfits if o["name"] != name]
            return _character(session, row)

    def remove(self, character_id: int) -> None:
        """Delete a character; its pieces stay."""
        with self._sessions.begin() as session:
            session.delete(_row(session, character_id))

    def give(self, piece_id: int, character_id: int | None) -> None:
        """Say whose picture a piece is."""
        with self._sessions.begin() as session:
            piece = session.get(PieceRow, piece_id)
            if piece is None:
                raise NotFoundError("This piece is not there; it may have been deleted.")
            if character_id is not None:
                _row(session, character_id)
            piece.character_id = character_id

    def of_piece(self, piece_id: int) -> Character | None:
        """Whose picture a piece is."""
        with self._sessions() as session:
            piece = session.get(PieceRow, piece_id)
            if piece is None or piece.character_id is None:
                return None
            return _character(session, _row(session, piece.character_id))

    def name_sets(self) -> list[SavedNames]:
        """The sets of names that were saved."""
        with self._sessions() as session:
            return [_names(r) for r in session.scalars(select(NameSetRow)
                                                       .order_by(NameSetRow.name))]

    def save_names(self, name: str, parts: tuple[NamedPart, ...]) -> SavedNames:
        """Save a set of names; one of the same name is replaced."""
        with self._sessions.begin() as session:
            row = session.scalars(select(NameSetRow).where(NameSetRow.name == name)).first()
            row = row or NameSetRow(name=name, parts=[])
            row.parts = [p.model_dump() for p in parts]
            session.add(row)
            session.flush()
            return _names(row)

    def remove_names(self, set_id: int) -> None:
        """Delete a saved set of names."""
        with self._sessions.begin() as session:
            row = session.get(NameSetRow, set_id)
            if row is None:
                raise NotFoundError("This set of names is not there.")
            session.delete(row)


def _row(session: Session, character_id: int) -> CharacterRow:
    row = session.get(CharacterRow, character_id)
    if row is None:
        raise NotFoundError("This character is not there; it may have been deleted.")
    return row


def _character(session: Session, row: CharacterRow) -> Character:
    pieces = session.scalars(select(PieceRow.id).where(PieceRow.character_id == row.id))
    return Character.model_validate({"id": row.id, "name": row.name, "card": row.card,
                                     "washes": row.washes, "outfits": row.outfits,
                                     "pieces": list(pieces)})


def _dumped(washes: Mapping[str, Wash]) -> dict[str, object]:
    return {key: wash.model_dump() for key, wash in washes.items()}


def _names(row: NameSetRow) -> SavedNames:
    return SavedNames.model_validate({"id": row.id, "name": row.name, "parts": row.parts})
