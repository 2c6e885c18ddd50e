"""One guard before every view: whose study it is, who asks, and whether they may. Views do not look again.

What belongs to another study does not exist for the one who asks: it is a 404, as if it had never been.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import current_app, g, request
from flask_login import current_user
from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from skavo.core.permissions import OF_JOB, Open, Permission, ThatOfTheJob, granted, limited_to
from skavo.services.refusals import not_found
from skavo.store.database import Store
from skavo.store.models import (
    Addressee,
    Batch,
    Device,
    Interview,
    Job,
    KeptModule,
    KeptProfile,
    Link,
    MapSheet,
    MatchDecision,
    Membership,
    NamedDataSet,
    OutsideTable,
    PaperForm,
    PlanStep,
    Questionnaire,
    Sample,
    SavedLayer,
    SavedTable,
    ShelfFile,
    Study,
    Team,
    Unit,
    UnitChange,
    UnitKind,
    Visit,
    VisitAttempt,
    VisitList,
)
from skavo.store.people import of_teams
from skavo.store.secrets import hash_of
from skavo.web.problems import Problem

NEEDS = "_skavo_needs"
Needs = Permission | Open | ThatOfTheJob
# What the numbers in an address name, and in which study it lies. Larger ones than a database holds name nothing.
_LARGEST = 2**63 - 1
_STUDY_OF: dict[str, Select[Any]] = {
    "study_id": select(Study.id),
    "questionnaire_id": select(Questionnaire.study_id),
    "data_set_id": select(NamedDataSet.study_id).where(NamedDataSet.removed_at.is_(None)),
    "interview_id": select(Interview.study_id),
    "device_id": select(Device.study_id),
    "job_id": select(Job.study_id),
    "member_id": select(Membership.study_id),
    "team_id": select(Team.study_id),
    "module_id": select(KeptModule.study_id),
    "shelf_file_id": select(ShelfFile.study_id),
    "profile_id": select(KeptProfile.study_id),
    "link_id": select(Link.study_id),
    "sheet_id": select(MapSheet.study_id),
    "sample_id": select(Sample.study_id),
    "list_id": select(VisitList.study_id),
    "visit_id": select(Visit.study_id),
    "attempt_id": select(VisitAttempt.study_id),
    "kind_id": select(UnitKind.study_id),
    "unit_id": select(Unit.study_id),
    "change_id": select(UnitChange.study_id),
    "layer_id": select(SavedLayer.study_id),
    "batch_id": select(Batch.study_id),
    "form_id": select(Batch.study_id).join(PaperForm, PaperForm.batch_id == Batch.id),
    "addressee_id": select(Link.study_id).join(Addressee, Addressee.link_id == Link.id),
}
_NAMED: dict[str, Any] = {
    "study_id": Study.id, "questionnaire_id": Questionnaire.id, "data_set_id": NamedDataSet.id, "interview_id": Interview.id, "device_id": Device.id,
    "job_id": Job.id, "member_id": Membership.id, "team_id": Team.id,
    "module_id": KeptModule.id, "shelf_file_id": ShelfFile.id, "profile_id": KeptProfile.id, "link_id": Link.id,
    "addressee_id": Addressee.id, "batch_id": Batch.id, "form_id": PaperForm.id,
    "sheet_id": MapSheet.id, "kind_id": UnitKind.id, "unit_id": Unit.id, "change_id": UnitChange.id, "layer_id": SavedLayer.id,
    "sample_id": Sample.id, "list_id": VisitList.id, "visit_id": Visit.id, "attempt_id": VisitAttempt.id,
}  # fmt: skip
# What lies in something else, and is named after it in an address: the rows of both, by the column that says so.
_INSIDE: dict[str, tuple[Any, str]] = {
    "step_id": (PlanStep, "questionnaire_id"),
    "outside_id": (OutsideTable, "questionnaire_id"),
    "decision_id": (MatchDecision, "questionnaire_id"),
    "table_id": (SavedTable, "data_set_id"),
}
SCOPED = frozenset({*_STUDY_OF, *_INSIDE})


@dataclass(frozen=True)
class Caller:
    """Who asks. `study_id` is the study that the route or the device belongs to, None for what belongs to the server;
    `name` is the one they have there. `teams` are those whose work they may know of, None for the whole study."""

    name: str
    person_id: int | None = None
    device_id: int | None = None
    study_id: int | None = None
    permissions: frozenset[Permission] = frozenset()
    teams: frozenset[int] | None = None


def caller() -> Caller:
    """Who asks, as the guard found them."""
    found: Caller = g.caller
    return found


def guard() -> None:
    """Before every request: find study, person or device, and permission; refuse whoever lacks it."""
    if request.endpoint is None or request.method == "OPTIONS":
        return
    view = current_app.view_functions[request.endpoint]
    needs: Needs | None = getattr(view, NEEDS, None)
    if needs is None:
        if request.endpoint not in current_app.config["OPEN_PAGES"]:
            raise Problem("not_allowed", "This is not open to anyone.")
        return
    store: Store = current_app.extensions["skavo_store"]
    with store.reading() as session:
        g.caller = _device(session, needs) if needs in ("device", "device to wipe") else _person(session, needs)


def _person(session: Session, needs: Needs) -> Caller:
    if not current_user.is_authenticated:
        if needs == "open":
            return Caller("unknown")
        raise Problem("not_signed_in", "Sign in to go on.")
    somebody = Caller(current_user.name, current_user.id)
    if needs in ("open", "signed-in"):
        return somebody
    if needs == "administrator":
        if not current_user.is_administrator:
            raise Problem("not_allowed", "Only whoever administers this server may do this.")
        return somebody
    member = _membership(session, _study_asked(session), current_user.id)
    teams = limited_to(member.roles, member.supervises)
    permissions = granted(member.roles, teams)
    if _permission(session, needs) not in permissions:
        raise Problem("not_allowed", "Your role does not allow this. Ask the data manager of the study.")
    if teams is not None:
        _check_teams(session, member.study_id, teams)
    return Caller(member.name, current_user.id, None, member.study_id, permissions, teams)


def _check_teams(session: Session, study_id: int, teams: frozenset[int]) -> None:
    """The interview and the device that an address names belong to the teams of whoever asks; else they do not exist."""
    named = request.view_args or {}
    for name, model, owner in (
        ("interview_id", Interview, Interview.enumerator), ("device_id", Device, Device.enumerator),
    ):  # fmt: skip
        if name in named:
            theirs = select(model.id).where(model.id == named[name], of_teams(study_id, teams, model.person_id, owner))
            if session.scalar(theirs) is None:
                raise not_found(name.removesuffix("_id"))


def _permission(session: Session, needs: Needs) -> Needs:
    if needs != "that of the job":
        return needs
    return OF_JOB[session.get_one(Job, (request.view_args or {})["job_id"]).kind]


def _membership(session: Session, study_id: int, person_id: int) -> Membership:
    found = session.scalar(
        select(Membership).where(
            Membership.study_id == study_id, Membership.person_id == person_id, Membership.left_at.is_(None)
        )
    )
    if found is None:
        raise not_found("study")
    return found


def _study_asked(session: Session) -> int:
    """The study that everything named in the address belongs to; 404 where there is none, or several."""
    named = {name: value for name, value in (request.view_args or {}).items() if name in SCOPED}
    if any(value > _LARGEST for value in named.values()):
        raise not_found("number")
    studies: set[int | None] = {
        session.scalar(_STUDY_OF[name].where(_NAMED[name] == value))
        for name, value in named.items()
        if name in _STUDY_OF
    }
    for name, (model, around) in _INSIDE.items():
        if name in named:
            inside = select(model.id).where(model.id == named[name], getattr(model, around) == named[around])
            if session.scalar(inside) is None:
                raise not_found(name.removesuffix("_id"))
    study = studies.pop() if len(studies) == 1 else None
    if study is None:
        raise not_found(next(iter(named)).removesuffix("_id").replace("member", "person"))
    return study


def is_device() -> bool:
    """Whether a request comes from a device that may do its work, whatever it asks for."""
    store: Store = current_app.extensions["skavo_store"]
    with store.reading() as session:
        device = _bearer(session)
    return device is not None and device.cut_off_at is None and device.wipe_at is None


def _bearer(session: Session) -> Device | None:
    scheme, _, token = request.headers.get("Authorization", "").partition(" ")
    return session.scalar(select(Device).where(Device.token_hash == hash_of(token))) if scheme == "Bearer" else None


def _device(session: Session, needs: Needs) -> Caller:
    """The device that is asking, by its bearer token."""
    device = _bearer(session)
    if device is None:
        raise Problem("device_unknown", "This device is not paired. Pair it again with a code from the office.")
    is_to_be_wiped = device.wipe_at is not None and device.wiped_at is None
    if is_to_be_wiped and needs != "device to wipe":
        raise Problem("wipe_ordered", "The office has ordered this device to forget everything.")
    if device.cut_off_at is not None and not is_to_be_wiped:
        raise Problem("not_allowed", "The office has cut this device off. Nothing on it is lost; ask the office.")
    return Caller(device.enumerator, device.person_id, device.id, device.study_id)


def check_routes(rules: Any, views: Any) -> None:
    """A route that names no permission, or one whose study cannot be found from its address, does not start."""
    for rule in rules:
        needs = getattr(views[rule.endpoint], NEEDS, None)
        if not rule.rule.startswith("/api"):
            continue
        if needs is None:
            raise RuntimeError(f"{rule.rule} names no permission.")
        in_study = needs not in ("open", "signed-in", "device", "device to wipe", "administrator")
        if in_study is not bool(SCOPED & set(rule.arguments)):
            raise RuntimeError(f"{rule.rule} needs {needs}, but its address names no study, or names one in vain.")
