"""Translations whose source has changed since they were made."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("questionnaire") as table:
        table.add_column(sa.Column("outdated", sa.JSON(), nullable=False, server_default="{}"))
