"""A supervisor of some teams knows of their work only; what others do is not there for them."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.permissions import granted, limited_to
from skavo.store.database import Store
from skavo.store.models import Device, Interview, Membership, Person, Team
from skavo.store.people import join
from skavo.store.secrets import hash_of
from tests.store.study import SmallStudy, small_study
from tests.web.conftest import Desk
from tests.web.test_guard import NOTHING, in_study, routes_of
from tests.web.test_guard import told as answered

BROKEN = {"consent": True, "workers": -1}


@pytest.fixture
def study(app: Any) -> SmallStudy:
    """Two teams with an enumerator each, an interview of each; Sela supervises North and not South."""
    store: Store = app.extensions["skavo_store"]
    made = small_study(store)
    with store.session() as session:
        teams = [Team(study_id=made.study_id, name=name) for name in ("North", "South")]
        session.add_all(teams)
        session.flush()
        for team, name in zip(teams, ("Nora North", "Sam South"), strict=True):
            person = Person(name=name)
            session.add(person)
            session.flush()
            join(session, made.study_id, person, ["enumerator"], team.id)
            session.add(
                Device(
                    study_id=made.study_id, name=f"phone of {name}", enumerator=name, person_id=person.id,
                    token_hash=hash_of(name),
                )
            )  # fmt: skip
        for login, role in (("sela", "supervisor"), ("dora", "data_manager")):
            person = session.scalars(select(Person).where(Person.login == login)).one()
            join(session, made.study_id, person, [role], None, [teams[0].id] if login == "sela" else None)
        phones = [
            d.id for d in session.scalars(select(Device).where(Device.person_id.is_not(None)).order_by(Device.id))
        ]
    for phone in phones:
        made.arrive(made.document(answers=BROKEN), device_id=phone)
    return made


def numbers(app: Any, study: SmallStudy, name: str) -> dict[str, int]:
    with app.extensions["skavo_store"].reading() as session:
        interview = session.scalars(select(Interview).where(Interview.enumerator == name)).one()
        device = session.scalars(select(Device).where(Device.enumerator == name)).one()
        member = session.scalars(select(Membership).where(Membership.name == name)).one()
    return {
        "study_id": study.study_id, "questionnaire_id": study.questionnaire_id, "interview_id": interview.id,
        "device_id": device.id, "member_id": member.id,
    }  # fmt: skip


def test_nothing_that_is_read_tells_of_another_teams_work(
    app: Any, desk: Callable[[str], Desk], study: SmallStudy
) -> None:
    sela, dora, mine = desk("supervisor"), desk("data_manager"), numbers(app, study, "Nora North")
    # Who works in the study is told whole; it is their work that is not.
    routes = [
        (method, address) for method, address, needs in in_study(routes_of(app, mine))
        if method == "GET" and needs in granted(["supervisor"]) and not address.endswith("/people")
    ]  # fmt: skip
    assert len(routes) > 15
    assert [address for method, address in routes if b"Sam South" in sela.call(method, address).data] == []
    seen = [address for method, address in routes if b"Sam South" in dora.call(method, address).data]
    assert {address.rsplit("/", 1)[-1] for address in seen} >= {"interviews", "devices", "logbook", "checks"}


def test_another_teams_interview_and_phone_do_not_exist(
    app: Any, desk: Callable[[str], Desk], study: SmallStudy
) -> None:
    sela, theirs, mine = desk("supervisor"), numbers(app, study, "Sam South"), numbers(app, study, "Nora North")
    may = granted(["supervisor"])
    named = {  # By the number in the address that lies outside.
        name: [r for r in in_study(routes_of(app, {**mine, name: theirs[name]})) if f"/{name[:-3]}s/" in r[1]]
        for name in ("interview_id", "device_id")
    }  # fmt: skip
    for routes in named.values():
        allowed = [route for route in routes if route[2] in may]
        assert len(allowed) >= 2
        assert [route for route in allowed if answered(sela, route) != NOTHING] == []
    assert answered(sela, ("GET", f"/api/interviews/{mine['interview_id']}", ""))[0] == 200


def test_every_figure_is_of_their_own_teams(desk: Callable[[str], Desk], app: Any, study: SmallStudy) -> None:
    sela, at = desk("supervisor"), f"/api/studies/{study.study_id}"
    assert sela.answer("GET", f"{at}/interviews")["total"] == sela.answer("GET", at)["interviews"] == 1
    assert desk("data_manager").answer("GET", at)["interviews"] == 2
    assert sela.answer("GET", f"{at}/checks")["interviews"] == 1
    logbook = sela.answer("GET", f"{at}/logbook")
    assert (logbook["interviews"], logbook["account"]["arrived"], logbook["account"]["in_data_set"]) == (1, 1, 1)
    assert {matter["kind"]: matter["count"] for matter in logbook["matters"]}["unread"] == 1
    assert sela.answer("GET", f"{at}/stations")["stations"]["interviews"]["waiting"] == 1
    assert desk("data_manager").answer("GET", f"{at}/logbook")["account"]["in_data_set"] == 2
    reading = sela.answer("GET", f"/api/interviews/{numbers(app, study, 'Nora North')['interview_id']}")
    assert (reading["previous"], reading["next"]) == (None, None)
    figure = json.dumps({"data_set_id": study.own_set, "request": {"variable": "consent"}, "row": "yes", "column": "*"})  # fmt: skip
    assert sela.problem("GET", f"{at}/interviews?figure={figure}")[:2] == (403, "not_allowed")
    table = f"/api/data-sets/{study.own_set}/table"
    assert sela.problem("POST", table, {"variable": "consent"})[:2] == (403, "not_allowed")


def test_phones_are_paired_and_their_files_read_in_for_their_own_teams_only(
    app: Any, desk: Callable[[str], Desk], study: SmallStudy
) -> None:
    sela, at = desk("supervisor"), f"/api/studies/{study.study_id}/pairing-codes"
    mine, theirs = (numbers(app, study, name)["member_id"] for name in ("Nora North", "Sam South"))
    assert sela.call("POST", at, {"member_ids": [mine]}).status_code == 201
    assert sela.problem("POST", at, {"member_ids": [theirs]})[1] == "not_your_team"
    bundle = (Path(__file__).parents[1] / "museum" / "bundles" / "bundle-1.skavo.zip").read_bytes()
    bundles = f"/api/studies/{study.study_id}/bundle-files/{'b' * 64}"
    assert sela.problem("PUT", bundles, bundle)[1] == "not_your_team"
    assert desk("data_manager").call("PUT", bundles, bundle).status_code == 200


def test_supervised_teams_are_set_and_the_last_one_is_not_removed_from_under_a_supervisor(
    app: Any, desk: Callable[[str], Desk], study: SmallStudy
) -> None:
    dora, at = desk("data_manager"), f"/api/studies/{study.study_id}"
    people = dora.answer("GET", f"{at}/people")
    north, south = people["teams"]
    (sela,) = [p for p in people["people"] if p["login"] == "sela"]
    assert sela["supervises"] == [north["id"]]
    assert dora.problem("DELETE", f"{at}/teams/{north['id']}")[1] == "last_team"
    change = {"name": sela["name"], "login": "sela", "email": sela["email"], "phone": sela["phone"], "roles": ["supervisor"], "supervises": [north["id"], south["id"]], "version": sela["version"]}  # fmt: skip
    assert dora.problem("PUT", f"{at}/people/{sela['id']}", {**change, "supervises": [10**6]})[1] == "no_such_team"
    dora.answer("PUT", f"{at}/people/{sela['id']}", change)
    assert desk("supervisor").answer("GET", f"{at}/interviews")["total"] == 2
    dora.answer("DELETE", f"{at}/teams/{north['id']}")
    assert desk("supervisor").answer("GET", f"{at}/interviews")["total"] == 1


@pytest.mark.parametrize(
    ("roles", "teams", "limited"),
    [
        (["supervisor"], [], None),
        (["supervisor"], [3], {3}),
        (["supervisor", "enumerator"], [3, 4], {3, 4}),
        (["supervisor", "analyst"], [3], None),
        (["supervisor", "data_manager"], [3], None),
        (["enumerator"], [3], None),
    ],
)
def test_teams_limit_whoever_is_a_supervisor_and_nothing_above(
    roles: list[str], teams: list[int], limited: set[int] | None
) -> None:
    found = limited_to(roles, teams)
    assert found == limited
    assert ("analyse.read" in granted(roles, found)) is ("analyse.read" in granted(roles) and limited is None)
