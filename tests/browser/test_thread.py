"""The whole job through the real interface: write, release, pair, ask without a network, read, clean, join, count, hand over."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import segno
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.cli import main
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import DESK, PHONE, cut_network, errors_in, kill, open_chromium
from tests.browser.pairing import choose_pin, unlock
from tests.browser.screen import Screen
from tests.browser.typing import chord, in_cell, keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Server]:
    server = Server(tmp_path / "store", "127.0.0.1", 0, limits=False)
    server.start()
    yield server
    server.stop()


@pytest.fixture
def desk() -> Iterator[Screen]:
    browser = open_chromium(DESK)
    yield Screen(browser)
    browser.quit()


def sign_in(desk: Screen, server: Server, monkeypatch: pytest.MonkeyPatch) -> None:
    import io

    monkeypatch.setattr("sys.stdin", io.StringIO("wells under the tarn\n"))
    folder = str(server.store.files.parent)
    assert main(["add-administrator", "dora", "Dora Maine", "--folder", folder]) == 0
    desk.browser.get(server.address)
    desk.type_into("input[autocomplete=username]", "dora")
    desk.type_into("input[type=password]", "wells under the tarn" + Keys.ENTER)
    desk.sees("No studies yet")


def saved(desk: Screen) -> None:
    """The last edit is on the server."""
    time.sleep(0.6)
    desk.until(lambda: "Saved" in desk.find(".status span").text, "saved")


def write_questionnaire(desk: Screen) -> None:
    """By keyboard: a section, a number with a check, a roster of that many rows, a choice with its code list."""
    desk.press("New study")
    desk.type_into("#title", "Wells of the isles")
    desk.press("Make it")
    desk.press("Begin")
    desk.press("Write the first section")
    in_cell(desk, "wording.en")
    keys(desk, "The well", Keys.ENTER)
    write_line(desk, "How many people use it?", "users", "whole number")
    keys(desk, Keys.TAB, Keys.TAB, Keys.TAB, Keys.ENTER)
    desk.find(".sentences .cm-content")
    keys(desk, Keys.ENTER, "must hold usres between 1 and 9")
    desk.sees("There is no variable “usres”. Did you mean users?")
    desk.until(
        lambda: [e.text for e in desk.browser.find_elements(By.CSS_SELECTOR, ".sentences .rule-fault")] == ["usres"],
        "the place of the fault",
    )
    chord(desk, Keys.CONTROL, "a")
    keys(desk, "must hold users between 1 and 9", Keys.ESCAPE)
    in_cell(desk, "rules")
    desk.type_into(
        "[data-field='must_hold.0.rule'] input", "{{users} people is too many for one well.".replace("{{", "{")
    )
    desk.click(".line.active [data-column=variable]")
    keys(desk, Keys.ENTER)
    write_line(desk, "Each of them", "each_user", "text", "roster")
    keys(desk, Keys.TAB, Keys.TAB, Keys.TAB, "r")
    desk.find(".sentences .cm-content")
    chord(desk, Keys.CONTROL, "a")
    keys(desk, "repeated users times", Keys.ESCAPE)
    in_cell(desk, "rules")
    chord(desk, Keys.SHIFT, Keys.TAB)
    chord(desk, Keys.SHIFT, Keys.TAB)
    keys(desk, Keys.ENTER)
    write_line(desk, "First name of user {row}", "name", "text")
    keys(desk, Keys.ENTER)
    write_line(desk, "How does {name} find the water?", "water", "text", "single answer")
    desk.press("New list")
    desk.press("Add a code")
    for row, label in enumerate(("Good", "Salty", "Something else")):
        if row:
            keys(desk, Keys.ENTER)
        there = f'return document.activeElement.closest("[data-row=\\"{row}\\"]") !== null'
        desk.until(lambda there=there: desk.browser.execute_script(there), f"row {row}")
        keys(desk, label)
    desk.type_into('[data-row="2"] [data-column=code]', "other" + Keys.TAB)
    desk.click('[data-row="2"] input[type=checkbox]')
    desk.click(".ant-drawer-close")
    saved(desk)


def write_line(desk: Screen, wording: str, variable: str, proposed: str, kind: str = "") -> None:
    """A line from its wording: what is proposed is seen, the kind chosen where it is another, the variable typed over."""
    in_cell(desk, "wording.en")
    keys(desk, wording, Keys.TAB)
    in_cell(desk, "answer")
    desk.until(lambda: desk.find(".line.active [data-column=variable]").get_attribute("value") != "", "a variable")
    assert desk.find(".line.active [data-column=answer]").text == proposed
    if kind:
        keys(desk, kind, Keys.ENTER)
        in_cell(desk, "answer")
    chord(desk, Keys.SHIFT, Keys.TAB)
    chord(desk, Keys.SHIFT, Keys.TAB)
    in_cell(desk, "variable")
    chord(desk, Keys.CONTROL, "a")
    keys(desk, variable)


def try_on_the_desks_phone(desk: Screen) -> None:
    """The pane runs the same engine: the check says its message."""
    desk.press("Phone")
    desk.click(".script-row [data-column=variable]", 1)
    desk.until(lambda: "How many people" in desk.find(".phone-screen").text, "the preview")
    desk.type_into(".phone-screen .typed", "12")
    desk.until(lambda: "12 people is too many for one well." in desk.find(".phone-screen").text, "the message")


def release(desk: Screen) -> None:
    desk.press("Release 1")
    desk.type_into(".ant-modal textarea", "The first one")
    desk.click(".ant-modal-footer .ant-btn-primary")
    desk.sees("as release 1")


def pairing_code(desk: Screen, server: Server) -> str:
    desk.browser.get(f"{server.address}studies/1/people")
    desk.press("Add a person")
    desk.type_into("#name", "Ilse Varn" + Keys.ENTER)
    desk.sees("2 people")
    desk.browser.get(f"{server.address}studies/1/field")
    desk.press("Pair a phone")
    desk.type_into("#enumerator", "Ilse" + Keys.ENTER)
    desk.press("Show a code")
    return desk.find(".big-code").text


def pair(phone: Screen, server: Server, code: str, picture: Path) -> None:
    """By a picture of the code, as the phone's camera would take it."""
    segno.make(f"{server.address}field/#pair={code}").save(str(picture), scale=6, border=4)
    phone.browser.get(f"{server.address}field/")
    phone.find("input[type=file]").send_keys(str(picture))
    phone.until(lambda: phone.find("input[name=code]").get_attribute("value") == code, "the code in the picture")
    phone.type_into("input[name=device]", "phone 01")
    phone.press("Pair")
    choose_pin(phone)
    phone.find(".frame-action .wide-button")
    phone.until(lambda: "Still fetching" not in phone.find("body").text, "ready for work without a network")


