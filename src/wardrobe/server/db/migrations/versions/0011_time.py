"""Plans, dates, tags and states of pieces; kinds of sittings; plans to begin from."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("piece", sa.Column("due", sa.Date))
    op.add_column("piece", sa.Column("occasion", sa.String(120), nullable=False,
                                     server_default=""))
    op.add_column("piece", sa.Column("tags", sa.JSON, nullable=False, server_default="[]"))
    op.add_column("piece", sa.Column("away", sa.Boolean, nullable=False,
                                     server_default=sa.false()))
    op.add_column("piece", sa.Column("state", sa.String(20), nullable=False,
                                     server_default="in work"))
    op.add_column("sitting", sa.Column("kind", sa.String(12), nullable=False,
                                       server_default="work"))
    op.add_column("sitting", sa.Column("note", sa.String(200), nullable=False,
                                       server_default=""))
    op.add_column("sitting", sa.Column("corrects", sa.Integer))
    op.create_index("ix_sitting_piece_id", "sitting", ["piece_id"])
    op.create_index("ix_sitting_began", "sitting", ["began"])
    op.create_table(
        "plan",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("minutes", sa.JSON, nullable=False),
        sa.Column("rounds", sa.Integer, nullable=False))
    connection = op.get_bind()
    last = {piece: json.loads(event)["verdict"] for piece, event in connection.execute(sa.text(
        "SELECT piece_id, event FROM event WHERE json_extract(event, '$.kind')='verdict' "
        "AND json_extract(event, '$.look')='piece' ORDER BY piece_id, number"))}
    for piece, verdict in last.items():
        connection.execute(
            sa.text("UPDATE piece SET state=:state WHERE id=:piece"),
            {"piece": piece, "state": "approved" if verdict == "approved" else "changes asked"})


def downgrade() -> None:
    op.drop_table("plan")
    op.drop_index("ix_sitting_began", "sitting")
    op.drop_index("ix_sitting_piece_id", "sitting")
    for table, names in (("sitting", ("kind", "note", "corrects")),
                         ("piece", ("due", "occasion", "tags", "away", "state"))):
        for name in names:
            op.drop_column(table, name)
