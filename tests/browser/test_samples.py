"""A sample is drawn from the register, looked at by stratum, and drawn again to the same units."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.server import Server
from tests.browser.screen import Screen

pytestmark = pytest.mark.browser


@pytest.fixture
def desk(planner: Screen, whole_demo: Server) -> Screen:
    planner.browser.get(f"{whole_demo.address}studies/1/plan/samples")
    return planner


def figures(desk: Screen, row: str) -> list[str]:
    """The cells of a row of the table of strata."""
    told = desk.browser.find_elements(By.CSS_SELECTOR, f".strata {row} td")
    return [cell.text for cell in told]


def test_a_sample_is_tried_out_drawn_and_drawn_again(desk: Screen) -> None:
    desk.press("Draw a sample")
    desk.choose("Frame", "⚒ Workshop, from the register")
    desk.sees("640 in the frame")
    desk.choose("Strata by", "island · 4 values")
    desk.until(lambda: figures(desk, "tfoot tr")[:2] == ["640", "200"], "before it is drawn it adds up")
    desk.press("Take it")
    desk.until(lambda: figures(desk, "tfoot tr")[1] == "268", "what the calculator says")
    desk.press("Draw 268 units")
    desk.sees("Strata by island, allocated in proportion")
    # Weights add up to how many there are.
    assert figures(desk, "tfoot tr")[0] == figures(desk, "tfoot tr")[-1] == "640"
    desk.press("Draw again and compare")
    desk.sees("the same 268 units, in the same order. The frame would be the same today.")
    desk.press("kesk")
    desk.sees("Who was drawn in kesk")
    desk.until(
        lambda: all(
            cell.text == "kesk"
            for cell in desk.browser.find_elements(By.CSS_SELECTOR, ".stack > section:last-child td:nth-child(2)")
        )
    )


def test_a_frame_from_a_file_tells_what_is_amiss_and_a_rule_what_it_does_not_know(desk: Screen, tmp_path: Path) -> None:
    desk.press("Draw a sample")
    file = tmp_path / "roll.csv"
    file.write_text("plate,ward\nA1,x\nA1,y\n,x\n" + "".join(f"B{n},x\n" for n in range(40)))
    desk.find("input[type=file]").send_keys(str(file))
    desk.sees("41 in the frame")
    desk.sees("1 row left out: its key stands twice (A1)")
    desk.sees("1 row left out: it has no key (row 4)")
    desk.choose("Frame", "⚒ Workshop, from the register")
    desk.type_into("input[aria-label=where]", "colour is red" + Keys.ENTER)
    desk.sees("colour")
    desk.until(lambda: desk.count(".ant-alert-error") == 1)
    desk.browser.get_log("browser")


def test_the_demo_has_a_sample_with_reserves(desk: Screen) -> None:
    desk.press("Round 2")
    desk.sees("200 of 640 from Workshop. Stratified.")
    desk.press("reserves")
    desk.until(lambda: desk.count(".stack > section:last-child tbody tr") == 42)
