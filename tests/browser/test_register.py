"""The register at the desk: unfolded, found, changed and taken back, brought in from a file with its faults told."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.server import Server
from tests.browser.conftest import signed_in
from tests.browser.screen import Screen

pytestmark = pytest.mark.browser


@pytest.fixture
def desk(planner: Screen, whole_demo: Server) -> Screen:
    planner.browser.get(f"{whole_demo.address}studies/1/plan/registers")
    planner.find(".unit-line")
    return planner


def lines(desk: Screen) -> list[str]:
    """The names on show in the tree."""
    told = "return [...document.querySelectorAll('.unit-line > .clip')].map((line) => line.textContent)"
    found: list[str] = desk.browser.execute_script(told)
    return found


def find_unit(desk: Screen, kind: str, words: str) -> None:
    """Look for a unit of a kind and choose the one that was found."""
    desk.choose("Kind", kind)
    desk.type_into(".register-look input[type=search]", words)
    desk.until(lambda: desk.count(".unit-line:not(.passed)") == 1, words)
    desk.click(".unit-line:not(.passed)")
    desk.sees("What became of it")


def test_the_tree_is_unfolded_by_keyboard_down_to_a_tool(desk: Screen) -> None:
    tree = desk.find(".unit-tree")
    assert [name.split()[0] for name in lines(desk)] == ["Kesk", "Luma", "Tarrow", "Vint"]
    tree.send_keys(Keys.ARROW_DOWN)
    desk.until(lambda: desk.find(".unit-head h2").text == "Kesk")
    for level in range(2, 6):
        tree.send_keys(Keys.ARROW_RIGHT)
        desk.find(f".unit-line.chosen + .unit-line[aria-level='{level}']")
        tree.send_keys(Keys.ARROW_RIGHT)
        desk.find(f".unit-line.chosen[aria-level='{level}']")
    # What lies above a tool leads back to it, and folding goes up again.
    desk.until(lambda: desk.count(".unit-where .plain-link") == 4)
    tree.send_keys(Keys.ARROW_LEFT)
    desk.find(".unit-line.chosen[aria-level='4']")


def test_a_field_is_changed_in_its_place_and_taken_back_and_both_stand_in_the_history(desk: Screen) -> None:
    find_unit(desk, "Bench", "KE1X_755247-1")
    before = [cell.text for cell in desk.browser.find_elements(By.CSS_SELECTOR, ".unit-fields td b")]
    desk.click("[aria-label='Change: Name']")
    field = desk.find(".field-edit input")
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("Bench of honour" + Keys.ENTER)
    desk.until(lambda: desk.find(".unit-head h2").text == "Bench of honour")
    desk.until(lambda: any("Bench of honour" in name for name in lines(desk)), "the tree follows")
    desk.press("Undo")
    desk.until(lambda: desk.find(".unit-head h2").text == before[0])
    desk.until(lambda: desk.count(".unit-history li") == 3)
    assert "Dora Maine" in desk.find(".unit-history li").text


def test_the_tree_is_narrowed_by_a_sentence_and_the_address_keeps_it(desk: Screen) -> None:
    desk.choose("Kind", "Workshop")
    desk.press("whose …")
    desk.choose("Field", "Condition of the building")
    desk.choose("Value", "Broken")
    desk.press("Narrow down")
    desk.sees("Condition of the building is Broken")
    meant = counted(desk)
    assert meant != 640
    desk.browser.refresh()
    desk.sees("Condition of the building is Broken")
    assert counted(desk) == meant
    desk.press("Show all")
    desk.until(lambda: "8,8" in desk.find(".inline-sentence").text)


def counted(desk: Screen) -> int:
    """How many units the sentence says there are, once they are counted."""
    said = re.compile(r"·\s*(\d+)\n")
    return int(desk.until(lambda: said.search(desk.find(".inline-sentence").text), "counted")[1])


def test_a_mark_on_the_map_is_pressed_and_its_unit_is_in_hand(desk: Screen) -> None:
    find_unit(desk, "Workshop", "KE1X_298959")
    desk.press("Show all")
    desk.find(".map-marks")
    here = desk.find(".unit-head h2").text
    # Somewhere around it lies another one: the pointer says so before it is pressed.
    ground = desk.find(".register-map .leaflet-container")
    tried = [(east, south) for east in range(-150, 151, 12) for south in range(-180, 181, 12)]
    for east, south in tried:
        ActionChains(desk.browser, duration=0).move_to_element_with_offset(ground, east, south).perform()
        if "pointer" in (ground.get_attribute("style") or "") and desk.count(
            ".leaflet-tooltip:not(.unit-name, .map-name)"
        ):
            named = desk.find(".leaflet-tooltip:not(.unit-name, .map-name)").get_attribute("textContent") or ""
            if named != here:
                ActionChains(desk.browser).click().perform()
                desk.until(lambda named=named: desk.find(".unit-head h2").text == named, named)
                return
    raise AssertionError("no other mark around")


def test_a_yard_is_drawn_on_the_map(desk: Screen) -> None:
    find_unit(desk, "Workshop", "KE1X_755247")
    desk.click("[aria-label='Change: Yard']")
    ground = desk.find(".drawing-page .leaflet-container")
    for east, north in ((-60, -50), (70, -40), (60, 60)):
        ActionChains(desk.browser).move_to_element_with_offset(ground, east, north).click().perform()
    desk.until(lambda: desk.count(".drawing-page .map-corner") == 3)
    desk.press("Keep")
    desk.until(lambda: " m²" in desk.find("[aria-label='Change: Yard']").text)


FILE = """Plate;Ward;Name;Opened in;Colour
KE1X_298959;kesk_green;Rivet Works;1971;red
KE1X_29895;kesk_green;Short;1990;
LU9X_123456;luma_mill;New one;1990;
LU9X_123457;nowhere;Lost;1990;
"""


def test_a_file_is_judged_row_by_row_before_it_comes_in(desk: Screen, tmp_path: Path) -> None:
    file = tmp_path / "roll.csv"
    file.write_text(FILE)
    desk.press("Bring in a file")
    desk.find(".ant-drawer input[type=file]").send_keys(str(file))
    desk.sees("4 rows")
    desk.press("Look at what would change")
    desk.sees("does not look like ****_999999")
    desk.sees("No unit “nowhere” that it may lie under")
    assert "1 new" in desk.find(".bring-counts").text and "2 wrong" in desk.find(".bring-counts").text
    desk.press("Bring in 2 rows")
    desk.sees("1 came in, 1 changed")
    desk.press("Look at the register")
    desk.type_into(".register-look input[type=search]", "LU9X_123456")
    desk.until(lambda: any("New one" in name for name in lines(desk)))


def test_a_branch_is_closed_with_what_lies_in_it_and_opened_again(desk: Screen) -> None:
    find_unit(desk, "Workshop", "VI7X_201476")
    desk.click("[aria-label=More]")
    desk.press("Close …")
    desk.sees("Closed with it:")
    desk.type_into(".ant-modal input", "burnt down")
    desk.press("Close it")
    desk.sees("Closed: burnt down")
    desk.press("Open again")
    desk.until(lambda: desk.count(".unit-then") == 0)


def test_whoever_only_reads_changes_nothing(whole_demo: Server) -> None:
    screen = signed_in(whole_demo, "anna")
    screen.browser.get(f"{whole_demo.address}studies/1/plan/registers")
    find_unit(screen, "Workshop", "KE1X_755247")
    # The telephone is sensitive: that there is one may be known.
    screen.sees("•••")
    assert screen.count(".field-shown") == 0 and screen.count(".unit-head button") == 0
    assert "Bring in a file" not in screen.find(".register-acts").text
    screen.browser.quit()
