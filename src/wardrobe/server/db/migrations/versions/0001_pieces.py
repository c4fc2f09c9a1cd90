"""Pieces, their history, and sittings."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "piece",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("planned_minutes", sa.Float, nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("step", sa.String(20), nullable=False),
        sa.Column("demo", sa.String(120)),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "history",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"),
                  nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("edit", sa.JSON),
        sa.Column("recipe", sa.JSON, nullable=False),
        sa.Column("made", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("piece_id", "position"),
    )
    op.create_table(
        "sitting",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"),
                  nullable=False),
        sa.Column("step", sa.String(20), nullable=False),
        sa.Column("began", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seconds", sa.Float, nullable=False),
    )


def downgrade() -> None:
    for table in ("sitting", "history", "piece"):
        op.drop_table(table)
