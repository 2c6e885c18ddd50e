"""Translations whose source has changed since; findings set aside; the media shelf and the standard of a study.

Releases: withdrawn, for practice only, signed by a second person.
"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("questionnaire") as table:
        table.add_column(sa.Column("outdated", sa.JSON(), nullable=False, server_default="{}"))
        table.add_column(sa.Column("set_aside", sa.JSON(), nullable=False, server_default="{}"))
    with op.batch_alter_table("study") as table:
        table.add_column(sa.Column("standard", sa.JSON(), nullable=False, server_default="{}"))
        table.add_column(sa.Column("two_sign", sa.Boolean(), nullable=False, server_default="0"))
    with op.batch_alter_table("release") as table:
        table.add_column(sa.Column("practice", sa.Boolean(), nullable=False, server_default="0"))
        table.add_column(sa.Column("awaits", sa.Boolean(), nullable=False, server_default="0"))
        table.add_column(sa.Column("signed", sa.JSON(), nullable=True))
        table.add_column(sa.Column("withdrawn", sa.JSON(), nullable=True))
    op.create_table(
        "shelf_file",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("type", sa.String(40), nullable=False),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("phone_hash", sa.String(64), nullable=False),
        sa.Column("phone_type", sa.String(40), nullable=False),
        sa.Column("phone_bytes", sa.Integer(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=True),
        sa.Column("height", sa.Integer(), nullable=True),
        sa.Column("seconds", sa.Float(), nullable=True),
        sa.Column("said", sa.JSON(), nullable=False, server_default="{}"),
        sa.Column("version", sa.Integer(), nullable=False, server_default="1"),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
    )
    op.create_index(
        "uq_shelf_file", "shelf_file", ["study_id", "name"], unique=True, sqlite_where=sa.text("removed_at IS NULL")
    )
    op.create_index("ix_shelf_file_phone_hash", "shelf_file", ["study_id", "phone_hash"])
