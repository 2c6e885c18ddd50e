"""A piece of the demo questionnaire typed from a blank sheet, by keyboard alone; the whole of it: tests.browser.typist."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.script import Part, Script, Texts, read_script, write_script
from skavo.demo.questionnaire import demo_script
from skavo.server import Server
from skavo.store.models import Questionnaire
from skavo.web.pages import STATIC
from tests.browser.screen import Screen
from tests.browser.typist import Typist, differences, type_whole

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]
LANGUAGES = ["en", "fr"]
LINES = [
    "arrival",
    "visit",
    "outcome",
    "come_again",
    "consent_section",
    "greeting",
    "noted",
    "consent",
    "ward",
    "scrap",
]


def spoken(texts: Texts) -> Texts:
    return {tag: text for tag, text in texts.items() if tag in LANGUAGES}


def line(part: Part) -> Part:
    made = part.model_copy(update={"wording": spoken(part.wording), "instruction": spoken(part.instruction)})
    for check in [*made.must_hold, *made.should_hold]:
        check.message = spoken(check.message)
    # Which codes are offered rests on lines that are left out here.
    return made.model_copy(update={"code_filter": "", "media": []})


def a_piece() -> Script:
    """Some lines of the demo with the lists that they use, in two languages."""
    whole = demo_script()
    parts = [line(part) for part in whole.parts if part.variable in LINES]
    lists = [entry for entry in whole.code_lists if entry.name in {part.code_list for part in parts}]
    units = [entry for entry in whole.unit_lists if entry.name in {part.unit for part in parts}]
    for entry in lists:
        entry.codes = entry.codes[:5]
        for code in entry.codes:
            code.label = spoken(code.label)
    for measures in units:
        for unit in measures.units:
            unit.label, unit.factor = spoken(unit.label), "1" if unit.unit == "kg" else "20"
    return whole.model_copy(
        update={
            "title": spoken(whole.title), "languages": LANGUAGES, "parts": parts, "code_lists": lists,
            "unit_lists": units,
        }
    )  # fmt: skip


def test_a_questionnaire_is_written_by_keyboard_alone(demo: Server, screen: Screen) -> None:
    wanted = a_piece()
    with demo.store.session() as session:
        blank = Script(name=wanted.name, title={"en": wanted.title["en"]})
        made = Questionnaire(study_id=1, title=wanted.title["en"], script=write_script(blank))
        session.add(made)
        session.flush()
        identity = made.id
    screen.browser.get(f"{demo.address}studies/1/questionnaire?questionnaire={identity}")
    screen.find(".beginnings")
    type_whole(Typist(screen, ["en"]), wanted)
    screen.until(lambda: "Saved" in screen.find(".status span").text, "saved")
    with demo.store.session() as session:
        typed = read_script(session.get_one(Questionnaire, identity).script)
    assert differences(typed, wanted) == []
