"""The washes of a character's card."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("character", sa.Column("washes", sa.JSON, nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("character", "washes")
