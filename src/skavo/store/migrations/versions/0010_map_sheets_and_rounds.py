"""Map sheets of a study, and its rounds."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "map_sheet",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("name", sa.String(64), nullable=False),
        sa.Column("form", sa.String(8), nullable=False),
        sa.Column("file_hash", sa.String(64), nullable=False),
        sa.Column("bytes", sa.BigInteger(), nullable=False),
        sa.Column("bounds", sa.JSON(), nullable=False),
        sa.Column("detail", sa.JSON(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_index("ix_map_sheet_study_id", "map_sheet", ["study_id"])
    with op.batch_alter_table("study") as table:
        table.add_column(sa.Column("rounds", sa.JSON(), nullable=False, server_default="[]"))
