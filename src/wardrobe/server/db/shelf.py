"""The shelf of palettes in the database."""

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.server.db.models import PaletteRow
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.shelf import Palette, SavePalette


class Shelf:
    """All reads and writes of palettes; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def all(self) -> list[Palette]:
        """All palettes by name."""
        with self._sessions() as session:
            rows = session.scalars(select(PaletteRow).order_by(PaletteRow.name, PaletteRow.id))
            return [_palette(row) for row in rows]

    def get(self, palette_id: int) -> Palette:
        """One palette; NotFoundError without it."""
        with self._sessions() as session:
            return _palette(_row(session, palette_id))

    def save(self, palette: SavePalette) -> Palette:
        """Keep a palette in the place of one of the same name."""
        with self._sessions.begin() as session:
            row = session.scalars(select(PaletteRow)
                                  .where(PaletteRow.name == palette.name)).first()
            row = row or PaletteRow(name=palette.name)
            row.colours = [c.model_dump(mode="json") for c in palette.colours]
            session.add(row)
            session.flush()
            return _palette(row)

    def remove(self, palette_id: int) -> None:
        """Take a palette off the shelf; pieces that were dressed in it stay as they are."""
        with self._sessions.begin() as session:
            session.delete(_row(session, palette_id))


def _row(session: Session, palette_id: int) -> PaletteRow:
    row = session.get(PaletteRow, palette_id)
    if row is None:
        raise NotFoundError("This palette is not on the shelf.")
    return row


def _palette(row: PaletteRow) -> Palette:
    return Palette.model_validate({"id": row.id, "name": row.name, "colours": row.colours})
