"""The script sheet by keyboard and clipboard: many lines at once, names that follow, two people on one script."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator

import pytest
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from skavo.core.questionnaire.script import Part, Script, read_script, write_script
from skavo.server import Server
from skavo.store.models import KeptModule, Membership, Person, Questionnaire, Study
from skavo.web.pages import STATIC
from skavo.web.passphrases import hash_passphrase
from tests.browser.chromium import DESK, cut_network, errors_in, open_chromium
from tests.browser.screen import Screen
from tests.browser.typing import chord, in_cell, keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]
PASSPHRASE = "wells under the tarn"


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    server = Server(tmp_path_factory.mktemp("sheet"), "127.0.0.1", 0, limits=False)
    with server.store.session() as session:
        study = Study(title="Wells")
        people = [
            Person(login=login, name=name, is_administrator=True, password_hash=hash_passphrase(PASSPHRASE))
            for login, name in (("dora", "Dora Maine"), ("sela", "Sela Brack"))
        ]
        session.add_all([study, *people])
        session.flush()
        for person in people:
            member = Membership(study_id=study.id, person_id=person.id, name=person.name, roles=["data_manager"])
            session.add(member)
    server.start()
    yield server
    server.stop()


def browser_of(server: Server, login: str) -> Iterator[Screen]:
    browser = open_chromium(DESK)
    screen = Screen(browser)
    browser.get(server.address)
    screen.type_into("input[autocomplete=username]", login)
    screen.type_into("input[type=password]", PASSPHRASE + Keys.ENTER)
    screen.until(lambda: screen.count("input[type=password]") == 0, "signed in")
    yield screen
    browser.quit()


@pytest.fixture(scope="module")
def dora(served: Server) -> Iterator[Screen]:
    yield from browser_of(served, "dora")


@pytest.fixture(scope="module")
def sela(served: Server) -> Iterator[Screen]:
    yield from browser_of(served, "sela")


def line(level: int, kind: str, variable: str, wording: str, **more: object) -> Part:
    return Part(id=variable, level=level, kind=kind, variable=variable, wording={"en": wording}, **more)  # type: ignore[arg-type]


def household() -> list[Part]:
    return [
        line(1, "section", "people", "People"),
        line(2, "whole number", "workers", "How many work here?"),
        line(2, "whole number", "paid", "How many of the {workers} are paid?", asked_when="workers > 1"),
        line(1, "section", "house", "House"),
        line(2, "whole number", "rooms", "How many rooms?"),
        line(2, "yes/no", "roof", "Is the roof sound?", asked_when="rooms > 1"),
    ]


@pytest.fixture
def questionnaire(served: Server) -> int:
    script = Script(name="household", title={"en": "Household"}, parts=household())
    with served.store.session() as session:
        made = Questionnaire(study_id=1, title="Household", script=write_script(script))
        session.add(made)
        session.flush()
        return made.id


def open_sheet(screen: Screen, server: Server, questionnaire: int, part: str = "workers") -> None:
    screen.browser.get(f"{server.address}studies/1/questionnaire?questionnaire={questionnaire}&part={part}")
    screen.find(f".line.active[data-part={part}]")


def kept(screen: Screen, server: Server, questionnaire: int) -> Script:
    """The script as it is on the server once the page says that all is saved."""
    time.sleep(0.7)
    screen.until(lambda: "Saved" in screen.find(".status span").text, "saved")
    with server.store.session() as session:
        return read_script(session.get_one(Questionnaire, questionnaire).script)


def outline(script: Script) -> list[str]:
    return ["  " * (p.level - 1) + p.variable for p in script.parts]


def clipboard(screen: Screen, event: str, data: dict[str, str] | None = None) -> dict[str, str]:
    """Copy, cut or paste where the caret is, as the browser's own keys do; what is then on the clipboard."""
    script = """const e = new ClipboardEvent(arguments[0], {bubbles: true, cancelable: true, clipboardData: new DataTransfer()});
    for (const [type, text] of Object.entries(JSON.parse(arguments[1]))) e.clipboardData.setData(type, text);
    document.activeElement.dispatchEvent(e);
    return Object.fromEntries([...e.clipboardData.types].map((type) => [type, e.clipboardData.getData(type)]));"""
    found: dict[str, str] = screen.browser.execute_script(script, event, json.dumps(data or {}))
    return found


