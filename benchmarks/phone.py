"""The engine on the phone, in headless Chromium: one answer, and the second start against a bare Pyodide."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from benchmarks import tap
from benchmarks.engine import questionnaire
from benchmarks.result import Result
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, open_chromium

ANSWERS = 200
STARTS = 5
_ASK = """
window.ask = (worker, call, args) => new Promise((resolve, reject) => {
  const id = ++window.last;
  worker.addEventListener('message', function heard(event) {
    if (event.data.id !== id) return;
    worker.removeEventListener('message', heard);
    if (event.data.error) reject(event.data.error); else resolve(event.data.result);
  });
  worker.postMessage({ id, call, args });
});
window.last = 0;
"""
_OPEN = [
    "one",
    "large",
    {"answers": {}, "kept": {}, "language": "en"},
    {"now": "2027-03-14T10:00:00+00:00", "enumerator.name": ""},
]


def run() -> Iterator[Result]:
    release = json.dumps(questionnaire(1000).raw)
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), "127.0.0.1", 0, limits=False)
        server.start()
        browser = open_chromium(PHONE)
        browser.get(server.address)
        worker = next((STATIC / "field" / "assets").glob("worker-*.js")).name
        engine = next(p for p in (STATIC / "field" / "engine").iterdir() if (p / "modules.json").exists()).name
        for name, loaded, answers, paths in tap.cases():
            yield _tap(browser, f"/field/assets/{worker}", name, json.dumps(loaded.raw), answers, paths)
        yield _second_start(browser, f"/field/assets/{worker}", f"/field/engine/{engine}/", release)
        browser.quit()
        server.stop()


def _tap(browser: Any, worker: str, name: str, release: str, answers: dict[str, int], paths: list[str]) -> Result:
    """From the tap in the page to the next screen and what has to be written down, in the page again."""
    opened = ["one", "large", {"answers": answers, "kept": {}, "language": "en"}, _OPEN[3]]
    times = browser.execute_async_script(
        _ASK + """
        const [url, release, open, paths, count, done] = arguments;
        (async () => {
          const worker = new Worker(url, { type: 'module' });
          await window.ask(worker, 'loadRelease', ['large', release]);
          await window.ask(worker, 'open', open);
          const times = [];
          for (let i = 0; i < count; i += 1) {
            const began = performance.now();
            const screen = await window.ask(worker, 'answer', ['one', paths[i % paths.length], 2 + Math.floor(i / paths.length) % 3]);
            await window.ask(worker, 'unsaved', ['one']);
            if (screen.next !== null) await window.ask(worker, 'show', ['one', screen.next]);
            times.push(performance.now() - began);
          }
          worker.terminate();
          return times;
        })().then(done, (error) => done(String(error)));""",
        worker, release, opened, paths, ANSWERS,
    )  # fmt: skip
    assert isinstance(times, list), times
    ordered = sorted(times)
    at_95 = ordered[int(len(ordered) * 0.95)]
    detail = (
        f"median {ordered[len(ordered) // 2]:.1f} ms, in the browser, the next screen and what is written down with it"
    )
    return Result(f"a tap on the phone, {name}, 95th percentile", at_95, tap.TO_REACH_MS, detail, "ms")


def _second_start(browser: Any, worker: str, engine: str, release: str) -> Result:
    """Both with their files in the browser's cache: to the first question ready."""

    def timed(script: str, *arguments: Any) -> float:
        found = []
        for _ in range(STARTS):
            took = browser.execute_async_script(script, *arguments)
            assert isinstance(took, int | float), took
            found.append(float(took))
        return min(found[1:])

    snapshot = timed(
        _ASK + """
        const [url, release, open, done] = arguments;
        (async () => {
          const began = performance.now();
          const worker = new Worker(url, { type: 'module' });
          await window.ask(worker, 'loadRelease', ['large', release]);
          const way = await window.ask(worker, 'open', open);
          await window.ask(worker, 'show', ['one', way[0]]);
          const took = performance.now() - began;
          worker.terminate();
          return took;
        })().then(done, (error) => done(String(error)));""",
        worker, release, _OPEN,
    )  # fmt: skip
    bare = timed(
        """
        const [folder, done] = arguments;
        (async () => {
          const began = performance.now();
          const { loadPyodide } = await import(folder + 'pyodide.mjs');
          await loadPyodide({ indexURL: folder });
          return performance.now() - began;
        })().then(done, (error) => done(String(error)));""",
        engine,
    )
    detail = f"{snapshot:.0f} ms with a release of 1,000 questions loaded, against {bare:.0f} ms of Pyodide alone"
    return Result("second start to the first question / a bare page with Pyodide", snapshot / bare, 0.4, detail)
