"""Series, pages, and the places of pieces in them."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "series",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("shared", sa.JSON, nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
        sqlite_autoincrement=True)
    op.create_table(
        "page",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("series_id", sa.Integer, sa.ForeignKey("series.id", ondelete="CASCADE"),
                  nullable=False, index=True),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("sheet", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False, server_default="1"),
        sqlite_autoincrement=True)
    # SQLite adds a column with a reference only if it may be empty.
    op.execute("ALTER TABLE piece ADD COLUMN series_id INTEGER "
               "REFERENCES series (id) ON DELETE SET NULL")
    op.execute("ALTER TABLE piece ADD COLUMN page_id INTEGER "
               "REFERENCES page (id) ON DELETE SET NULL")
    op.add_column("piece", sa.Column("place", sa.Integer, nullable=False, server_default="0"))
    op.add_column("piece", sa.Column("scene", sa.String(60), nullable=False, server_default=""))
    op.add_column("piece", sa.Column("hold", sa.Integer, nullable=False, server_default="1"))
    op.create_index("ix_piece_series_id", "piece", ["series_id"])


def downgrade() -> None:
    op.drop_index("ix_piece_series_id", "piece")
    with op.batch_alter_table("piece") as piece:
        for name in ("hold", "scene", "place", "page_id", "series_id"):
            piece.drop_column(name)
    op.drop_table("page")
    op.drop_table("series")
