"""People with memberships instead of users with one role; what was done names a person; counters of edits."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

# Who did it, as a name, beside which the person comes: table, name, identity.
_DONE_BY = (
    ("event", "by", "by_id"), ("revision", "by", "by_id"), ("release", "created_by", "created_by_id"),
    ("plan_step", "created_by", "created_by_id"), ("outside_table", "created_by", "created_by_id"),
    ("saved_table", "created_by", "created_by_id"), ("job", "created_by", "created_by_id"),
    ("device", "enumerator", "person_id"), ("pairing_code", "enumerator", "person_id"),
    ("interview", "enumerator", "person_id"),
)  # fmt: skip
_INDEXED = ("device", "interview")


def upgrade() -> None:
    _tables()
    for table, _, column in _DONE_BY:
        # In an interview what is large comes last, so that lists are read without walking through it.
        place = "enumerator" if table == "interview" else None
        with op.batch_alter_table(table, recreate="always" if place else "auto") as batch:
            batch.add_column(sa.Column(column, sa.Integer(), nullable=True), insert_after=place)
            batch.create_foreign_key(f"fk_{table}_{column}_person", "person", [column], ["id"])
            if table in _INDEXED:
                batch.create_index(f"ix_{table}_{column}", [column])
    with op.batch_alter_table("interview", recreate="always") as batch:
        batch.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"), insert_after="state")
    with op.batch_alter_table("study") as batch:
        batch.add_column(sa.Column("tells_contact", sa.Boolean(), nullable=False, server_default="0"))
        batch.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    with op.batch_alter_table("outside_table") as batch:
        batch.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    _members()
    _name_them()
    op.drop_table("user")


def _tables() -> None:
    op.create_table(
        "person",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(128), nullable=False),
        sa.Column("login", sa.String(64), nullable=True),
        sa.Column("email", sa.String(254), nullable=False),
        sa.Column("phone", sa.String(40), nullable=False),
        sa.Column("language", sa.String(35), nullable=False),
        sa.Column("password_hash", sa.String(256), nullable=False),
        sa.Column("is_administrator", sa.Boolean(), nullable=False),
        sa.Column("last_seen", sa.DateTime(), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("login"),
    )
    op.create_table(
        "team",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("study_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(128), nullable=False),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_table(
        "membership",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("study_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(128), nullable=False),
        sa.Column("roles", sa.JSON(), nullable=False),
        sa.Column("team_id", sa.Integer(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("left_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.ForeignKeyConstraint(["team_id"], ["team.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("study_id", "person_id"),
        sa.UniqueConstraint("study_id", "name"),
    )
    op.create_table(
        "one_time_link",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("study_id", sa.Integer(), nullable=True),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("secret_hash", sa.String(64), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("created_by", sa.String(128), nullable=False),
        sa.Column("expires_at", sa.DateTime(), nullable=False),
        sa.Column("used_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("secret_hash"),
    )
    op.create_table(
        "signed_in_session",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("secret_hash", sa.String(64), nullable=False),
        sa.Column("browser", sa.String(200), nullable=False),
        sa.Column("address", sa.String(64), nullable=False),
        sa.Column("began_at", sa.DateTime(), nullable=False),
        sa.Column("used_at", sa.DateTime(), nullable=False),
        sa.Column("confirmed_at", sa.DateTime(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("secret_hash"),
    )
    op.create_table(
        "access",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("study_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("name", sa.String(128), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("what", sa.String(16), nullable=False),
        sa.Column("interview_id", sa.Integer(), nullable=True),
        sa.Column("detail", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.ForeignKeyConstraint(["interview_id"], ["interview.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    for table, columns in {
        "access": ["study_id", "person_id", "at", "interview_id"],
        "team": ["study_id"], "membership": ["study_id", "person_id", "team_id"], "one_time_link": ["person_id"],
        "signed_in_session": ["person_id"],
    }.items():  # fmt: skip
        for column in columns:
            op.create_index(f"ix_{table}_{column}", table, [column])


def _members() -> None:
    """Whoever could sign in becomes a member of every study, as they could see every study; data managers made studies,
    so they become administrators too. A name that stands on a phone or interview becomes a person without a sign-in."""
    op.execute(
        "INSERT INTO person (id, name, login, email, phone, language, password_hash, is_administrator, last_seen, "
        "created_at) SELECT id, name, login, '', '', '', password_hash, role = 'data_manager', last_seen, "
        "CURRENT_TIMESTAMP FROM user"
    )
    connection = op.get_bind()
    users = connection.execute(sa.text("SELECT id, name, role FROM user ORDER BY id")).all()
    for (study,) in connection.execute(sa.text("SELECT id FROM study")).all():
        taken: set[str] = set()
        for person, name, role in users:
            _join(connection, study, person, _free(name, taken), role)
        for name in _names_in_field(connection, study):
            if name not in taken:
                person = connection.execute(
                    sa.text(
                        "INSERT INTO person (name, email, phone, language, password_hash, is_administrator, created_at) "
                        "VALUES (:name, '', '', '', '', 0, CURRENT_TIMESTAMP) RETURNING id"
                    ),
                    {"name": name},
                ).scalar_one()
                _join(connection, study, person, _free(name, taken), "enumerator")


def _free(name: str, taken: set[str]) -> str:
    free, number = name, 2
    while free in taken:
        free, number = f"{name} ({number})", number + 1
    taken.add(free)
    return free


def _join(connection: sa.Connection, study: int, person: int, name: str, role: str) -> None:
    connection.execute(
        sa.text(
            "INSERT INTO membership (study_id, person_id, name, roles, version, created_at) "
            "VALUES (:study, :person, :name, json_array(:role), 1, CURRENT_TIMESTAMP)"
        ),
        {"study": study, "person": person, "name": name, "role": role},
    )


def _names_in_field(connection: sa.Connection, study: int) -> list[str]:
    query = " UNION ".join(
        f"SELECT enumerator FROM {table} WHERE study_id = :study" for table in ("device", "interview", "pairing_code")
    )
    return [name for (name,) in connection.execute(sa.text(f"{query} ORDER BY 1"), {"study": study})]


def _name_them() -> None:
    """Beside every name, the person of that name in the study it stands in."""
    studies = {
        "event": "{t}.study_id", "device": "{t}.study_id", "pairing_code": "{t}.study_id",
        "interview": "{t}.study_id", "job": "{t}.study_id",
        "revision": "(SELECT study_id FROM interview WHERE id = {t}.interview_id)",
    }  # fmt: skip
    of_questionnaire = "(SELECT study_id FROM questionnaire WHERE id = {t}.questionnaire_id)"
    for table, name, column in _DONE_BY:
        study = studies.get(table, of_questionnaire).format(t=table)
        op.execute(
            f"UPDATE {table} SET {column} = (SELECT person_id FROM membership "
            f'WHERE membership.study_id = {study} AND membership.name = {table}."{name}")'
        )
