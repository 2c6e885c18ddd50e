"""Studies and their facts."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from zoneinfo import available_timezones

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.rounds import Round, in_order
from skavo.core.permissions import granted, limited_to
from skavo.services.found import the_study
from skavo.services.refusals import same_version
from skavo.store.models import Interview, Membership, Person, Questionnaire, Release, Study, Team
from skavo.store.people import join, of_teams, plain_login
from skavo.web.guard import caller
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store
from skavo.web.shapes import Body, StudyPath

api = Resource("studies", "/studies")


class QuestionnaireLine(BaseModel):
    id: int
    title: str
    releases: int
    languages: list[str]


class StudyOut(BaseModel):
    """`roles` and `permissions` are those of whoever asks, `teams` the names of those they are limited to."""

    id: int
    title: str
    purpose: str
    population: str
    time_zone: str
    strips_location: bool
    tells_contact: bool
    two_sign: bool
    rounds: list[Round]
    version: int
    created_at: datetime
    questionnaires: list[QuestionnaireLine]
    interviews: int
    roles: list[str]
    permissions: list[str]
    teams: list[str]


class StudyIn(Body):
    title: str = Field(min_length=1, max_length=200)
    purpose: str = Field(default="", max_length=10_000)
    population: str = Field(default="", max_length=10_000)
    time_zone: str = Field(default="UTC", max_length=64)
    strips_location: bool = Field(default=False, description="Whether pictures are handed on without their place.")
    tells_contact: bool = Field(
        default=False, description="Whether e-mail and phone of enumerators go along as paradata."
    )
    two_sign: bool = Field(default=False, description="Whether a release goes out only once a second person signs it.")
    rounds: list[Round] | None = Field(default=None, max_length=200, description="Left out, they stay as they are.")


class NewStudy(StudyIn):
    """`data_manager` is the sign-in name of whoever manages it; whoever makes it does where it is left out."""

    data_manager: str = Field(default="", max_length=64)


class StudyChange(StudyIn):
    """`version` is that of the facts that were changed."""

    version: int


def _out(session: Session, study: Study) -> StudyOut:
    releases = select(func.count()).where(Release.questionnaire_id == Questionnaire.id).scalar_subquery()
    columns = (Questionnaire.id, Questionnaire.title, Questionnaire.script["languages"], releases)
    lines = session.execute(
        select(*columns).where(Questionnaire.study_id == study.id, Questionnaire.describes == "interviews")
    )
    mine = select(Membership.roles, Membership.supervises).where(
        Membership.study_id == study.id, Membership.person_id == caller().person_id, Membership.left_at.is_(None)
    )
    roles, supervises = session.execute(mine).tuples().first() or ([], [])
    limits = limited_to(roles, supervises)
    counted = select(func.count()).where(Interview.study_id == study.id, Interview.practice.is_(False))
    if limits is not None:
        counted = counted.where(of_teams(study.id, limits, Interview.person_id, Interview.enumerator))
    interviews = session.scalar(counted)
    teams = session.scalars(select(Team.name).where(Team.id.in_(limits or [])).order_by(Team.name))
    return StudyOut(
        id=study.id, title=study.title, purpose=study.purpose, population=study.population,
        time_zone=study.time_zone, strips_location=study.strips_location, tells_contact=study.tells_contact,
        two_sign=study.two_sign, rounds=[Round.model_validate(one) for one in study.rounds],
        version=study.version, created_at=study.created_at, interviews=interviews or 0,
        questionnaires=[QuestionnaireLine(id=i, title=title, releases=n, languages=tags or []) for i, title, tags, n in lines],
        roles=roles, permissions=sorted(granted(roles, limits)), teams=list(teams),
    )  # fmt: skip


@api.route_for("get", "", needs="signed-in", returns=list[StudyOut])
def list_all() -> list[StudyOut]:
    """The studies of whoever asks."""
    mine = select(Membership.study_id).where(Membership.person_id == caller().person_id, Membership.left_at.is_(None))
    with store().reading() as session:
        studies = session.scalars(select(Study).where(Study.id.in_(mine)).order_by(Study.title))
        return [_out(session, study) for study in studies]


@api.route_for("post", "", needs="administrator", returns=StudyOut, status=201)
def create(body: NewStudy) -> StudyOut:
    """Make a study and its data manager; whoever administers the server sees nothing of it by that alone."""
    _check_zone(body.time_zone)
    with store().session() as session:
        wanted = (
            Person.login == plain_login(body.data_manager) if body.data_manager else Person.id == caller().person_id
        )
        manager = session.scalar(select(Person).where(wanted))
        if manager is None:
            raise Problem("no_such_person", f"Nobody signs in as {body.data_manager}. Add the person first.")
        study = Study(**body.model_dump(exclude={"data_manager", "rounds"}), rounds=_rounds(body))
        session.add(study)
        session.flush()
        join(session, study.id, manager, ["data_manager"])
        session.add(desk().event(study.id, "study made"))
        return _out(session, study)


def _rounds(body: StudyIn) -> list[dict[str, Any]]:
    return [one.model_dump(mode="json") for one in in_order(body.rounds or [])]


# Names that mean another zone, or none, on every machine.
_NO_ZONES = {"Factory", "localtime"}


def _check_zone(name: str) -> None:
    if name not in available_timezones() - _NO_ZONES:
        raise Problem("unknown_time_zone", f"“{name}” is no time zone. Write it like UTC or Etc/GMT+8.")


@api.route_for("get", "/<int:study_id>", needs="study.read", returns=StudyOut)
def show(path: StudyPath) -> StudyOut:
    with store().reading() as session:
        return _out(session, the_study(session, path.study_id))


@api.route_for("put", "/<int:study_id>", needs="study.write", returns=StudyOut)
def change(path: StudyPath, body: StudyChange) -> StudyOut:
    _check_zone(body.time_zone)
    with store().session() as session:
        study = the_study(session, path.study_id)
        same_version(study.version, body.version)
        for field, value in body.model_dump(exclude={"version", "rounds"}).items():
            setattr(study, field, value)
        if body.rounds is not None:
            study.rounds = _rounds(body)
        study.version += 1
        session.add(desk().event(study.id, "study facts changed"))
        return _out(session, study)
