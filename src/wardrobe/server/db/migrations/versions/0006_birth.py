"""When the database began, and names without half characters."""

import json
import time
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    table = op.create_table("birth", sa.Column("id", sa.Integer, primary_key=True),
                            sa.Column("began", sa.Float, nullable=False))
    connection = op.get_bind()
    # A database that is older than this table may know all that was there when it began.
    known = connection.scalar(sa.text("SELECT COUNT(*) FROM sqlite_sequence WHERE name='piece'"))
    op.bulk_insert(table, [{"id": 1, "began": 0.0 if known else time.time()}])
    for name, columns in (("character", ("card", "outfits")), ("name_set", ("parts",))):
        for column in columns:
            rows = connection.execute(sa.text(f"SELECT id, {column} FROM {name}")).all()  # noqa: S608
            for number, text in rows:
                whole = json.dumps(_whole(json.loads(text)))
                if whole != json.dumps(json.loads(text)):
                    connection.execute(sa.text(
                        f"UPDATE {name} SET {column}=:text WHERE id=:id"),  # noqa: S608
                        {"text": whole, "id": number})


def downgrade() -> None:
    op.drop_table("birth")


def _whole(value: Any) -> Any:
    """The value with the replacement character for every half of one."""
    if isinstance(value, str):
        return value.encode("utf-8", "replace").decode("utf-8")
    if isinstance(value, list):
        return [_whole(v) for v in value]
    if isinstance(value, dict):
        return {_whole(k): _whole(v) for k, v in value.items()}
    return value
