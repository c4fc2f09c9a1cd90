"""Tables."""

from datetime import UTC, date, datetime

from sqlalchemy import (
    JSON,
    Boolean,
    Date,
    DateTime,
    Float,
    ForeignKey,
    Integer,
    String,
    UniqueConstraint,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


def now() -> datetime:
    """The current time, UTC."""
    return datetime.now(UTC)


def in_utc(at: datetime) -> datetime:
    """A time with its zone as it is stored: SQLite keeps none. At the ends of the calendar, where
    it cannot be turned into UTC, it is taken for UTC."""
    try:
        return at.astimezone(UTC)
    except OverflowError:
        return at.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """Base of all tables."""


class BirthRow(Base):
    """When this database began, Unix time: it cannot know what was stored before."""

    __tablename__ = "birth"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    began: Mapped[float] = mapped_column(Float)


class CharacterRow(Base):
    """A character and its colour card."""

    __tablename__ = "character"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    card: Mapped[list[dict[str, object]]] = mapped_column(JSON)
    washes: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    outfits: Mapped[list[dict[str, object]]] = mapped_column(JSON, default=list)
    changed: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)


class NameSetRow(Base):
    """Names of parts that a user has kept to start other pieces from."""

    __tablename__ = "name_set"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    parts: Mapped[list[dict[str, object]]] = mapped_column(JSON)


class PaletteRow(Base):
    """Colours that a user has kept under a name."""

    __tablename__ = "palette"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    colours: Mapped[list[dict[str, object]]] = mapped_column(JSON)


class PracticeRow(Base):
    """An answer to a lesson, and what was measured of it; kept for ever."""

    __tablename__ = "practice"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    lesson: Mapped[str] = mapped_column(String(40), index=True)
    level: Mapped[int] = mapped_column(Integer)
    seed: Mapped[int] = mapped_column(Integer)
    score: Mapped[float] = mapped_column(Float)
    figures: Mapped[dict[str, float | None]] = mapped_column(JSON)

    __table_args__ = ({"sqlite_autoincrement": True},)


class StackTemplateRow(Base):
    """An arrangement of the stack that a user has kept, with the passes that go with it."""

    __tablename__ = "stack_template"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    delivery: Mapped[dict[str, object]] = mapped_column(JSON)
    passes: Mapped[dict[str, object]] = mapped_column(JSON)


class LayeredFileRow(Base):
    """A layered file that came in: its bytes are an asset, a repaired one is a row of its own."""

    __tablename__ = "layered_file"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    title: Mapped[str] = mapped_column(String(120))
    asset: Mapped[str] = mapped_column(String(64))
    piece_id: Mapped[int | None] = mapped_column(
        ForeignKey("piece.id", ondelete="SET NULL"), default=None)
    made_from: Mapped[int | None] = mapped_column(
        ForeignKey("layered_file.id", ondelete="SET NULL"), default=None)
    came: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    removed: Mapped[datetime | None] = mapped_column(DateTime(timezone=True), default=None)

    __table_args__ = ({"sqlite_autoincrement": True},)


class PieceRow(Base):
    """A piece.

    ``revision`` counts every change, undo and redo, and is what a request must name;
    ``position`` is the place in the history that is shown. From ``due`` on, and the planned
    minutes: what its events come to, so that hundreds of pieces can be listed.
    """

    __tablename__ = "piece"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    title: Mapped[str] = mapped_column(String(120))
    planned_minutes: Mapped[float] = mapped_column(Float)
    created: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    changed: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    revision: Mapped[int] = mapped_column(Integer, default=1)
    position: Mapped[int] = mapped_column(Integer, default=0)
    step: Mapped[str] = mapped_column(String(20), default="lines")
    demo: Mapped[str | None] = mapped_column(String(120), default=None)
    character_id: Mapped[int | None] = mapped_column(
        ForeignKey("character.id", ondelete="SET NULL"), default=None)
    due: Mapped[date | None] = mapped_column(Date, default=None)
    occasion: Mapped[str] = mapped_column(String(120), default="")
    tags: Mapped[list[str]] = mapped_column(JSON, default=list)
    away: Mapped[bool] = mapped_column(Boolean, default=False)
    state: Mapped[str] = mapped_column(String(20), default="in work")
    series_id: Mapped[int | None] = mapped_column(
        ForeignKey("series.id", ondelete="SET NULL"), default=None, index=True)
    page_id: Mapped[int | None] = mapped_column(
        ForeignKey("page.id", ondelete="SET NULL"), default=None)
    place: Mapped[int] = mapped_column(Integer, default=0)
    scene: Mapped[str] = mapped_column(String(60), default="")
    hold: Mapped[int] = mapped_column(Integer, default=1)

    __table_args__ = ({"sqlite_autoincrement": True},)


