"""A data manager who writes a questionnaire by keyboard alone: every act is a key, what is read is only where it led.

`python -m tests.browser.typist` types the whole demo questionnaire from a blank sheet and holds what came of it against
the demo's workbook. Several minutes; a piece of it is typed in the tests.
"""

from __future__ import annotations

import difflib
import re
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from skavo.core.questionnaire.script import CodeList, Part, Script, UnitList, read_script, write_script
from skavo.demo.build import build_study
from skavo.demo.people import PASSWORD
from skavo.demo.questionnaire import demo_script
from skavo.formats.workbook.write import write_folder
from skavo.server import Server
from skavo.store.models import Questionnaire
from tests.browser.chromium import DESK, open_chromium
from tests.browser.screen import Screen

HOLDS_PARTS = ("section", "roster", "grid")


@dataclass
class Typist:
    """`languages` are those that the script is written in, the first one first; `acts` counts keys and words typed."""

    screen: Screen
    languages: list[str]
    acts: int = 0

    # keys

    def press(self, *pressed: str) -> None:
        for key in pressed:
            ActionChains(self.screen.browser, duration=0).send_keys(key).perform()
            self.acts += 1

    def chord(self, key: str, *held: str) -> None:
        chain = ActionChains(self.screen.browser, duration=0)
        for one in held:
            chain.key_down(one)
        chain.send_keys(key)
        for one in reversed(held):
            chain.key_up(one)
        chain.perform()
        self.acts += 1

    def write(self, text: str) -> None:
        ActionChains(self.screen.browser, duration=0).send_keys(text).perform()
        self.acts += 1

    def overwrite(self, text: str) -> None:
        self.chord("a", Keys.CONTROL)
        self.write(text)

    def here(self, expression: str) -> Any:
        """What can be read of the place where the caret is, `e`."""
        return self.screen.browser.execute_script(f"const e = document.activeElement; return {expression}")

    def until_here(self, expression: str, wanted: Any) -> None:
        self.screen.until(lambda: self.here(expression) == wanted, f"{expression} == {wanted}")

    def tab_to(self, words: str, most: int = 120) -> None:
        """Tab on until the field or button called `words`."""
        for _ in range(most):
            name = self.here("(e.ariaLabel || e.labels?.[0]?.innerText || e.innerText || '').trim()")
            if re.match(rf"{re.escape(words)}(\s|$)", name):
                return
            self.press(Keys.TAB)
        raise AssertionError(f"Tab does not lead to {words}")

    def act(self, words: str) -> None:
        """What the page can do, by the finder."""
        self.chord("k", Keys.CONTROL)
        self.until_here("e.getAttribute('role')", "combobox")
        self.write(words)
        self.screen.until(lambda: self.screen.find(".found [aria-selected=true]").text.startswith(words), words)
        self.press(Keys.ENTER)

    # lines

    def in_cell(self, column: str) -> None:
        self.until_here("e.closest('.line.active') ? e.dataset.column : ''", column)

    def line(self, part: Part, list_here: CodeList | None, units_here: UnitList | None, level: int) -> None:
        """One line, from its wording on; lists `here` are written out with it, `level` is where it begins."""
        first = self.languages[0]
        self.in_cell(f"wording.{first}")
        for _ in range(abs(part.level - level)):
            self.chord("]" if part.level > level else "[", Keys.CONTROL)
            self.in_cell(f"wording.{first}")
        self.write(part.wording.get(first, ""))
        self.chord(Keys.TAB, Keys.SHIFT)
        self.in_cell("variable")
        self.overwrite(part.variable)
        self.press(Keys.TAB)
        self.in_cell(f"wording.{first}")
        self.press(Keys.TAB)
        self.in_cell("answer")
        self._answer(part, list_here)
        self.in_cell("answer")
        if units_here is not None:
            self.units(units_here)
        else:
            self.press(Keys.TAB)
        self.in_cell("rules")
        self._sentences(part)

    def _answer(self, part: Part, list_here: CodeList | None) -> None:
        self.press(Keys.ENTER)
        self.until_here("e.getAttribute('role')", "combobox")
        if list_here is not None:
            first = self.languages[0]
            self.overwrite("; ".join(f"{code.code} = {code.label[first]}" for code in list_here.codes))
            wanted = f"{part.kind}: "
        elif part.kind in ("single answer", "multiple answer") and part.code_list:
            self.overwrite(wanted := f"{part.kind} from {part.code_list}")
        else:
            self.overwrite(wanted := part.kind)
        chosen = ".found [aria-selected=true]"
        self.screen.until(lambda: self.screen.count(chosen) == 1, "something to choose")
        for _ in range(6):
            if wanted in self.screen.find(chosen).text:
                break
            self.press(Keys.ARROW_DOWN)
        assert wanted in self.screen.find(chosen).text, (wanted, self.screen.find(".found").text)
        self.press(Keys.ENTER)

    def _sentences(self, part: Part) -> None:
        sentences = sentences_of(part, self.languages[0])
        self.press(Keys.ENTER)
        self.until_here("e.classList.contains('cm-content')", True)
        # What was proposed gives way.
        self.chord("a", Keys.CONTROL)
        self.press(Keys.DELETE)
        for number, sentence in enumerate(sentences):
            if number:
                # Enter takes what completion offers.
                self.chord(Keys.ENTER, Keys.SHIFT)
            self.write(sentence)
        # While something is offered, Escape closes that first.
        for _ in range(3):
            self.press(Keys.ESCAPE)
            if self._comes_to("rules"):
                return
        self.in_cell("rules")

    def _comes_to(self, column: str) -> bool:
        """Whether the caret is in that cell of the active line within a second."""
        deadline = time.monotonic() + 1
        while time.monotonic() < deadline:
            if self.here("e.closest('.line.active') ? e.dataset.column : ''") == column:
                return True
            time.sleep(0.05)
        return False

    def lines(self, parts: list[Part], lists: list[CodeList], unit_lists: list[UnitList]) -> None:
        """Lines one below the other; the caret is in the first one's wording. A list is written out where it is used first."""
        left = {entry.name: entry for entry in lists}
        units = {entry.name: entry for entry in unit_lists}
        for number, part in enumerate(parts):
            before = parts[number - 1] if number else None
            level = 1 if before is None else before.level + (before.kind in HOLDS_PARTS)
            self.line(part, left.pop(part.code_list, None), units.pop(part.unit, None), level)
            if number < len(parts) - 1:
                here = self.here("e.closest('.line').dataset.part")
                self.chord(Keys.ENTER, Keys.CONTROL)
                self.screen.until(
                    lambda here=here: self.here("e.closest('.line.active').dataset.part") != here, "the next line"
                )

    # what stands in drawers and dialogs

    def menu(self, button: str, entry: str) -> None:
        """Open the menu of a button, and choose from it."""
        self.tab_to(button)
        self.press(Keys.ENTER)
        self.screen.until(lambda: self.screen.count(".ant-dropdown-menu-item") > 0, "the menu")
        self.press(Keys.TAB)
        for _ in range(12):
            chosen = self.here("e.tagName === 'LI' ? e.innerText.trim() : ''")
            if chosen.startswith(entry):
                self.press(Keys.ENTER)
                return
            self.press(Keys.ARROW_DOWN)
        raise AssertionError(f"there is no {entry} in the menu of {button}")

    def close(self) -> None:
        """Leave a drawer or a dialog."""
        before = self._open()
        self.press(Keys.ESCAPE)
        self.screen.until(lambda: self._open() < before, "closed")

    def _open(self) -> int:
        shown = "[...document.querySelectorAll('.ant-drawer-open, .ant-modal')].filter((e) => e.offsetParent !== null || e.getClientRects().length > 0).length"
        return int(self.screen.browser.execute_script(f"return {shown}"))

    def code_lists(self, lists: list[CodeList]) -> None:
        """Lists with attributes, code by code."""
        first = self.languages[0]
        self.act("Code lists")
        self.screen.find(".lists-drawer")
        for entry in lists:
            self.menu("Add a list …", "An empty one")
            self.tab_to("Name")
            self.overwrite(entry.name)
            self.press(Keys.ENTER)
            self.screen.find(f".lists-pane[aria-label={entry.name}]")
            attributes = list(entry.codes[0].attributes)
            self.tab_to("Add a code")
            self.press(Keys.ENTER)
            for number, code in enumerate(entry.codes):
                self.until_here("e.dataset.column + e.closest('[data-row]')?.dataset.row", f"{first}{number}")
                self.write(code.label[first])
                self.chord(Keys.TAB, Keys.SHIFT)
                self.write(code.code)
                self.press(Keys.TAB)
                if number == 0:
                    for attribute in attributes:
                        self.menu("More", "Add an attribute")
                        self.until_here("e.ariaLabel", "attribute")
                        self.write(attribute)
                        self.press(Keys.ENTER)
                        self.screen.find(f".code-row [data-column='.{attribute}']")
                        self.tab_to(f"{_language(first)} 1")
                for attribute in attributes:
                    self.press(Keys.TAB)
                    self.write(code.attributes[attribute])
                if number < len(entry.codes) - 1:
                    self.press(Keys.ENTER)
        self.close()

    def units(self, entry: UnitList) -> None:
        """A list of units for the line in hand, whose answer is chosen already."""
        first = _language(self.languages[0])
        self.chord(".", Keys.CONTROL)
        self.tab_to("New list")
        self.press(Keys.ENTER)
        self.tab_to("Name of the unit list")
        self.overwrite(entry.name)
        for number, unit in enumerate(entry.units, start=1):
            if number > 1:
                self.tab_to("Add a unit")
                self.press(Keys.ENTER)
            for label, text in (
                (f"Unit {number}", unit.unit), (f"Factor {number}", unit.factor),
                (f"Label {number}, {first}", unit.label[self.languages[0]]),
            ):  # fmt: skip
                self.tab_to(label)
                self.overwrite(text)
        self.tab_to("Dimension")
        self.overwrite(entry.units[0].dimension)
        self.close()
        self.chord(".", Keys.CONTROL)

    def tell_what_is_noted(self, after: str, variable: str) -> None:
        """The phone notes where an interview begins; the statement that says so is put behind the line `after`."""
        self.act("What the phone notes")
        self.screen.find(".paradata-choices")
        self.tab_to("Where it begins")
        self.press(Keys.SPACE)
        self.tab_to("Put a statement into the script")
        self.press(Keys.ENTER)
        self.screen.find(".paradata-told")
        self.tab_to("Go to the statement")
        self.press(Keys.ENTER)
        self.screen.until(lambda: self.here("e.closest('.line.active') !== null"), "the statement")
        above = (
            "const lines = [...document.querySelectorAll('.line')].sort((a, b) => a.getBoundingClientRect().top - b.getBoundingClientRect().top);"
            "const one = lines[lines.findIndex((line) => line.matches('.active')) - 1]?.querySelector('[data-column=variable]');"
            "return one ? one.value ?? one.innerText : ''"
        )
        for _ in range(40):
            if self.screen.browser.execute_script(above) == after:
                break
            self.chord(Keys.ARROW_DOWN, Keys.ALT)
            time.sleep(0.1)
        self.press(Keys.ESCAPE, Keys.ENTER)
        self.in_cell(f"wording.{self.languages[0]}")
        self.chord(Keys.TAB, Keys.SHIFT)
        self.in_cell("variable")
        self.overwrite(variable)
        self.press(Keys.TAB)

    def translate(self, texts: dict[str, dict[str, str]], tags: list[str]) -> None:
        """Every text, in rows beside what it was in the first language: `texts` by that, by language."""
        self.act("Languages and translations")
        for tag in tags:
            self.tab_to("Add a language")
            self.press(Keys.ENTER)
            self.until_here("e.getAttribute('role')", "combobox")
            self.write(tag)
            self.screen.until(lambda tag=tag: self.screen.find(".found [aria-selected=true]").text.endswith(tag), tag)
            self.press(Keys.ENTER)
            self.screen.until(
                lambda: self.screen.count(".ant-modal input[role=combobox]") == 0, "the language is there"
            )
        here = "e.matches('.translation textarea') ? [e.lang, e.closest('.translation-row').querySelector('.translation-source').innerText, e.value] : null"
        begun, idle = False, 0
        while idle < 30:
            self.press(Keys.TAB)
            found = self.here(here)
            if found is None:
                idle += 1
                # Behind the last row the way leads back to the head of the drawer.
                if begun and idle > 4:
                    return
                continue
            begun, idle = True, 0
            tag, source, said = found
            if said == "" and source in texts:
                self.write(texts[source][tag])


