"""The conformance table and whole interviews, in Pyodide: the phone says just what CPython says."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from skavo.core.interview.session import Session, load_release
from skavo.core.questionnaire.compile import compile_script
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, open_chromium
from tests.browser.screen import Screen
from tests.conformance.cases import ANSWER_SETS, conformance_script, expected
from tests.samples import staff_script

pytestmark = [
    pytest.mark.browser,
    pytest.mark.flaky(reruns=2),
    pytest.mark.xdist_group("browser"),
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]
OUTSIDE = {"now": "2027-03-14T10:00:00+00:00", "enumerator.name": "Ilse Varn"}
INTERVIEWS: list[dict[str, Any]] = [
    {},
    {"consent": True, "workers": 60},
    {"consent": True, "island": "kesk", "ward": "l1", "workers": 2, "staff/1/name": "Bo", "staff/1/age": 12, "tools": ["other", "none"]},
    {"consent": "perhaps", "workers": "many", "gone": 1},
    {"consent": True, "workers": {"special": "refused"}, "tools": ["saw"], "remarks": "é ü ع"},
]  # fmt: skip


class PhoneEngine:
    """The engine's worker, called from a page as the phone calls it."""

    def __init__(self, screen: Screen) -> None:
        self.screen = screen
        worker = next((STATIC / "assets").glob("worker-*.js")).name
        screen.browser.execute_script(
            """window.engine = new Worker(arguments[0], {type: 'module'}); window.waiting = new Map(); window.last = 0;
            window.engine.onmessage = (event) => window.waiting.get(event.data.id)(event.data);""",
            f"/assets/{worker}",
        )

    def call(self, call: str, *args: Any) -> Any:
        script = """const [call, args, done] = arguments; const id = ++window.last;
            window.waiting.set(id, done); window.engine.postMessage({id, call, args});"""
        reply: dict[str, Any] = self.screen.browser.execute_async_script(script, call, list(args))
        assert "error" not in reply, reply
        return reply["result"]


@pytest.fixture(scope="module")
def engine(tmp_path_factory: pytest.TempPathFactory) -> Iterator[PhoneEngine]:
    folder: Path = tmp_path_factory.mktemp("engine")
    server = Server(folder, "127.0.0.1", 0, limits=False)
    server.start()
    browser = open_chromium(PHONE)
    browser.get(server.address)
    yield PhoneEngine(Screen(browser))
    browser.quit()
    server.stop()


def compiled(script: Any) -> str:
    release = compile_script(script).release
    assert release is not None
    return json.dumps(release)


def test_every_rule_of_the_table_gives_the_same_on_the_phone(engine: PhoneEngine) -> None:
    engine.call("loadRelease", "table", compiled(conformance_script()))
    for number, answers in enumerate(ANSWER_SETS):
        engine.call("open", "one", "table", {"answers": answers, "kept": {}, "language": "en"}, OUTSIDE)
        assert engine.call("packed", "one")["derived"] == expected(number)


@pytest.mark.parametrize("number", range(len(INTERVIEWS)))
def test_a_whole_interview_is_the_same_on_the_phone(engine: PhoneEngine, number: int) -> None:
    release = compiled(staff_script())
    interview = {"answers": INTERVIEWS[number], "kept": {}, "language": "en"}
    load_release("here", release)
    here = Session("here", json.dumps(interview), json.dumps(OUTSIDE))
    engine.call("loadRelease", "there", release)
    assert engine.call("open", "one", "there", interview, OUTSIDE) == json.loads(here.way())
    for call in ("way", "overview", "findings", "saved", "packed"):
        assert engine.call(call, "one") == json.loads(getattr(here, call)()), call
    for path in json.loads(here.way()):
        assert engine.call("show", "one", path) == json.loads(here.show(path)), path
