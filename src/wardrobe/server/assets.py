"""Immutable files named by the SHA-256 of their bytes."""

import hashlib
import time
from pathlib import Path

from wardrobe.recipe.files import replacing


class AssetStore:
    """A folder of content-addressed files.

    Parameters
    ----------
    folder : Path
        Made if it is not there.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def put(self, data: bytes) -> str:
        """Store bytes and return their name; a reader never sees half a file."""
        name = hashlib.sha256(data).hexdigest()
        path = self._path(name)
        if not path.exists():
            path.parent.mkdir(exist_ok=True)
            write_whole(path, data)
        return name

    def get(self, name: str) -> bytes:
        """The bytes of an asset.

        Raises
        ------
        FileNotFoundError
            If there is none of that name.
        """
        return self._path(name).read_bytes()

    def __contains__(self, name: str) -> bool:
        return self._path(name).exists()

    def prune(self, used: set[str], older_than_seconds: float = 86_400) -> None:
        """Delete assets that nothing uses; fresh ones stay, an import may be under way."""
        limit = time.time() - older_than_seconds
        for path in self._folder.glob("??/*"):
            if path.name not in used and path.stat().st_mtime < limit:
                path.unlink(missing_ok=True)

    def _path(self, name: str) -> Path:
        return self._folder / name[:2] / name


def sweep_folder(folder: Path, keep: int) -> None:
    """Delete half-written files of a killed process, and all but the newest ``keep`` others."""
    for left_over in folder.rglob(".part-*"):
        left_over.unlink(missing_ok=True)
    files = sorted((p for p in folder.iterdir() if p.is_file()), key=lambda p: p.stat().st_mtime)
    for old in files[: max(0, len(files) - keep)]:
        old.unlink(missing_ok=True)


def write_whole(path: Path, data: bytes) -> None:
    """Write bytes so that a reader sees the whole file or none."""
    with replacing(path) as temporary:
        temporary.write_bytes(data)
