"""Long work in the background: progress, cancelling, results."""

import queue
import secrets
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import structlog
from pydantic import TypeAdapter
from sqlalchemy.exc import SQLAlchemyError

from wardrobe.recipe.exchange.layered.home import BroughtHome
from wardrobe.recipe.reports.corrected import CorrectedDrawing
from wardrobe.server.db.jobs import JobRecord, JobRepository, State
from wardrobe.server.problems import NotFoundError, problem_of

log = structlog.get_logger()

Answer = CorrectedDrawing | BroughtHome
_ANSWER: TypeAdapter[Answer | None] = TypeAdapter(Answer | None)


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
    seen : list of bytes
        Small pictures (PNG) of what it has come to so far.
    answer : CorrectedDrawing, BroughtHome or None
        What it found out.
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
    seen: list[bytes] = field(default_factory=list, repr=False)
    answer: Answer | None = None
    problem: dict[str, Any] | None = None
    _stop: threading.Event = field(default_factory=threading.Event, repr=False)

    def check(self) -> None:
        """Raise CancelledError if the user has cancelled."""
        if self._stop.is_set():
            raise CancelledError

    def report(self, progress: float, doing: str | None = None) -> None:
        """Say how far it is; raises as :meth:`check` does."""
        self.check()
        self.progress = max(self.progress, min(progress, 1.0))
        self.doing = doing or self.doing

    def show(self, picture: bytes) -> None:
        """Let a small picture (PNG) of what there is so far be seen."""
        self.seen.append(picture)

    def cancel(self) -> None:
        """Ask the job to stop: at once while a file is read, else at its next report."""
        self._stop.set()


class JobRunner:
    """Runs jobs on a few threads and remembers the latest ones, and in the database what became
    of them."""

    _KEPT = 200
    _CLOSING_SECONDS = 5.0

    def __init__(self, records: JobRepository, workers: int = 2) -> None:
        self._records = records
        self._jobs: dict[str, Job] = {}
        self._queue: queue.SimpleQueue[Callable[[], None] | None] = queue.SimpleQueue()
        # Not an executor's threads: the interpreter would wait for those at its end.
        self._threads = [threading.Thread(target=self._work, name=f"job-{k}", daemon=True)
                         for k in range(workers)]
        for thread in self._threads:
            thread.start()

    def start(self, kind: str, work: Callable[[Job], None],
              upload: Path | None = None) -> Job:
        """Queue work; it reports to the job it is given.

        ``upload`` is a file that it reads, deleted when the job has ended in whatever way.
        """
        job = Job(secrets.token_urlsafe(12), kind)
        self._jobs[job.id] = job
        for old in list(self._jobs)[:-self._KEPT]:
            forgotten = self._jobs.pop(old)
            if forgotten.file:
                forgotten.file.unlink(missing_ok=True)
        self._note(job)
        self._queue.put(lambda: self._run(job, work, upload))
        return job

    def get(self, job_id: str) -> Job:
        """A job by its id."""
        job = self._jobs.get(job_id)
        if job is not None:
            return job
        record = self._records.get(job_id)
        if record is None:
            raise NotFoundError("This job is not known.")
        return Job(record.id, record.kind, record.state, float(record.state == "done"), "",
                   record.piece, record.layered, None, record.file_name, [],
                   _ANSWER.validate_python(record.answer), record.problem)

    def close(self) -> None:
        """Cancel everything that runs or waits, and wait for it a few seconds at most."""
        for job in list(self._jobs.values()):
            job.cancel()
        for _ in self._threads:
            self._queue.put(None)
        until = time.monotonic() + self._CLOSING_SECONDS
        for thread in self._threads:
            thread.join(max(0.0, until - time.monotonic()))

    def _work(self) -> None:
        while (run := self._queue.get()) is not None:
            run()

    def _note(self, job: Job) -> None:
        try:
            self._records.put(JobRecord(job.id, job.kind, job.state, job.piece, job.layered,
                                        job.file_name, job.problem,
                                        _ANSWER.dump_python(job.answer, mode="json")))
        except SQLAlchemyError as error:  # a full disk keeps nobody from working
            log.warning("a job could not be noted", error=str(error)[:400])

    def _run(self, job: Job, work: Callable[[Job], None], upload: Path | None) -> None:
        state: State
        try:
            job.report(0.0)
            job.state = "running"
            work(job)
            job.progress, state = 1.0, "done"
        except CancelledError:
            state = "cancelled"
        except Exception as error:
            job.problem = problem_of(error)
            state = "failed"
        finally:
            if upload:
                upload.unlink(missing_ok=True)
        job.state = state
        self._note(job)
