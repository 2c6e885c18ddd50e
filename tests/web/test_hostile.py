"""What is valid and means harm: files, rules and addresses that would grow without end, names in other scripts, a full disk."""

from __future__ import annotations

import io
import json
import logging
import re
import socket
import stat
import threading
import zipfile
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

import openpyxl
import pytest
from sqlalchemy import update
from werkzeug.test import EnvironBuilder

from skavo.core.errors import DataError
from skavo.core.interview.engine import Engine
from skavo.core.questionnaire.compile import compile_script
from skavo.formats.read_table import read_table
from skavo.logs import Lines
from skavo.server import Server
from skavo.settings import Settings
from skavo.standins.phone import Phone
from skavo.store.database import open_store
from skavo.store.models import SignedInSession, now
from skavo.web.app import create_app
from skavo.web.sessions import is_signed_in
from tests.outside_files import sent_over_http
from tests.samples import part, release_of, script
from tests.web.conftest import Desk


def workbook_with(row: int, damage: bytes = b"") -> bytes:
    """A small workbook whose last cell stands in `row`, or whose sheet ends in `damage`."""
    book = openpyxl.Workbook()
    book.active.append(["name"])
    plain = io.BytesIO()
    book.save(plain)
    packed = io.BytesIO()
    with zipfile.ZipFile(plain) as source, zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as target:
        for name in source.namelist():
            content = source.read(name)
            if name.endswith("sheet1.xml"):
                cell = f'<row r="{row}"><c r="A{row}" t="inlineStr"><is><t>x</t></is></c></row></sheetData>'
                content = content.replace(b"</sheetData>", damage or cell.encode())
                content = re.sub(rb"<dimension [^>]*>", b'<dimension ref="A1"/>', content)
            target.writestr(name, content)
    return packed.getvalue()


def test_a_small_workbook_whose_last_row_is_number_a_thousand_million_is_refused() -> None:
    with pytest.raises(DataError) as raised:
        read_table("people.xlsx", workbook_with(10**9))
    assert raised.value.code == "file_too_large"
    assert read_table("people.xlsx", workbook_with(5)).rows() == [("x",)]


@pytest.mark.parametrize("damage", [b"<row", b"</sheetData></worksheet><", b'<row r="x"><c/></row></sheetData>'])
def test_a_damaged_workbook_is_a_fault_of_the_file(desk: Callable[[str], Desk], damage: bytes) -> None:
    content = workbook_with(2, damage)
    person = desk("data_manager")
    body = {"file": sent_over_http(person, content), "file_name": "a.xlsx"}
    assert person.problem("POST", "/api/questionnaires/1/outside/look", body)[:2] == (422, "not_a_workbook")
    assert person.problem("POST", "/api/questionnaires/1/workbook", content)[:2] == (422, "not_a_workbook")


def test_a_rule_nested_too_deeply_is_a_finding_and_no_crash() -> None:
    for rule in ("not " * 300 + "consent", "(" * 300 + "consent" + ")" * 300):
        checked = compile_script(script(part(1, "yes/no", "consent"), part(1, "text", "why", asked_when=rule)))
        assert [f.code for f in checked.errors if f.field == "asked_when"] in ([], ["too_nested"]), rule[:9]
    assert compile_script(script(part(1, "yes/no", "a", must=["not not not a"]))).release is not None


def test_what_is_squared_or_doubled_again_and_again_comes_to_nothing_instead_of_filling_the_memory() -> None:
    parts = [part(1, "whole number", "x0"), part(1, "text", "t0")]
    for n in range(1, 40):
        parts += [
            part(1, "derived value", f"x{n}", derived=f"x{n - 1} * x{n - 1}"),
            part(1, "derived value", f"t{n}", derived=f"join(t{n - 1}, t{n - 1})"),
        ]
    engine = Engine(release_of(script(*parts)), answers={"x0": 999_999, "t0": "ten letters"})
    derived = engine.derived_values()
    assert len(str(derived["x1"])) == 12 and derived["t1"] == "ten letters" * 2
    assert "x39" not in derived and "t39" not in derived
    assert all(len(str(value)) <= 20_000 for value in derived.values())


@pytest.mark.parametrize(("answer", "code"), [("1." + "0" * 20_000, "not_a_number"), ("9" * 5_000, "not_a_number")])
def test_a_number_of_thousands_of_digits_is_a_finding(answer: str, code: str) -> None:
    engine = Engine(release_of(script(part(1, "decimal", "x"))), answers={"x": answer})
    assert [b.code for b in engine.broken[0, ()]] == [code]


