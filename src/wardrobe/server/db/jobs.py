"""What became of long work, in the database."""

from dataclasses import dataclass
from typing import Any, Literal

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.server.db.models import JobRow

State = Literal["waiting", "running", "done", "failed", "cancelled"]
_KEPT = 1000
_STOPPED: dict[str, object] = {
    "type": "about:blank", "status": 503, "title": "The server stopped before this was done",
    "detail": "Nothing was half done, and what you had is unharmed. Start it again."}


@dataclass(frozen=True)
class JobRecord:
    """A job as it is remembered; ``problem`` are problem details if it failed, ``answer`` is
    what it found out."""

    id: str
    kind: str
    state: State
    piece: int | None = None
    layered: int | None = None
    file_name: str | None = None
    problem: dict[str, Any] | None = None
    answer: dict[str, Any] | None = None


class JobRepository:
    """Reads and writes of jobs."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def put(self, job: JobRecord) -> None:
        """Remember a job as it is now."""
        with self._sessions.begin() as session:
            session.merge(JobRow(id=job.id, kind=job.kind, state=job.state, piece=job.piece,
                                 layered=job.layered, file_name=job.file_name,
                                 problem=job.problem, answer=job.answer))

    def get(self, job_id: str) -> JobRecord | None:
        """A job by its id."""
        with self._sessions() as session:
            row = session.get(JobRow, job_id)
            return None if row is None else JobRecord(
                row.id, row.kind, _state(row.state), row.piece, row.layered, row.file_name,
                row.problem, row.answer)

    def stopped(self) -> None:
        """Nothing runs: what was under way has failed. The oldest are forgotten."""
        with self._sessions.begin() as session:
            session.execute(update(JobRow).where(JobRow.state.in_(("waiting", "running")))
                            .values(state="failed", problem=_STOPPED))
            session.execute(delete(JobRow).where(JobRow.id.not_in(
                select(JobRow.id).order_by(JobRow.began.desc()).limit(_KEPT))))


def _state(text: str) -> State:
    found: dict[str, State] = {"waiting": "waiting", "running": "running", "done": "done",
                               "cancelled": "cancelled"}
    return found.get(text, "failed")
