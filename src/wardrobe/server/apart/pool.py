"""Processes that work apart, as the server sees them."""

import atexit
import os
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import structlog

from wardrobe.core.errors import ImageLimitError, UnreadableImageError
from wardrobe.server.apart.passing import receive_result
from wardrobe.server.apart.tasks import BEFORE
from wardrobe.server.memory import BusyError

log = structlog.get_logger()

_LOOK = 0.05  # seconds between looks at the time and at whether it is still wanted
_START_SECONDS = 60.0
_TICKS = os.sysconf("SC_CLK_TCK")


@dataclass(frozen=True)
class Bounds:
    """What one reading may take.

    Attributes
    ----------
    cpu_seconds : float
        Of all its threads together, so that a busy machine refuses nothing that an idle one reads.
    wall_seconds : float
    most_bytes : int
        Memory, besides that of the result.
    """

    cpu_seconds: float = 5.0
    wall_seconds: float = 30.0
    most_bytes: int = 2 * 2**30


_PREPARING = Bounds(300, 300)


class _Worker:
    """One process."""

    def __init__(self) -> None:
        mine, theirs = socket.socketpair()
        with theirs:
            self.process = subprocess.Popen(  # noqa: S603
                [sys.executable, "-m", "wardrobe.server.apart.worker", str(theirs.fileno())],
                pass_fds=[theirs.fileno()], stdin=subprocess.DEVNULL, close_fds=True)
        self.wire = Connection(mine.detach())
        self._ready = False
        self.prepared: set[str] = set()

    def wait_until_ready(self, check: Callable[[], None]) -> None:
        """Wait until it has started, which is not the file's fault and does not count."""
        until = time.monotonic() + _START_SECONDS
        try:
            while not self._ready:
                check()
                if self.wire.poll(_LOOK):
                    self._ready = self.wire.recv() == ("ready",)
                elif time.monotonic() > until:
                    raise EOFError
        except (EOFError, OSError) as error:
            raise BusyError("The process that reads files did not start. Nothing was changed; "
                            "close other programs, and try again.") from error

    def cpu(self) -> float:
        """Processor seconds that it has used so far."""
        told = Path(f"/proc/{self.process.pid}/stat").read_bytes()
        fields = told.rpartition(b")")[2].split()
        return (int(fields[11]) + int(fields[12])) / _TICKS

    def end(self) -> None:
        """Stop it at once, whatever it does."""
        self.process.kill()
        self.process.wait()
        self.wire.close()


class Apart:
    """Runs the tasks of :mod:`wardrobe.server.apart.tasks`.

    Processes are started when they are needed and serve again; a task that takes too long, needs
    too much memory or is not wanted any more ends with its process.

    Parameters
    ----------
    workers : int
        Tasks at a time; further ones wait.
    """

    def __init__(self, workers: int) -> None:
        self._turns = threading.BoundedSemaphore(workers)
        self._idle: list[_Worker] = []
        self._lock = threading.Lock()

    def run(self, task: str, *arguments: Any, bounds: Bounds | None = None,
            check: Callable[[], None] = lambda: None) -> Any:
        """The result of a task.

        Parameters
        ----------
        task : str
            A key of TASKS.
        bounds : Bounds
        check : callable
            Called again and again; what it raises ends the task.

        Raises
        ------
        WardrobeError
            As the task does.
        ImageLimitError
            If it took more time or memory than it may.
        """
        while not self._turns.acquire(timeout=_LOOK):
            check()
        try:
            worker = self._take()
            try:
                first = BEFORE.get(task)
                if first and first not in worker.prepared:
                    self._result(worker, first, (), _PREPARING, check)
                    worker.prepared.add(first)
                result = self._result(worker, task, arguments, bounds or Bounds(), check)
            except _RefusedError as refused:
                with self._lock:
                    self._idle.append(worker)
                raise refused.error from None
            except BaseException:
                worker.end()
                raise
            with self._lock:
                self._idle.append(worker)
            return result
        finally:
            self._turns.release()

    def warm_up(self) -> None:
        """Have a process ready."""
        with self._lock:
            if not self._idle:
                self._idle.append(_Worker())

    def close(self) -> None:
        """End the processes that have nothing to do; those of running tasks end with these."""
        with self._lock:
            idle, self._idle = self._idle, []
        for worker in idle:
            worker.end()

    def _take(self) -> _Worker:
        with self._lock:
            while self._idle:
                worker = self._idle.pop()
                if worker.process.poll() is None:
                    return worker
        return _Worker()

    def _result(self, worker: _Worker, task: str, arguments: tuple[Any, ...], bounds: Bounds,
                check: Callable[[], None]) -> Any:
        worker.wait_until_ready(check)
        began, used = time.monotonic(), 0.0

        def wait() -> None:
            while not worker.wire.poll(_LOOK):
                check()
                if worker.process.poll() is not None:
                    raise EOFError
                if worker.cpu() - used > bounds.cpu_seconds \
                        or time.monotonic() - began > bounds.wall_seconds:
                    raise ImageLimitError(
                        f"Reading this file was given up after {time.monotonic() - began:.0f} "
                        "seconds: it asks for far more work than a drawing does. Try it in a "
                        "simpler form, such as PNG.")

        try:
            used = worker.cpu()
            worker.wire.send((task, arguments, bounds.cpu_seconds, bounds.most_bytes))
            wait()
            kind, *told = worker.wire.recv()
            if kind == "done":
                message, sizes, ends = told
                return receive_result(worker.wire, message, sizes, ends, wait)
        except (EOFError, OSError) as error:
            raise _too_large(bounds) from error
        if kind == "refused":
            error_type, message = told
            raise _RefusedError(error_type(message))
        if kind == "memory":
            raise _too_large(bounds)
        log.error("fault while reading a file", task=task, error=told[0], exception=told[1])
        raise UnreadableImageError(
            "The file is damaged in a way that its reader does not know. Try saving it again, or "
            "in another format.")


def _too_large(bounds: Bounds) -> ImageLimitError:
    return ImageLimitError(
        f"Reading this file needs more than {bounds.most_bytes / 2**30:.1f} GB of memory. Make "
        "the picture smaller, or give Wardrobe more memory (WARDROBE_MEMORY_BYTES).")


class _RefusedError(Exception):
    """The task itself has refused; its process is sound."""

    def __init__(self, error: Exception) -> None:
        super().__init__(str(error))
        self.error = error


SHARED = Apart(2)  # the processes that all servers of this process share


@atexit.register
def _end_all() -> None:
    SHARED.close()
