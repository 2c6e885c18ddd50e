"""Supervisors of teams; jobs that wait for their time, and the server's own."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("membership") as batch:
        batch.add_column(sa.Column("supervises", sa.JSON(), nullable=False, server_default="[]"))
    with op.batch_alter_table("job") as batch:
        batch.alter_column("study_id", existing_type=sa.Integer(), nullable=True)
        batch.add_column(sa.Column("not_before", sa.DateTime(), nullable=True))
