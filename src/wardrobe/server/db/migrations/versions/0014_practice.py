"""Answers to lessons."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "practice",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("lesson", sa.String(40), nullable=False, index=True),
        sa.Column("level", sa.Integer, nullable=False),
        sa.Column("seed", sa.Integer, nullable=False),
        sa.Column("score", sa.Float, nullable=False),
        sa.Column("figures", sa.JSON, nullable=False),
        sqlite_autoincrement=True)


def downgrade() -> None:
    op.drop_table("practice")
