"""Links answered in a browser, paper questionnaires keyed in batches, and which way an interview came."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "link",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("title", sa.String(128), nullable=False),
        sa.Column("entry", sa.String(16), nullable=False),
        sa.Column("secret", sa.String(64), nullable=False, unique=True),
        sa.Column("closes_at", sa.DateTime(), nullable=True),
        sa.Column("most", sa.Integer(), nullable=True),
        sa.Column("once", sa.Boolean(), nullable=False),
        sa.Column("texts", sa.JSON(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("closed_at", sa.DateTime(), nullable=True),
    )
    op.create_index("ix_link_study_id", "link", ["study_id"])
    op.create_table(
        "addressee",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("link_id", sa.Integer(), sa.ForeignKey("link.id"), nullable=False),
        sa.Column("name", sa.String(128), nullable=False),
        sa.Column("email", sa.String(254), nullable=False),
        sa.Column("language", sa.String(35), nullable=False),
        sa.Column("secret", sa.String(64), nullable=False, unique=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("sent_at", sa.DateTime(), nullable=True),
        sa.Column("reminded_at", sa.DateTime(), nullable=True),
        sa.Column("reminders", sa.Integer(), nullable=False),
        sa.Column("trouble", sa.String(200), nullable=False),
        sa.Column("answered_at", sa.DateTime(), nullable=True),
        sa.Column("interview_uuid", sa.String(36), nullable=True),
        sa.Column("withdrawn_at", sa.DateTime(), nullable=True),
        sa.UniqueConstraint("link_id", "email"),
    )
    op.create_index("ix_addressee_link_id", "addressee", ["link_id"])
    op.create_table(
        "answering",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("link_id", sa.Integer(), sa.ForeignKey("link.id"), nullable=False),
        sa.Column("addressee_id", sa.Integer(), sa.ForeignKey("addressee.id"), nullable=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("uuid", sa.String(36), nullable=False),
        sa.Column("browser_hash", sa.String(64), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("answered_at", sa.DateTime(), nullable=True),
        sa.UniqueConstraint("link_id", "uuid"),
    )
    for name in ("link_id", "addressee_id", "browser_hash"):
        op.create_index(f"ix_answering_{name}", "answering", [name])
    op.create_table(
        "batch",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("release_id", sa.Integer(), sa.ForeignKey("release.id"), nullable=False),
        sa.Column("name", sa.String(64), nullable=False),
        sa.Column("language", sa.String(35), nullable=False),
        sa.Column("received", sa.Integer(), nullable=False),
        sa.Column("twice", sa.Integer(), nullable=False),
        sa.Column("signed", sa.JSON(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_index("ix_batch_study_id", "batch", ["study_id"])
    op.create_table(
        "paper_form",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("batch_id", sa.Integer(), sa.ForeignKey("batch.id"), nullable=False),
        sa.Column("number", sa.String(40), nullable=False),
        sa.Column("uuid", sa.String(36), nullable=False, unique=True),
        sa.Column("enumerator", sa.String(128), nullable=False),
        sa.Column("held_on", sa.DateTime(), nullable=True),
        sa.Column("is_twice", sa.Boolean(), nullable=False),
        sa.Column("settled", sa.JSON(), nullable=False),
        sa.Column("finished_at", sa.DateTime(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("batch_id", "number"),
    )
    op.create_index("ix_paper_form_batch_id", "paper_form", ["batch_id"])
    op.create_table(
        "keying",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("form_id", sa.Integer(), sa.ForeignKey("paper_form.id"), nullable=False),
        sa.Column("turn", sa.Integer(), nullable=False),
        sa.Column("by", sa.String(128), nullable=False),
        sa.Column("by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("content", sa.JSON(), nullable=False),
        sa.Column("seconds", sa.Integer(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.UniqueConstraint("form_id", "turn"),
    )
    for name in ("form_id", "by_id"):
        op.create_index(f"ix_keying_{name}", "keying", [name])
    with op.batch_alter_table("interview") as table:
        table.add_column(sa.Column("origin", sa.String(8), nullable=False, server_default="phone"))
        table.add_column(sa.Column("exercise", sa.JSON(), nullable=True))
        table.add_column(sa.Column("link_id", sa.Integer(), nullable=True))
        table.create_foreign_key("fk_interview_link_id", "link", ["link_id"], ["id"])
        table.create_index("ix_interview_link_id", ["link_id"])
