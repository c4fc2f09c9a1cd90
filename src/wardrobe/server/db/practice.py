"""Answers to lessons in the database: added, never changed."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.learn.course import COURSE, OWN, OWN_SKILL
from wardrobe.server.db.models import PracticeRow


@dataclass(frozen=True)
class Answered:
    """An answer.

    Attributes
    ----------
    at : datetime
    lesson, skill : str
    level, seed : int
    score : float, 0..100
    figures : mapping of str to float or None
        What was measured, by name.
    """

    at: datetime
    lesson: str
    skill: str
    level: int
    seed: int
    score: float
    figures: Mapping[str, float | None]


class Practice:
    """All reads and writes of answers."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def add(self, lesson: str, level: int, seed: int, score: float,
            figures: Mapping[str, float | None]) -> None:
        """Note an answer."""
        with self._sessions.begin() as session:
            session.add(PracticeRow(lesson=lesson, level=level, seed=seed, score=score,
                                    figures=dict(figures)))

    def all(self) -> list[Answered]:
        """All answers, the oldest first; those to lessons that no longer exist are left out."""
        with self._sessions() as session:
            rows = session.scalars(select(PracticeRow).order_by(PracticeRow.id)).all()
        skills = {OWN: OWN_SKILL} | {key: lesson.skill for key, lesson in COURSE.items()}
        return [Answered(r.at, r.lesson, skills[r.lesson], r.level, r.seed, r.score, r.figures)
                for r in rows if r.lesson in skills]