def _language(tag: str) -> str:
    return {"en": "English", "fr": "Français", "ar": "العربية"}[tag]


def sentences_of(part: Part, tag: str) -> list[str]:
    """All of a line but wording, kind and variable, as one writes it."""
    found: list[str] = []
    for field, word in (
        ("repeated", "repeated"), ("derived", "derived"), ("asked_when", "asked when"), ("code_filter", "codes where"),
        ("default", "default"), ("answer_needed", "answer needed"),
    ):  # fmt: skip
        if getattr(part, field):
            found.append(f"{word} {getattr(part, field)}")
    for checks, word in ((part.must_hold, "must hold"), (part.should_hold, "should hold")):
        for check in checks:
            found += [f"{word} {check.rule}", f"says {check.message[tag]}"]
    special = {"dont_know": "don't know", "refused": "refused"}
    if part.special_answers:
        found.append("special answers " + ", ".join(special[answer] for answer in part.special_answers))
    for word, value in (
        ("code list", part.code_list), ("unit", part.unit), ("least", part.least), ("most", part.most), ("mask", part.mask),
        ("reads back", part.reads_back), ("instruction", part.instruction.get(tag, "")),
        ("media", ", ".join(part.media)), ("remark", part.remark),
    ):  # fmt: skip
        if value is not None and value != "":
            found.append(f"{word} {value}")
    found += [
        word
        for word, is_so in (
            ("random order", part.order == "random"), ("sensitive", part.sensitive), ("not read aloud", not part.read_aloud),
        )
        if is_so
    ]  # fmt: skip
    return found


