"""One guard: every route × every role × (own study, another study, no study, a device from elsewhere, one cut off)."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from io import BytesIO
from typing import Any
from uuid import uuid4

import polars as pl
import pytest
from flask import Flask
from sqlalchemy import select

from skavo.core.cleaning.steps import Recode, write_step
from skavo.core.estimation.tables import TableRequest, write_request
from skavo.core.modules.module import MODULE
from skavo.core.modules.shelf import READY
from skavo.core.permissions import OF_JOB, ROLES, granted
from skavo.core.questionnaire.script import Script, write_script
from skavo.jobs.mail import Mail
from skavo.jobs.works import kinds_of
from skavo.store.database import Store
from skavo.store.files import keep_file
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
    Person,
    PlanStep,
    Questionnaire,
    Release,
    Sample,
    SavedLayer,
    SavedTable,
    ShelfFile,
    SourceCheck,
    Team,
    Unit,
    UnitChange,
    UnitKind,
    Visit,
    VisitAttempt,
    VisitList,
    now,
)
from skavo.store.people import join
from skavo.store.recipes import own_set
from skavo.store.secrets import hash_of, new_secret
from skavo.web.guard import NEEDS, SCOPED, check_routes
from tests.store.study import small_study
from tests.web.conftest import Desk

Route = tuple[str, str, str]
NO_STUDY = 2**40
# Ordered from what is harmless to what takes others' objects away.
_SERVERS = ("open", "signed-in", "device", "device to wipe", "administrator")


def objects_in(store: Store) -> dict[str, int]:
    """A study of its own with one of everything that an address can name."""
    study = small_study(store)
    study.arrive(study.document())
    with store.session() as session:
        person = Person(name="Somebody Else")
        session.add(person)
        session.flush()
        member = join(session, study.study_id, person, ["data_manager"])
        q, by = study.questionnaire_id, {"created_by": "x"}
        cells = BytesIO()
        pl.DataFrame({"a": ["1"]}).write_parquet(cells)
        team = Team(study_id=study.study_id, name="North")
        job = Job(study_id=study.study_id, kind="extract", order={"options": {"masked": True}}, state="failed", **by)
        step = PlanStep(
            questionnaire_id=q, body=write_step(Recode(kind="recode", variable="consent", mapping={"a": "b"})), **by
        )
        outside = OutsideTable(
            questionnaire_id=q, name="t", file_name="t.csv", file_hash=keep_file(store.files, cells.getvalue()), columns=["a"], rows=1, **by
        )  # fmt: skip
        session.add(outside)
        session.flush()
        said = MatchDecision(
            questionnaire_id=q, outside_id=outside.id, place="0001", ours="a", theirs="b", decided="same",
            shown={"ours": "a", "theirs": "b"}, **by,
        )  # fmt: skip
        across = SourceCheck(questionnaire_id=q, table="interviews", rule="consent", strength="must", **by)
        own = own_set(session, q)
        mine = NamedDataSet(study_id=study.study_id, title="Mine", recipe=own.recipe, **by)
        gone = NamedDataSet(study_id=study.study_id, title="Gone", recipe=own.recipe, removed_at=now(), **by)
        session.add_all([mine, gone])
        session.flush()
        table = SavedTable(
            data_set_id=mine.id, title="T", request=write_request(TableRequest(show="share", variable="consent")), **by
        )
        lines = MODULE.write(READY[-1].model_dump(mode="json"))
        module = KeptModule(study_id=study.study_id, name="mine", body=lines, **by)
        picture = keep_file(store.files, b"shown")
        shown = ShelfFile(
            study_id=study.study_id, name="a.png", hash=picture, type="image/png", bytes=5, phone_hash="0" * 64,
            phone_type="image/png", phone_bytes=5, created_by="x",
        )  # fmt: skip
        profile = KeptProfile(study_id=study.study_id, name="rain", settings={})
        sheet = MapSheet(
            study_id=study.study_id, name="isles", form="shapes", file_hash=keep_file(store.files, b"{}"), bytes=2,
            bounds=[0, 0, 1, 1], detail={}, created_by="Dora",
        )  # fmt: skip
        link = Link(study_id=study.study_id, questionnaire_id=q, title="L", entry="personal", secret=new_secret(), **by)
        release = session.scalars(select(Release).where(Release.questionnaire_id == q)).first()
        assert release is not None
        batch = Batch(
            study_id=study.study_id,
            questionnaire_id=q,
            release_id=release.id,
            name="B",
            language="en",
            received=1,
            **by,
        )
        session.add_all([team, job, step, said, across, table, module, shown, profile, sheet, link, batch])
        session.flush()
        addressee = Addressee(link_id=link.id, name="Ada", email="ada@isles.example", secret=new_secret())
        form = PaperForm(batch_id=batch.id, number="1", uuid=str(uuid4()), is_twice=True)
        session.add_all([addressee, form])
        session.flush()
        fields = Questionnaire(
            study_id=study.study_id, title="K", script=write_script(Script(name="k")), describes="units"
        )
        session.add(fields)
        session.flush()
        kind = UnitKind(study_id=study.study_id, questionnaire_id=fields.id, settings={}, created_by="x")
        session.add(kind)
        session.flush()
        unit = Unit(study_id=study.study_id, kind_id=kind.id, key="1")
        sample = Sample(
            study_id=study.study_id, name="s", source={"table": {"file": picture, "name": "f.csv", "key": "k"}}, created_by="x",
            plan={"by": "simple", "size": 1, "seed": 1}, frame_hash=picture, frame_count=1, drawn=1,
            told={"left_out": [], "drawn": 1, "reserves": 0, "certain": 0, "strata": [], "weights": 1, "least_weight": 1, "most_weight": 1},
        )  # fmt: skip
        visits = VisitList(study_id=study.study_id, questionnaire_id=q, name="v", rules={}, created_by="x")
        session.add_all([unit, sample, visits])
        session.flush()
        visit = Visit(study_id=study.study_id, list_id=visits.id, unit_id=unit.id, key="1")
        session.add(visit)
        session.flush()
        attempt = VisitAttempt(
            study_id=study.study_id, visit_id=visit.id, identity=str(uuid4()), outcome="locked", at=now(), by="x"
        )
        changed = UnitChange(
            study_id=study.study_id, number=1, uuid=str(uuid4()), hash="0" * 64, identity="0" * 32, standing="taken",
            by="x", made_at=now(), raw=b"{}",
        )  # fmt: skip
        kept = SavedLayer(study_id=study.study_id, name="x", query={"of": "units", "named": 1}, off=[], created_by="x")
        session.add_all([attempt, changed, kept])
        session.flush()
        interview = session.scalars(select(Interview).where(Interview.study_id == study.study_id)).one()
        return {
            "study_id": study.study_id, "questionnaire_id": q, "interview_id": interview.id,
            "device_id": study.device_id, "job_id": job.id, "member_id": member.id, "team_id": team.id,
            "data_set_id": mine.id, "removed_id": gone.id, "step_id": step.id, "outside_id": outside.id, "table_id": table.id, "decision_id": said.id, "source_check_id": across.id,
            "module_id": module.id, "shelf_file_id": shown.id, "profile_id": profile.id, "sheet_id": sheet.id,
            "link_id": link.id, "addressee_id": addressee.id, "batch_id": batch.id, "form_id": form.id, "kind_id": kind.id,
            "unit_id": unit.id, "sample_id": sample.id,
            "list_id": visits.id, "visit_id": visit.id, "attempt_id": attempt.id, "change_id": changed.id, "layer_id": kept.id,
        }  # fmt: skip


def routes_of(app: Flask, numbers: dict[str, int]) -> Iterator[Route]:
    """(method, address with `numbers` in it, what it needs) of every route of the interface."""
    for rule in app.url_map.iter_rules():
        if not rule.rule.startswith("/api"):
            continue
        address = rule.rule
        for name in rule.arguments:
            fill = "0" * 64 if name == "hash" else "0" * 32 if name == "identity" else str(numbers.get(name, 1))
            for form in (f"<int:{name}>", f"<string:{name}>"):
                address = address.replace(form, fill)
        for method in rule.methods - {"HEAD", "OPTIONS"}:
            yield method, address, getattr(app.view_functions[rule.endpoint], NEEDS)


def in_study(routes: Iterator[Route]) -> list[Route]:
    return [route for route in routes if route[2] not in _SERVERS]


def told(desk: Desk, route: Route) -> tuple[int, str]:
    """Status and code of the answer to a request with an empty body."""
    response = desk.call(route[0], route[1], {} if route[0] != "GET" else None)
    body = response.get_json(silent=True)
    return response.status_code, body.get("code", "") if isinstance(body, dict) else ""


REFUSED, NOTHING, STRANGER = (403, "not_allowed"), (404, "not_found"), (401, "not_signed_in")


@pytest.fixture
def mine(app: Any) -> dict[str, int]:
    """The demo's own study, in which every role has somebody."""
    store: Store = app.extensions["skavo_store"]
    with store.reading() as session:
        member = session.scalars(select(Membership).where(Membership.study_id == 1)).first()
        assert member is not None
        return {"study_id": 1, "questionnaire_id": 1, "member_id": member.id}


