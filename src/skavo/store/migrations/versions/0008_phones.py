"""Field profiles of teams, keys of studies, phones that are wiped, replaced or let in again, interviews left at the office."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "field_profile",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("name", sa.String(128), nullable=False),
        sa.Column("settings", sa.JSON(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_index("ix_field_profile_study_id", "field_profile", ["study_id"])
    with op.batch_alter_table("team") as table:
        table.add_column(sa.Column("profile_id", sa.Integer(), nullable=True))
        table.create_foreign_key("fk_team_profile_id", "field_profile", ["profile_id"], ["id"])
    with op.batch_alter_table("device") as table:
        table.add_column(sa.Column("replaces_id", sa.Integer(), nullable=True))
        table.add_column(sa.Column("wipe_at", sa.DateTime(), nullable=True))
        table.add_column(sa.Column("wiped_at", sa.DateTime(), nullable=True))
        table.add_column(sa.Column("key_check", sa.String(64), nullable=False, server_default=""))
        table.add_column(sa.Column("rescue", sa.JSON(), nullable=True))
        table.create_foreign_key("fk_device_replaces_id", "device", ["replaces_id"], ["id"])
        table.create_index("ix_device_key_check", ["key_check"])
    with op.batch_alter_table("pairing_code") as table:
        table.add_column(sa.Column("replaces_id", sa.Integer(), nullable=True))
        table.add_column(sa.Column("created_by", sa.String(128), nullable=False, server_default=""))
        table.add_column(sa.Column("withdrawn_at", sa.DateTime(), nullable=True))
        table.create_foreign_key("fk_pairing_code_replaces_id", "device", ["replaces_id"], ["id"])
    op.create_table(
        "study_key",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False, unique=True),
        sa.Column("public", sa.String(1000), nullable=False),
        sa.Column("private", sa.LargeBinary(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "left_interview",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("uuid", sa.String(36), nullable=False),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("enumerator", sa.String(128), nullable=False),
        sa.Column("device_id", sa.Integer(), sa.ForeignKey("device.id"), nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("label", sa.String(200), nullable=False),
        sa.Column("left_at", sa.DateTime(), nullable=False),
        sa.Column("taken_at", sa.DateTime(), nullable=True),
        sa.Column("taken_by_id", sa.Integer(), sa.ForeignKey("device.id"), nullable=True),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.UniqueConstraint("study_id", "uuid"),
    )
    op.create_index("ix_left_interview_study_id", "left_interview", ["study_id"])
    op.create_index("ix_left_interview_person_id", "left_interview", ["person_id"])