def texts_of(script: Script) -> dict[str, dict[str, str]]:
    """Every text of a script by what it is in the first language."""
    texts = [script.title]
    for part in script.parts:
        texts += [part.wording, part.instruction, *(check.message for check in [*part.must_hold, *part.should_hold])]
    texts += [code.label for entry in script.code_lists for code in entry.codes]
    texts += [unit.label for units in script.unit_lists for unit in units.units]
    return {text[script.languages[0]]: text for text in texts if text.get(script.languages[0])}


def type_whole(typist: Typist, wanted: Script) -> None:
    """The whole of a questionnaire, from its empty page on; its files are on the shelf."""
    told = next((part for part in wanted.parts if part.id == wanted.paradata.told_by), None)
    rest = [part for part in wanted.parts if part is not told]
    with_attributes = [entry for entry in wanted.code_lists if entry.codes[0].attributes]
    typist.code_lists(with_attributes)
    typist.tab_to("Write the first section")
    typist.press(Keys.ENTER)
    typist.lines(rest, [entry for entry in wanted.code_lists if entry not in with_attributes], wanted.unit_lists)
    if told is not None:
        above = wanted.parts[wanted.parts.index(told) - 1]
        typist.tell_what_is_noted(above.variable, told.variable)
    typist.translate(texts_of(wanted), wanted.languages[1:])
    typist.close()


