"""People of a study: taken in, changed, invited, leaving; what one study may not do to another's people."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import select

from skavo.demo.people import PASSWORD
from skavo.store.database import Store
from skavo.store.models import Device, Event, Interview, Membership, OneTimeLink, Person, SignedInSession, now
from skavo.store.people import make_link
from tests.web.conftest import Desk

AT = "/api/studies/1/people"
NEW = {"name": "Runa Feld", "login": "runa", "email": "runa@crafts.example", "roles": ["analyst"]}


def called(people: dict[str, Any], name: str) -> dict[str, Any]:
    return next(p for p in people["people"] if p["name"] == name)


def invited(person: Desk, name: str) -> str:
    member = called(person.answer("GET", AT), name)
    link: str = person.answer("POST", f"{AT}/{member['id']}/invitation")["link"]
    return link.split("#")[1]


def test_the_demos_people_are_told_with_teams_and_ways_in(desk: Callable[[str], Desk]) -> None:
    people = desk("supervisor").answer("GET", AT)
    assert called(people, "Dora Maine")["way_in"] == "signs in"
    assert called(people, "Mira Tole") | {"way_in": "none", "team": "Kesk and Luma"} == called(people, "Mira Tole")
    assert {team["name"]: team["members"] for team in people["teams"]} == {"Kesk and Luma": 4, "Tarrow and Vint": 4}


def test_somebody_new_is_invited_chooses_a_passphrase_and_may_what_the_role_may(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    person = desk("data_manager")
    assert called(person.answer("POST", AT, NEW), "Runa Feld")["way_in"] == "none"
    secret = invited(person, "Runa Feld")
    assert called(person.answer("GET", AT), "Runa Feld")["way_in"] == "invited"
    guest = Desk(app.test_client())
    assert guest.answer("POST", "/api/way-in/link", {"secret": secret}) == {
        "name": "Runa Feld", "login": "runa", "kind": "invitation",
    }  # fmt: skip
    guest.token = guest.answer(
        "POST", "/api/way-in/passphrase", {"secret": secret, "passphrase": "wells under the tarn"}
    )["csrf_token"]
    assert guest.answer("GET", "/api/studies")[0]["roles"] == ["analyst"]
    assert guest.problem("PUT", "/api/questionnaires/1/script", {})[:2] == (403, "not_allowed")
    assert guest.problem("POST", "/api/way-in/link", {"secret": secret})[:2] == (410, "link_ended")


@pytest.mark.parametrize("weak", ["short", "password1234", "runa feld runa feld", "aaaaaaaaaaaaaaaa"])
def test_a_passphrase_that_is_guessed_is_refused_and_the_link_stays(
    app: Any, desk: Callable[[str], Desk], weak: str
) -> None:
    person = desk("data_manager")
    person.answer("POST", AT, NEW)
    secret = invited(person, "Runa Feld")
    guest = Desk(app.test_client())
    chosen = {"secret": secret, "passphrase": weak}
    assert guest.problem("POST", "/api/way-in/passphrase", chosen)[:2] == (422, "weak_passphrase")
    assert guest.answer("POST", "/api/way-in/link", {"secret": secret})["login"] == "runa"


def test_a_later_link_ends_the_one_before(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    person.answer("POST", AT, NEW)
    first, second = invited(person, "Runa Feld"), invited(person, "Runa Feld")
    guest = Desk(app.test_client())
    assert guest.problem("POST", "/api/way-in/link", {"secret": first})[:2] == (410, "link_ended")
    assert guest.answer("POST", "/api/way-in/link", {"secret": second})


def test_no_secret_of_a_link_is_kept(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    person.answer("POST", AT, NEW)
    secret = invited(person, "Runa Feld")
    with app.extensions["skavo_store"].reading() as session:
        kept = session.scalars(select(OneTimeLink)).one()
        assert secret not in (kept.secret_hash, str(kept.id)) and len(kept.secret_hash) == 64


def test_a_link_that_is_too_old_has_ended(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    person.answer("POST", AT, NEW)
    secret = invited(person, "Runa Feld")
    with app.extensions["skavo_store"].session() as session:
        session.scalars(select(OneTimeLink)).one().expires_at = now()
    assert Desk(app.test_client()).problem("POST", "/api/way-in/link", {"secret": secret})[1] == "link_ended"


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"name": "dora maine"}, "name_taken"),
        ({"login": "dora"}, "login_taken"),
        ({"login": "with space"}, "wrong_request"),
        ({"email": "nowhere"}, "wrong_request"),
        ({"roles": []}, "wrong_request"),
        ({"roles": ["king"]}, "wrong_request"),
        ({"team_id": 99}, "no_such_team"),
        ({"name": "   "}, "wrong_request"),
    ],
)
def test_what_cannot_be_taken_in_says_why(desk: Callable[[str], Desk], change: dict[str, Any], code: str) -> None:
    assert desk("data_manager").problem("POST", AT, NEW | change)[1] == code


def test_two_who_change_one_person_do_not_overwrite_each_other(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    member = called(person.answer("GET", AT), "Anna Rolt")
    body = {"name": "Anna Rolt", "login": "anna", "roles": ["analyst", "keyer"], "version": member["version"]}
    assert called(person.answer("PUT", f"{AT}/{member['id']}", body), "Anna Rolt")["roles"] == ["analyst", "keyer"]
    assert person.problem("PUT", f"{AT}/{member['id']}", body)[:2] == (409, "changed_meanwhile")


def test_a_study_keeps_a_data_manager(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    dora = called(person.answer("GET", AT), "Dora Maine")
    body = {"name": "Dora Maine", "login": "dora", "roles": ["analyst"], "version": dora["version"]}
    assert person.problem("PUT", f"{AT}/{dora['id']}", body)[:2] == (409, "last_manager")
    assert person.problem("POST", f"{AT}/{dora['id']}/departure")[:2] == (409, "last_manager")


def test_who_leaves_may_do_nothing_and_their_phone_is_cut_off(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    phone = app.test_client()
    paired = phone.post("/api/field/pair", json={"code": person.code_for("Ilse Varn"), "device": "p"}).get_json()
    ilse = called(person.answer("GET", AT), "Ilse Varn")
    assert ilse["devices"] == 1
    left = called(person.answer("POST", f"{AT}/{ilse['id']}/departure"), "Ilse Varn")
    assert left["left_at"] is not None and left["devices"] == 0
    headers = {"Authorization": f"Bearer {paired['token']}"}
    body = {"in_hand": 0, "packed": 0}
    assert phone.post("/api/field/profile", json=body, headers=headers).status_code == 403
    device = person.answer("GET", "/api/studies/1/devices")[0]
    assert person.problem("DELETE", f"/api/devices/{device['id']}/cut-off")[1] == "has_left"
    person.answer("DELETE", f"{AT}/{ilse['id']}/departure")
    person.answer("DELETE", f"/api/devices/{device['id']}/cut-off")
    assert phone.post("/api/field/profile", json=body, headers=headers).status_code == 200


def test_what_was_sent_back_is_handed_over_and_keeps_its_enumerator(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    people = person.answer("GET", AT)
    ilse, mira = called(people, "Ilse Varn"), called(people, "Mira Tole")
    with app.extensions["skavo_store"].session() as session:
        for number, state in enumerate(("sent back", "arrived"), 1):
            session.add(
                Interview(
                    study_id=1, uuid=f"u{number}", number=number, hash="h", enumerator="Ilse Varn",
                    person_id=ilse["person_id"], state=state,
                )
            )  # fmt: skip
    assert person.answer("POST", f"{AT}/{ilse['id']}/handing-over", {"to": mira["id"]}) == {"interviews": 1}
    with app.extensions["skavo_store"].reading() as session:
        rows = session.execute(select(Interview.person_id, Interview.enumerator).order_by(Interview.number)).all()
    assert rows == [(mira["person_id"], "Ilse Varn"), (ilse["person_id"], "Ilse Varn")]
    dora = called(people, "Dora Maine")
    assert person.problem("POST", f"{AT}/{ilse['id']}/handing-over", {"to": dora["id"]})[1] == "wrong_role"


def test_a_data_manager_does_not_become_somebody_who_works_elsewhere(app: Any, desk: Callable[[str], Desk]) -> None:
    """Whoever could reset a passphrase or move an address could sign in as that person in another study."""
    other = desk("data_manager").answer("POST", "/api/studies", {"title": "Other", "data_manager": "sela"})["id"]
    sela = desk("supervisor")
    at = f"/api/studies/{other}/people"
    sela.answer("POST", at, {"name": "Anna Rolt", "login": "anna", "roles": ["analyst"]})
    anna = called(sela.answer("GET", at), "Anna Rolt")
    assert sela.problem("POST", f"{at}/{anna['id']}/invitation")[1] == "not_yours"
    body = {"name": "Anna Rolt", "login": "anna", "email": "sela@crafts.example", "roles": ["analyst"], "version": 1}
    assert sela.problem("PUT", f"{at}/{anna['id']}", body)[1] == "not_yours"
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalars(select(Person.email).where(Person.login == "anna")).one() == "anna@crafts.example"


def test_an_administrator_sees_nothing_of_a_study_they_made_for_somebody_else(desk: Callable[[str], Desk]) -> None:
    dora = desk("data_manager")
    made = dora.answer("POST", "/api/studies", {"title": "Other", "data_manager": "sela"})
    assert made["permissions"] == []
    assert dora.problem("GET", f"/api/studies/{made['id']}")[:2] == (404, "not_found")
    assert [s["title"] for s in dora.answer("GET", "/api/studies")] == ["Mending Trades Survey"]
    assert desk("supervisor").answer("GET", f"/api/studies/{made['id']}")["roles"] == ["data_manager"]
    assert {s["title"]: s["managers"] for s in dora.answer("GET", "/api/server")["studies"]}["Other"] == ["Sela Brack"]


def test_a_file_of_people_is_judged_before_anything_is_kept(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    file = (
        b"Name,Sign-in,E-mail,Roles,Team\n"
        b"Bo Hale,,,,North\nMira Tole,,mira@crafts.example,,\nAnna Rolt,anna,,analyst,\n"
        b"Bo Hale,,,,\n,ghost,,,\nKarl,dora,,,\nLia,,no address,,\nOdd,,,king,\n"
    )
    told = person.answer("POST", f"{AT}/file?name=people.csv", file)
    assert [(r["name"], r["judged"]) for r in told["rows"]] == [
        ("Bo Hale", "new"), ("Mira Tole", "changed"), ("Anna Rolt", "same"), ("Bo Hale", "doubtful"),
        ("", "doubtful"), ("Karl", "doubtful"), ("Lia", "doubtful"), ("Odd", "doubtful"),
    ]  # fmt: skip
    assert [p["name"] for p in person.answer("GET", AT)["people"] if p["name"] == "Bo Hale"] == []
    assert person.answer("POST", f"{AT}/file?name=people.csv&keep=true", file)["kept"] == 2
    people = person.answer("GET", AT)
    assert (called(people, "Bo Hale")["team"], called(people, "Bo Hale")["roles"]) == ("North", ["enumerator"])
    assert called(people, "Mira Tole") | {"email": "mira@crafts.example", "team": "Kesk and Luma"} == called(
        people, "Mira Tole"
    )
    again = person.answer("POST", f"{AT}/file?name=people.csv&keep=true", file)
    assert again["kept"] == 0
    assert person.problem("POST", f"{AT}/file?name=people.csv", b"Nom,Age\nBo,3\n")[1] == "wrong_headings"


def test_teams_are_made_renamed_and_removed_without_their_members(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    team = next(
        t for t in person.answer("POST", "/api/studies/1/teams", {"name": "North"})["teams"] if t["name"] == "North"
    )
    assert person.problem("POST", "/api/studies/1/teams", {"name": "North"})[1] == "name_taken"
    person.answer("PUT", f"/api/studies/1/teams/{team['id']}", {"name": "Far north"})
    mira = called(person.answer("GET", AT), "Mira Tole")
    body = {"name": "Mira Tole", "roles": ["enumerator"], "team_id": team["id"], "version": mira["version"]}
    assert called(person.answer("PUT", f"{AT}/{mira['id']}", body), "Mira Tole")["team"] == "Far north"
    assert called(person.answer("DELETE", f"/api/studies/1/teams/{team['id']}"), "Mira Tole")["team"] == ""


def test_what_is_done_names_the_person_and_keeps_the_name_of_then(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    person.answer("POST", AT, NEW)
    dora = called(person.answer("GET", AT), "Dora Maine")
    body = {
        "name": "Dora Quist", "login": "dora", "email": "dora@crafts.example", "roles": dora["roles"],
        "version": dora["version"],
    }  # fmt: skip
    person.answer("PUT", f"{AT}/{dora['id']}", body)
    person.answer("POST", "/api/studies/1/teams", {"name": "North"})
    with app.extensions["skavo_store"].reading() as session:
        events = session.execute(select(Event.kind, Event.by, Event.by_id).where(Event.by_id.is_not(None))).all()
        me = session.scalars(select(Membership).where(Membership.name == "Dora Quist")).one()
    assert ("person added", "Dora Maine", me.person_id) in [tuple(event) for event in events]
    assert {(by, by_id) for _, by, by_id in events} == {("Dora Maine", me.person_id)}


def test_a_session_ends_where_it_is_signed_out_and_cannot_be_taken_up_again(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    person = desk("analyst")
    cookie = person.client.get_cookie("skavo")
    assert cookie is not None
    person.answer("DELETE", "/api/session")
    thief = app.test_client()
    thief.set_cookie("skavo", cookie.value)
    assert thief.get("/api/studies").status_code == 401


@pytest.mark.parametrize("column", ["used_at", "began_at"])
def test_a_session_that_was_idle_or_is_too_old_has_ended(app: Any, desk: Callable[[str], Desk], column: str) -> None:
    from skavo.web.sessions import IDLE, LONGEST

    person = desk("analyst")
    with app.extensions["skavo_store"].session() as session:
        for found in session.scalars(select(SignedInSession)):
            setattr(found, column, now() - (IDLE if column == "used_at" else LONGEST))
    assert person.problem("GET", "/api/studies")[1] == "not_signed_in"


def test_other_browsers_are_told_and_can_be_signed_out(desk: Callable[[str], Desk]) -> None:
    here, there, elses = desk("analyst"), desk("analyst"), desk("keyer")
    told = here.answer("GET", "/api/session/all")
    assert [s["here"] for s in told].count(True) == 1 and len(told) == 2
    other = next(s["id"] for s in told if not s["here"])
    assert elses.problem("DELETE", f"/api/session/all/{other}")[1] == "not_found"
    here.answer("DELETE", f"/api/session/all/{other}")
    assert there.problem("GET", "/api/studies")[1] == "not_signed_in"
    assert here.answer("GET", "/api/studies")


def test_changing_the_passphrase_signs_every_other_browser_out(app: Any, desk: Callable[[str], Desk]) -> None:
    here, there = desk("analyst"), desk("analyst")
    wrong = {"present": "guess", "wanted": "wells under the tarn"}
    assert here.problem("PUT", "/api/session/passphrase", wrong)[1] == "wrong_sign_in"
    here.answer("PUT", "/api/session/passphrase", wrong | {"present": PASSWORD})
    assert there.problem("GET", "/api/studies")[1] == "not_signed_in"
    assert here.answer("GET", "/api/studies")
    guest = Desk(app.test_client())
    assert guest.problem("POST", "/api/session", {"login": "anna", "password": PASSWORD})[1] == "wrong_sign_in"
    assert (
        guest.answer("POST", "/api/session", {"login": "Anna ", "password": "wells under the tarn"})["login"] == "anna"
    )


def test_what_is_dangerous_asks_for_the_passphrase_again(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    with app.extensions["skavo_store"].session() as session:
        for found in session.scalars(select(SignedInSession)):
            found.confirmed_at = found.confirmed_at.replace(year=2020)
    member = called(person.answer("GET", AT), "Mira Tole")
    assert person.problem("POST", f"{AT}/{member['id']}/departure")[:2] == (403, "confirm_first")
    assert person.problem("POST", "/api/session/confirmation", {"password": "guess"})[1] == "wrong_sign_in"
    person.answer("POST", "/api/session/confirmation", {"password": PASSWORD})
    assert called(person.answer("POST", f"{AT}/{member['id']}/departure"), "Mira Tole")["left_at"]


def test_who_never_chose_a_passphrase_signs_in_with_none(app: Any, desk: Callable[[str], Desk]) -> None:
    desk("data_manager").answer("POST", AT, NEW)
    guest = Desk(app.test_client())
    for guess in ("", "nobody has this passphrase", "runa"):
        assert guest.problem("POST", "/api/session", {"login": "runa", "password": guess})[1] == "wrong_sign_in"


def test_a_forgotten_passphrase_says_the_same_to_everybody(app: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    sent: list[str] = []
    monkeypatch.setattr(
        "skavo.web.mail.Mail.send", lambda _mail, to, _subject, text: sent.append(f"{to} {text}") or True
    )
    guest = Desk(app.test_client())
    answers = [guest.call("POST", "/api/way-in/forgotten", {"login": name}).status_code for name in ("dora", "nobody")]
    assert answers == [204, 204]
    assert len(sent) == 1 and sent[0].startswith("dora@crafts.example") and "/way-in#" in sent[0]


def test_devices_of_a_migrated_store_belong_to_people(app: Any, desk: Callable[[str], Desk]) -> None:
    phone = app.test_client()
    phone.post("/api/field/pair", json={"code": desk("supervisor").code_for("Mira Tole"), "device": "p"})
    with app.extensions["skavo_store"].reading() as session:
        device = session.scalars(select(Device)).one()
        assert session.get_one(Person, device.person_id).name == "Mira Tole"


def test_contact_goes_along_with_an_interview_only_where_the_study_says_so(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    person = desk("data_manager")
    mira = called(person.answer("GET", AT), "Mira Tole")
    body = {"name": "Mira Tole", "roles": ["enumerator"], "phone": "555 0199", "version": mira["version"]}
    person.answer("PUT", f"{AT}/{mira['id']}", body)
    with app.extensions["skavo_store"].session() as session:
        session.add(
            Interview(
                study_id=1, uuid="u", number=1, hash="h", enumerator="Mira Tole", person_id=mira["person_id"],
                problem="no_json",
            )
        )  # fmt: skip
    assert person.answer("GET", "/api/interviews/1")["contact"] == ""
    facts = person.answer("GET", "/api/studies/1")
    change = {n: facts[n] for n in ("title", "purpose", "population", "time_zone", "version")}
    person.answer("PUT", "/api/studies/1", change | {"tells_contact": True})
    assert person.answer("GET", "/api/interviews/1")["contact"] == "555 0199"


def test_whoever_has_a_changed_passphrase_is_told_by_letter(
    app: Any, desk: Callable[[str], Desk], monkeypatch: pytest.MonkeyPatch
) -> None:
    sent: list[tuple[str, str]] = []
    monkeypatch.setattr(
        "skavo.web.mail.Mail.send", lambda _self, to, subject, _text: sent.append((to, subject)) or True
    )
    person = desk("data_manager")
    wanted = "a walk along the harbour wall"
    person.answer("PUT", "/api/session/passphrase", {"present": PASSWORD, "wanted": wanted})
    assert sent == [("dora@crafts.example", "Your passphrase for Skavo was changed")]
    store: Store = app.extensions["skavo_store"]
    with store.session() as session:
        kip = session.scalars(select(Person).where(Person.login == "kip")).one()
        secret = make_link(session, kip, "passphrase", "x")
        new = Person(name="New One", login="new", email="new@crafts.example")
        session.add(new)
        session.flush()
        first = make_link(session, new, "invitation", "x")
    for link in (secret, first):
        Desk(app.test_client()).answer("POST", "/api/way-in/passphrase", {"secret": link, "passphrase": wanted})
    assert [to for to, _ in sent[1:]] == ["kip@crafts.example"]


def test_a_study_whose_data_manager_is_out_of_reach_gets_another_and_its_logbook_tells_by_whom(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    dora = desk("data_manager")
    study = dora.answer("POST", "/api/studies", {"title": "Left alone", "data_manager": "anna"})["id"]
    address = f"/api/server/studies/{study}/managers"
    assert dora.problem("POST", address, {"login": "dora"})[1] == "not_yourself"
    assert dora.problem("POST", address, {"login": "nobody"})[1] == "no_such_person"
    assert dora.problem("POST", "/api/server/studies/99/managers", {"login": "sela"})[1] == "not_found"
    assert desk("analyst").problem("POST", address, {"login": "sela"})[1] == "not_allowed"
    for login in ("sela", "anna"):
        overview = dora.answer("POST", address, {"login": login})
    assert {"title": "Left alone", "managers": ["Anna Rolt", "Sela Brack"]}.items() <= next(
        {"title": s["title"], "managers": sorted(s["managers"])} for s in overview["studies"] if s["id"] == study
    ).items()
    assert dora.problem("GET", f"/api/studies/{study}")[1] == "not_found"
    events = desk("supervisor").answer("GET", f"/api/studies/{study}/logbook")["events"]
    assert ("manager named", "Dora Maine", "Sela Brack") in [
        (e["kind"], e["by"], e["detail"].get("person")) for e in events
    ]
