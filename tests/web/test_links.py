"""Links: who is let in, how often, until when; what arrives through one; letters to addressees."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Callable, Iterator
from datetime import timedelta
from typing import Any

import pytest
from sqlalchemy import func, select

from skavo.core.interview.formats import INTERVIEW
from skavo.jobs.mail import Mail
from skavo.standins.mailbox import Mailbox
from skavo.store.models import Addressee, Answering, Interview, Link, Release, Revision, StoredFile, now
from tests.web.conftest import Desk

AT = "/api/studies/1"
LIST = b"name,e-mail,language\nAda Lunn,ada@isles.example,fr\nBo Teck,bo@isles.example,\nCy Orr,no address,\n"


def make(person: Desk, title: str = "On the web", **more: Any) -> dict[str, Any]:
    body = {"title": title, "questionnaire_id": 1, "entry": "open", **more}
    link: dict[str, Any] = person.answer("POST", f"{AT}/links", body)
    return link


class Browser:
    """Somebody who opened a link; keeps its cookies, as browsers do."""

    def __init__(self, app: Any, secret: str, client: Any = None) -> None:
        self.app, self.secret = app, secret
        self.client = client or app.test_client()
        self.at = f"/api/answer/{secret}"

    def look(self) -> dict[str, Any]:
        page: dict[str, Any] = self.client.get(self.at).get_json()
        return page

    def begin(self, identity: str | None = None) -> tuple[int, str]:
        identity = identity or str(uuid.uuid4())
        return self.client.post(f"{self.at}/interviews", json={"uuid": identity}).status_code, identity

    def document(self, identity: str, **changes: Any) -> bytes:
        with self.app.extensions["skavo_store"].reading() as session:
            release = session.scalars(select(Release)).one()
        document = {
            "format": INTERVIEW.newest, "uuid": identity, "release": release.identity, "release_hash": release.hash,
            "answers": {"visit": 1}, "paradata": {"started": now().isoformat(), "ended": now().isoformat()}, **changes,
        }  # fmt: skip
        return json.dumps(document).encode()

    def send(self, identity: str, raw: bytes) -> Any:
        return self.client.put(f"{self.at}/interviews/{identity}", data=raw)

    def answer(self) -> int:
        """Begin and send; the status of what went wrong first, 200 where nothing did."""
        status, identity = self.begin()
        return status if status >= 300 else int(self.send(identity, self.document(identity)).status_code)


def browser_at(app: Any, link: dict[str, Any], client: Any = None) -> Browser:
    return Browser(app, link["address"].rsplit("/", 1)[1], client)


def interviews(app: Any) -> list[Interview]:
    with app.extensions["skavo_store"].reading() as session:
        return list(session.scalars(select(Interview).order_by(Interview.id)))


def set_link(app: Any, link: dict[str, Any], **changes: Any) -> None:
    with app.extensions["skavo_store"].session() as session:
        row = session.get_one(Link, link["id"])
        for name, value in changes.items():
            setattr(row, name, value)


def test_whoever_has_an_open_link_answers_and_the_receipt_is_that_of_the_bytes(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    person = desk("data_manager")
    link = make(person)
    somebody = browser_at(app, link)
    page = somebody.look()
    assert (page["standing"], page["study"], page["languages"]) == ("open", "Mending Trades Survey", ["en", "fr"])
    assert "letter" not in page["texts"]["en"] and page["texts"]["fr"]["welcome"].startswith("Merci")
    release = somebody.client.get(f"{somebody.at}/releases/{page['release']}").get_json()
    assert release["compiled"]["languages"] == ["en", "fr"]
    status, identity = somebody.begin()
    assert status == 204
    raw = somebody.document(identity)
    receipt = somebody.send(identity, raw).get_json()
    assert receipt["hash"] == hashlib.sha256(raw).hexdigest() and receipt["outcome"] == "arrived"
    assert somebody.send(identity, raw).get_json()["outcome"] == "known"
    (arrived,) = interviews(app)
    assert (arrived.origin, arrived.enumerator, arrived.device_name) == ("link", "On the web", "a browser")
    (told,) = person.answer("GET", f"{AT}/links")
    assert (told["begun"], told["answered"]) == (1, 1)
    narrowed = person.answer("GET", f"{AT}/interviews?link={link['id']}&origin=link")
    assert [line["id"] for line in narrowed["lines"]] == [arrived.id]
    assert person.answer("GET", f"{AT}/interviews?origin=phone")["lines"] == []


def test_what_was_sent_is_not_changed_by_sending_other_bytes(app: Any, desk: Callable[[str], Desk]) -> None:
    somebody = browser_at(app, make(desk("data_manager")))
    _, identity = somebody.begin()
    somebody.send(identity, somebody.document(identity))
    again = somebody.send(identity, somebody.document(identity, answers={"visit": 2}))
    assert (again.status_code, again.get_json()["code"]) == (409, "answered_already")
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalar(select(func.count()).select_from(Revision)) == 1


def test_a_link_reaches_no_interview_that_was_not_begun_through_it(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    one, other = browser_at(app, make(person)), browser_at(app, make(person, "Another"))
    _, identity = one.begin()
    one.send(identity, one.document(identity))
    assert other.send(identity, other.document(identity)).status_code == 404
    assert other.begin(identity)[0] == 409
    unbegun = str(uuid.uuid4())
    assert one.send(unbegun, one.document(unbegun)).status_code == 404


@pytest.mark.parametrize(
    ("raw", "status"), [(b"{}", 422), (b"no json", 422), (b'{"format": "skavo-interview-99"}', 422)]
)
def test_what_cannot_be_read_is_refused_and_may_be_sent_again(
    app: Any, desk: Callable[[str], Desk], raw: bytes, status: int
) -> None:
    somebody = browser_at(app, make(desk("data_manager")))
    _, identity = somebody.begin()
    assert somebody.send(identity, raw).status_code == status
    assert interviews(app) == []
    assert somebody.send(identity, somebody.document(identity)).status_code == 200


def test_an_answer_to_another_release_than_the_link_asks_is_refused(app: Any, desk: Callable[[str], Desk]) -> None:
    somebody = browser_at(app, make(desk("data_manager")))
    _, identity = somebody.begin()
    unknown = somebody.document(identity, release="0" * 32, release_hash="0" * 64)
    assert somebody.send(identity, unknown).get_json()["code"] == "wrong_document"
    assert interviews(app) == []


def test_nobody_begins_after_the_end_but_whoever_has_begun_may_finish(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    link = make(person)
    early, late = browser_at(app, link), browser_at(app, link)
    _, identity = early.begin()
    set_link(app, link, closes_at=now() - timedelta(seconds=1))
    assert late.look()["standing"] == "ended"
    assert late.answer() == 409
    assert early.send(identity, early.document(identity)).status_code == 200
    set_link(app, link, closes_at=None)
    assert person.answer("POST", f"/api/links/{link['id']}/closing")["standing"] == "closed"
    assert late.answer() == 409
    assert person.answer("DELETE", f"/api/links/{link['id']}/closing")["standing"] == "open"
    assert late.answer() == 200


def test_no_more_begin_than_the_largest_number(app: Any, desk: Callable[[str], Desk]) -> None:
    link = make(desk("data_manager"), most=2)
    assert [browser_at(app, link).answer() for _ in range(3)] == [200, 200, 409]
    assert browser_at(app, link).look()["standing"] == "full"


def test_a_browser_that_has_answered_is_asked_once_only_where_the_link_says_so(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    person = desk("data_manager")
    often, once = browser_at(app, make(person)), browser_at(app, make(person, "Once", once=True))
    assert [often.answer(), often.answer()] == [200, 200]
    assert [once.answer(), once.answer()] == [200, 409]
    assert once.look()["standing"] == "answered"
    forgetful = Browser(app, once.secret)
    _, identity = forgetful.begin()
    forgetful.client = app.test_client()
    assert forgetful.send(identity, forgetful.document(identity)).status_code == 200
    assert forgetful.look()["standing"] == "answered"


def test_only_people_of_the_study_answer_where_signing_in_is_asked_for(app: Any, desk: Callable[[str], Desk]) -> None:
    link = make(desk("data_manager"), entry="signed in")
    stranger = browser_at(app, link)
    assert stranger.client.get(stranger.at).status_code == 401
    assert stranger.begin()[0] == 401
    keyer = desk("keyer")
    known = browser_at(app, link, keyer.client)
    assert known.look()["enumerator"] == "Kip Ansel"
    assert known.answer() == 200
    assert interviews(app)[0].enumerator == "Kip Ansel"
    assert interviews(app)[0].person_id is not None


def test_an_address_that_names_no_link_leads_nowhere(app: Any) -> None:
    nobody = Browser(app, "x" * 43)
    assert nobody.client.get(nobody.at).status_code == 404
    assert nobody.begin()[0] == 404


def test_files_come_before_the_answers_and_only_to_what_was_begun(app: Any, desk: Callable[[str], Desk]) -> None:
    somebody = browser_at(app, make(desk("data_manager")))
    content = b"a photo" * 100
    digest = hashlib.sha256(content).hexdigest()
    _, identity = somebody.begin()
    address = f"{somebody.at}/interviews/{identity}/files/{digest}"
    half = {"Content-Range": f"bytes 0-299/{len(content)}"}
    assert somebody.client.put(f"{address}?kind=photo", data=content[:300], headers=half).get_json()["received"] == 300
    assert somebody.client.get(address).get_json()["received"] == 300
    rest = {"Content-Range": f"bytes 300-{len(content) - 1}/{len(content)}"}
    assert somebody.client.put(f"{address}?kind=photo", data=content[300:], headers=rest).get_json()["hash"] == digest
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalars(select(StoredFile.interview_uuid)).all() == [identity]
    unbegun = address.replace(identity, str(uuid.uuid4()))
    assert somebody.client.put(unbegun, data=content).status_code == 404


@pytest.mark.parametrize(
    ("texts", "code"),
    [
        ({"en": {"letter": "No address"}}, "no_link"),
        ({"en": {"letter": "{link} {phone}"}}, "unknown_place"),
        ({"en": {"subject": "two\nlines"}}, "wrong_request"),
    ],
)
def test_a_letter_that_cannot_work_is_refused(desk: Callable[[str], Desk], texts: dict[str, Any], code: str) -> None:
    body = {"title": "Letters", "questionnaire_id": 1, "entry": "personal", "texts": texts}
    assert desk("data_manager").problem("POST", f"{AT}/links", body)[1] == code


def test_two_links_of_one_name_and_a_change_of_an_older_one_are_refused(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    link = make(person)
    body = {"title": "On the web", "questionnaire_id": 1, "entry": "open"}
    assert person.problem("POST", f"{AT}/links", body)[1] == "name_taken"
    change = {"title": "Better", "version": link["version"]}
    assert person.answer("PUT", f"/api/links/{link['id']}", change)["title"] == "Better"
    assert person.problem("PUT", f"/api/links/{link['id']}", change)[1] == "changed_meanwhile"


@pytest.fixture
def mailbox(app: Any) -> Iterator[Mailbox]:
    running = Mailbox()
    app.config["MAIL"] = Mail(running.host, running.port)
    yield running
    running.stop()


def addressees(person: Desk, link: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = person.answer("GET", f"/api/links/{link['id']}/addressees")
    return found


def write(app: Any, person: Desk, link: dict[str, Any], about: str) -> dict[str, Any]:
    job = person.answer("POST", f"/api/links/{link['id']}/letters", {"about": about})
    app.extensions["skavo_jobs"].run(job["id"])
    done: dict[str, Any] = person.answer("GET", f"/api/jobs/{job['id']}")
    return done


def personal(person: Desk, **more: Any) -> dict[str, Any]:
    link = make(person, "By letter", entry="personal", **more)
    brought = person.answer("POST", f"/api/links/{link['id']}/addressees/file?name=who.csv&keep=true", LIST)
    assert [row["judged"] for row in brought["rows"]] == ["new", "new", "doubtful"] and brought["kept"] == 2
    return link


def test_addressees_are_written_to_once_answer_once_and_only_the_silent_are_reminded(
    app: Any, desk: Callable[[str], Desk], mailbox: Mailbox
) -> None:
    person = desk("data_manager")
    texts = {"en": {"letter": "Dear {name}: {link} until {until}."}}
    link = personal(person, texts=texts, closes_at=(now() + timedelta(days=3)).isoformat())
    assert write(app, person, link, "invitation")["result"] == {"sent": 2, "failed": 0}
    assert write(app, person, link, "invitation")["result"] == {"sent": 0, "failed": 0}
    to_bo, to_ada = mailbox.letters
    assert to_bo.text.startswith("Dear Bo Teck: http") and to_ada.subject == (
        "Mending Trades Survey : pouvons-nous vous interroger ?"
    )
    secret = to_bo.text.split("/answer/")[1].split(" ")[0]
    bo = Browser(app, secret)
    assert bo.look()["name"] == "Bo Teck"
    assert bo.answer() == 200
    assert (bo.answer(), bo.look()["standing"]) == (409, "answered")
    assert Browser(app, secret).answer() == 409
    with app.extensions["skavo_store"].session() as session:
        for row in session.scalars(select(Addressee)):
            row.sent_at = now() - timedelta(days=2)
    assert write(app, person, link, "reminder")["result"] == {"sent": 1, "failed": 0}
    assert write(app, person, link, "reminder")["result"] == {"sent": 0, "failed": 0}
    assert mailbox.letters[0].to == "ada@isles.example" and secret not in mailbox.letters[0].text
    counts = addressees(person, link)["counts"]
    assert (counts["answered"], counts["waiting"], counts["not written to"]) == (1, 1, 0)


def test_a_letter_about_a_link_without_an_end_names_none(
    app: Any, desk: Callable[[str], Desk], mailbox: Mailbox
) -> None:
    person = desk("data_manager")
    write(app, person, personal(person), "invitation")
    for letter in mailbox.letters:
        assert "{" not in letter.text and "until" not in letter.text and "valable" not in letter.text
        assert "/answer/" in letter.text


def test_a_letter_that_is_not_taken_is_told_and_tried_again_later(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    link = personal(person)
    app.config["MAIL"] = Mail("127.0.0.1", 9)
    assert write(app, person, link, "invitation")["result"] == {"sent": 0, "failed": 2}
    assert addressees(person, link)["counts"]["not reached"] == 2
    running = Mailbox()
    app.config["MAIL"] = Mail(running.host, running.port)
    assert write(app, person, link, "invitation")["result"] == {"sent": 2, "failed": 0}
    running.stop()
    assert addressees(person, link)["counts"]["not reached"] == 0
    app.config["MAIL"] = Mail()
    assert "no mail server" in write(app, person, link, "reminder")["problem"]


def test_whoever_is_left_out_gets_no_letter_and_their_address_leads_nowhere(
    app: Any, desk: Callable[[str], Desk], mailbox: Mailbox
) -> None:
    person = desk("data_manager")
    link = personal(person)
    ada = addressees(person, link)["lines"][0]
    at = f"/api/links/{link['id']}/addressees/{ada['id']}/withdrawal"
    assert person.call("POST", at).status_code == 204
    write(app, person, link, "invitation")
    assert [letter.to for letter in mailbox.letters] == ["bo@isles.example"]
    secret = ada["address"].rsplit("/", 1)[1]
    assert Browser(app, secret).begin()[0] == 404
    person.call("DELETE", at)
    assert Browser(app, secret).begin()[0] == 204


def test_nobody_is_written_to_about_a_link_that_takes_no_answers(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    link = personal(person)
    person.answer("POST", f"/api/links/{link['id']}/closing")
    assert person.problem("POST", f"/api/links/{link['id']}/letters", {"about": "invitation"})[1] == "link_not_open"
    other = make(person, "Open to all")
    assert person.problem("POST", f"/api/links/{other['id']}/letters", {"about": "invitation"})[1] == "not_personal"


def test_whoever_supervises_some_teams_neither_sees_nor_makes_links(app: Any, desk: Callable[[str], Desk]) -> None:
    make(desk("data_manager"))
    limited = Desk(app.test_client())
    answer = limited.call("POST", "/api/session", {"login": "orrin", "password": "ostrel-isles"})
    limited.token = answer.get_json()["csrf_token"]
    assert limited.answer("GET", f"{AT}/links") == []
    body = {"title": "Mine", "questionnaire_id": 1, "entry": "open"}
    assert limited.problem("POST", f"{AT}/links", body)[1] == "not_allowed"


def test_who_looks_for_an_addressee_finds_signs_as_they_stand(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    link = personal(person)
    at = f"/api/links/{link['id']}/addressees"
    assert [to["name"] for to in person.answer("GET", f"{at}?find=TECK")["lines"]] == ["Bo Teck"]
    assert person.answer("GET", f"{at}?find=%25")["lines"] == []
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalar(select(func.count()).select_from(Answering)) == 0
