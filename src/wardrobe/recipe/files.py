"""Files that are whole or not there."""

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def replacing(path: Path) -> Iterator[Path]:
    """Write to a temporary file beside ``path`` and rename it when all went well."""
    handle, name = tempfile.mkstemp(dir=path.parent, prefix=".part-", suffix=path.suffix)
    os.close(handle)
    temporary = Path(name)
    try:
        yield temporary
        with temporary.open("rb") as file:
            os.fsync(file.fileno())
        temporary.chmod(0o644)
        temporary.replace(path)
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise
