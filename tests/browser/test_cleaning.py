"""The clean station: from what stands out to a step, tried before it is kept, undone, switched off, looked back on."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import errors_in
from tests.browser.screen import Screen
from tests.browser.test_views import violations

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def _steps(desk: Screen) -> list[str]:
    return [item.text for item in desk.browser.find_elements(By.CSS_SELECTOR, ".steps .said")]


def _open(desk: Screen, demo: Server, variable: str) -> None:
    desk.browser.get(f"{demo.address}studies/1/clean?variable={variable}")
    desk.find(".clean-variable h1")


def test_from_what_stands_out_to_a_step_and_back(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    _open(desk, worked_demo, "role_other")
    before = len(_steps(desk))
    desk.press("Into codes …")
    desk.sees("Touches")
    assert violations(desk) == []
    keep = desk.find(".trial-acts .ant-btn-primary")
    desk.until(keep.is_enabled, "it can be kept")
    # Pressed twice in one go: kept once.
    desk.browser.execute_script("arguments[0].click(); arguments[0].click()", keep)
    desk.until(lambda: len(_steps(desk)) == before + 1, "the step is kept")
    desk.until(lambda: "Into codes …" not in desk.find(".clean-variable").text, "nothing of it stands out now")
    desk.click("button[aria-label='Undo']")
    desk.until(lambda: len(_steps(desk)) == before, "undone")
    desk.sees("Into codes …")
    desk.click("button[aria-label='Do again']")
    desk.until(lambda: len(_steps(desk)) == before + 1, "done again")
    desk.click("button[aria-label='Undo']")
    desk.until(lambda: len(_steps(desk)) == before, "undone for whoever comes next")
    assert errors_in(desk.browser) == []


def test_a_row_that_stands_out_is_seen_and_corrected_in_its_place(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    _open(desk, worked_demo, "role_other")
    before = len(_steps(desk))
    desk.press("Look")
    desk.find(".found-rows td")
    place = desk.find(".found-rows td", desk.count(".found-rows td") - 3).text
    desk.press("Correct …")
    desk.sees("What the step touches is shown here")
    assert violations(desk) == []
    desk.type_into(".step-form label:nth-of-type(4) input", "sweeps the yard")
    desk.type_into(".step-form > label:last-of-type input", "Phoned")
    desk.sees("Touches 1 cell in 1 interview.")
    desk.press("Keep it")
    desk.until(lambda: len(_steps(desk)) == before + 1, "the step is kept")
    assert _steps(desk)[-1] == f"role_other in {place} is sweeps the yard"
    desk.click("button[aria-label='Undo']")
    desk.until(lambda: len(_steps(desk)) == before, "undone for whoever comes next")


def test_a_step_is_added_from_the_menu_changed_and_switched_off(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    _open(desk, worked_demo, "workers")
    before = len(_steps(desk))
    desk.press("Add")
    desk.press("Derive a variable")
    desk.sees("What the step touches is shown here")
    desk.type_into(".step-form label:nth-of-type(1) input", "twice_workers")
    desk.type_into(".step-form textarea", "worker * 2")
    desk.sees("Did you mean workers?")
    desk.type_into(".step-form textarea", Keys.CONTROL + "a" + Keys.NULL + "workers * 2")
    desk.sees("Makes twice_workers.")
    desk.press("Keep it")
    desk.until(lambda: len(_steps(desk)) == before + 1, "the step is kept")
    assert "twice_workers = workers * 2" in _steps(desk)[-1]
    desk.click(".steps li button[aria-label='What can be done with this step']", desk.count(".steps li") - 1)
    desk.press("Switch off")
    desk.until(lambda: desk.count(".steps li.off") == 2, "off beside the one of the demo")
    desk.click(".steps li button[aria-label='What can be done with this step']", desk.count(".steps li") - 1)
    desk.press("Take out")
    desk.until(lambda: len(_steps(desk)) == before, "taken out")
    # What was refused while it was typed, and nothing else.
    assert all("422" in error for error in errors_in(desk.browser))


def test_every_changed_cell_can_be_looked_at_and_states_compared(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    _open(desk, worked_demo, "earnings")
    desk.press("Every changed cell")
    desk.find(".ant-drawer .ant-table-row")
    desk.type_into(".ant-drawer input[placeholder='Variable']", "earnings")
    desk.until(
        lambda: (
            {row.text for row in desk.browser.find_elements(By.CSS_SELECTOR, ".ant-drawer .ant-table-row code")}
            == {"earnings"}
        ),
        "only earnings",
    )
    assert violations(desk) == []
    desk.click(".ant-drawer-close")
    desk.press("Compare states of the plan")
    desk.sees("cells of trades")
    assert violations(desk) == []
    assert errors_in(desk.browser) == []


def test_a_finding_is_put_aside_with_its_reason(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    _open(desk, worked_demo, "scrap")
    desk.sees("Far below the others")
    desk.press("Fine, because …")
    # Whoever presses the button goes on typing.
    desk.until(lambda: desk.browser.switch_to.active_element.tag_name == "input", "the reason is asked for")
    desk.browser.switch_to.active_element.send_keys("Tiny shops")
    desk.click(".ant-popconfirm .ant-btn-primary")
    desk.sees("Nothing stands out here.")
    desk.click("button[aria-label='Undo']")
    desk.sees("Far below the others")


def test_the_same_unit_twice_is_decided_with_keys_and_undone(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    desk.browser.get(f"{worked_demo.address}studies/1/clean/copies")
    desk.sees("The same unit?")
    assert violations(desk) == []

    def listed() -> int:
        return desk.count(".matches-list li")

    before = listed()
    desk.find("body").send_keys("a")
    desk.until(lambda: listed() == before - 1, "one pair less")
    desk.sees("1 decided")
    desk.find("body").send_keys("u")
    desk.until(lambda: listed() == before, "undone")
    assert errors_in(desk.browser) == []


def test_a_cell_tells_what_happened_to_it(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    desk.browser.get(f"{worked_demo.address}studies/1/clean")
    desk.press("Every changed cell")
    desk.click(".ant-drawer .variable-link")
    desk.sees("handed in")
    desk.sees("changed by step 1")
    assert violations(desk) == []
    assert errors_in(desk.browser) == []
