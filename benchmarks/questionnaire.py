"""Questionnaires: checking 1,000 questions with 1,500 rules, one changed rule, and proving 300 questions."""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Iterator
from datetime import UTC, datetime

from benchmarks.result import Result
from skavo.core.interview.release import Release
from skavo.core.questionnaire import compile_part
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.memory import Memory
from skavo.core.questionnaire.script import Code, CodeList, Part, Script, ScriptCheck
from skavo.core.rehearsal.proof.prove import prove
from skavo.core.rules.syntax import parse_rule


def large_script(questions: int) -> Script:
    """Sections of 20 questions of several kinds, half of them with conditions on earlier ones, one or two checks each."""
    rng = random.Random(5)
    parts: list[Part] = []
    numbers: list[str] = []
    for i in range(questions):
        if i % 20 == 0:
            parts.append(Part(id=f"s{i}", kind="section", variable=f"s{i}", wording={"en": f"Section {i}"}))
        kind = ("whole number", "single answer", "yes/no", "whole number")[i % 4]
        name = f"q{i}"
        recent = numbers[-30:]
        asked = f"{rng.choice(recent)} > {rng.randint(1, 60)}" if recent and i % 2 else ""
        must = []
        if kind == "whole number":
            must = [ScriptCheck(rule=f"{name} between 0 and 99")]
            if recent and i % 8 == 0:
                must.append(ScriptCheck(rule=f"{name} <= {rng.choice(recent)} + {rng.randint(10, 60)}"))
            numbers.append(name)
        should = [ScriptCheck(rule=f"{name} is answered")] if i % 4 else []
        listed = "codes" if kind == "single answer" else ""
        parts.append(
            Part(
                id=name, level=2, kind=kind, variable=name, wording={"en": f"Question {i}?"}, asked_when=asked,
                must_hold=must, should_hold=should, code_list=listed,
            )
        )  # fmt: skip
    codes = CodeList(name="codes", codes=[Code(code=f"c{n}", label={"en": f"Code {n}"}) for n in range(6)])
    return Script(name="large", languages=["en"], parts=parts, code_lists=[codes])


def rules_of(script: Script) -> int:
    return sum(bool(p.asked_when) + len(p.must_hold) + len(p.should_hold) for p in script.parts)


def _seconds(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def run() -> Iterator[Result]:
    script = large_script(1000)
    parse_rule.cache_clear()
    compile_part.MEMORY = Memory()  # type: ignore[attr-defined]
    whole = _seconds(lambda: compile_script(script))
    detail = f"{rules_of(script)} rules, from nothing"
    yield Result("1,000 questions checked", whole, 2.0, detail, "s")

    changed = script.model_copy(deep=True)
    changed.parts[500].must_hold = [ScriptCheck(rule=f"{changed.parts[500].variable} between 0 and 98")]
    again = _seconds(lambda: compile_script(changed))
    yield Result(
        "one changed rule / all of them", again / whole, 0.5, f"{again * 1e3:.0f} ms against {whole * 1e3:.0f} ms"
    )

    compiled = compile_script(large_script(300)).release
    assert compiled is not None
    release = Release(compiled)
    proved = _seconds(lambda: prove(release, datetime(2027, 3, 14, tzinfo=UTC)))
    yield Result(
        "300 questions proved", proved, 60.0, f"{rules_of(large_script(300))} rules, with test interviews", "s"
    )
