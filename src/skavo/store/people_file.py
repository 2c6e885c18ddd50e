"""Many people from a file: what is new, changed or doubtful, before anything is kept.

A row of headings, then a person a row: name, sign-in, e-mail, phone, language, roles, team, supervises. Roles, and the
teams that a supervisor is limited to, are separated by commas. Who is in the study already is found by sign-in, else by name.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError
from skavo.core.permissions import ROLES
from skavo.store.models import Membership, Person, Team
from skavo.store.people import change, free_login, join, plain_login

Judged = Literal["new", "changed", "same", "doubtful"]
COLUMNS = ("name", "sign-in", "e-mail", "phone", "language", "roles", "team", "supervises")
_MOST_ROWS = 5_000
_LONGEST = {"name": 128, "sign-in": 64, "e-mail": 254, "phone": 40, "language": 35, "team": 128, "supervises": 4000}


@dataclass(frozen=True)
class PersonRow:
    """A row of the file with what is to become of it; `why` says what is doubtful or what changes."""

    row: int
    name: str
    login: str
    email: str
    phone: str
    language: str
    roles: list[str]
    team: str
    supervises: list[str]
    judged: Judged
    why: str


def judge_people(session: Session, study_id: int, frame: pl.DataFrame) -> list[PersonRow]:
    """Every row of `frame` held against the study; raise DataError where the headings are not those of a file of people."""
    headings = [_heading(name) for name in frame.columns]
    unknown = [name for name, heading in zip(frame.columns, headings, strict=True) if heading not in COLUMNS]
    if unknown or "name" not in headings:
        raise DataError(
            "wrong_headings", f"The headings are {', '.join(COLUMNS)}; only name has to be there. Found instead: "
            f"{', '.join(unknown) or 'no name'}.",
        )  # fmt: skip
    if frame.height > _MOST_ROWS:
        raise DataError("too_many_rows", f"A file of people has at most {_MOST_ROWS} rows.")
    seen: set[str] = set()
    return [
        _judged(session, study_id, number, dict(zip(headings, (str(v or "").strip() for v in row), strict=True)), seen)
        for number, row in enumerate(frame.rows(), start=2)
    ]


def _heading(name: str) -> str:
    plain = re.sub(r"[^a-z]", "", name.lower())
    return {"signin": "sign-in", "email": "e-mail", "role": "roles"}.get(plain, plain)


def _judged(session: Session, study_id: int, number: int, row: dict[str, str], seen: set[str]) -> PersonRow:
    roles = [re.sub(r"[\s-]+", "_", role.strip().lower()) for role in row.get("roles", "").split(",") if role.strip()]
    roles = roles or ["enumerator"]
    email, login = row.get("e-mail", ""), plain_login(row.get("sign-in", "")) or ""
    judged, why = _why(session, study_id, row, roles, login, seen)
    seen.add(row["name"].lower())
    return PersonRow(
        number, row["name"], login, email, row.get("phone", ""), row.get("language", ""), roles, row.get("team", ""),
        _listed(row.get("supervises", "")), judged, why,
    )  # fmt: skip


def _listed(cell: str) -> list[str]:
    return sorted({name.strip() for name in cell.split(",") if name.strip()})


def _why(
    session: Session, study_id: int, row: dict[str, str], roles: list[str], login: str, seen: set[str]
) -> tuple[Judged, str]:
    doubt = _doubt(row, roles, login, seen)
    if doubt:
        return "doubtful", doubt
    person = session.scalar(select(Person).where(Person.login == login)) if login else None
    member = _member(session, study_id, person, row["name"])
    if person is not None and (member is None or member.person_id != person.id):
        return "doubtful", f"Somebody else signs in as {login}."
    if person is not None and member is not None and member.name.lower() != row["name"].lower():
        return "doubtful", f"{login} is {member.name} here. Change the name under People."
    if member is None:
        return "new", ""
    if member.left_at is not None:
        return "doubtful", "Has left the study. Take the person in again under People."
    teams = dict(session.execute(select(Team.id, Team.name).where(Team.study_id == study_id)).tuples().all())
    now = {
        "sign-in": member.person.login or "", "e-mail": member.person.email, "phone": member.person.phone,
        "language": member.person.language, "team": teams.get(member.team_id or 0, ""), "roles": ", ".join(member.roles),
        "supervises": ", ".join(sorted(teams[team_id] for team_id in member.supervises)),
    }  # fmt: skip
    wanted = {**row, "sign-in": login, "roles": ", ".join(sorted({*roles}))}
    wanted["supervises"] = ", ".join(_listed(row.get("supervises", "")))
    # A column that the file does not have, or a cell that is empty, leaves what is there.
    changes = [name for name, value in now.items() if row.get(name) and wanted[name] != value]
    return ("changed", ", ".join(changes)) if changes else ("same", "")


def _doubt(row: dict[str, str], roles: list[str], login: str, seen: set[str]) -> str:
    if not row["name"]:
        return "There is no name."
    if row["name"].lower() in seen:
        return "The name stands in the file twice."
    long = [name for name, most in _LONGEST.items() if len(row.get(name, "")) > most]
    if long:
        return f"Too long: {', '.join(long)}."
    unknown = sorted({*roles} - {*ROLES})
    if unknown:
        return f"No such role: {', '.join(unknown)}. There are {', '.join(ROLES)}."
    if re.search(r"[\s@/]", login):
        return "A sign-in name has no spaces, @ or /."
    if row.get("supervises") and "supervisor" not in roles:
        return "Only a supervisor is limited to the teams they supervise."
    if any(len(team) > _LONGEST["team"] for team in _listed(row.get("supervises", ""))):
        return "Too long: the name of a team."
    email = row.get("e-mail", "")
    return "" if not email or re.fullmatch(r"[^@\s]+@[^@\s]+", email) else "This is no e-mail address."


def _member(session: Session, study_id: int, person: Person | None, name: str) -> Membership | None:
    of_study = select(Membership).where(Membership.study_id == study_id)
    if person is not None:
        found = session.scalar(of_study.where(Membership.person_id == person.id))
        if found is not None:
            return found
    return session.scalar(of_study.where(func.lower(Membership.name) == name.lower()))


def keep_people(session: Session, study_id: int, rows: list[PersonRow]) -> int:
    """Take in what is new and change what changed; doubtful rows are left out. Return how many were kept."""
    kept = [row for row in rows if row.judged in ("new", "changed")]
    for row in kept:
        team, *supervises = (_team(session, study_id, name) for name in (row.team, *row.supervises))
        limits = [team_id for team_id in supervises if team_id is not None]
        if row.judged == "new":
            person = Person(
                name=row.name, login=free_login(session, row.login), email=row.email, phone=row.phone,
                language=row.language,
            )  # fmt: skip
            session.add(person)
            session.flush()
            join(session, study_id, person, row.roles, team, limits)
            continue
        member = _member(
            session, study_id, session.scalar(select(Person).where(Person.login == row.login)) if row.login else None,
            row.name,
        )  # fmt: skip
        assert member is not None
        roles = row.roles if "roles" in row.why else [*member.roles]
        change(
            session, member, name=member.name, roles=roles, team_id=team if row.team else member.team_id,
            version=member.version, supervises=limits or None,
        )  # fmt: skip
        person = member.person
        if "sign-in" in row.why:
            person.login = free_login(session, row.login, but=person.id)
        person.email, person.phone = row.email or person.email, row.phone or person.phone
        person.language = row.language or person.language
    return len(kept)


def _team(session: Session, study_id: int, name: str) -> int | None:
    """A team by its name, made where the study has none of it."""
    if not name:
        return None
    team = session.scalar(select(Team).where(Team.study_id == study_id, Team.name == name))
    if team is None:
        team = Team(study_id=study_id, name=name)
        session.add(team)
        session.flush()
    return team.id
