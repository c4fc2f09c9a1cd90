"""A shelf of palettes, shared by all pieces."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "palette",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("colours", sa.JSON, nullable=False))


def downgrade() -> None:
    op.drop_table("palette")
