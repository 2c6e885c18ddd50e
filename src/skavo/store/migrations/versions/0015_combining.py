"""Outside tables keep the file as it came, how it is read, and what stood before; decisions about near matches."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("outside_table") as table:
        table.add_column(sa.Column("raw_hash", sa.String(64), nullable=True))
        table.add_column(sa.Column("reading", sa.JSON(), nullable=False, server_default="{}"))
        table.add_column(sa.Column("described", sa.JSON(), nullable=False, server_default="[]"))
        table.add_column(sa.Column("earlier", sa.JSON(), nullable=False, server_default="[]"))
    op.create_table(
        "match_decision",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("outside_id", sa.Integer(), sa.ForeignKey("outside_table.id", ondelete="CASCADE"), nullable=False),
        sa.Column("place", sa.String(400), nullable=False),
        sa.Column("ours", sa.String(24), nullable=False),
        sa.Column("theirs", sa.String(24), nullable=False),
        sa.Column("decided", sa.String(8), nullable=False),
        sa.Column("shown", sa.JSON(), nullable=False),
        sa.Column("undone_at", sa.DateTime(), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
    )
    op.create_index("ix_match_decision_questionnaire_id", "match_decision", ["questionnaire_id"])
    op.create_index("ix_match_decision_outside_id", "match_decision", ["outside_id"])
    op.create_table(
        "sent_table",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("file_hash", sa.String(64), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
    )
    op.create_index("ix_sent_table_questionnaire_id", "sent_table", ["questionnaire_id"])
    op.create_table(
        "source_check",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("table", sa.String(64), nullable=False),
        sa.Column("rule", sa.Text(), nullable=False),
        sa.Column("strength", sa.String(8), nullable=False),
        sa.Column("words", sa.String(500), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
    )
    op.create_index("ix_source_check_questionnaire_id", "source_check", ["questionnaire_id"])
