"""The conformance table and whole interviews, in Pyodide: the phone says what CPython says, to the byte."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from skavo.core.questionnaire.compile import compile_script
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, open_chromium
from tests.browser.screen import Screen
from tests.conformance import saying
from tests.conformance.cases import ANSWER_SETS, conformance_script, expected
from tests.conformance.interviews import NOW, interviews
from tests.conformance.saying import everything_said

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]
OUTSIDE = {"now": NOW, "enumerator.name": "Ilse Varn"}


class PhoneEngine:
    """The engine's worker, called from a page as the phone calls it, and Pyodide itself beside it."""

    def __init__(self, screen: Screen) -> None:
        self.screen = screen
        worker = next((STATIC / "field" / "assets").glob("worker-*.js")).name
        screen.browser.execute_script(
            """window.engine = new Worker(arguments[0], {type: 'module'}); window.waiting = new Map(); window.last = 0;
            window.engine.onmessage = (event) => window.waiting.get(event.data.id)(event.data);""",
            f"/field/assets/{worker}",
        )

    def call(self, call: str, *args: Any) -> Any:
        script = """const [call, args, done] = arguments; const id = ++window.last;
            window.waiting.set(id, done); window.engine.postMessage({id, call, args});"""
        reply: dict[str, Any] = self.screen.browser.execute_async_script(script, call, list(args))
        assert "error" not in reply, reply
        return reply["result"]

    def start_python(self) -> None:
        """Pyodide with the engine's modules, as the phone starts it without a snapshot."""
        folder = next(p for p in (STATIC / "field" / "engine").iterdir() if (p / "modules.json").exists()).name
        started = self.screen.browser.execute_async_script(
            """const [folder, saying, done] = arguments;
            (async () => {
              const { loadPyodide } = await import(folder + 'pyodide.mjs');
              const python = await loadPyodide({ indexURL: folder });
              const modules = await (await fetch(folder + 'modules.json')).json();
              for (const [path, text] of Object.entries(modules)) {
                python.FS.mkdirTree('/engine/' + path.slice(0, path.lastIndexOf('/')));
                python.FS.writeFile('/engine/' + path, text);
              }
              python.runPython('import sys; sys.path.insert(0, "/engine")');
              python.runPython(saying);
              window.said = python.globals.get('everything_said');
              return python.runPython('sys.version');
            })().then(done, (error) => done('failed: ' + error));""",
            f"/field/engine/{folder}/",
            Path(saying.__file__).read_text(encoding="utf-8"),
        )
        assert not str(started).startswith("failed"), started

    def said(self, release: str, interview: str, outside: str) -> str:
        text = self.screen.browser.execute_script("return window.said(...arguments)", release, interview, outside)
        return str(text)


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


def test_every_rule_of_the_table_gives_the_same_through_the_phone_s_worker(engine: PhoneEngine) -> None:
    release = compile_script(conformance_script()).release
    engine.call("loadRelease", "table", json.dumps(release))
    for number, answers in enumerate(ANSWER_SETS):
        engine.call("open", "one", "table", {"answers": answers, "kept": {}, "language": "en"}, OUTSIDE)
        assert engine.call("packed", "one")["derived"] == expected(number)


def test_everything_that_is_said_of_every_interview_is_the_same_to_the_byte(engine: PhoneEngine) -> None:
    engine.start_python()
    different = []
    for one in interviews():
        here = everything_said(one.release, one.interview, one.outside)
        if engine.said(one.release, one.interview, one.outside).encode() != here.encode():
            different.append(one.name)
    assert different == []