def shows(phone: Screen, words: str) -> None:
    phone.until(lambda: words in phone.find(".question-wording").text, words)


def next_screen(phone: Screen) -> None:
    phone.click(".fill-foot .next")


def begin_without_network(phone: Screen, server: Server) -> None:
    """Started with the network cut, checks hold, a needed answer is enforced; then the browser is killed in the middle."""
    cut_network(phone.browser, True)
    phone.browser.get(f"{server.address}field/")
    unlock(phone)
    phone.press("Start an interview")
    shows(phone, "How many people")
    phone.type_into(".typed", "12")
    next_screen(phone)
    phone.sees("12 people is too many for one well.")
    phone.find(".typed").clear()
    phone.type_into(".typed", "3")
    phone.until(lambda: phone.count(".note") == 0)
    next_screen(phone)
    shows(phone, "First name of user 1")
    next_screen(phone)
    phone.sees("An answer is needed here.")
    phone.type_into(".typed", "Anselm")
    next_screen(phone)
    shows(phone, "How does Anselm find the water?")
    phone.press("Something else")
    next_screen(phone)
    shows(phone, "Which other?")
    phone.type_into(".typed", "rusty")
    time.sleep(0.5)


def go_on_and_pack(phone: Screen, server: Server) -> None:
    """Back after the kill, where it was left; an earlier answer changed skips what is no longer asked."""
    cut_network(phone.browser, True)
    phone.browser.get(f"{server.address}field/")
    unlock(phone)
    phone.sees("Go on")
    phone.click("a.line")
    shows(phone, "Which other?")
    assert phone.find(".typed").get_attribute("value") == "rusty"
    phone.click(".fill-foot .back")
    shows(phone, "How does Anselm")
    phone.press("Salty")
    next_screen(phone)
    shows(phone, "First name of user 2")
    for _ in range(3):
        phone.click(".fill-foot .back")
        time.sleep(0.4)
    shows(phone, "How many people")
    phone.find(".typed").clear()
    phone.type_into(".typed", "1")
    for wording in ("First name of user 1", "How does Anselm"):
        next_screen(phone)
        shows(phone, wording)
    next_screen(phone)
    phone.sees("Everything is answered and in order.")
    phone.press("Pack the interview")
    phone.sees("Waiting to be sent")
    assert errors_in(phone.browser) == []