def choose_lines(screen: Screen, first: str, more: int) -> None:
    screen.click(f".line[data-part={first}] [data-column=variable]")
    keys(screen, Keys.ESCAPE)
    in_cell(screen, "line")
    for _ in range(more):
        chord(screen, Keys.SHIFT, Keys.ARROW_DOWN)
    screen.until(lambda: screen.count("[data-chosen=true]") == more + 1, "lines chosen")


def test_tab_leads_through_the_cells_and_out_of_the_sheet(served: Server, dora: Screen, questionnaire: int) -> None:
    open_sheet(dora, served, questionnaire, "rooms")
    dora.click(".line.active [data-column=variable]")
    for column in ("wording.en", "answer", "rules", "variable"):
        keys(dora, Keys.TAB)
        in_cell(dora, column)
    assert dora.find(".line.active").get_attribute("data-part") == "roof"
    chord(dora, Keys.SHIFT, Keys.TAB)
    in_cell(dora, "rules")
    assert dora.find(".line.active").get_attribute("data-part") == "rooms"
    dora.click(".line[data-part=roof] [data-column=rules]")
    dora.find(".sentences .cm-content")
    keys(dora, Keys.ESCAPE)
    in_cell(dora, "rules")
    keys(dora, Keys.TAB)
    outside = "return document.activeElement.closest('.script-sheet') === null"
    dora.until(lambda: dora.browser.execute_script(outside), "out of the sheet")


def test_a_line_goes_into_a_section_and_out_and_an_empty_one_leaves_by_enter(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire, "house")
    dora.click(".line.active [data-column=variable]")
    chord(dora, Keys.CONTROL, "]")
    assert outline(kept(dora, served, questionnaire))[3:] == ["  house", "    rooms", "    roof"]
    chord(dora, Keys.CONTROL, "[")
    assert outline(kept(dora, served, questionnaire))[3:] == ["house", "  rooms", "  roof"]
    dora.click(".line[data-part=roof] [data-column=variable]")
    keys(dora, Keys.ENTER)
    in_cell(dora, "wording.en")
    keys(dora, Keys.ENTER)
    dora.until(lambda: dora.find(".line.active").get_attribute("aria-level") == "1", "moved out")
    keys(dora, "Anything else?", Keys.ENTER)
    script = kept(dora, served, questionnaire)
    assert outline(script)[-2:] == ["anything_else", ""]
    assert script.parts[-2].answer_needed == ""


def test_a_name_takes_everything_with_it_that_means_it_and_undo_brings_it_back(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire)
    dora.click(".line.active [data-column=variable]")
    chord(dora, Keys.CONTROL, "a")
    keys(dora, "Staff Members", Keys.TAB)
    dora.sees("Renamed, with the 2 places that mention it.")
    script = kept(dora, served, questionnaire)
    assert script.parts[1].variable == "staff_members"
    assert (script.parts[2].wording["en"], script.parts[2].asked_when) == (
        "How many of the {staff_members} are paid?",
        "staff_members > 1",
    )
    chord(dora, Keys.CONTROL, "z")
    assert kept(dora, served, questionnaire).parts == household()


def test_a_name_that_is_taken_or_cannot_be_followed_leaves_the_old_one_and_its_rules(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire)
    dora.click(".line.active [data-column=variable]")
    chord(dora, Keys.CONTROL, "a")
    keys(dora, "paid", Keys.TAB)
    dora.sees("“paid” is already the variable of another line.")
    assert kept(dora, served, questionnaire).parts == household()
    dora.click(".line[data-part=workers] [data-column=variable]")
    chord(dora, Keys.CONTROL, "a")
    cut_network(dora.browser, True)
    try:
        keys(dora, "hands", Keys.TAB)
        dora.find(".ant-message-error")
    finally:
        cut_network(dora.browser, False)
    assert kept(dora, served, questionnaire).parts == household()


