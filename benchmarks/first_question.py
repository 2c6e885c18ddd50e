"""From the first sign-in to a question answered on a phone: the acts counted, and the minutes that they take a person.

The minutes are those of the keystroke-level model (S. K. Card, T. P. Moran and A. Newell, The keystroke-level model for
user performance time with interactive systems, Communications of the ACM 23, 1980; operators from memory): a key 0.28 s,
as an average typist takes; pointing 1.1 s, pressing the button 0.2 s, the hand between mouse and keys 0.4 s, and 1.35 s
of thought before each act. What the machine took itself comes on top.
"""

from __future__ import annotations

import io
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import redirect_stdout
from dataclasses import dataclass
from pathlib import Path

from selenium.webdriver.common.keys import Keys

from benchmarks.result import Result
from skavo.cli import main
from skavo.server import Server
from tests.browser.chromium import DESK, PHONE, open_chromium
from tests.browser.pairing import PIN
from tests.browser.screen import Screen
from tests.browser.typing import chord, in_cell, keys

_PASSPHRASE = "wells under the tarn"
_KEY, _POINT, _BUTTON, _HAND, _THOUGHT = 0.28, 1.1, 0.2, 0.4, 1.35


@dataclass
class Acts:
    """What somebody does at one screen; `seconds` by the model."""

    screen: Screen
    count: int = 0
    seconds: float = 0.0

    def _done(self, seconds: float) -> None:
        self.count += 1
        self.seconds += _THOUGHT + seconds

    def press(self, words: str) -> None:
        self.screen.press(words)
        self._done(_HAND + _POINT + _BUTTON)

    def click(self, selector: str) -> None:
        self.screen.click(selector)
        self._done(_HAND + _POINT + _BUTTON)

    def go(self, address: str, presses: int) -> None:
        """A page that so many presses lead to."""
        self.screen.browser.get(address)
        for _ in range(presses):
            self._done(_HAND + _POINT + _BUTTON)

    def write(self, text: str, *more: str) -> None:
        """A text, and the keys that end it."""
        keys(self.screen, text, *more)
        self._done(_HAND + _KEY * (len(text) + len(more)))

    def write_into(self, selector: str, text: str) -> None:
        """A field that the caret is in already when it opens, or that is touched first."""
        self.screen.type_into(selector, text)
        self._done(_HAND + _POINT + _BUTTON + _KEY * len(text))


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), "127.0.0.1", 0, limits=False)
        typed, sys.stdin = sys.stdin, io.StringIO(f"{_PASSPHRASE}\n")
        with redirect_stdout(io.StringIO()):
            main(["add-administrator", "dora", "Dora Maine", "--folder", folder])
        sys.stdin = typed
        server.start()
        desk, phone = (Acts(Screen(open_chromium(size))) for size in (DESK, PHONE))
        began = time.monotonic()
        _sign_in(desk, server.address)
        _write(desk)
        _release(desk)
        _answer(phone, server.address, _pair(desk, server.address))
        machine = time.monotonic() - began
        acts, seconds = desk.count + phone.count, desk.seconds + phone.seconds
        detail = (
            f"{acts} acts, {seconds:.0f} s of a person by the keystroke-level model and {machine:.0f} s of the machine"
        )
        yield Result("from sign-in to a question answered on the phone", (seconds + machine) / 60, 10, detail, "min")
        for one in (desk, phone):
            one.screen.browser.quit()
        server.stop()


def _sign_in(desk: Acts, address: str) -> None:
    desk.screen.browser.get(address)
    desk.write_into("input[autocomplete=username]", "dora")
    desk.write_into("input[type=password]", _PASSPHRASE + Keys.ENTER)
    desk.screen.sees("No studies yet")


def _write(desk: Acts) -> None:
    """A study, a section and three questions; kinds and names are those proposed."""
    desk.press("New study")
    desk.write_into("#title", "Wells of the isles")
    desk.press("Make it")
    desk.press("Begin")
    desk.press("Write the first section")
    in_cell(desk.screen, "wording.en")
    desk.write("The well", Keys.ENTER)
    in_cell(desk.screen, "wording.en")
    desk.write("How many people use it?", Keys.ENTER)
    in_cell(desk.screen, "wording.en")
    desk.write("Is the water clear?", Keys.ENTER)
    in_cell(desk.screen, "wording.en")
    desk.write("How does it taste?", Keys.TAB, Keys.ENTER)
    desk.write("Good; Salty; Other", Keys.ENTER)
    in_cell(desk.screen, "answer")
    chord(desk.screen, Keys.CONTROL, ".")
    desk.screen.until(lambda: "Saved" in desk.screen.find(".status span").text, "saved")


def _release(desk: Acts) -> None:
    desk.press("Release 1")
    desk.screen.find(".ant-modal-footer .ant-btn-primary")
    desk.click(".ant-modal-footer .ant-btn-primary")
    desk.screen.sees("as release 1")


def _pair(desk: Acts, address: str) -> str:
    desk.go(f"{address}studies/1/people", 2)
    desk.press("Add a person")
    desk.write_into("#name", "Ilse Varn" + Keys.ENTER)
    desk.screen.sees("2 people")
    desk.go(f"{address}studies/1/field", 1)
    desk.press("Pair a phone")
    desk.write_into("#enumerator", "Ilse" + Keys.ENTER)
    desk.press("Show a code")
    return desk.screen.find(".big-code").text


def _answer(phone: Acts, address: str, code: str) -> None:
    """The code is typed, as on a phone without a camera."""
    phone.screen.browser.get(f"{address}field/")
    phone.write_into("input[name=code]", code)
    phone.write_into("input[name=device]", "phone 01")
    phone.press("Pair")
    phone.screen.sees("Choose a PIN")
    for number in (1, 2):
        phone.write_into(f"label:nth-of-type({number}) input[name=pin]", PIN)
    phone.press("Use this PIN")
    phone.press("Start an interview")
    phone.screen.until(lambda: "How many people" in phone.screen.find(".question-wording").text, "the first question")
    phone.write_into(".typed", "12")
    phone.click(".fill-foot .next")
    phone.screen.until(lambda: "Is the water clear" in phone.screen.find(".question-wording").text, "the next one")
