"""Engine, sessions and migrations."""

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from alembic.util import CommandError
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.errors import WardrobeError


class DataFolderError(WardrobeError):
    """The data folder cannot be worked with as it is."""

    title = "The data folder cannot be used"


class NewerVersionError(DataFolderError):
    """The data were written by a newer version."""

    title = "This was made by a newer version"


def open_database(path: Path) -> tuple[Engine, sessionmaker[Session]]:
    """Open the database, bringing its tables up to date.

    Parameters
    ----------
    path : Path
        Made, with its folder, if it is not there.

    Returns
    -------
    Engine
        To be disposed of at the end.
    sessionmaker
        Sessions on SQLite in WAL mode with foreign keys enforced; what they commit outlasts a
        loss of power.

    Raises
    ------
    DataFolderError
        If the folder cannot be written, or the database is damaged or of a newer version; it is
        as it was then.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise folder_error(error, path) from error
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15})
    _set_pragmas(engine)
    try:
        _migrate(engine, path)
    except DatabaseError as error:
        engine.dispose()
        raise folder_error(error, path) from error
    except BaseException:
        engine.dispose()
        raise
    return engine, sessionmaker(engine, expire_on_commit=False)


def folder_error(error: BaseException, path: Path) -> DataFolderError:
    """What is wrong with a database or its folder, in words.

    Parameters
    ----------
    error : BaseException
        As SQLAlchemy, SQLite or the system raised it.
    path : Path
        Of the database.
    """
    said = str(getattr(error, "orig", None) or error).lower()
    if isinstance(error, FileExistsError | NotADirectoryError):
        return DataFolderError(f"{path.parent} is not a folder. Choose another data folder.")
    if "disk is full" in said or "no space" in said:
        return DataFolderError(f"The disk that holds {path.parent} is full. Nothing was changed. "
                               "Make room on it, and start again.")
    if "not a database" in said or "malformed" in said:
        return DataFolderError(
            f"The database {path} is damaged and was left as it is; the drawings beside it in "
            "“assets” are unharmed. Put a copy of the database in its place, or move it aside to "
            "start with an empty one; no drawing is deleted then.")
    return DataFolderError(f"The folder {path.parent} cannot be written: {said}. Nothing was "
                           "changed. Give yourself the right to write there, or choose another "
                           "folder.")


def _set_pragmas(engine: Engine) -> None:
    @event.listens_for(engine, "connect")
    def on_connect(connection: sqlite3.Connection, record: Any) -> None:
        cursor = connection.cursor()
        cursor.execute("PRAGMA journal_mode=WAL")
        cursor.execute("PRAGMA foreign_keys=ON")
        # A change that has been answered is on the disk: the WAL is synced at every commit.
        cursor.execute("PRAGMA synchronous=FULL")
        cursor.close()


def _migrate(engine: Engine, path: Path) -> None:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    scripts = ScriptDirectory.from_config(config)
    newest = scripts.get_current_head()
    with engine.connect() as connection:
        found = MigrationContext.configure(connection).get_current_revision()
    if found != newest and found in {script.revision for script in scripts.walk_revisions()}:
        try:
            _copy_aside(path, str(found))
        except (OSError, sqlite3.Error) as error:
            raise folder_error(error, path) from error
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        try:
            command.upgrade(config, "head")
        except CommandError as error:
            raise NewerVersionError(
                f"The database {path} was written by a newer version of Wardrobe than this one "
                f"(which knows tables up to {newest}). Nothing was changed. Start the newer "
                "version, or choose another data folder.") from error


def _copy_aside(path: Path, revision: str) -> None:
    """Keep the database as it was, before its tables are changed."""
    aside = path.with_name(f"{path.stem}-{revision}{path.suffix}")
    half = aside.with_suffix(".half")
    half.unlink(missing_ok=True)
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(half)) as target:
        source.backup(target)
    half.replace(aside)