def test_lines_chosen_together_move_and_are_set_and_removed(served: Server, dora: Screen, questionnaire: int) -> None:
    open_sheet(dora, served, questionnaire)
    choose_lines(dora, "workers", 1)
    dora.press("Set ▾")
    dora.press("refused allowed")
    dora.press("Move into ▾")
    dora.press("House")
    script = kept(dora, served, questionnaire)
    assert outline(script) == ["people", "house", "  rooms", "  roof", "  workers", "  paid"]
    assert [p.special_answers for p in script.parts] == [[]] * 4 + [["refused"], ["refused"]]
    dora.find(".line[data-part=workers] .script-number").click()
    in_cell(dora, "line")
    chord(dora, Keys.SHIFT, Keys.ARROW_DOWN)
    keys(dora, Keys.DELETE)
    dora.sees("2 lines removed.")
    assert outline(kept(dora, served, questionnaire)) == ["people", "house", "  rooms", "  roof"]
    dora.press("Undo")
    assert len(kept(dora, served, questionnaire).parts) == 6


def test_lines_copied_go_into_another_questionnaire_and_to_a_spreadsheet(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire)
    choose_lines(dora, "house", 2)
    held = clipboard(dora, "copy")
    rows = [row.split("\t") for row in held["text/plain"].split("\n")]
    assert rows[0][:4] == ["Level", "Kind", "Variable", "Wording [en]"]
    assert [row[2] for row in rows[1:]] == ["house", "rooms", "roof"]
    with served.store.session() as session:
        script = Script(name="other", title={"en": "Other"}, parts=[line(1, "whole number", "rooms", "Rooms?")])
        other = Questionnaire(study_id=1, title="Other", script=write_script(script))
        session.add(other)
        session.flush()
        target = other.id
    open_sheet(dora, served, target, "rooms")
    dora.click(".line.active .script-number")
    in_cell(dora, "line")
    clipboard(dora, "paste", held)
    dora.sees("3 lines put in. One variable was taken and has a new name.")
    script = kept(dora, served, target)
    assert outline(script) == ["rooms", "house", "  rooms_2", "  roof"]
    assert script.parts[3].asked_when == "rooms_2 > 1"


def test_cells_of_a_spreadsheet_are_looked_at_before_they_become_lines(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire, "roof")
    dora.click(".line.active [data-column=variable]")
    clipboard(dora, "paste", {"text/plain": "garden\tIs there a garden?\tyes/no\n\tHow many trees?\t\n"})
    dora.sees("Paste 2 rows as lines")
    dora.until(lambda: dora.count(".paste-lines tr") == 2, "what comes out")
    dora.press("Put in 2 lines")
    script = kept(dora, served, questionnaire)
    assert [(p.variable, p.kind, p.level) for p in script.parts[-2:]] == [
        ("garden", "yes/no", 2),
        ("trees", "whole number", 2),
    ]


def test_finding_goes_over_everything_and_replacing_renames(served: Server, dora: Screen, questionnaire: int) -> None:
    open_sheet(dora, served, questionnaire, "house")
    dora.click(".line.active [data-column=variable]")
    chord(dora, Keys.CONTROL, "h")
    dora.type_into(".find-bar input[aria-label=Find]", "rooms")
    dora.sees("found 3 times")
    keys(dora, Keys.ENTER, Keys.ENTER, Keys.ENTER)
    dora.sees("3 of 3")
    dora.until(lambda: dora.find(".line.active").get_attribute("data-part") == "roof", "the last place")
    dora.type_into(".find-bar input[aria-label='Replace by']", "chambers")
    dora.press("Replace all 3")
    script = kept(dora, served, questionnaire)
    assert [(p.variable, p.wording["en"], p.asked_when) for p in script.parts[-2:]] == [
        ("chambers", "How many chambers?", ""),
        ("roof", "Is the roof sound?", "chambers > 1"),
    ]
    dora.sees("not found")
    keys(dora, Keys.ESCAPE)
    dora.until(lambda: dora.count(".find-bar") == 0, "closed")


