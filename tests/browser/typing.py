"""Keys as a person types them, wherever the caret is."""

from __future__ import annotations

import time

from selenium.webdriver.common.action_chains import ActionChains

from tests.browser.screen import Screen


def keys(screen: Screen, *pressed: str) -> None:
    """One after the other."""
    for key in pressed:
        ActionChains(screen.browser).send_keys(key).perform()
        time.sleep(0.1)


def chord(screen: Screen, held: str, key: str) -> None:
    """One key while another is held."""
    ActionChains(screen.browser).key_down(held).send_keys(key).key_up(held).perform()
    time.sleep(0.1)


def in_cell(screen: Screen, column: str) -> None:
    """The caret is in that cell of the active line."""
    caret = "const e = document.activeElement; return e.closest('.line.active') ? e.dataset.column : ''"
    screen.until(lambda: screen.browser.execute_script(caret) == column, f"the caret in {column}")
