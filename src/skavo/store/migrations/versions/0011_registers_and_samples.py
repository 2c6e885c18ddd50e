"""Registers: kinds of unit, units and what happened to them; questionnaires that describe units; samples."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("questionnaire") as table:
        table.add_column(sa.Column("describes", sa.String(16), nullable=False, server_default="interviews"))
    op.create_table(
        "unit_kind",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False, unique=True),
        sa.Column("settings", sa.JSON(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
    )
    op.create_index("ix_unit_kind_study_id", "unit_kind", ["study_id"])
    op.create_table(
        "unit",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("kind_id", sa.Integer(), sa.ForeignKey("unit_kind.id"), nullable=False),
        sa.Column("above_id", sa.Integer(), sa.ForeignKey("unit.id"), nullable=True),
        sa.Column("identity", sa.String(32), nullable=False, unique=True),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("label", sa.String(200), nullable=False),
        sa.Column("answers", sa.JSON(), nullable=False),
        sa.Column("derived", sa.JSON(), nullable=False),
        sa.Column("faults", sa.JSON(), nullable=False),
        sa.Column("filled", sa.Integer(), nullable=False),
        sa.Column("asked", sa.Integer(), nullable=False),
        sa.Column("latitude", sa.Double(), nullable=True),
        sa.Column("longitude", sa.Double(), nullable=True),
        sa.Column("release_id", sa.Integer(), sa.ForeignKey("release.id"), nullable=True),
        sa.Column("closed_at", sa.DateTime(), nullable=True),
        sa.Column("closed_why", sa.Text(), nullable=False),
        sa.Column("owner_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("changed", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.UniqueConstraint("kind_id", "key"),
    )
    op.create_index("ix_unit_above_id", "unit", ["above_id"])
    op.create_index("ix_unit_changed", "unit", ["study_id", "changed"])
    op.create_table(
        "unit_event",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("unit_id", sa.Integer(), sa.ForeignKey("unit.id"), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.String(128), nullable=False),
        sa.Column("by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("origin", sa.String(16), nullable=False),
        sa.Column("what", sa.String(16), nullable=False),
        sa.Column("changes", sa.JSON(), nullable=False),
        sa.Column("detail", sa.JSON(), nullable=False),
    )
    op.create_index("ix_unit_event_unit", "unit_event", ["unit_id", "at"])
    op.create_index("ix_unit_event_study", "unit_event", ["study_id", "at"])
    op.create_table(
        "sample",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("name", sa.String(64), nullable=False),
        sa.Column("source", sa.JSON(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("frame_hash", sa.String(64), nullable=False),
        sa.Column("frame_count", sa.Integer(), nullable=False),
        sa.Column("drawn", sa.Integer(), nullable=False),
        sa.Column("told", sa.JSON(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_index("ix_sample_study_id", "sample", ["study_id"])
    op.create_table(
        "sample_unit",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("sample_id", sa.Integer(), sa.ForeignKey("sample.id"), nullable=False),
        sa.Column("unit_id", sa.Integer(), sa.ForeignKey("unit.id"), nullable=True),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("label", sa.String(200), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("stratum", sa.String(200), nullable=False),
        sa.Column("cluster", sa.String(200), nullable=False),
        sa.Column("probability", sa.Double(), nullable=False),
        sa.Column("rank", sa.Integer(), nullable=False),
        sa.Column("reserve", sa.Boolean(), nullable=False),
        sa.UniqueConstraint("sample_id", "place"),
    )
    op.create_index("ix_sample_unit_sample_id", "sample_unit", ["sample_id"])
    op.create_index("ix_sample_unit_unit_id", "sample_unit", ["unit_id"])