def test_a_folded_section_hides_its_lines_until_one_of_them_is_gone_to(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire, "house")
    dora.click(".line[data-part=people] .script-fold")
    dora.until(lambda: dora.count("[data-part=workers]") == 0, "hidden")
    assert dora.find(".line[data-part=people] [data-column=answer]").text == "2 questions"
    dora.browser.refresh()
    dora.find(".line.active")
    assert dora.count(".line[data-part=workers]") == 0
    chord(dora, Keys.CONTROL, "f")
    dora.type_into(".find-bar input[aria-label=Find]", "paid?" + Keys.ENTER)
    dora.until(lambda: dora.find(".line.active").get_attribute("data-part") == "paid", "unfolded")


def test_two_see_each_other_and_overwrite_nothing(
    served: Server, dora: Screen, sela: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire, "workers")
    open_sheet(sela, served, questionnaire, "roof")
    dora.until(lambda: dora.find(".line[data-part=roof] .at-work").text == "Sela Brack", "Sela on her line")
    sela.until(lambda: sela.find(".line[data-part=workers] .at-work").text == "Dora Maine", "Dora on hers")
    dora.click(".line.active [data-column=variable]")
    sela.click(".line.active [data-column=variable]")
    keys(dora, Keys.TAB)
    keys(sela, Keys.TAB)
    in_cell(dora, "wording.en")
    in_cell(sela, "wording.en")
    keys(dora, " Children too.")
    keys(sela, " Look up.", Keys.ENTER)
    in_cell(sela, "wording.en")
    keys(sela, "Does it leak?", Keys.ENTER)
    dora.until(lambda: dora.count(".line") == 8, "Sela's lines with Dora")
    kept(dora, served, questionnaire)
    script = kept(sela, served, questionnaire)
    assert [p.wording.get("en") for p in script.parts] == [
        "People", "How many work here? Children too.", "How many of the {workers} are paid?", "House", "How many rooms?",
        "Is the roof sound? Look up.", "Does it leak?", None,
    ]  # fmt: skip
    sela.until(lambda: "Children too." in sela.find(".line[data-part=workers]").text, "Dora's words with Sela")
    chord(dora, Keys.CONTROL, "z")
    script = kept(dora, served, questionnaire)
    assert script.parts[1].wording["en"] == "How many work here?" and len(script.parts) == 8


def test_both_changed_one_field_theirs_stands_and_mine_is_offered(
    served: Server, dora: Screen, questionnaire: int
) -> None:
    open_sheet(dora, served, questionnaire, "rooms")
    dora.click(".line.active [data-column=variable]")
    keys(dora, Keys.TAB)
    in_cell(dora, "wording.en")
    with served.store.session() as session:
        kept_one = session.get_one(Questionnaire, questionnaire)
        script = read_script(kept_one.script)
        script.parts[4].wording["en"] = "Rooms, theirs?"
        kept_one.script = write_script(script)
        kept_one.version += 1
        keys(dora, " Mine.")
    dora.sees("You and somebody else changed the same thing:")
    assert kept(dora, served, questionnaire).parts[4].wording["en"] == "Rooms, theirs?"
    dora.press("Put mine in")
    assert kept(dora, served, questionnaire).parts[4].wording["en"] == "How many rooms? Mine."
    assert errors_in(dora.browser) == [] or all("409" in e for e in errors_in(dora.browser))


def test_a_rule_is_picked_together_completed_and_tried_out(served: Server, dora: Screen, questionnaire: int) -> None:
    open_sheet(dora, served, questionnaire, "house")
    dora.press("Pick it together")
    dora.click(".pick-row .ant-select")
    keys(dora, "workers", Keys.ENTER)
    dora.type_into(".pick-row input[aria-label=Value]", "3")
    dora.until(lambda: dora.find(".pick-says").text == "workers >= 3", "the sentence")
    dora.press("Set")
    assert kept(dora, served, questionnaire).parts[3].asked_when == "workers >= 3"
    dora.click("[data-field=asked_when] .try-open")
    dora.type_into(".try-out input", "5")
    dora.until(lambda: dora.find(".try-out .outcome").text == "yes", "what it gives")
    dora.find(".try-out input").send_keys(Keys.BACKSPACE + "2")
    dora.until(lambda: dora.find(".try-out .outcome").text == "no", "what it gives now")
    dora.click(".line.active [data-column=rules]")
    dora.find(".sentences .cm-content")
    chord(dora, Keys.CONTROL, "a")
    keys(dora, "asked when roof is ")
    dora.until(lambda: "yes" in dora.find(".cm-tooltip-autocomplete").text, "what may come")
    keys(dora, Keys.ESCAPE, Keys.ESCAPE)


