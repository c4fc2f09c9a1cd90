"""Databases as earlier versions left them."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

from wardrobe.server.db import models


def tables_of(path: Path, revision: str) -> None:
    """Make the tables of a revision, with nothing in them."""
    config = Config()
    config.set_main_option("script_location", str(Path(models.__file__).parent / "migrations"))
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
    engine.dispose()
