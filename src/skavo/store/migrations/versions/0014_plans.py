"""Cleaning plans: steps have a place, may be off and carry a remark; each act leaves the state it made."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("plan_step") as table:
        table.add_column(sa.Column("position", sa.Integer(), nullable=False, server_default="1000000"))
        table.add_column(sa.Column("off", sa.Boolean(), nullable=False, server_default="0"))
        table.add_column(sa.Column("remark", sa.Text(), nullable=False, server_default=""))
    op.create_table(
        "plan_state",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("questionnaire_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("entries", sa.JSON(), nullable=False),
        sa.Column("act", sa.JSON(), nullable=False),
        sa.Column("standing", sa.String(16), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("questionnaire_id", "number"),
    )
    op.create_index("ix_plan_state_questionnaire_id", "plan_state", ["questionnaire_id"])
