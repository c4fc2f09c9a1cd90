"""Characters with their colour cards, and saved sets of names."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "character",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("card", sa.JSON, nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "name_set",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("parts", sa.JSON, nullable=False),
    )
    op.execute("ALTER TABLE piece ADD COLUMN character_id INTEGER "
               "REFERENCES character(id) ON DELETE SET NULL")


def downgrade() -> None:
    op.drop_column("piece", "character_id")
    for table in ("name_set", "character"):
        op.drop_table(table)