def as_sheets(script: Script) -> dict[str, list[str]]:
    """A script as its workbook has it, the lists in the order of their names."""
    ordered = script.model_copy(
        update={
            "code_lists": sorted(script.code_lists, key=lambda entry: entry.name),
            "unit_lists": sorted(script.unit_lists, key=lambda entry: entry.name),
        }
    )
    return {name: content.decode("utf-8-sig").splitlines() for name, content in write_folder(ordered).items()}


def differences(typed: Script, wanted: Script) -> list[str]:
    left, right = as_sheets(typed), as_sheets(wanted)
    return [
        f"{name}: {line}"
        for name in sorted({*left, *right})
        for line in difflib.unified_diff(right.get(name, []), left.get(name, []), "wanted", "typed", lineterm="", n=0)
    ]


def main() -> None:
    wanted = demo_script()
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), "127.0.0.1", 0, limits=False)
        build_study(server.store)
        with server.store.session() as session:
            blank = Script(name=wanted.name, title={"en": wanted.title["en"]})
            made = Questionnaire(study_id=1, title=wanted.title["en"], script=write_script(blank))
            session.add(made)
            session.flush()
            identity = made.id
        server.start()
        screen = Screen(open_chromium(DESK))
        screen.browser.get(server.address)
        began = time.monotonic()
        typist = Typist(screen, ["en"])
        screen.find("input[autocomplete=username]")
        typist.tab_to("Sign-in")
        for text in ("dora", Keys.TAB, PASSWORD, Keys.ENTER):
            typist.write(text)
        screen.find(".study-line")
        screen.browser.get(f"{server.address}studies/1/questionnaire?questionnaire={identity}")
        screen.find(".beginnings")
        type_whole(typist, wanted)
        screen.until(lambda: "Saved" in screen.find(".status span").text, "saved")
        with server.store.session() as session:
            typed = read_script(session.get_one(Questionnaire, identity).script)
        print(f"{len(typed.parts)} lines, {typist.acts} keys and texts, {time.monotonic() - began:.0f} s")
        print("\n".join(differences(typed, wanted)) or "the same as the demo's workbook")
        if len(sys.argv) > 1:
            for name, content in write_folder(typed).items():
                (Path(sys.argv[1]) / name).write_bytes(content)
        screen.browser.quit()
        server.stop()


if __name__ == "__main__":
    main()
