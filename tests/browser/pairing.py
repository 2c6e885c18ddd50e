"""A phone comes into somebody's hands: paired with a code, and opened with a PIN."""

from __future__ import annotations

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.screen import Screen

PIN = "204817"


def pair(phone: Screen, address: str, code: str, name: str = "phone 01") -> None:
    """By opening the address in the code; `address` is the server's, with a slash at its end."""
    phone.browser.get(f"{address}field/#pair={code}")
    phone.type_into("input[name=device]", name)
    phone.press("Pair")
    choose_pin(phone)
    phone.find(".frame-action .wide-button")


def choose_pin(phone: Screen, pin: str = PIN) -> None:
    phone.sees("Choose a PIN")
    for number in (0, 1):
        phone.find("input[name=pin]", number).send_keys(pin)
    phone.press("Use this PIN")
    phone.until(lambda: phone.count("input[name=pin]") == 0, "the PIN is taken")


def unlock(phone: Screen, pin: str = PIN) -> None:
    """A phone that was switched on again, or that nobody has touched for a while."""
    phone.find("input[name=pin]").send_keys(pin + Keys.ENTER)
    phone.until(lambda: not phone.browser.find_elements(By.CSS_SELECTOR, "input[name=pin]"), "unlocked")
