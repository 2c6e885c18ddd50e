"""Visits: lists of them, whom they visit, attempts; how attempts end; what an interview is about."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("study") as table:
        table.add_column(sa.Column("outcomes", sa.JSON(), nullable=False, server_default="[]"))
    op.create_table(
        "visit_list",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("sample_id", sa.Integer(), sa.ForeignKey("sample.id"), nullable=True),
        sa.Column("name", sa.String(64), nullable=False),
        sa.Column("rules", sa.JSON(), nullable=False),
        sa.Column("due", sa.String(10), nullable=False),
        sa.Column("closed_at", sa.DateTime(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_index("ix_visit_list_study_id", "visit_list", ["study_id"])
    op.create_table(
        "visit",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("list_id", sa.Integer(), sa.ForeignKey("visit_list.id"), nullable=False),
        sa.Column("identity", sa.String(32), nullable=False, unique=True),
        sa.Column("unit_id", sa.Integer(), sa.ForeignKey("unit.id"), nullable=True),
        sa.Column("sample_unit_id", sa.Integer(), sa.ForeignKey("sample_unit.id"), nullable=True),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("label", sa.String(200), nullable=False),
        sa.Column("area", sa.String(200), nullable=False),
        sa.Column("latitude", sa.Double(), nullable=True),
        sa.Column("longitude", sa.Double(), nullable=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("reserve", sa.Boolean(), nullable=False),
        sa.Column("remark", sa.Text(), nullable=False),
        sa.Column("outcome", sa.String(32), nullable=False),
        sa.Column("standing", sa.String(16), nullable=False),
        sa.Column("tried", sa.Integer(), nullable=False),
        sa.Column("last_at", sa.DateTime(), nullable=True),
        sa.Column("appointment", sa.DateTime(), nullable=True),
    )
    op.create_index("ix_visit_unit_id", "visit", ["unit_id"])
    op.create_index("ix_visit_of_list", "visit", ["list_id", "standing", "person_id"])
    op.create_index("ix_visit_of_person", "visit", ["study_id", "person_id"])
    op.create_table(
        "visit_attempt",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("visit_id", sa.Integer(), sa.ForeignKey("visit.id"), nullable=False),
        sa.Column("identity", sa.String(36), nullable=False),
        sa.Column("outcome", sa.String(32), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("appointment", sa.DateTime(), nullable=True),
        sa.Column("remark", sa.Text(), nullable=False),
        sa.Column("interview_uuid", sa.String(36), nullable=False),
        sa.Column("latitude", sa.Double(), nullable=True),
        sa.Column("longitude", sa.Double(), nullable=True),
        sa.Column("accuracy", sa.Double(), nullable=True),
        sa.Column("by", sa.String(128), nullable=False),
        sa.Column("by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("device_id", sa.Integer(), sa.ForeignKey("device.id"), nullable=True),
        sa.Column("arrived_at", sa.DateTime(), nullable=False),
        sa.Column("taken_back", sa.JSON(), nullable=True),
        sa.UniqueConstraint("study_id", "identity"),
    )
    op.create_index("ix_visit_attempt_visit_id", "visit_attempt", ["visit_id"])
    with op.batch_alter_table("interview") as table:
        table.add_column(sa.Column("visit_id", sa.Integer(), nullable=True))
        table.add_column(sa.Column("unit_id", sa.Integer(), nullable=True))
        table.create_foreign_key("fk_interview_visit", "visit", ["visit_id"], ["id"])
        table.create_foreign_key("fk_interview_unit", "unit", ["unit_id"], ["id"])
        table.create_index("ix_interview_visit_id", ["visit_id"])
        table.create_index("ix_interview_unit_id", ["unit_id"])
