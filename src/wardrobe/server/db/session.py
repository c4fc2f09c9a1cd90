"""Engine, sessions and migrations."""

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker


def open_database(path: Path) -> sessionmaker[Session]:
    """Open the database, bringing its tables up to date.

    Parameters
    ----------
    path : Path
        Made, with its folder, if it is not there.

    Returns
    -------
    sessionmaker
        Sessions on SQLite in WAL mode with foreign keys enforced.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15})
    _set_pragmas(engine)
    _migrate(engine)
    return sessionmaker(engine, expire_on_commit=False)


def _set_pragmas(engine: Engine) -> None:
    @event.listens_for(engine, "connect")
    def on_connect(connection: Any, record: Any) -> None:
        cursor = connection.cursor()
        cursor.execute("PRAGMA journal_mode=WAL")
        cursor.execute("PRAGMA foreign_keys=ON")
        cursor.execute("PRAGMA synchronous=NORMAL")
        cursor.close()


def _migrate(engine: Engine) -> None:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
