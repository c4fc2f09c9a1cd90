"""Immutable files named by the SHA-256 of their bytes."""

import hashlib
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

    def _path(self, name: str) -> Path:
        return self._folder / name[:2] / name


def write_whole(path: Path, data: bytes) -> None:
    """Write bytes so that a reader sees the whole file or none."""
    with replacing(path) as temporary:
        temporary.write_bytes(data)
