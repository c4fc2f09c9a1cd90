"""Artefacts on disk: one file a key, written behind the work, dropped oldest first."""

import os
import pickle
import queue
import threading
import time
from contextlib import suppress
from dataclasses import is_dataclass
from io import BytesIO
from pathlib import Path
from typing import Any

import structlog
from isal import isal_zlib as zlib

log = structlog.get_logger()

_LEVEL = 1  # label maps and coverage shrink to a tenth even so
_WAITING = 16  # artefacts that may wait to be written: further ones are not kept
_LULL = 2.0  # seconds without a new artefact after which work no longer needs all cores
_ARRAYS = {("numpy", "ndarray"), ("numpy", "dtype"), ("numpy._core.multiarray", "_reconstruct"),
           ("numpy._core.multiarray", "scalar"), ("numpy._core.numeric", "_frombuffer")}


class Disk:
    """A folder of artefacts.

    A file that is damaged, or of another version, is as if it were not there; a disk that is
    full or cannot be written keeps nothing.

    Parameters
    ----------
    folder : Path
    capacity : int
        Bytes of its files together.
    """

    def __init__(self, folder: Path, capacity: int) -> None:
        self._folder, self._capacity = folder, capacity
        self._waiting: queue.Queue[tuple[bytes, Any] | None] = queue.Queue(_WAITING)
        self._writer: threading.Thread | None = None
        self._since = capacity  # bytes written since files were counted: others wrote before
        self._lock = threading.Lock()
        self._latest = 0.0
        self._closing = threading.Event()

    def read(self, key: bytes) -> Any | None:
        """The artefact of a key, or None."""
        path = self._path(key)
        try:
            data = path.read_bytes()
        except OSError:
            return None
        try:
            found = _Unpickler(BytesIO(zlib.decompress(data))).load()
        except Exception:  # whatever damage does
            log.warning("a kept artefact was damaged, and is worked out again", file=path.name)
            with suppress(OSError):
                path.unlink()
            return None
        with suppress(OSError):
            os.utime(path)
        return found

    def write(self, key: bytes, made: Any) -> None:
        """Write an artefact soon, if others do not wait already."""
        self._latest = time.monotonic()
        with self._lock:
            if self._writer is None:
                self._closing.clear()
                self._writer = threading.Thread(target=self._write_all, name="artefacts",
                                                daemon=True)
                self._writer.start()
        with suppress(queue.Full):
            self._waiting.put_nowait((key, made))

    def close(self) -> None:
        """Write what waits, and stop."""
        with self._lock:
            writer, self._writer = self._writer, None
        if writer:
            self._closing.set()
            self._waiting.put(None)
            writer.join()

    def _write_all(self) -> None:
        while (job := self._waiting.get()) is not None:
            while (rest := self._latest + _LULL - time.monotonic()) > 0 \
                    and not self._closing.wait(rest):
                pass
            try:
                self._write(*job)
            except (OSError, MemoryError) as error:
                log.warning("an artefact was not kept", error=str(error)[:200])

    def _write(self, key: bytes, made: Any) -> None:
        path = self._path(key)
        data = zlib.compress(pickle.dumps(made, protocol=5), _LEVEL)
        path.parent.mkdir(parents=True, exist_ok=True)
        part = path.with_suffix(f".{os.getpid()}")
        try:
            part.write_bytes(data)
            part.replace(path)
        finally:
            part.unlink(missing_ok=True)
        self._since += len(data)
        if self._since > self._capacity // 16:
            self._since = 0
            self._prune()

    def _prune(self) -> None:
        """Drop the files that were used longest ago until all fit."""
        kept = []
        for path in self._folder.glob("*/*"):
            with suppress(OSError):
                kept.append((path.stat().st_mtime, path.stat().st_size, path))
        total = sum(size for _, size, _ in kept)
        for _, size, path in sorted(kept):
            if total <= self._capacity:
                break
            with suppress(OSError):
                path.unlink()
            total -= size

    def _path(self, key: bytes) -> Path:
        name = key.hex()
        return self._folder / name[:2] / name[2:]


class _Unpickler(pickle.Unpickler):
    """Takes arrays and Wardrobe's own dataclasses, nothing that could act."""

    def find_class(self, module: str, name: str) -> Any:
        if (module, name) in _ARRAYS:
            return super().find_class(module, name)
        if module.startswith("wardrobe.") and "." not in name:
            found = super().find_class(module, name)
            if isinstance(found, type) and is_dataclass(found):
                return found
        raise pickle.UnpicklingError(f"{module}.{name} is no artefact")
