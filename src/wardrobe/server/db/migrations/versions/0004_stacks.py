"""Stack templates, and layered files that came back."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "stack_template",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("delivery", sa.JSON, nullable=False),
        sa.Column("passes", sa.JSON, nullable=False),
    )
    op.create_table(
        "layered_file",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("asset", sa.String(64), nullable=False),
        sa.Column("piece_id", sa.Integer,
                  sa.ForeignKey("piece.id", ondelete="SET NULL"), nullable=True),
        sa.Column("made_from", sa.Integer,
                  sa.ForeignKey("layered_file.id", ondelete="SET NULL"), nullable=True),
        sa.Column("came", sa.DateTime(timezone=True), nullable=False),
        sqlite_autoincrement=True,
    )


def downgrade() -> None:
    for table in ("layered_file", "stack_template"):
        op.drop_table(table)