@pytest.fixture
def empty(served: Server) -> int:
    script = Script(name="new", title={"en": "New"})
    with served.store.session() as session:
        made = Questionnaire(study_id=1, title="New", script=write_script(script))
        session.add(made)
        session.flush()
        return made.id


def test_an_empty_page_is_begun_with_modules_and_one_becomes_a_module(served: Server, dora: Screen, empty: int) -> None:
    dora.browser.get(f"{served.address}studies/1/questionnaire?questionnaire={empty}")
    dora.press("Take modules")
    for title in ("Consent and contact", "Sources of income"):
        dora.click(f"input[aria-label='Take {title}']")
    dora.until(lambda: "Common practice" in dora.find(".shelf-shown").text, "where it comes from")
    dora.press("Take 2 modules, 8 questions")
    script = kept(dora, served, empty)
    assert [p.origin.split("/")[0] for p in script.parts] == ["consent"] * 7 + ["income"] * 6
    assert dora.find(".status").text.count("no errors") == 1
    dora.click(".line [data-column=variable]")
    keys(dora, Keys.ESCAPE)
    in_cell(dora, "line")
    dora.press("Save as module …")
    dora.type_into("#title", " of ours" + Keys.ENTER)
    dora.sees("Saved on the shelf of this study.")
    with served.store.reading() as session:
        module = session.scalars(select(KeptModule)).one()
    assert module.name == "consent_of_ours" and len(module.body["fragment"]["parts"]) == 7


def test_an_empty_page_is_begun_from_an_earlier_questionnaire(
    served: Server, dora: Screen, questionnaire: int, empty: int
) -> None:
    with served.store.session() as session:
        session.get_one(Questionnaire, questionnaire).title = "The one before"
    dora.browser.get(f"{served.address}studies/1/questionnaire?questionnaire={empty}")
    dora.press("Earlier questionnaire")
    dora.click(".begin-way .ant-select")
    keys(dora, "The one before", Keys.ENTER)
    dora.until(lambda: dora.count(".glance tr") == 6, "a glance")
    dora.press("Begin from it")
    script = kept(dora, served, empty)
    assert [(p.variable, p.asked_when) for p in script.parts] == [(p.variable, p.asked_when) for p in household()]
    assert not {p.id for p in script.parts} & {p.id for p in household()}


def test_an_empty_page_is_begun_with_cells_and_by_writing(served: Server, dora: Screen, empty: int) -> None:
    dora.browser.get(f"{served.address}studies/1/questionnaire?questionnaire={empty}")
    dora.press("Workbook or cells")
    dora.click(".paste-here")
    clipboard(dora, "paste", {"text/plain": "How many goats?\nIs there a well?"})
    dora.press("Put in 2 lines")
    assert [(p.variable, p.kind) for p in kept(dora, served, empty).parts] == [
        ("goats", "whole number"),
        ("well", "yes/no"),
    ]
    dora.press("Undo")
    dora.press("Write the first section")
    in_cell(dora, "wording.en")
    keys(dora, "Goats", Keys.ENTER)
    assert [p.kind for p in kept(dora, served, empty).parts] == ["section", "text"]


def test_the_sheet_of_keys_opens_on_a_question_mark(served: Server, dora: Screen, questionnaire: int) -> None:
    open_sheet(dora, served, questionnaire)
    dora.click(".line.active .script-number")
    in_cell(dora, "line")
    keys(dora, "?")
    dora.sees("into a section or roster, and out")
