"""One ceiling for the memory of all caches and all large work, given back when nobody works."""

import ctypes
import gc
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

import structlog

from wardrobe.core.errors import ImageLimitError, WardrobeError

if TYPE_CHECKING:  # processes that only read files do not load all that makes pictures
    from wardrobe.recipe.stages import Store

log = structlog.get_logger()

_PROGRAM = 500_000_000  # bytes of the program itself, its libraries and small things
_LOOK = 0.05
_IDLE_SECONDS, _WATCH_SECONDS = 180.0, 5.0


class BusyError(WardrobeError):
    """Other work holds what is needed."""

    title = "The server is busy"


def patient(seconds: float, why: str = "Other large work takes all memory at the moment.",
            ) -> Callable[[], None]:
    """A check for work that somebody waits for: raises BusyError when the time is up."""
    until = time.monotonic() + seconds

    def check() -> None:
        if time.monotonic() > until:
            raise BusyError(f"{why} Nothing was changed; try again when it is done.")
    return check


def machine_memory() -> int:
    """Bytes of memory that this machine, or the group of processes, has."""
    whole = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    try:
        said = Path("/sys/fs/cgroup/memory.max").read_text("ascii").strip()
    except OSError:
        return whole
    return min(whole, int(said)) if said.isdigit() else whole


class Ceiling:
    """How much memory may be used.

    Caches hold a third of it; work that takes much reserves room first. Where the room is not
    there, caches shrink, then the work waits for other work to end.

    Parameters
    ----------
    most_bytes : int
    store : Store
        The caches.
    give_up : callable
        Called, besides, when memory is given back.
    """

    def __init__(self, most_bytes: int, store: "Store",
                 give_up: Callable[[], None] = lambda: None) -> None:
        self.most_bytes, self.store, self._give_up = most_bytes, store, give_up
        self._reserved = 0
        store.resize(self._room(0))
        self._changed = threading.Condition()
        self._last = time.monotonic()
        self._warm = False
        self._ended = threading.Event()
        threading.Thread(target=self._watch, name="memory", daemon=True).start()

    @property
    def for_work(self) -> int:
        """Bytes that one piece of work may take at the most."""
        return self.most_bytes - _PROGRAM

    @contextmanager
    def reserved(self, wanted: int, check: Callable[[], None] = lambda: None) -> Iterator[None]:
        """Hold room for work inside the block.

        Parameters
        ----------
        wanted : int
            Bytes that the work takes at its peak.
        check : callable
            Called while waiting; what it raises ends the waiting.

        Raises
        ------
        ImageLimitError
            If the ceiling is lower than that.
        """
        if wanted > self.for_work:
            raise ImageLimitError(
                f"This needs about {wanted / 2**30:.1f} GB of memory; Wardrobe may use "
                f"{self.most_bytes / 2**30:.1f} GB. Choose a smaller size, or give it more "
                "(WARDROBE_MEMORY_BYTES).")
        with self._changed:
            while self._reserved + wanted > self.for_work:
                self._changed.wait(_LOOK)
                check()
            self._reserved += wanted
            self.store.resize(self._room(self._reserved))
        try:
            yield
        finally:
            with self._changed:
                self._reserved -= wanted
                self.store.resize(self._room(self._reserved))
                self._changed.notify_all()
            self.used()

    def used(self) -> None:
        """Say that somebody works."""
        self._last = time.monotonic()
        self._warm = True

    def give_back(self) -> None:
        """Forget what can be worked out again, and give the memory back to the system."""
        self.store.clear()
        self._give_up()
        gc.collect()
        trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
        if trim:
            trim(0)

    def close(self) -> None:
        """Stop watching."""
        self._ended.set()
        self.store.clear()

    def _room(self, reserved: int) -> int:
        return max(0, min(self.most_bytes // 3, self.for_work - reserved))

    def _watch(self) -> None:
        while not self._ended.wait(_WATCH_SECONDS):
            if self._warm and self._reserved == 0 \
                    and time.monotonic() - self._last > _IDLE_SECONDS:
                self._warm = False
                self.give_back()
                log.info("nobody works: memory given back")
