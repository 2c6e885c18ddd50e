"""Every hand-in is a revision, releases and files have an identity of their own, counters, jobs that are tried again."""

from uuid import uuid4

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    _releases()
    _revisions()
    _interviews()
    op.create_table(
        "file",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("study_id", sa.Integer(), nullable=False),
        sa.Column("interview_uuid", sa.String(36), nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(32), nullable=False),
        sa.Column("type", sa.String(100), nullable=False),
        sa.Column("device_id", sa.Integer(), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"]),
        sa.ForeignKeyConstraint(["device_id"], ["device.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("study_id", "interview_uuid", "hash"),
    )
    for column in ("study_id", "interview_uuid", "hash"):
        op.create_index(f"ix_file_{column}", "file", [column])
    op.create_table(
        "counter",
        sa.Column("name", sa.String(64), nullable=False),
        sa.Column("value", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("name"),
    )
    # What is laid out from now on comes after everything that was.
    op.execute(
        "INSERT INTO counter (name, value) "
        "SELECT 'laid/' || questionnaire_id, max(id) FROM interview GROUP BY questionnaire_id"
    )
    with op.batch_alter_table("job") as batch:
        batch.add_column(sa.Column("tries", sa.Integer(), nullable=False, server_default="0"))
    with op.batch_alter_table("study") as batch:
        batch.add_column(sa.Column("strips_location", sa.Boolean(), nullable=False, server_default="0"))


def _releases() -> None:
    with op.batch_alter_table("release") as batch:
        batch.add_column(sa.Column("identity", sa.String(32), nullable=True))
    connection = op.get_bind()
    for (number,) in connection.execute(sa.text("SELECT id FROM release")).all():
        connection.execute(sa.text("UPDATE release SET identity = :i WHERE id = :n"), {"i": uuid4().hex, "n": number})
    with op.batch_alter_table("release") as batch:
        batch.alter_column("identity", existing_type=sa.String(32), nullable=False)
        batch.create_unique_constraint("uq_release_identity", ["identity"])


def _revisions() -> None:
    """What arrived first becomes revision 1; other content that came later waits for a decision."""
    op.rename_table("revision", "old_revision")
    op.drop_index("ix_revision_interview_id", "old_revision")
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("interview_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("basis", sa.String(64), nullable=False),
        sa.Column("waits", sa.String(40), nullable=False),
        sa.Column("device_id", sa.Integer(), nullable=True),
        sa.Column("by", sa.String(128), nullable=False),
        sa.Column("arrived_at", sa.DateTime(), nullable=False),
        sa.Column("raw", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["interview_id"], ["interview.id"]),
        sa.ForeignKeyConstraint(["device_id"], ["device.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("interview_id", "hash"),
        sa.UniqueConstraint("interview_id", "number"),
    )
    op.create_index("ix_revision_interview_id", "revision", ["interview_id"])
    op.execute(
        "INSERT INTO revision (interview_id, number, hash, basis, waits, device_id, by, arrived_at, raw) "
        "SELECT id, 1, hash, '', '', device_id, enumerator, arrived_at, raw FROM interview ORDER BY id"
    )
    op.execute(
        "INSERT INTO revision (interview_id, number, hash, basis, waits, device_id, by, arrived_at, raw) "
        "SELECT o.interview_id, 1 + row_number() OVER (PARTITION BY o.interview_id ORDER BY o.id), o.hash, '', "
        "'other_content', i.device_id, i.enumerator, o.arrived_at, o.raw "
        "FROM old_revision o JOIN interview i ON i.id = o.interview_id ORDER BY o.id"
    )
    op.drop_table("old_revision")


def _interviews() -> None:
    # The constraint on the identity alone has no name of its own; it gets one, so that it can be dropped.
    naming = {"uq": "uq_%(table_name)s_%(column_0_N_name)s"}
    with op.batch_alter_table("interview", naming_convention=naming) as batch:
        batch.drop_constraint("uq_interview_uuid", type_="unique")
        batch.create_unique_constraint("uq_interview_study_id_uuid", ["study_id", "uuid"])
        batch.alter_column("questionnaire_id", existing_type=sa.Integer(), nullable=True)
        batch.alter_column("release_id", existing_type=sa.Integer(), nullable=True)
        batch.add_column(sa.Column("counting", sa.Integer(), nullable=False, server_default="1"))
        batch.add_column(sa.Column("revisions", sa.Integer(), nullable=False, server_default="1"))
        batch.add_column(sa.Column("waiting", sa.Boolean(), nullable=False, server_default="0"))
        batch.add_column(sa.Column("problem", sa.String(40), nullable=False, server_default=""))
        batch.add_column(sa.Column("problem_at", sa.String(400), nullable=False, server_default=""))
        batch.add_column(sa.Column("laid_by", sa.Integer(), nullable=False, server_default="0"))
        batch.add_column(sa.Column("laid_at", sa.Integer(), nullable=False, server_default="0"))
        batch.add_column(sa.Column("flags", sa.JSON(), nullable=False, server_default="[]"))
        batch.drop_column("raw")
        batch.create_index("ix_interview_uuid", ["uuid"])
        batch.create_index("ix_interview_problem", ["problem"])
        batch.create_index("ix_interview_laid_by", ["laid_by"])
        batch.create_index("ix_interview_laid", ["questionnaire_id", "laid_at"])
    op.execute("UPDATE interview SET laid_at = id")
    op.execute(
        "UPDATE interview SET revisions = (SELECT count(*) FROM revision r WHERE r.interview_id = interview.id), "
        "waiting = EXISTS (SELECT 1 FROM revision r WHERE r.interview_id = interview.id AND r.waits <> '')"
    )


def downgrade() -> None:
    raise NotImplementedError("Restore the backup that was made before the update.")
