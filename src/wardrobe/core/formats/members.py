"""Members of an archive from outside, read by name, within limits, and never unpacked to disk."""

import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from wardrobe.core.errors import ImageLimitError, UnreadableImageError, WardrobeError

_METHODS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)


class Members:
    """The members of an archive.

    Parameters
    ----------
    archive : ZipFile
    most : int
        How many there may be.
    unpacked_bytes : int
        Of all that are read, together.
    refusal : type
        Of the error that is raised for a member that is not as it should be.

    Raises
    ------
    ImageLimitError
        If there are more.
    """

    def __init__(self, archive: zipfile.ZipFile, most: int, unpacked_bytes: int,
                 refusal: type[UnreadableImageError]) -> None:
        self._archive, self._refusal = archive, refusal
        self._left = unpacked_bytes
        if len(archive.infolist()) > most:
            raise ImageLimitError(f"The file holds {len(archive.infolist())} members; the limit "
                                  f"is {most}.")

    def __contains__(self, name: str) -> bool:
        return name in self._archive.NameToInfo

    def read(self, name: str, most: int) -> bytes:
        """The bytes of a member; what it says of its size is not believed.

        Raises
        ------
        UnreadableImageError
            If there is none of that name, or it is encrypted or packed in an unusual way.
        ImageLimitError
            If it has more than ``most`` bytes, or there is no room left for it.
        """
        room = min(self._left, most)
        with self._opened(name) as member:
            data = member.read(room + 1)
        if len(data) > room:
            raise ImageLimitError(f"“{name[:80]}” unpacks to more than the limit allows.")
        self._left -= len(data)
        return data

    def begin(self, name: str, count: int) -> bytes:
        """The first bytes of a member."""
        with self._opened(name) as member:
            return member.read(count)

    @contextmanager
    def _opened(self, name: str) -> Iterator[IO[bytes]]:
        try:
            info = self._archive.getinfo(name)
        except KeyError:
            raise self._refusal(
                f"The file lacks “{name[:80]}”, which belongs in it.") from None
        if info.flag_bits & 1:
            raise self._refusal(f"“{name[:80]}” is encrypted.")
        if info.compress_type not in _METHODS:
            raise self._refusal(f"“{name[:80]}” is packed in a way that is not read here; save "
                                "the file with ordinary ZIP compression.")
        with self._archive.open(info) as member:
            yield member


@contextmanager
def members_of(file: Path | IO[bytes], most: int, unpacked_bytes: int,
               damaged: UnreadableImageError) -> Iterator[Members]:
    """The members of an archive; whatever its reader raises on damaged data becomes ``damaged``.

    Parameters
    ----------
    file : Path or binary file
    most, unpacked_bytes : int
        As for :class:`Members`.
    damaged : UnreadableImageError
    """
    try:
        with zipfile.ZipFile(file) as archive:
            yield Members(archive, most, unpacked_bytes, type(damaged))
    except (WardrobeError, MemoryError):
        raise
    except Exception as error:  # zipfile raises a dozen kinds
        raise damaged from error
