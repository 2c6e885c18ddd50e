"""Data sets by their recipes; saved tables are made of one."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "data_set",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("study_id", sa.Integer(), sa.ForeignKey("study.id"), nullable=False),
        sa.Column("begins_id", sa.Integer(), sa.ForeignKey("questionnaire.id"), nullable=True),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("recipe", sa.JSON(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("shift", sa.Integer(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("created_by_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.UniqueConstraint("begins_id"),
    )
    op.create_index("ix_data_set_study_id", "data_set", ["study_id"])
    op.execute(_EACH_ITS_OWN)
    with op.batch_alter_table("saved_table") as table:
        table.add_column(sa.Column("data_set_id", sa.Integer(), nullable=True))
    op.execute(
        "UPDATE saved_table SET data_set_id = (SELECT id FROM data_set WHERE begins_id = saved_table.questionnaire_id)"
    )
    with op.batch_alter_table("saved_table") as table:
        table.drop_index("ix_saved_table_questionnaire_id")
        table.drop_column("questionnaire_id")
        table.alter_column("data_set_id", existing_type=sa.Integer(), nullable=False)
        table.create_foreign_key("fk_saved_table_data_set_id", "data_set", ["data_set_id"], ["id"])
        table.create_index("ix_saved_table_data_set_id", ["data_set_id"])


_EACH_ITS_OWN = """
INSERT INTO data_set (study_id, begins_id, title, recipe, version, shift, created_at, created_by)
SELECT study_id, id, '', '{"format": "skavo-recipe-1", "sources": [{"questionnaire": ' || id || '}]}', 1, 0,
       changed_at, 'Skavo'
FROM questionnaire WHERE describes = 'interviews'
"""
