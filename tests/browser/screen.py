"""A browser as a person uses it: find by what can be read, wait until it is there."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from selenium.common.exceptions import ElementClickInterceptedException, TimeoutException
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

PATIENCE = 40
# What a browser showed when it waited in vain.
FAILURES = Path(__file__).parent / "failures"


class Screen:
    """A browser as a person uses it: find by what can be read, wait until it is there."""

    def __init__(self, browser: Any) -> None:
        self.browser = browser

    def until(self, true: Callable[[], Any], what: str = "") -> Any:
        try:
            return WebDriverWait(self.browser, PATIENCE, ignored_exceptions=[Exception]).until(lambda _: true(), what)
        except TimeoutException:
            FAILURES.mkdir(exist_ok=True)
            self.browser.save_screenshot(str(FAILURES / f"{int(time.time())}.png"))
            raise

    def find(self, selector: str, number: int = 0) -> WebElement:
        found: WebElement = self.until(lambda: self.browser.find_elements(By.CSS_SELECTOR, selector)[number], selector)
        return found

    def click(self, selector: str, number: int = 0) -> None:
        """Click once it can be clicked: a dialog that is still opening takes the click for its backdrop."""

        def clicked() -> bool:
            self.browser.find_elements(By.CSS_SELECTOR, selector)[number].click()
            return True

        self.until(clicked, selector)

    def count(self, selector: str) -> int:
        return len(self.browser.find_elements(By.CSS_SELECTOR, selector))

    def press(self, words: str) -> None:
        """Press the button, link, tab or choice that says `words`."""
        places = (
            "self::button or self::a or self::label or @role='tab' or @role='option' or @role='menuitem' or self::li"
        )
        path = f'//*[{places}][contains(normalize-space(.), "{words}")]'

        def click() -> bool:
            shown = [e for e in self.browser.find_elements(By.XPATH, path) if e.is_displayed() and e.is_enabled()]
            try:
                shown[-1].click()
            except ElementClickInterceptedException:
                # Half hidden behind a bar: whoever wants it scrolls on a little.
                self.browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", shown[-1])
                return False
            return True

        self.until(click, words)

    def sees(self, words: str) -> bool:
        return bool(self.until(lambda: words in self.browser.find_element(By.TAG_NAME, "body").text, words))

    def type_into(self, selector: str, text: str) -> None:
        def typed() -> bool:
            self.find(selector).send_keys(text)
            return True

        self.until(typed, selector)

    def choose(self, label: str, words: str) -> None:
        """Choose from a list that has `label` as its accessible name or stands in a label with it."""
        boxes = f"//*[@role='combobox'][@aria-label='{label}'] | //label[starts-with(normalize-space(.), '{label}')]//*[@role='combobox'] | //*[@data-field][.//span[.='{label}']]//*[@role='combobox']"

        def opened() -> bool:
            box = self.browser.find_element(By.XPATH, boxes)
            self.browser.execute_script("arguments[0].closest('.ant-select').scrollIntoView({block: 'center'})", box)
            box.find_element(By.XPATH, "./ancestor::*[contains(@class, 'ant-select')][1]").click()
            return True

        self.until(opened, label)
        option = (
            f'//div[contains(@class, \'ant-select-item-option\')][@title="{words}" or normalize-space(.)="{words}"]'
        )

        def taken() -> bool:
            shown = [e for e in self.browser.find_elements(By.XPATH, option) if e.is_displayed()]
            shown[-1].click()
            return True

        self.until(taken, words)
