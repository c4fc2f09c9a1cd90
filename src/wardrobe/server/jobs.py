"""Long work in the background: progress, cancelling, results."""

import secrets
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal

import structlog

from wardrobe.core.errors import WardrobeError
from wardrobe.server.problems import NotFoundError, problem_of

log = structlog.get_logger()

State = Literal["waiting", "running", "done", "failed", "cancelled"]


class CancelledError(Exception):
    """Raised inside a job whose user has cancelled it."""


@dataclass
class Job:
    """One piece of long work.

    Attributes
    ----------
    progress : float, 0..1
    doing : str
        What is being done, in words.
    piece : int or None
        The piece made or delivered.
    layered : int or None
        The layered file taken in or made.
    file : Path or None
        The file made, under the name ``file_name``.
    problem : dict or None
        Problem details if it failed.
    """

    id: str
    kind: str
    state: State = "waiting"
    progress: float = 0.0
    doing: str = ""
    piece: int | None = None
    layered: int | None = None
    file: Path | None = None
    file_name: str | None = None
    problem: dict[str, Any] | None = None
    _stop: threading.Event = field(default_factory=threading.Event, repr=False)

    def report(self, progress: float, doing: str | None = None) -> None:
        """Say how far it is; raises CancelledError if the user has cancelled."""
        if self._stop.is_set():
            raise CancelledError
        self.progress = max(self.progress, min(progress, 1.0))
        self.doing = doing or self.doing

    def cancel(self) -> None:
        """Ask the job to stop at its next report."""
        self._stop.set()


class JobRunner:
    """Runs jobs on a few threads and remembers the latest ones."""

    _KEPT = 200

    def __init__(self, workers: int = 2) -> None:
        self._pool = ThreadPoolExecutor(workers, thread_name_prefix="job")
        self._jobs: dict[str, Job] = {}

    def start(self, kind: str, work: Callable[[Job], None]) -> Job:
        """Queue work; it reports to the job it is given."""
        job = Job(secrets.token_urlsafe(12), kind)
        self._jobs[job.id] = job
        for old in list(self._jobs)[:-self._KEPT]:
            forgotten = self._jobs.pop(old)
            if forgotten.file:
                forgotten.file.unlink(missing_ok=True)
        self._pool.submit(self._run, job, work)
        return job

    def get(self, job_id: str) -> Job:
        """A job by its id."""
        if job_id not in self._jobs:
            raise NotFoundError("This job is no longer known; the server may have restarted.")
        return self._jobs[job_id]

    def close(self) -> None:
        """Cancel everything that runs or waits."""
        for job in self._jobs.values():
            job.cancel()
        self._pool.shutdown(wait=True, cancel_futures=True)

    @staticmethod
    def _run(job: Job, work: Callable[[Job], None]) -> None:
        try:
            job.report(0.0)
            job.state = "running"
            work(job)
            job.progress, job.state = 1.0, "done"
        except CancelledError:
            job.state = "cancelled"
        except WardrobeError as error:
            job.problem, job.state = problem_of(error), "failed"
        except Exception as error:
            log.error("job failed", kind=job.kind, exc_info=error)
            job.problem = {"title": "Something went wrong in the server", "status": 500,
                           "detail": "Nothing was changed. Try again."}
            job.state = "failed"
