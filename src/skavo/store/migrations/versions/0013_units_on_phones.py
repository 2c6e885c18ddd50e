"""Units on phones: who carries which branch, and changes that phones hand in; maps kept under a name."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "branch_share",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("unit_id", sa.Integer(), sa.ForeignKey("unit.id"), nullable=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("team_id", sa.Integer(), sa.ForeignKey("team.id"), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.UniqueConstraint("study_id", "unit_id", "person_id", "team_id"),
    )
    op.create_index("ix_branch_share_study_id", "branch_share", ["study_id"])
    op.create_index("ix_branch_share_unit_id", "branch_share", ["unit_id"])
    op.create_table(
        "unit_change",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("uuid", sa.String(36), nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("identity", sa.String(32), nullable=False),
        sa.Column("unit_id", sa.Integer(), sa.ForeignKey("unit.id"), nullable=True),
        sa.Column("kind_id", sa.Integer(), sa.ForeignKey("unit_kind.id"), nullable=True),
        sa.Column("standing", sa.String(16), nullable=False),
        sa.Column("why", sa.String(32), nullable=False),
        sa.Column("doubts", sa.JSON(), nullable=False),
        sa.Column("decided", sa.JSON(), nullable=True),
        sa.Column("by", sa.String(128), nullable=False),
        sa.Column("by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("device_id", sa.Integer(), sa.ForeignKey("device.id"), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("arrived_at", sa.DateTime(), nullable=False),
        sa.Column("raw", sa.LargeBinary(), nullable=False),
        sa.UniqueConstraint("study_id", "uuid", "hash"),
        sa.UniqueConstraint("study_id", "number"),
    )
    op.create_index("ix_unit_change_identity", "unit_change", ["identity"])
    op.create_index("ix_unit_change_unit_id", "unit_change", ["unit_id"])
    op.create_index("ix_unit_change_standing", "unit_change", ["study_id", "standing"])
    op.create_table(
        "saved_layer",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("name", sa.String(64), nullable=False),
        sa.Column("query", sa.JSON(), nullable=False),
        sa.Column("off", sa.JSON(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_index("ix_saved_layer_study_id", "saved_layer", ["study_id"])
