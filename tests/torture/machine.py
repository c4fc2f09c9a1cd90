"""A server process that may be killed, and what it takes while it runs."""

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx

_LOOK = 0.1


@dataclass
class Taken:
    """What was measured while a block ran.

    Attributes
    ----------
    peak_bytes : int
        Of the server and its readers together, shared memory counted once.
    waits : list of float
        Seconds until small requests were answered.
    """

    peak_bytes: int = 0
    waits: list[float] = field(default_factory=list)

    @property
    def longest(self) -> float:
        """The longest wait."""
        return max(self.waits, default=0.0)


class Machine:
    """A data folder and the server on it.

    Parameters
    ----------
    folder : Path
    environment : dict of str to str
        Settings, as WARDROBE_ variables.
    """

    def __init__(self, folder: Path, **environment: str) -> None:
        self.folder = folder
        self._environment = environment
        self._process: subprocess.Popen[bytes] | None = None
        self.client = httpx.Client()
        self.log = folder.parent / f"{folder.name}.log"

    def start(self) -> float:
        """Start it and wait until it answers; return the seconds."""
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        begin = time.monotonic()
        with self.log.open("ab") as log:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "wardrobe.cli.main", "serve", "--port", str(self.port),
                 "--data-dir", str(self.folder)], stdout=log, stderr=log,
                env=os.environ | self._environment)
        self.client = httpx.Client(base_url=f"http://127.0.0.1:{self.port}", timeout=120)
        while True:
            try:
                self.client.get("/api/pieces")
                return time.monotonic() - begin
            except httpx.TransportError:
                if self._process.poll() is not None or time.monotonic() - begin > 60:
                    raise RuntimeError(self.log.read_text()[-2000:]) from None
                time.sleep(0.05)

    @property
    def pid(self) -> int:
        """Of the server's process."""
        assert self._process is not None
        return self._process.pid

    def kill(self) -> None:
        """As a loss of power would, for the process."""
        os.kill(self.pid, signal.SIGKILL)
        self._wait()

    def stop(self) -> float:
        """Ctrl+C; return the seconds until it has ended."""
        begin = time.monotonic()
        os.kill(self.pid, signal.SIGINT)
        self._wait()
        return time.monotonic() - begin

    def _wait(self) -> None:
        assert self._process is not None
        self._process.wait(60)
        self.client.close()

    @property
    def url(self) -> str:
        """Its address."""
        return f"http://127.0.0.1:{self.port}"

    def finished(self, job: dict[str, Any], seconds: float = 120) -> dict[str, Any]:
        """A job when it has ended."""
        until = time.monotonic() + seconds
        while job["state"] in ("waiting", "running") and time.monotonic() < until:
            time.sleep(0.02)
            job = self.client.get(f"/api/jobs/{job['id']}").json()
        return job

    def new_piece(self, data: bytes, title: str = "Kite") -> dict[str, Any]:
        """Import a drawing."""
        job = self.finished(self.client.post("/api/pieces", files={"file": ("a", data)},
                                             data={"title": title}).json())
        if job["state"] != "done":
            raise RuntimeError(str(job))
        return self.client.get(f"/api/pieces/{job['piece']}").json()

    def delivered(self, piece: int, **wanted: Any) -> bytes:
        """A file of a piece."""
        job = self.finished(self.client.post(f"/api/pieces/{piece}/deliveries",
                                             json=wanted).json())
        return self.client.get(f"/api/jobs/{job['id']}/file").raise_for_status().content

    @contextmanager
    def watched(self, small: str | None = None) -> Iterator[Taken]:
        """Measure what the server takes, and how long a small request waits, inside the block."""
        taken, over = Taken(), threading.Event()

        def look() -> None:
            while not over.wait(_LOOK):
                taken.peak_bytes = max(taken.peak_bytes, memory_of(self.pid))

        def ask() -> None:
            with httpx.Client(base_url=self.url, timeout=120) as client:
                while not over.wait(_LOOK):
                    begin = time.monotonic()
                    client.get(small or "")
                    taken.waits.append(time.monotonic() - begin)

        threads = [threading.Thread(target=look)] + [threading.Thread(target=ask)] * bool(small)
        for thread in threads:
            thread.start()
        try:
            yield taken
        finally:
            over.set()
            for thread in threads:
                thread.join()


def memory_of(pid: int) -> int:
    """Bytes of a process and its children, each page in proportion to who shares it."""
    total = 0
    for process in (pid, *children_of(pid)):
        try:
            told = Path(f"/proc/{process}/smaps_rollup").read_text()
        except OSError:
            continue
        total += sum(int(line.split()[1]) * 1024 for line in told.splitlines()
                     if line.startswith("Pss:"))
    return total


def children_of(pid: int) -> list[int]:
    """Processes that a process has started."""
    found = []
    for thread in Path(f"/proc/{pid}/task").glob("*/children"):
        try:
            found += [int(p) for p in thread.read_text().split()]
        except OSError:
            continue
    return found


def cpu_of(pid: int) -> float:
    """Processor seconds of a process so far."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")
