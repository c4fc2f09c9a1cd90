"""The store: artefacts by key, in memory and then on disk, each bounded in bytes."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from wardrobe.recipe.stages.digest import digest, forget_digests
from wardrobe.recipe.stages.disk import Disk
from wardrobe.recipe.stages.stage import Small, Stage

T = TypeVar("T")
CACHE_BYTES = 2_000_000_000


class Store:
    """Artefacts of stages. Nothing else remembers what was worked out.

    Least recently used artefacts are dropped first.

    Parameters
    ----------
    load_source : callable
        Decoded RGBA pixels of an asset, by its SHA-256.
    capacity : int
        Bytes of arrays kept in memory.
    folder : Path, optional
        Where artefacts outlive the process.
    disk_bytes : int
        Bytes kept there.
    """

    def __init__(self, load_source: Callable[[str], NDArray[np.uint8]],
                 capacity: int = CACHE_BYTES, folder: Path | None = None,
                 disk_bytes: int = CACHE_BYTES) -> None:
        self.load = load_source
        self._disk = Disk(folder, disk_bytes) if folder else None
        self._capacity = capacity
        self._used = 0
        self._entries: OrderedDict[bytes, tuple[Any, int]] = OrderedDict()
        self._pending: dict[bytes, threading.Lock] = {}
        self._lock = threading.Lock()

    def __call__(self, stage: Stage[T], make: Callable[[], T] | None = None) -> T:
        """The artefact of a stage; threads that want the same wait for one computation.

        ``make`` works it out where the stage itself has not what it takes.
        """
        work = make or (lambda: stage.make(self))
        if stage.keep == "nowhere":
            return work()
        key = self.key(stage)
        with self._lock:
            if key in self._entries:
                self._entries.move_to_end(key)
                found: T = self._entries[key][0]
                return found
            pending = self._pending.setdefault(key, threading.Lock())
        with pending:
            with self._lock:
                if key in self._entries:
                    again: T = self._entries[key][0]
                    return again
            try:
                made = self._read_or_make(stage, key, work)
                self._put(key, made)
            finally:
                with self._lock:
                    self._pending.pop(key, None)
        return made

    def _read_or_make(self, stage: Stage[T], key: bytes, work: Callable[[], T]) -> T:
        if self._disk is None or stage.keep != "on disk":
            return work()
        kept: T | None = self._disk.read(key)
        if kept is None:
            kept = work()
            self._disk.write(key, kept)
        return kept

    def key(self, stage: Stage[Any]) -> bytes:
        """The key of a stage's artefact."""
        known: bytes | None = stage.__dict__.get("_key")
        if known is None:
            known = stage.name if stage.by_name else stage.key_over(self._stands_for)
            stage.__dict__["_key"] = known  # it never changes, and goes with the stage
        return known

    def _stands_for(self, stage: Stage[Any]) -> bytes:
        if not stage.by_content:
            return self.key(stage)
        known: bytes | None = stage.__dict__.get("_content")
        if known is None:
            known = digest(self(stage))
            stage.__dict__["_content"] = known
        return known

    def known(self, stage: Stage[T]) -> T | None:
        """The artefact of a stage if it is in memory."""
        with self._lock:
            entry = self._entries.get(self.key(stage))
            return entry[0] if entry else None

    def resize(self, capacity: int) -> None:
        """Keep no more than so many bytes in memory from now on."""
        with self._lock:
            self._capacity = capacity
            self._drop(0)

    def clear(self) -> None:
        """Forget everything that is in memory."""
        with self._lock:
            self._entries.clear()
            self._used = 0
        forget_digests()

    def close(self) -> None:
        """Write what is still to be written."""
        if self._disk:
            self._disk.close()

    @property
    def used(self) -> int:
        """Bytes of arrays kept in memory now."""
        return self._used

    def _put(self, key: bytes, made: Any) -> None:
        size = size_of(made)
        with self._lock:
            if key in self._entries:
                self._used -= self._entries.pop(key)[1]
            self._entries[key] = (made, size)
            self._used += size
            self._drop(1)

    def _drop(self, but: int) -> None:
        while self._used > self._capacity and len(self._entries) > but:
            _, (_, dropped) = self._entries.popitem(last=False)
            self._used -= dropped


def size_of(value: Any) -> int:
    """Bytes held by the arrays in an artefact."""
    if isinstance(value, np.ndarray | Small):
        return value.nbytes
    if isinstance(value, bytes):
        return len(value)
    if isinstance(value, tuple | list):
        return sum(map(size_of, value))
    if is_dataclass(value):
        return sum(size_of(getattr(value, f.name)) for f in fields(value))
    return 64
