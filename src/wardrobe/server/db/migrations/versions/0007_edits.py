"""A piece as its edits with a whole state now and then; which assets are needed for them; jobs."""

import re

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

_ASSET = re.compile(r"\b[0-9a-f]{64}\b")


def upgrade() -> None:
    # States that are stored stay: another version may have come to them by other rules.
    with op.batch_alter_table("history") as table:
        table.alter_column("recipe", existing_type=sa.JSON, nullable=True)
    uses = op.create_table(
        "asset_use",
        sa.Column("history_id", sa.Integer, sa.ForeignKey("history.id", ondelete="CASCADE"),
                  primary_key=True),
        sa.Column("asset", sa.String(64), primary_key=True))
    op.create_index("ix_asset_use_asset", "asset_use", ["asset"])
    op.create_table(
        "job",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("piece", sa.Integer), sa.Column("layered", sa.Integer),
        sa.Column("file_name", sa.String(240)), sa.Column("problem", sa.JSON),
        sa.Column("began", sa.DateTime(timezone=True), nullable=False))
    op.create_index("ix_job_began", "job", ["began"])
    connection = op.get_bind()
    rows = connection.execute(sa.text(
        "SELECT id, CASE position WHEN 0 THEN recipe ELSE edit END FROM history "
        "WHERE position = 0 OR edit LIKE '%\"asset\"%'"))
    found = [{"history_id": number, "asset": name}
             for number, text in rows for name in {*_ASSET.findall(text or "")}]
    if found:
        op.bulk_insert(uses, found)


def downgrade() -> None:
    op.drop_table("job")
    op.drop_table("asset_use")
