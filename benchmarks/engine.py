"""The engine: one answer in a large questionnaire against the same in a small one, and loading against plain comparisons."""

from __future__ import annotations

import timeit
from collections.abc import Callable, Iterator
from typing import Any

from benchmarks.result import Result
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Part, Script, ScriptCheck

DEPENDENTS = 5
ROUNDS = 25


def questionnaire(questions: int) -> Release:
    """`questions` whole numbers, each with a check; the first decides about DEPENDENTS of them."""
    parts = [
        Part(id="p0", kind="whole number", variable="q0", wording={"en": "Q"}, must_hold=[ScriptCheck(rule="q0 < 900")])
    ]
    for i in range(1, questions):
        depends = i <= DEPENDENTS
        parts.append(
            Part(
                id=f"p{i}", kind="whole number", variable=f"q{i}", wording={"en": "Q"},
                asked_when="q0 > 1" if depends else "",
                must_hold=[ScriptCheck(rule=f"q{i} between 0 and 900")],
            )
        )  # fmt: skip
    compiled = compile_script(Script(name="bench", languages=["en"], parts=parts)).release
    assert compiled is not None
    return Release(compiled)


def _best(*actions: tuple[Callable[[], Any], int]) -> list[float]:
    """Seconds of one call of each action, the quickest of several rounds.

    The actions, each so many times a round, take turns: a machine that slows down for a while slows all of them.
    """
    timers = [(timeit.Timer(action), number) for action, number in actions]
    rounds = [[timer.timeit(number) / number for timer, number in timers] for _ in range(ROUNDS)]
    return [min(times) for times in zip(*rounds, strict=True)]


def _one_answer(release: Release) -> Callable[[], Any]:
    engine = Engine(release, answers={f"q{i}": 5 for i in range(len(release.parts))})
    values = iter([2, 3] * 1_000_000)
    return lambda: engine.answer("q0", next(values))


def run() -> Iterator[Result]:
    small, large = questionnaire(50), questionnaire(1000)
    in_small, in_large = _best((_one_answer(small), 300), (_one_answer(large), 300))
    detail = f"{in_large * 1e6:.0f} µs against {in_small * 1e6:.0f} µs"
    yield Result("one answer among 1,000 questions / among 50", in_large / in_small, 1.5, detail)

    answers = {f"q{i}": 5 for i in range(1000)}
    limits = {f"q{i}": 900 for i in range(1000)}

    def compare() -> int:
        return sum(1 for name, value in answers.items() if value <= limits[name])

    loading, comparing = _best((lambda: Engine(large, answers=answers), 5), (compare, 200))
    detail = f"{loading * 1e3:.2f} ms against {comparing * 1e6:.0f} µs"
    yield Result("1,000 questions evaluated at loading / 1,000 comparisons", loading / comparing, 40, detail)
