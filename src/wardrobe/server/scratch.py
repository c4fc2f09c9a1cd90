"""Files that last as long as their process: uploads on their way in, deliveries on their way out.

Every process has a folder of its own and holds a lock in it. What a killed process leaves is known
by a lock that nobody holds.
"""

import fcntl
import os
import secrets
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from wardrobe.core.errors import ImageLimitError

_LOCK = ".lock"
_CHUNK = 2**20


class HeldLock:
    """A lock on a file, held until it is released or the process ends.

    Parameters
    ----------
    path : Path
        Made if it is not there.

    Attributes
    ----------
    held : bool
        False if another holds it.
    """

    def __init__(self, path: Path) -> None:
        self._file = os.open(path, os.O_RDWR | os.O_CREAT, 0o644)
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self.held = True
        except OSError:
            self.held = False

    def release(self) -> None:
        """Let others have it."""
        if self._file >= 0:
            os.close(self._file)
            self._file = -1
        self.held = False


class Scratch:
    """This process's own folder.

    Parameters
    ----------
    folder : Path
        That of all processes.
    """

    def __init__(self, folder: Path) -> None:
        self._all = folder
        self.folder = folder / secrets.token_hex(8)
        self.folder.mkdir(parents=True)
        self._lock = HeldLock(self.folder / _LOCK)

    def sweep(self) -> None:
        """Delete the folders of processes that have ended."""
        for folder in self._all.iterdir():
            if folder == self.folder or not folder.is_dir():
                continue
            lock = HeldLock(folder / _LOCK)
            if lock.held:
                shutil.rmtree(folder, ignore_errors=True)
            lock.release()

    def keep(self, file: IO[bytes], most: int) -> Path:
        """Copy an upload to a file; whoever is done with it deletes it.

        Raises
        ------
        ImageLimitError
            If it has more than ``most`` bytes; nothing is left then.
        """
        handle, name = tempfile.mkstemp(dir=self.folder, prefix="upload-")
        path = Path(name)
        try:
            with os.fdopen(handle, "wb") as out:
                left = most
                while chunk := file.read(_CHUNK):
                    left -= len(chunk)
                    if left < 0:
                        raise ImageLimitError(
                            f"The file is larger than {most / 2**20:.0f} MB.")
                    out.write(chunk)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
        return path

    @contextmanager
    def room(self) -> Iterator[Path]:
        """An empty folder that is deleted afterwards."""
        with tempfile.TemporaryDirectory(dir=self.folder) as name:
            yield Path(name)

    def close(self) -> None:
        """Delete the folder."""
        shutil.rmtree(self.folder, ignore_errors=True)
        self._lock.release()
