"""Code lists in the browser: ready ones, a tree from a file, codes that rules follow, and a long one on the phone."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.core.questionnaire.script import read_script
from skavo.server import Server
from skavo.store.models import Questionnaire
from skavo.web.pages import STATIC
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.browser.typing import chord, keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def open_lists(screen: Screen, demo: Server, name: str = "") -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_ward")
    screen.find(".script-row.line")
    screen.click('.script-bar button[aria-label="More"]')
    screen.press("Code lists")
    screen.find(".lists-pane")
    if name:
        named = [e for e in screen.browser.find_elements(By.CSS_SELECTOR, ".lists-rail .mono") if e.text.endswith(name)]
        named[0].click()


def script_of(demo: Server) -> dict[str, list[str]]:
    """The codes of every list as they are kept, with what they hang under."""
    with demo.store.reading() as session:
        script = read_script(session.get_one(Questionnaire, 1).script)
    return {entry.name: [f"{c.code} {c.attributes}" for c in entry.codes] for entry in script.code_lists}


def asked_list(demo: Server) -> str:
    with demo.store.reading() as session:
        script = read_script(session.get_one(Questionnaire, 1).script)
    return next(part.code_list for part in script.parts if part.id == "p_ward")


def test_a_ready_list_is_taken_with_its_source(screen: Screen, demo: Server) -> None:
    open_lists(screen, demo)
    screen.press("Add a list")
    screen.press("Ready lists")
    screen.type_into(".ant-modal input[type=text]", "5218")
    screen.press("Sexes")
    screen.press("Take 1 list")
    screen.until(lambda: screen.find('.lists-pane input[aria-label="Source"]').get_property("value") == "ISO/IEC 5218")
    screen.until(lambda: len(script_of(demo).get("sex", [])) == 4)


def test_a_tree_comes_from_a_file_and_is_edited(screen: Screen, demo: Server, tmp_path: Path) -> None:
    rows = [f"Isle {i},Ward {i}{w},{i}{w} Lund Street {n}" for i in "AB" for w in range(2) for n in range(60)]
    (tmp_path / "streets.csv").write_text("\n".join(["isle,quarter,street", *rows]), encoding="utf-8")
    open_lists(screen, demo)
    screen.press("Add a list")
    screen.press("From a file")
    screen.find(".ant-modal input[type=file]").send_keys(str(tmp_path / "streets.csv"))
    screen.press("Lists that hang together")
    screen.click(".column-choices .ant-select")
    for column in ("isle", "quarter", "street"):
        keys(screen, *column, Keys.ENTER)
    screen.press("Take 3 lists")
    screen.until(lambda: len(script_of(demo).get("street", [])) == 240)
    screen.until(lambda: screen.count(".tree-row") == 2)
    assert violations(screen) == []
    label = screen.find('.tree-row input[aria-label="isle isle_b"]')
    label.click()
    chord(screen, Keys.CONTROL, Keys.ENTER)
    keys(screen, *"New ward", Keys.ENTER, *"Newer ward", Keys.TAB, Keys.TAB)
    held = "{'isle': 'isle_b'}"
    screen.until(lambda: script_of(demo)["quarter"][-2:] == [f"new_ward {held}", f"newer_ward {held}"])


def test_a_code_called_otherwise_takes_rules_and_lists_along(screen: Screen, demo: Server) -> None:
    open_lists(screen, demo, "island")
    code = screen.find('.tree-row input[aria-label="Code kesk"]')
    code.click()
    code.send_keys(Keys.CONTROL + "a")
    code.send_keys("keskan", Keys.TAB)
    screen.until(lambda: script_of(demo)["ward"][0] == "kesk_harbour {'island': 'keskan'}")
    assert script_of(demo)["island"][0].startswith("keskan ")


def test_two_lists_become_one(screen: Screen, demo: Server) -> None:
    open_lists(screen, demo, "role")
    screen.click('.lists-pane button[aria-label="More"]')
    screen.press("Merge another list")
    screen.type_into('.ant-modal input[role="combobox"]', "problem" + Keys.ENTER)
    screen.until(lambda: screen.count(".ant-modal tbody tr") == 5)
    screen.click(".ant-modal .ant-btn-primary")
    screen.until(lambda: "problem" not in script_of(demo) and len(script_of(demo)["role"]) == 11)


def test_a_long_list_is_asked_under_its_answer_and_found_by_typing(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_ward")
    line = '.script-row.line[data-part="p_ward"]'
    screen.click(f"{line} [data-column=answer]")
    screen.type_into(".ant-modal input[role=combobox]", "single street" + Keys.ENTER)
    screen.until(lambda: "street · 240" in screen.find(line).text)
    screen.until(lambda: asked_list(demo) == "street")
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent&pane=phone")
    screen.press("Yes")
    screen.click(".phone-foot .next")
    screen.press("Luma")
    screen.click(".phone-foot .next")
    field = screen.find(".phone input[type=search]")
    assert field.get_property("placeholder") == "240 entries: type any part of a name"
    assert screen.count(".phone .choice") == 12
    field.send_keys("LUND b1 59")
    screen.until(
        lambda: (
            [e.text for e in screen.browser.find_elements(By.CSS_SELECTOR, ".phone .choice")] == ["B1 Lund Street 59"]
        )
    )
    field.send_keys(Keys.ENTER)
    screen.until(lambda: "on" in (screen.find(".phone .choice").get_dom_attribute("class") or ""))
    assert screen.find(".phone .choice.on").text == "B1 Lund Street 59"
    field.send_keys("nowhere")
    screen.until(lambda: "Nothing holds “nowhere”." in screen.find(".phone").text)