def test_in_their_own_study_every_role_gets_what_it_may_and_is_refused_the_rest(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    store: Store = app.extensions["skavo_store"]
    for role in ROLES:
        everything = objects_in(store)
        # What takes something away comes last.
        routes = sorted(in_study(routes_of(app, everything)), key=lambda route: route[0] == "DELETE")
        assert len(routes) > 50
        person = desk(role)
        with store.session() as session:
            join(session, everything["study_id"], session.scalars(_called(role)).one(), [role])
        for route in routes:
            status, code = told(person, route)
            # The job of these objects is an extract.
            needs = OF_JOB["extract"] if route[2] == "that of the job" else route[2]
            if needs in granted([role]):
                # Whatever the empty body is worth: the guard let it through.
                assert (status, code) != REFUSED, (role, route)
                assert status not in (401, 500), (role, route, status)
            else:
                assert (status, code) == REFUSED, (role, route, status, code)


def _called(role: str) -> Any:
    from tests.web.conftest import LOGINS

    return select(Person).where(Person.login == LOGINS[role])


@pytest.mark.parametrize("role", [*ROLES])
def test_what_belongs_to_another_study_does_not_exist(app: Any, desk: Callable[[str], Desk], role: str) -> None:
    """Not even for whoever administers the server."""
    theirs = objects_in(app.extensions["skavo_store"])
    person = desk(role)
    for route in in_study(routes_of(app, theirs)):
        assert told(person, route) == NOTHING, (role, route)


def test_what_is_nowhere_does_not_exist(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    for number in (NO_STUDY, 2**63, 10**30):
        for route in in_study(routes_of(app, dict.fromkeys(SCOPED, number))):
            assert told(person, route) == NOTHING, route


def test_an_address_that_mixes_two_studies_names_nothing(app: Any, desk: Callable[[str], Desk]) -> None:
    theirs = objects_in(app.extensions["skavo_store"])
    person = desk("data_manager")
    for one in ("member_id", "team_id"):
        mixed = in_study(routes_of(app, {**theirs, "study_id": 1}))
        assert {told(person, r) for r in mixed if f"/{one.removesuffix('_id')}" in r[1] and str(theirs[one]) in r[1]} <= {
            NOTHING, (200, ""), (403, "confirm_first"), (422, "wrong_request"),
        }  # fmt: skip
    for name in ("step_id", "outside_id", "table_id", "decision_id", "source_check_id"):
        mixed = [r for r in in_study(routes_of(app, {**theirs, "questionnaire_id": 1})) if r[1].count("/") > 4]
        found = {told(person, r) for r in mixed if r[1].endswith(f"/{theirs[name]}") and "/sent-tables/" not in r[1]}
        assert found <= {NOTHING}, name


def test_who_has_left_is_a_stranger_to_the_study(app: Any, desk: Callable[[str], Desk], mine: dict[str, int]) -> None:
    person = desk("analyst")
    store: Store = app.extensions["skavo_store"]
    with store.session() as session:
        analyst = session.scalars(_called("analyst")).one()
        session.scalars(select(Membership).where(Membership.person_id == analyst.id)).one().left_at = now()
    assert told(person, ("GET", "/api/studies/1", "study.read")) == NOTHING
    assert person.answer("GET", "/api/studies") == []


def test_nobody_who_is_not_signed_in_gets_anything_but_the_way_in(app: Any, mine: dict[str, int]) -> None:
    stranger = Desk(app.test_client())
    for route in routes_of(app, mine):
        if route[2] in ("device", "device to wipe"):
            assert told(stranger, route) == (401, "device_unknown"), route
        elif route[2] != "open":
            assert told(stranger, route) == STRANGER, route


def test_only_administrators_run_the_server(app: Any, desk: Callable[[str], Desk], mine: dict[str, int]) -> None:
    routes = [route for route in routes_of(app, mine) if route[2] == "administrator"]
    assert len(routes) >= 6
    for role in ROLES:
        person = desk(role)
        for route in routes:
            status, code = told(person, route)
            assert ((status, code) == REFUSED) is (role != "data_manager"), (role, route, status)


def device(store: Store, study_id: int, token: str, **more: Any) -> None:
    with store.session() as session:
        session.add(Device(study_id=study_id, name="p", enumerator="E", token_hash=hash_of(token), **more))


def test_a_device_of_another_study_or_cut_off_or_unknown_gets_nothing_of_this_one(app: Any) -> None:
    store: Store = app.extensions["skavo_store"]
    other = small_study(store)
    device(store, other.study_id, "theirs")
    device(store, 1, "lost", cut_off_at=now())
    client = app.test_client()

    def asked(token: str, method: str, address: str) -> tuple[int, str]:
        response = client.open(address, method=method, headers={"Authorization": f"Bearer {token}"}, json={})
        return response.status_code, (response.get_json(silent=True) or {}).get("code", "")

    routes = [route for route in routes_of(app, {}) if route[2] == "device"]
    assert len(routes) == 18
    for method, address, _ in routes:
        assert asked("lost", method, address) == (403, "not_allowed"), address
        assert asked("made up", method, address) == (401, "device_unknown"), address
    device(store, 1, "to wipe", wipe_at=now())
    for method, address, _ in routes:
        assert asked("to wipe", method, address) == (403, "wipe_ordered"), address
    with store.reading() as session:
        from skavo.store.models import Release

        release = session.scalars(select(Release).join(Questionnaire).where(Questionnaire.study_id == 1)).first()
        assert release is not None
    assert asked("theirs", "GET", f"/api/field/releases/{release.identity}") == NOTHING
    assert asked("theirs", "GET", f"/api/field/releases/{release.hash}") == NOTHING


def test_a_route_that_names_no_permission_does_not_start(app: Any) -> None:
    views = dict(app.view_functions)
    rule = next(r for r in app.url_map.iter_rules() if r.rule == "/api/studies/<int:study_id>")
    views[rule.endpoint] = lambda: None
    with pytest.raises(RuntimeError, match="names no permission"):
        check_routes([rule], views)


def test_a_route_in_a_study_whose_address_names_none_does_not_start(app: Any) -> None:
    views = dict(app.view_functions)
    rule = next(r for r in app.url_map.iter_rules() if r.rule == "/api/kinds")

    def view() -> None:
        return None

    setattr(view, NEEDS, "script.read")
    with pytest.raises(RuntimeError, match="names no study"):
        check_routes([rule], {**views, rule.endpoint: view})


def test_every_kind_of_job_says_whose_it_is() -> None:
    assert {kind for kind, about in kinds_of(Mail).items() if about.every is None} == {*OF_JOB}


@pytest.mark.parametrize("kind", [*OF_JOB])
@pytest.mark.parametrize("role", [*ROLES])
def test_a_job_is_stopped_and_fetched_by_whoever_may_order_it(
    app: Any, desk: Callable[[str], Desk], kind: str, role: str
) -> None:
    store: Store = app.extensions["skavo_store"]
    with store.session() as session:
        order = {"options": {"masked": True}}
        session.add(Job(study_id=1, kind=kind, order=order, state="waiting", created_by="x"))
    person, may = desk(role), OF_JOB[kind] in granted([role])
    assert (told(person, ("GET", "/api/jobs/1/file", "")) == REFUSED) is not may
    assert (told(person, ("POST", "/api/jobs/1/cancel", "")) == REFUSED) is not may
    with store.reading() as session:
        assert session.scalars(select(Job.state)).one() == ("cancelled" if may else "waiting")


def test_an_unknown_role_may_nothing() -> None:
    assert granted(["stranger", ""]) == frozenset()


def test_several_roles_may_what_any_of_them_may() -> None:
    assert granted(["analyst", "keyer"]) == granted(["analyst"]) | granted(["keyer"])
