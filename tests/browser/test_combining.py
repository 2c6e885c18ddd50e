"""The combine station: a table brought in and joined from nothing, near matches decided with keys, checks across sources."""

from __future__ import annotations

from pathlib import Path

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

STOCKS = "Relevé des stocks;;\n\ncode;kilos;relevé le\nKESK;1 250,5;03/04/2026\nLuma;980,25;12/11/2026\nTarrow;7;31/12/2026\n"


def test_a_table_is_brought_in_joined_and_checked(worked_demo: Server, worked_desk: Screen, tmp_path: Path) -> None:
    desk = worked_desk
    file = tmp_path / "stocks.csv"
    file.write_bytes(STOCKS.encode("cp1252"))
    desk.browser.get(f"{worked_demo.address}studies/1/combine")
    desk.press("Bring in a table …")
    desk.find(".ant-upload")
    desk.browser.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(file))
    desk.sees("cp1252")
    desk.sees("3 rows · .csv")
    assert violations(desk) == []
    desk.press("Bring in 3 rows")
    desk.sees("not joined yet")
    desk.choose("Take over", "kilos")
    desk.click("h1")
    desk.sees("island is code")
    desk.press("Add a key")
    # So many variables are narrowed down by typing.
    desk.type_into("input[aria-label='Variable of the interview']", "which island")
    shown = ".ant-select-dropdown:not(.ant-select-dropdown-hidden) .ant-select-item-option"
    desk.until(lambda: desk.find(shown).text.startswith("island"), "the island among them")
    desk.click(shown)
    desk.choose("Column of the table", "code")
    desk.sees("Ours without a row")
    assert violations(desk) == []
    desk.type_into("input[aria-label='Variable that kilos becomes']", " here")
    desk.sees("A name has small letters")
    desk.type_into("input[aria-label='Variable that kilos becomes']", Keys.BACKSPACE * 5 + "_here")
    desk.until(lambda: desk.count(".join-form p.bad") == 0, "a lawful name")
    desk.click(".join-form .ant-btn-primary")
    desk.sees("Takes over kilos where island is code (capitals).")
    desk.click("nav button.pick-line", desk.count("nav button.pick-line") - 1)
    desk.type_into("input[aria-label='Rule']", "stocks_kilos_here < 1000")
    desk.sees("break it")
    desk.press("Keep the check")
    desk.until(lambda: "stocks_kilos_here < 1000" in desk.find(".outside-columns").text, "the check is kept")
    assert violations(desk) == []
    assert errors_in(desk.browser) == []


def test_pairs_in_doubt_are_decided_with_keys_and_taken_back(worked_demo: Server, worked_desk: Screen) -> None:
    desk = worked_desk
    desk.browser.get(f"{worked_demo.address}studies/1/combine?table=1")
    desk.press("Decide them")
    desk.sees("The same?")

    def doubtful() -> int:
        return desk.count(".matches-list li > button[aria-current]")

    before, page = doubtful(), desk.find("body")
    assert violations(desk) == []
    page.send_keys("s")
    desk.until(lambda: desk.find("h1 + .muted").text == f"2 of {before}", "the next one")
    page.send_keys("a")
    desk.until(lambda: doubtful() < before, "one less in doubt")
    desk.until(lambda: "Decided last" in desk.find(".status").text, "it is kept")
    page.send_keys("u")
    desk.until(lambda: doubtful() == before, "taken back")
    assert errors_in(desk.browser) == []
