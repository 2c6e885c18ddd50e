"""Data sets: written on the page from two questionnaires, kept, and what is made of them named everywhere."""

from __future__ import annotations

from urllib.parse import parse_qs, urlsplit

import pytest
from selenium.webdriver.common.by import By
from sqlalchemy import select

from skavo.core.questionnaire.script import Code, CodeList, write_script
from skavo.demo.questionnaire import demo_script
from skavo.server import Server
from skavo.store.models import NamedDataSet, OutsideTable, Questionnaire
from skavo.web.pages import STATIC
from tests.browser.chromium import errors_in
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.samples import part, script
from tests.store.study import release_in

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def second_questionnaire(server: Server) -> None:
    """One that asks for the island under another name, its codes meaning something else."""
    island = next(part for part in demo_script().parts if part.variable == "island")
    isles = [Code(code="vint", label={"en": "Kesk"}), Code(code="kesk", label={"en": "Vint"})]
    asked = script(
        part(1, "single answer", "isle", wording={"en": island.wording["en"].upper()}, code_list="isles"),
        part(1, "text", "anything", wording={"en": "Anything else?"}),
        lists=(CodeList(name="isles", codes=isles),),
    )
    with server.store.session() as session:
        made = Questionnaire(study_id=1, title="By letter", script=write_script(asked))
        session.add(made)
        session.flush()
        number = made.id
    release_in(server.store, number, asked, 1)


def test_two_questionnaires_become_one_data_set(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    second_questionnaire(worked_demo)
    desk.browser.get(f"{worked_demo.address}studies/1/combine")
    desk.press("+ Make a data set")
    desk.type_into(".set-title input", "Both ways of asking")
    desk.press("Put another source below")
    desk.press("Propose which is which")
    desk.until(lambda: desk.count(".set-mapping tr") > 1, "the variables of the second one")
    assert "vint = kesk" in desk.find(".set-mapping").text
    assert violations(desk) == []
    desk.press("Derive a variable")
    desk.type_into("[aria-label=new_variable]", "many")
    desk.type_into("[aria-label=Formula]", "worker > 5")
    desk.sees("Did you mean workers?")
    for _ in range(len(" > 5")):
        desk.type_into("[aria-label=Formula]", "\b")
    desk.type_into("[aria-label=Formula]", "s > 5")
    desk.until(lambda: "variables" in desk.find(".set-made").text, "what it makes")
    desk.press("Keep the data set")
    desk.until(lambda: "Both ways of asking" in desk.find(".pick-line.here b").text, "it is kept")
    # "Rows beside each other" is said by another button.
    desk.click(".page-head.tight + .ant-segmented .ant-segmented-item", 1)
    desk.until(lambda: "interview.key" in desk.find("thead").text, "the rows")
    desk.browser.refresh()
    desk.until(lambda: "interview.key" in desk.find("thead").text, "the rows, by their address")
    assert violations(desk) == []
    desk.click(".page-head.tight a")
    desk.until(lambda: desk.count(".sentence .word") >= 4, "the sentence")
    assert "Both ways of asking" in desk.find(".sentence").text
    assert "data=" in urlsplit(desk.browser.current_url).query
    desk.browser.back()
    desk.until(lambda: "interview.key" in desk.find("thead").text, "the rows again")
    desk.browser.back()
    desk.sees("Keep the changes")
    # What was said is shown, and nothing is put in its place.
    desk.press("Show which is which")
    desk.until(lambda: desk.count(".set-mapping tr") > 1, "the variables of the second one")
    assert "vint = kesk" in desk.find(".set-mapping").text
    assert not desk.find(".set-side button[type=submit]").is_enabled()
    links = desk.browser.find_elements(By.CSS_SELECTOR, ".page-head.tight a")
    links[1].click()
    desk.press("Make the extract")
    desk.until(lambda: desk.count("a[download]") > 0, "the file")
    assert "Both ways of asking, revision" in desk.find(".ant-table-tbody").text
    assert errors_in(desk.browser) == [] or all("422" in line for line in errors_in(desk.browser))


def test_an_outside_table_is_a_source(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    desk.browser.get(f"{worked_demo.address}studies/1/combine?set=new")
    desk.type_into(".set-title input", "The roll alone")
    desk.choose("Questionnaire or outside table", "licence")
    of_nobody = "those that the join found nobody of ours for"
    desk.until(lambda: of_nobody in desk.find(".set-source").text, "the rows of nobody first")
    desk.choose("Which of its rows", "all of its rows")
    with worked_demo.store.reading() as session:
        rows = session.scalars(select(OutsideTable).where(OutsideTable.name == "licence")).one().rows
    desk.until(lambda: f"{rows} interviews" in desk.find(".set-made").text, "what it makes")
    assert desk.find(".set-narrow").text.endswith(f"{rows} rows")
    assert desk.count(".set-narrow input[type=date]") == 0
    assert violations(desk) == []
    assert errors_in(desk.browser) == []


def test_one_that_is_removed_comes_back(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    desk.browser.get(f"{worked_demo.address}studies/1/combine?set=new")
    desk.type_into(".set-title input", "Only for a moment")
    desk.press("Keep the data set")
    desk.sees("Keep the changes")
    gone = parse_qs(urlsplit(desk.browser.current_url).query)["set"][0]
    desk.press("Remove")
    desk.sees("Only for a moment was removed.")
    desk.until(lambda: "Only for a moment" not in desk.find("nav.lines").text, "it is gone")
    desk.press("Undo")
    desk.until(lambda: "Only for a moment" in desk.find("nav.lines").text, "it is back")
    for station, number in ("analyse", "999"), ("hand-over", "999"), ("analyse", gone):
        desk.browser.get(f"{worked_demo.address}studies/1/{station}?data={number}")
        desk.until(lambda: desk.count(".sentence .word, .extract-form") > 0, "the page")
        if number == "999":
            desk.sees("was removed")
        else:
            assert "was removed" not in desk.find(".page").text


def test_what_is_being_written_stays_where_somebody_else_was_quicker(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    desk.browser.get(f"{worked_demo.address}studies/1/combine?set=new")
    desk.type_into(".set-title input", "At once")
    desk.press("Keep the data set")
    desk.sees("Keep the changes")
    with worked_demo.store.session() as session:
        session.scalars(select(NamedDataSet).where(NamedDataSet.title == "At once")).one().version += 1
    desk.press("Leave rows out")
    desk.type_into("[aria-label='where this holds']", "workers > 5")
    desk.until(lambda: "left out" in desk.find(".set-made").text, "what it makes")
    desk.press("Keep the changes")
    desk.until(lambda: desk.count(".set-side .ant-alert") == 1, "that it was changed meanwhile")
    assert desk.find("[aria-label='where this holds']").get_attribute("value") == "workers > 5"
