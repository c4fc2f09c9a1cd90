"""What is no decision about the picture is an event: answers leave the histories of pieces."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

from wardrobe.recipe.events import as_events, parted

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "event",
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"),
                  primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("event", sa.JSON, nullable=False))
    op.execute("CREATE TRIGGER event_stays BEFORE UPDATE ON event BEGIN "
               "SELECT RAISE(ABORT, 'events stay as they are'); END")
    connection = op.get_bind()
    for piece, position in connection.execute(sa.text("SELECT id, position FROM piece")).all():
        _move_answers(connection, piece, position)


def _move_answers(connection: sa.Connection, piece: int, position: int) -> None:
    def run(sql: str, **values: Any) -> Any:
        return connection.execute(sa.text(sql), {"piece": piece, **values})

    rows = run("SELECT id, position, edit, recipe, made FROM history WHERE piece_id=:piece AND "
               "(edit LIKE '%record_answer%' OR position=0) ORDER BY position").all()
    states = [json.loads(state) for state, in run(
        "SELECT recipe FROM history WHERE piece_id=:piece AND recipe IS NOT NULL "
        "AND recipe LIKE '%\"looks\": [{%' ORDER BY position")]
    names = {look["id"]: look["name"] for state in states for look in state["looks"]}
    found: list[tuple[str, Any]] = []
    shorter = 0
    for row, place, edit, state, made in rows:
        if place == 0:
            found += [(made, answer)
                      for answer in as_events(json.loads(state).get("answers") or (), names)]
            continue
        (left,), answers = parted([json.loads(edit)], names)
        # An answer that had been undone was taken back.
        found += [(made, answer) for answer in answers if place <= position]
        if left is not None:
            run("UPDATE history SET edit=:edit WHERE id=:row", edit=json.dumps(left), row=row)
            continue
        at = place - shorter
        if state is not None:
            run("UPDATE history SET recipe=:state WHERE piece_id=:piece AND position=:before "
                "AND recipe IS NULL", state=state, before=at - 1)
        run("DELETE FROM history WHERE id=:row", row=row)
        # By way of negative places, so that no two rows ever have the same one.
        run("UPDATE history SET position=-position WHERE piece_id=:piece AND position>:at", at=at)
        run("UPDATE history SET position=-position-1 WHERE piece_id=:piece AND position<0")
        run("UPDATE piece SET position=position-1 WHERE id=:piece AND position>=:at", at=at)
        shorter += 1
    for number, (made, answer) in enumerate(found, start=1):
        run("INSERT INTO event (piece_id, number, at, event) VALUES (:piece, :number, :at, :event)",
            number=number, at=made, event=json.dumps(answer))


def downgrade() -> None:
    op.drop_table("event")
