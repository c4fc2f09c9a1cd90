"""Plans to begin from that a user has kept."""

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.core.timing.plan import PLAN_TEMPLATES
from wardrobe.server.db.models import PlanRow
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.time import KeptPlan, SavePlan


class PlanShelf:
    """All reads and writes of plans to begin from; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def all(self) -> list[KeptPlan]:
        """Those that come with the program, then one's own by name."""
        ready = [KeptPlan(id=None, key=t.key, name=t.label, hint=t.hint, minutes=t.minutes,
                          rounds=t.rounds) for t in PLAN_TEMPLATES.values()]
        with self._sessions() as session:
            return ready + [_plan(row) for row in session.scalars(
                select(PlanRow).order_by(PlanRow.name, PlanRow.id))]

    def get(self, key: str) -> KeptPlan:
        """One by its key; NotFoundError without it."""
        found = next((p for p in self.all() if p.key == key), None)
        if found is None:
            raise NotFoundError("This plan is not there.")
        return found

    def save(self, plan: SavePlan) -> KeptPlan:
        """Keep a plan in the place of one of the same name."""
        with self._sessions.begin() as session:
            row = session.scalars(select(PlanRow).where(PlanRow.name == plan.name)).first()
            row = row or PlanRow(name=plan.name)
            row.minutes, row.rounds = dict(plan.minutes), plan.rounds
            session.add(row)
            session.flush()
            return _plan(row)

    def remove(self, plan_id: int) -> None:
        """Throw a plan away; pieces that were planned by it keep theirs."""
        with self._sessions.begin() as session:
            row = session.get(PlanRow, plan_id)
            if row is None:
                raise NotFoundError("This plan is not there.")
            session.delete(row)


def _plan(row: PlanRow) -> KeptPlan:
    return KeptPlan(id=row.id, key=f"own {row.id}", name=row.name, hint="Your own.",
                    minutes=row.minutes, rounds=row.rounds)
