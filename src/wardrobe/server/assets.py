"""Immutable files named by the SHA-256 of their bytes."""

import hashlib
import os
import shutil
import time
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

from wardrobe.recipe.exchange.files import replacing, sync_folder
from wardrobe.server.problems import MissingAssetError

_DAY = 86_400.0
_TRASH_DAYS = 30


class AssetStore:
    """A folder of content-addressed files, and a trash folder beside it.

    Parameters
    ----------
    folder : Path
        Made if it is not there; so is ``trash`` beside it, when something is moved there.
    workplace : Path
        Folder on the same disk in which files are written before they get their names.
    """

    def __init__(self, folder: Path, workplace: Path) -> None:
        self._folder, self._workplace = folder, workplace
        self._trash = folder.parent / "trash"
        folder.mkdir(parents=True, exist_ok=True)

    def put(self, data: bytes) -> str:
        """Store bytes and return their name, which outlasts a loss of power from then on; a
        reader never sees half a file."""
        name = hashlib.sha256(data).hexdigest()
        path = self._path(name)
        try:
            os.utime(path)  # wanted again: as fresh as a new one
        except FileNotFoundError:
            if not path.parent.exists():
                path.parent.mkdir(exist_ok=True)
                sync_folder(self._folder)
            write_whole(path, data, self._workplace, durable=True)
        return name

    def get(self, name: str) -> bytes:
        """The bytes of an asset; one that lies in the trash is taken back.

        Raises
        ------
        MissingAssetError
            If there is none of that name.
        """
        return self.path(name).read_bytes()

    def path(self, name: str) -> Path:
        """Where an asset lies, for readers only; raises as :meth:`get` does."""
        path = self._path(name)
        if not path.exists():
            thrown = next(self._trash.glob(f"*/{name}"), None)
            if thrown is None:
                raise MissingAssetError(
                    "A picture that this uses is not in the data folder any more: in “assets”, "
                    f"{name[:2]}/{name[:16]}…. Everything else is unharmed; put the file back from "
                    "a copy.")
            path.parent.mkdir(exist_ok=True)
            os.utime(thrown)
            thrown.replace(path)
        return path

    def __contains__(self, name: str) -> bool:
        try:
            self.path(name)
        except MissingAssetError:
            return False
        return True

    def prune(self, used: set[str], since: float, fresh_seconds: float = _DAY) -> list[Path]:
        """Move what nothing uses to today's folder in the trash; what has lain there for 30 days
        is deleted.

        Parameters
        ----------
        used : set of str
        since : float
            Unix time. What is older was not stored for the database that was asked what is used,
            so that database cannot know: it stays.
        fresh_seconds : float
            What is younger stays, too: an import may be under way.

        Returns
        -------
        list of Path
            Where the files lie now.
        """
        now = time.time()
        moved = []
        for path in self._folder.glob("??/*"):
            age = now - path.stat().st_mtime
            if path.name in used or age < fresh_seconds or path.stat().st_mtime < since:
                continue
            today = self._trash / datetime.now(UTC).strftime("%Y-%m-%d")
            today.mkdir(parents=True, exist_ok=True)
            moved.append(path.replace(today / path.name))
        for day in self._trash.glob("????-??-??"):
            with suppress(ValueError):
                thrown = datetime.strptime(day.name, "%Y-%m-%d").replace(tzinfo=UTC)
                if now - thrown.timestamp() > _TRASH_DAYS * _DAY:
                    shutil.rmtree(day, ignore_errors=True)
        return moved

    def _path(self, name: str) -> Path:
        return self._folder / name[:2] / name


def write_whole(path: Path, data: bytes, workplace: Path, durable: bool = False) -> None:
    """Write bytes so that a reader sees the whole file or none."""
    with replacing(path, durable, workplace) as temporary:
        temporary.write_bytes(data)