class SeriesRow(Base):
    """Pieces in an order, and what they share."""

    __tablename__ = "series"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    title: Mapped[str] = mapped_column(String(120))
    shared: Mapped[dict[str, object]] = mapped_column(JSON)
    changed: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)

    __table_args__ = ({"sqlite_autoincrement": True},)


class PageRow(Base):
    """A page of panels: what was found and said about its sheet; each panel is a piece."""

    __tablename__ = "page"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    series_id: Mapped[int] = mapped_column(ForeignKey("series.id", ondelete="CASCADE"),
                                           index=True)
    title: Mapped[str] = mapped_column(String(120))
    sheet: Mapped[dict[str, object]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(Integer, default=1)

    __table_args__ = ({"sqlite_autoincrement": True},)


class HistoryRow(Base):
    """The edit that led to a state of a piece; now and then, and at the beginning, the state."""

    __tablename__ = "history"
    __table_args__ = (UniqueConstraint("piece_id", "position"),)

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"))
    position: Mapped[int] = mapped_column(Integer)
    edit: Mapped[dict[str, object] | None] = mapped_column(JSON)
    recipe: Mapped[dict[str, object] | None] = mapped_column(JSON(none_as_null=True))
    made: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)


class AssetUseRow(Base):
    """An asset that an edit, or what a piece began with, names: it is needed for as long as that
    can be undone or done again."""

    __tablename__ = "asset_use"

    history_id: Mapped[int] = mapped_column(ForeignKey("history.id", ondelete="CASCADE"),
                                            primary_key=True)
    asset: Mapped[str] = mapped_column(String(64), primary_key=True, index=True)


class JobRow(Base):
    """Long work, so that what became of it is known after a restart, too."""

    __tablename__ = "job"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    state: Mapped[str] = mapped_column(String(12))
    piece: Mapped[int | None] = mapped_column(Integer, default=None)
    layered: Mapped[int | None] = mapped_column(Integer, default=None)
    file_name: Mapped[str | None] = mapped_column(String(240), default=None)
    problem: Mapped[dict[str, object] | None] = mapped_column(JSON(none_as_null=True),
                                                              default=None)
    answer: Mapped[dict[str, object] | None] = mapped_column(JSON(none_as_null=True),
                                                             default=None)
    began: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now, index=True)


class EventRow(Base):
    """What happened to a piece besides its making; a trigger keeps it from being changed."""

    __tablename__ = "event"

    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"),
                                          primary_key=True)
    number: Mapped[int] = mapped_column(Integer, primary_key=True)
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now)
    event: Mapped[dict[str, object]] = mapped_column(JSON)


class SittingRow(Base):
    """A stretch of time that was given to a step of a piece.

    ``kind`` is ``work``, ``look``, ``by hand``, or ``correction`` of the sitting ``corrects``,
    whose seconds may be fewer than none.
    """

    __tablename__ = "sitting"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    step: Mapped[str] = mapped_column(String(20))
    began: Mapped[datetime] = mapped_column(DateTime(timezone=True), default=now, index=True)
    seconds: Mapped[float] = mapped_column(Float)
    kind: Mapped[str] = mapped_column(String(12), default="work")
    note: Mapped[str] = mapped_column(String(200), default="")
    corrects: Mapped[int | None] = mapped_column(Integer, default=None)


class PlanRow(Base):
    """A plan that a user has kept to begin pieces with."""

    __tablename__ = "plan"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    minutes: Mapped[dict[str, float]] = mapped_column(JSON)
    rounds: Mapped[int] = mapped_column(Integer, default=0)