def test_from_an_empty_questionnaire_to_a_file(
    served: Server, desk: Screen, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    sign_in(desk, served, monkeypatch)
    write_questionnaire(desk)
    try_on_the_desks_phone(desk)
    release(desk)
    code = pairing_code(desk, served)

    first = Screen(open_chromium(PHONE, profile=tmp_path / "phone"))
    pair(first, served, code, tmp_path / "code.png")
    begin_without_network(first, served)
    kill(first.browser)
    phone = Screen(open_chromium(PHONE, profile=tmp_path / "phone"))
    go_on_and_pack(phone, served)
    cut_network(phone.browser, False)
    phone.browser.get(f"{served.address}field/")
    unlock(phone)
    phone.sees("Reached the office today")
    for answer in ("2", "3", "9"):
        ask_one_more(phone, answer)
    phone.browser.quit()

    read_in_the_ledger(desk, served)
    assert errors_in(desk.browser) == []
    clean_a_value(desk, served)
    # A rule is tried while it is typed: half of one is refused, and said to be.
    assert all("plan/preview" in error for error in errors_in(desk.browser))
    join_a_table(desk, served, tmp_path)
    make_a_table(desk, served)
    hand_over(desk, served)
    assert errors_in(desk.browser) == []


def ask_one_more(phone: Screen, users: str) -> None:
    phone.press("Start an interview")
    shows(phone, "How many people")
    phone.type_into(".typed", users)
    next_screen(phone)
    for number in range(1, int(users) + 1):
        shows(phone, f"First name of user {number}")
        phone.type_into(".typed", f"User{number}")
        next_screen(phone)
        shows(phone, f"How does User{number}")
        phone.press("Good")
        next_screen(phone)
    phone.press("Pack the interview")
    phone.sees("Reached the office today")
    phone.until(lambda: "Waiting to be sent" not in phone.find("body").text, "sent")


def read_in_the_ledger(desk: Screen, served: Server) -> None:
    desk.browser.get(f"{served.address}studies/1/interviews?sort=number")
    desk.until(lambda: desk.count(".ant-table-row") == 4, "four interviews")
    desk.click(".ant-table-row", 3)
    desk.sees("First name of user 1")
    assert "Anselm" in desk.find("body").text and "rusty" not in desk.find("body").text
    desk.press("Accept")
    desk.sees("accepted · by Ilse Varn")


def clean_a_value(desk: Screen, served: Server) -> None:
    desk.browser.get(f"{served.address}studies/1/clean")
    desk.press("Add")
    desk.press("Mark as missing")
    desk.choose("Variable", "users · How many people use it?")
    desk.type_into(".step-form textarea", "users > 8")
    desk.sees("Touches 1 cell in 1 interview.")
    desk.press("Keep it")
    desk.sees("1 step · 1 cell in 1 interview")


def join_a_table(desk: Screen, served: Server, tmp_path: Path) -> None:
    table = tmp_path / "villages.csv"
    table.write_text("size,village\n1,Kesk\n2,Luma\n2,Vint\n7,Tarrow\n", encoding="utf-8")
    desk.browser.get(f"{served.address}studies/1/combine")
    desk.press("Bring in a table …")
    desk.until(lambda: desk.browser.find_element(By.CSS_SELECTOR, "input[type=file]")).send_keys(str(table))
    desk.press("Bring in 4 rows")
    desk.sees("not joined yet")
    desk.choose("Take over", "village")
    desk.click("h1")
    desk.press("Add a key")
    desk.choose("Variable of the interview", "users · How many people use it?")
    desk.choose("Column of the table", "size")
    desk.choose("Where a key stands in several rows", "leave them without one")
    desk.until(
        lambda: (
            [e.text for e in desk.browser.find_elements(By.CSS_SELECTOR, ".join-figure b")]
            == ["1", "0", "0", "2", "1", "1"]
        ),
        "the report",
    )
    desk.click(".join-form .ant-btn-primary")
    desk.sees("Undo the join")


def make_a_table(desk: Screen, served: Server) -> None:
    desk.browser.get(f"{served.address}studies/1/analyse")
    desk.choose("Variable", "water")
    desk.until(lambda: desk.find(".figures thead th").text == "water", "the table")
    figure = desk.find(".figures tbody .figure-cell")
    assert figure.text.split("\n")[0] == "(93.3 %)"
    figure.click()
    desk.sees("14 of 15 rows of each_user")
    desk.press("see them")
    desk.until(lambda: desk.count(".ant-table-row") == 3, "the interviews behind the figure")
    desk.browser.back()
    desk.sees("not saved")
    desk.press("Save …")
    desk.type_into("input[placeholder='Title of the table']", "The water" + Keys.ENTER)
    desk.sees("saved table")


def hand_over(desk: Screen, served: Server) -> None:
    desk.browser.get(f"{served.address}studies/1/hand-over")
    desk.press("Labelled data")
    desk.press("Make the extract")
    desk.sees("questionnaire.sav.zip")
