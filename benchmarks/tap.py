"""A tap on the phone, whole: answer taken in, everything that follows, the next screen, and what has to be written down."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator

from benchmarks.engine import questionnaire
from benchmarks.result import Result
from skavo.core.interview.release import Release
from skavo.core.interview.session import Session, load_release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Part, Script, ScriptCheck

TAPS = 400
ROWS = 20
TO_REACH_MS = 16.0
OUTSIDE = json.dumps({"now": "2027-03-14T10:00:00+00:00", "enumerator.name": ""})


def nested() -> Release:
    """ROWS × ROWS rows: in each a number with a check and a sum over its roster, and a total over all."""
    parts = [
        Part(id="n", kind="whole number", variable="n", wording={"en": "N"}),
        Part(id="o", kind="roster", variable="outer", repeated="n times", wording={"en": "Outer"}),
        Part(id="m", level=2, kind="whole number", variable="m", wording={"en": "M"}),
        Part(id="i", level=2, kind="roster", variable="inner", repeated="m times", wording={"en": "Inner"}),
        Part(
            id="q", level=3, kind="whole number", variable="q", wording={"en": "Q"},
            must_hold=[ScriptCheck(rule="q between 0 and 900")],
        ),
        Part(id="r", level=3, kind="whole number", variable="r", wording={"en": "R"}, asked_when="q > 1"),
        Part(id="s", level=2, kind="derived value", variable="s", derived="sum(inner.q)"),
        Part(id="t", kind="derived value", variable="t", derived="sum(outer.s)"),
    ]  # fmt: skip
    compiled = compile_script(Script(name="nested", languages=["en"], parts=parts)).release
    assert compiled is not None
    return Release(compiled)


def nested_answers() -> dict[str, int]:
    rows = range(1, ROWS + 1)
    return {
        "n": ROWS,
        **{f"outer/{i}/m": ROWS for i in rows},
        **{f"outer/{i}/inner/{j}/{v}": 5 for i in rows for j in rows for v in ("q", "r")},
    }


def cases() -> Iterator[tuple[str, Release, dict[str, int], list[str]]]:
    """What is measured: its name, the release, the answers there already, and the paths that are tapped in turn."""
    yield "1,000 questions", questionnaire(1000), {f"q{i}": 5 for i in range(1000)}, ["q0", "q500", "q999"]
    inner = [f"outer/{i}/inner/{j}/q" for i, j in ((1, 1), (10, 10), (ROWS, ROWS))]
    yield f"{ROWS} × {ROWS} nested rows", nested(), nested_answers(), inner


def run() -> Iterator[Result]:
    for name, release, answers, paths in cases():
        load_release(name, json.dumps(release.raw))
        session = Session(name, json.dumps({"answers": answers}), OUTSIDE)
        times = []
        for tap in range(TAPS):
            path = paths[tap % len(paths)]
            began = time.perf_counter()
            screen = json.loads(session.answer(path, str(2 + tap // len(paths) % 3)))
            session.unsaved()
            if screen["next"] is not None:
                session.show(screen["next"])
            times.append(1e3 * (time.perf_counter() - began))
        times.sort()
        detail = f"median {times[TAPS // 2]:.2f} ms, CPython, with the next screen and what is written down"
        yield Result(f"a tap, {name}, 95th percentile", times[int(TAPS * 0.95)], TO_REACH_MS, detail, "ms")
