"""Paper questionnaires: keyed twice without sight of each other, settled one by one, and become interviews."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import select

from skavo.demo.people import PASSWORD
from skavo.services import keying
from skavo.store.models import Interview, PaperForm, Person, Revision
from skavo.web.passphrases import hash_passphrase
from tests.web.conftest import Desk

AT = "/api/studies/1"
FIRST = {"consent": True, "island": "kesk", "workers": 3}


@pytest.fixture
def manager(desk: Callable[[str], Desk]) -> Desk:
    return desk("data_manager")


@pytest.fixture
def keyer(desk: Callable[[str], Desk]) -> Desk:
    return desk("keyer")


@pytest.fixture
def other(app: Any, manager: Desk) -> Desk:
    """A second keyer."""
    manager.answer("POST", f"{AT}/people", {"name": "Lio Werk", "login": "lio", "roles": ["keyer"]})
    with app.extensions["skavo_store"].session() as session:
        session.scalars(select(Person).where(Person.login == "lio")).one().password_hash = hash_passphrase(PASSWORD)
    somebody = Desk(app.test_client())
    answer = somebody.call("POST", "/api/session", {"login": "lio", "password": PASSWORD})
    somebody.token = answer.get_json()["csrf_token"]
    return somebody


def make(manager: Desk, **more: Any) -> dict[str, Any]:
    body = {"name": "North 1", "received": 3, "questionnaire_id": 1, "language": "en", **more}
    batch: dict[str, Any] = manager.answer("POST", f"{AT}/batches", body)
    return batch


def take(person: Desk, batch: dict[str, Any], number: str = "17", **more: Any) -> dict[str, Any]:
    body = {"number": number, "enumerator": "Ilse Varn", "held_on": "2026-11-20", **more}
    taken: dict[str, Any] = person.answer("POST", f"/api/batches/{batch['id']}/forms", body)
    return taken


def keep(person: Desk, taken: dict[str, Any], answers: dict[str, Any], ended: bool = True) -> dict[str, Any]:
    body = {"turn": taken["turn"], "content": {"answers": answers, "path": None}, "seconds": 40, "ended": ended}
    kept: dict[str, Any] = person.answer("PUT", f"/api/paper-forms/{taken['form_id']}/keying", body)
    return kept


def differences(manager: Desk, form_id: int) -> dict[str, Any]:
    found: dict[str, Any] = manager.answer("GET", f"/api/paper-forms/{form_id}/differences")
    return found


def settle(manager: Desk, form_id: int, path: str, which: str, value: Any = None) -> dict[str, Any]:
    body = {"path": path, "take": which, "value": value, "version": differences(manager, form_id)["version"]}
    after: dict[str, Any] = manager.answer("POST", f"/api/paper-forms/{form_id}/differences", body)
    return after


def documents(app: Any) -> list[dict[str, Any]]:
    with app.extensions["skavo_store"].reading() as session:
        return [json.loads(raw) for raw in session.scalars(select(Revision.raw).order_by(Revision.id))]


def test_a_paper_keyed_alike_by_two_becomes_an_interview_of_who_held_it(
    app: Any, manager: Desk, keyer: Desk, other: Desk
) -> None:
    batch = make(manager)
    first = take(keyer, batch)
    assert first["turn"] == 1
    assert keep(keyer, first, FIRST) == {"state": "second to key", "differences": 0}
    second = take(other, batch)
    assert (second["turn"], second["content"]["answers"]) == (2, {})
    assert keep(other, second, FIRST) == {"state": "finished", "differences": 0}
    with app.extensions["skavo_store"].reading() as session:
        (interview,) = session.scalars(select(Interview))
    assert (interview.origin, interview.enumerator, interview.device_name) == ("paper", "Ilse Varn", "North 1, 17")
    assert (interview.minutes, interview.flags, interview.person_id is not None) == (None, [], True)
    (document,) = documents(app)
    assert document["paradata"]["paper"] == {"batch": "North 1", "number": "17"}
    assert [k["by"] for k in document["paradata"]["keyed"]] == ["Kip Ansel", "Lio Werk"]
    (told,) = manager.answer("GET", f"{AT}/batches")
    assert (told["keyed"], told["second"], told["to_settle"], told["finished"]) == (1, 0, 0, 1)


def test_differences_are_settled_in_the_order_of_the_paper_and_count_as_errors_of_the_keyers(
    app: Any, manager: Desk, keyer: Desk, other: Desk
) -> None:
    batch = make(manager)
    keep(keyer, take(keyer, batch), FIRST)
    again = take(other, batch)
    assert keep(other, again, {**FIRST, "island": "luma", "workers": 4})["state"] == "to settle"
    found = differences(manager, again["form_id"])
    assert [(d["path"], d["first"], d["second"]) for d in found["open"]] == [
        ("island", "Kesk", "Luma"), ("workers", "3", "4")
    ]  # fmt: skip
    assert (found["first"], found["second"]) == ("Kip Ansel", "Lio Werk")
    after = settle(manager, again["form_id"], "island", "other", "tarrow")
    assert [d["path"] for d in after["open"]] == ["workers"]
    after = settle(manager, again["form_id"], "workers", "second")
    assert (after["open"], after["state"], after["settled"]) == ([], "finished", 2)
    (document,) = documents(app)
    assert (document["answers"]["island"], document["answers"]["workers"]) == ("tarrow", 4)
    errors = manager.answer("GET", f"{AT}/keying-errors")
    assert errors["papers"] == 1
    assert {r["name"]: (r["keyed"], r["errors"]) for r in errors["by_keyer"]} == {
        "Kip Ansel": (3, 2), "Lio Werk": (3, 1)
    }  # fmt: skip
    assert {r["name"]: r["errors"] for r in errors["by_question"]} == {"island": 2, "workers": 1}


def test_what_hangs_on_a_difference_goes_with_it(app: Any, manager: Desk, keyer: Desk, other: Desk) -> None:
    batch = make(manager)
    keep(keyer, take(keyer, batch), FIRST)
    form = take(other, batch)["form_id"]
    keep(other, {"turn": 2, "form_id": form}, {"consent": False})
    assert [d["path"] for d in differences(manager, form)["open"]] == ["consent"]
    assert settle(manager, form, "consent", "second")["state"] == "finished"
    assert documents(app)[0]["answers"] == {"consent": False}


def test_the_second_keyer_is_somebody_else_and_sees_nothing_of_the_first(
    app: Any, manager: Desk, keyer: Desk, other: Desk
) -> None:
    batch = make(manager)
    first = take(keyer, batch)
    keep(keyer, first, FIRST, ended=False)
    status, code, _ = other.problem("POST", f"/api/batches/{batch['id']}/forms", {"number": "17"})
    assert (status, code) == (422, "keyed_by_other")
    assert take(keyer, batch)["content"]["answers"] == FIRST
    keep(keyer, first, FIRST)
    assert keyer.problem("POST", f"/api/batches/{batch['id']}/forms", {"number": "17"})[1] == "second_keyer"
    body = {"turn": 1, "content": {"answers": {}}, "ended": False}
    assert other.problem("PUT", f"/api/paper-forms/{first['form_id']}/keying", body)[1] == "keyed_by_other"
    listed = json.dumps(other.answer("GET", f"/api/batches/{batch['id']}/forms"))
    assert "kesk" not in listed
    assert other.problem("GET", f"/api/paper-forms/{first['form_id']}/differences")[0] == 403


def test_ending_twice_is_ending_once_and_an_ended_paper_is_not_typed_over(app: Any, manager: Desk, keyer: Desk) -> None:
    batch = make(manager, twice=0)
    taken = take(keyer, batch)
    assert keep(keyer, taken, FIRST)["state"] == "finished"
    assert keep(keyer, taken, FIRST)["state"] == "finished"
    body = {"turn": 1, "content": {"answers": {"consent": False}}, "ended": True}
    assert keyer.problem("PUT", f"/api/paper-forms/{taken['form_id']}/keying", body)[1] == "keyed_already"
    assert len(documents(app)) == 1
    assert keyer.problem("POST", f"/api/batches/{batch['id']}/forms", {"number": "17"})[1] == "keyed_already"


def test_what_stands_on_the_paper_against_a_check_is_kept_and_told(app: Any, manager: Desk, keyer: Desk) -> None:
    batch = make(manager, twice=0)
    keep(keyer, take(keyer, batch), {"consent": True})
    (document,) = documents(app)
    assert document["unfinished"].startswith("Stands so on the paper")
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalars(select(Interview)).one().hard_findings > 0


def test_a_paper_keyed_under_a_wrong_number_is_dropped_one_that_counts_is_not(
    app: Any, manager: Desk, keyer: Desk
) -> None:
    batch = make(manager)
    wrong = take(keyer, batch, "71")
    keep(keyer, wrong, FIRST)
    assert manager.call("DELETE", f"/api/paper-forms/{wrong['form_id']}").status_code == 204
    assert manager.answer("GET", f"/api/batches/{batch['id']}/forms")["lines"] == []
    with app.extensions["skavo_store"].session() as session:
        assert session.scalars(select(PaperForm)).all() == []
    once = make(manager, name="Once", twice=0)
    right = take(keyer, once)
    keep(keyer, right, FIRST)
    assert manager.problem("DELETE", f"/api/paper-forms/{right['form_id']}")[1] == "finished_already"


def test_a_batch_is_of_a_release_and_a_language_that_there_are_and_is_signed_once_looked_through(
    manager: Desk, keyer: Desk
) -> None:
    batch = make(manager)
    body = {"name": "North 1", "received": 1, "questionnaire_id": 1, "language": "en"}
    assert manager.problem("POST", f"{AT}/batches", body)[1] == "name_taken"
    assert manager.problem("POST", f"{AT}/batches", {**body, "name": "B", "release": 9})[1] == "no_release"
    assert manager.problem("POST", f"{AT}/batches", {**body, "name": "B", "language": "sw"})[1] == "unknown_language"
    assert keyer.problem("POST", f"{AT}/batches", {**body, "name": "B"})[0] == 403
    change = {"name": "North 1", "received": 4, "signed": {"name": "Sela Brack", "on": "2026-11-25"}, "version": 1}
    signed = manager.answer("PUT", f"/api/batches/{batch['id']}", change)
    assert (signed["received"], signed["signed"]["name"], signed["version"]) == (4, "Sela Brack", 2)
    assert manager.problem("PUT", f"/api/batches/{batch['id']}", change)[1] == "changed_meanwhile"


def test_two_who_settle_at_once_do_not_overwrite_each_other(manager: Desk, keyer: Desk, other: Desk) -> None:
    batch = make(manager)
    keep(keyer, take(keyer, batch), {**FIRST, "workers": 2})
    form = take(other, batch)["form_id"]
    keep(other, {"turn": 2, "form_id": form}, {**FIRST, "workers": 4, "island": "luma"})
    seen = differences(manager, form)
    settle(manager, form, "island", "first")
    late = {"path": "workers", "take": "first", "version": seen["version"]}
    assert manager.problem("POST", f"/api/paper-forms/{form}/differences", late)[1] == "changed_meanwhile"
    twice = {"path": "island", "take": "second", "version": differences(manager, form)["version"]}
    assert manager.problem("POST", f"/api/paper-forms/{form}/differences", twice)[1] == "settled_already"


def test_the_keyers_page_is_given_the_release_and_the_numbers_of_the_paper(manager: Desk, keyer: Desk) -> None:
    batch = make(manager)
    given = keyer.answer("GET", f"/api/batches/{batch['id']}/release")
    assert given["numbers"]["consent"] == 1 and given["compiled"]["languages"] == ["en", "fr"]


@pytest.mark.parametrize("twice", [0, 100])
def test_a_paper_whose_keying_ended_as_the_server_did_is_made_an_interview_at_the_desk(
    app: Any, manager: Desk, keyer: Desk, other: Desk, monkeypatch: pytest.MonkeyPatch, twice: int
) -> None:
    batch = make(manager, twice=twice)
    taken = take(keyer, batch)
    if twice:
        keep(keyer, taken, FIRST)
        taken = take(other, batch)

    def killed(*_: object) -> None:
        raise OSError("the server ended here")

    last = other if twice else keyer
    body = {"turn": taken["turn"], "content": {"answers": FIRST}, "ended": True}
    with monkeypatch.context() as ended:
        ended.setattr(keying, "_finish", killed)
        assert last.call("PUT", f"/api/paper-forms/{taken['form_id']}/keying", body).status_code == 500
    at = f"/api/batches/{batch['id']}/forms"
    assert [f["state"] for f in manager.answer("GET", f"{at}?state=to%20settle")["lines"]] == ["to settle"]
    seen = differences(manager, taken["form_id"])
    assert (seen["open"], seen["state"], documents(app)) == ([], "to settle", [])
    for _ in range(2):
        done = manager.answer("POST", f"/api/paper-forms/{taken['form_id']}/finishing")
        assert done["state"] == "finished"
    assert len(documents(app)) == 1


def test_papers_come_a_page_at_a_time_by_number_or_by_state(manager: Desk, keyer: Desk) -> None:
    batch = make(manager)
    for number in ("1", "2", "12"):
        taken = take(keyer, batch, number)
        keep(keyer, taken, FIRST, ended=number != "2")
    at = f"/api/batches/{batch['id']}/forms"

    def numbers(query: str) -> tuple[list[str], int]:
        found = keyer.answer("GET", f"{at}?{query}")
        return [line["number"] for line in found["lines"]], found["total"]

    assert numbers("limit=2") == (["12", "2"], 3)
    assert numbers("limit=2&offset=2") == (["1"], 3)
    assert numbers("number=2") == (["2"], 1)
    assert numbers("state=being%20keyed") == (["2"], 1)
    assert numbers("state=second%20to%20key") == (["12", "1"], 2)
    assert keyer.answer("GET", at)["enumerators"] == ["Ilse Varn"]
    (told,) = keyer.answer("GET", f"{AT}/batches")
    assert (told["keyed"], told["second"]) == (2, 2)
