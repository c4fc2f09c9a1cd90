"""What a job found out is remembered with it."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("job") as table:
        table.add_column(sa.Column("answer", sa.JSON))


def downgrade() -> None:
    with op.batch_alter_table("job") as table:
        table.drop_column("answer")
