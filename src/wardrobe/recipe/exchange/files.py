"""Files that are whole or not there."""

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def replacing(path: Path, durable: bool = False, workplace: Path | None = None) -> Iterator[Path]:
    """Write to a temporary file and rename it to ``path`` when all went well.

    Parameters
    ----------
    path : Path
    durable : bool
        Whether the new name, too, is to outlast a loss of power right afterwards.
    workplace : Path, optional
        Folder on the same disk for the temporary file; that of ``path`` if it is not given.
    """
    handle, name = tempfile.mkstemp(dir=workplace or path.parent, prefix=".part-",
                                    suffix=path.suffix)
    os.close(handle)
    temporary = Path(name)
    try:
        yield temporary
        with temporary.open("rb") as file:
            os.fsync(file.fileno())
        temporary.chmod(0o644)
        temporary.replace(path)
        if durable:
            sync_folder(path.parent)
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise


def sync_folder(folder: Path) -> None:
    """Have the names in a folder written to the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