def test_a_text_of_many_pages_is_a_finding_and_is_kept() -> None:
    engine = Engine(release_of(script(part(1, "text", "x"))), answers={"x": "a" * 30_000})
    assert [b.code for b in engine.broken[0, ()]] == ["text_too_long"]
    assert engine.packed_answers() == {"x": "a" * 30_000}


def test_a_file_with_a_name_in_another_script_can_be_taken_out(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    draft = person.answer("GET", "/api/questionnaires/1")
    asks = {**draft["script"], "name": 'обследование\r\n"x"'}
    saved = person.call("PUT", "/api/questionnaires/1/script", {"version": draft["version"], "script": asks})
    response = person.call("GET", "/api/questionnaires/1/workbook")
    assert response.status_code == 200
    header = response.headers["Content-Disposition"]
    assert header.isascii() and "\n" not in header
    assert saved.status_code != 200 or "filename*=UTF-8''%D0%BE" in header


@pytest.mark.parametrize(
    "query",
    ["keys=" + "9" * 20_000, "keys=1,x,²", "offset=99999999999999999999", "check=%00", "figure={}", "figure=[" * 500],
)
def test_the_ledger_is_asked_for_what_cannot_be(desk: Callable[[str], Desk], query: str) -> None:
    assert desk("data_manager").call("GET", f"/api/studies/1/interviews?{query}").status_code in (200, 422)


def test_two_who_decide_about_one_interview_do_not_overwrite_each_other(app: Any, desk: Callable[[str], Desk]) -> None:
    from skavo.store.models import Interview

    with app.extensions["skavo_store"].session() as session:
        session.add(Interview(study_id=1, uuid="u", number=1, hash="h", enumerator="E", problem="no_json"))
    person = desk("supervisor")
    version = person.answer("GET", "/api/interviews/1")["version"]
    person.answer("POST", "/api/interviews/1/state", {"state": "accepted", "version": version})
    late = {"state": "set aside", "version": version}
    assert person.problem("POST", "/api/interviews/1/state", late)[:2] == (409, "changed_meanwhile")


def test_nobody_else_on_the_machine_reads_what_is_kept(tmp_path: Path) -> None:
    folder = tmp_path / "store"
    create_app(folder)
    for path in (folder, folder / "skavo.db", folder / "secret"):
        assert not path.stat().st_mode & (stat.S_IRWXG | stat.S_IRWXO), path


def test_a_secret_that_a_full_disk_left_empty_is_made_again(tmp_path: Path) -> None:
    open_store(tmp_path)
    (tmp_path / "secret").touch()
    secret = create_app(tmp_path).config["SECRET_KEY"]
    assert len(secret) > 40 and create_app(tmp_path).config["SECRET_KEY"] == secret


def test_behind_https_the_cookie_is_secure_and_browsers_insist_on_it(tmp_path: Path) -> None:
    app = create_app(tmp_path, settings=Settings(public_address="https://skavo.example", trusted_proxies=1))
    response = app.test_client().get("/api/session")
    (cookie,) = response.headers.getlist("Set-Cookie")
    assert cookie.startswith("__Host-skavo=") and "Secure" in cookie and "Path=/" in cookie and "Domain" not in cookie
    assert response.headers["Strict-Transport-Security"].startswith("max-age=")


def test_pairing_shows_the_public_address(tmp_path: Path) -> None:
    from skavo.demo.build import build_study
    from tests.workshop import workshop_script

    app = create_app(tmp_path, limits=False, settings=Settings(public_address="https://skavo.example"))
    build_study(app.extensions["skavo_store"], workshop_script())
    app.config["SESSION_COOKIE_SECURE"] = False
    person = Desk(app.test_client()).sign_in("supervisor")
    member = next(p for p in person.answer("GET", "/api/studies/1/people")["people"] if p["name"] == "Mira Tole")
    made = person.answer("POST", "/api/studies/1/pairing-codes", {"member_ids": [member["id"]]})[0]
    assert made["address"].startswith("https://skavo.example/field/#pair=")


def test_health_is_told_in_words_and_without_what_is_kept(app: Any) -> None:
    response = app.test_client().get("/healthz")
    assert response.get_json() == {"well": True, "problems": []}


def test_what_fails_in_the_database_shows_no_answer_in_the_log(tmp_path: Path) -> None:
    from sqlalchemy import text
    from sqlalchemy.exc import OperationalError

    store = open_store(tmp_path / "store")
    with pytest.raises(OperationalError) as raised, store.session() as session:
        session.execute(text("INSERT INTO nowhere VALUES (:answer)"), {"answer": "a secret"})
    assert "a secret" not in str(raised.value)


def test_what_a_stranger_sends_is_refused_by_its_size_before_it_is_read(server: Server) -> None:
    """Only the head of each request is sent: an answer comes at once, or not before the body."""
    desk = Desk(server.app.test_client()).sign_in("data_manager")
    phone = Phone(server.address, desk.code_for("Ilse Varn"), "p")
    cookie = desk.client.get_cookie("skavo")
    assert cookie is not None
    answers = {}
    for name, headers in {
        "stranger": "", "made up": "Authorization: Bearer made-up\r\nCookie: skavo=made.up.too\r\n",
        "device": f"Authorization: Bearer {phone.token}\r\n", "person": f"Cookie: skavo={cookie.value}\r\n",
    }.items():  # fmt: skip
        for length in ("Content-Length: 1000", "Content-Length: 100000000", "Transfer-Encoding: chunked"):
            answers[name, length] = _answered(server, f"{headers}{length}\r\n")
    refused = {asked for asked, answer in answers.items() if answer.startswith(b"HTTP/1.1 413")}
    assert refused == {
        (name, length) for name in ("stranger", "made up")
        for length in ("Content-Length: 100000000", "Transfer-Encoding: chunked")
    }  # fmt: skip
    assert {answer for asked, answer in answers.items() if asked not in refused} == {b""}


def _answered(server: Server, headers: str) -> bytes:
    """The first bytes of the answer to a head without its body, b"" where the server waits for it."""
    host, port = server.address.removeprefix("http://").rstrip("/").split(":")
    with socket.create_connection((host, int(port))) as connection:
        connection.settimeout(2)
        connection.sendall(f"PUT /api/field/interviews/x HTTP/1.1\r\nHost: x\r\n{headers}\r\n".encode())
        try:
            return connection.recv(20)
        except TimeoutError:
            return b""


def test_the_log_tells_what_failed_and_where_and_never_the_words_of_the_error() -> None:
    out = io.StringIO()
    handler = logging.StreamHandler(out)
    handler.setFormatter(Lines())
    log = logging.Logger("skavo.test")
    log.addHandler(handler)
    try:
        int("an answer somebody gave")
    except ValueError:
        log.exception("unforeseen error", extra={"told": {"study": 3}})
    line = json.loads(out.getvalue())
    assert (line["event"], line["error"], line["study"], line["level"]) == (
        "unforeseen error",
        "ValueError",
        3,
        "error",
    )
    assert "test_hostile.py" in line["where"][0] and "answer" not in out.getvalue()


def test_signing_in_and_refused_tries_are_written_down_without_what_was_typed(
    app: Any, caplog: pytest.LogCaptureFixture
) -> None:
    stranger = Desk(app.test_client())
    with caplog.at_level(logging.INFO, "skavo"):
        stranger.call("POST", "/api/session", {"login": "my-secret-typed-here", "password": "x"})
        stranger.call("POST", "/api/session", {"login": "dora", "password": "another-secret"})
        stranger.sign_in("data_manager")
    told = [
        (r.getMessage(), r.told["person"] is not None, r.told["address"]) for r in caplog.records if hasattr(r, "told")
    ]
    assert told == [
        ("sign-in refused", False, "127.0.0.1"), ("sign-in refused", True, "127.0.0.1"), ("signed in", True, "127.0.0.1"),
    ]  # fmt: skip
    assert "secret" not in caplog.text


def test_who_sends_is_found_without_waiting_for_whoever_writes(server: Server) -> None:
    """What is asked at the door is asked where all connections are served."""
    desk = Desk(server.app.test_client()).sign_in("data_manager")
    cookie = desk.client.get_cookie("skavo")
    assert cookie is not None
    with server.store.session() as session:
        # Its last use lies so far back that it would be noted again.
        session.execute(update(SignedInSession).values(used_at=now() - timedelta(minutes=30)))
    written, asked = threading.Event(), threading.Event()

    def write() -> None:
        with server.store.session():
            written.set()
            assert asked.wait(60)

    writer = threading.Thread(target=write)
    writer.start()
    assert written.wait(60)
    try:
        head = f"Cookie: skavo={cookie.value}\r\nContent-Length: 100000000\r\n"
        assert _answered(server, head) == b""
        with server.app.request_context(EnvironBuilder(headers=[("Cookie", f"skavo={cookie.value}")]).get_environ()):
            assert is_signed_in()
        assert writer.is_alive()
    finally:
        asked.set()
        writer.join()
