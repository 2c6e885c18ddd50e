"""The solver sees each rule as the engine does: with the answers of the conformance table, every rule, every outcome."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, date, datetime, time
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
import z3
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import EXAMPLE_ANSWERS, EXAMPLE_OUTSIDE, example_script
from skavo.core.questionnaire.script import Part, Script
from skavo.core.rehearsal.proof.symbols import Chosen, Truth
from skavo.core.rehearsal.proof.world import Answer, World
from skavo.core.rules.values import Duration, Quantity
from tests.conformance.cases import ANSWER_SETS, CASES, conformance_script
from tests.core.random_rules import random_rules

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


class Pinned:
    """The world of a script, held to one set of answers, beside the engine with the same answers."""

    def __init__(self, script: Script, answers: dict[str, Any], outside: dict[str, Any] | None = None) -> None:
        compiled = compile_script(script)
        assert compiled.release is not None, compiled.errors
        self.release = Release(compiled.release)
        self.world = World(self.release, NOW, most_rows=3)
        self.engine = Engine(self.release, {"now": NOW, **(outside or {})}, answers)
        self.solver = z3.Solver()
        self.solver.add(*self.world.base)
        for (index, row), answer in self.world.answers.items():
            if self.engine.asked[index].get(row):
                given = self.engine.answers.get(path_of(self.release, index, row))
                value = self.engine.values[index].get(row)
                self.solver.add(*_pins(self.world, answer, given, value))
                if isinstance(value, Quantity):
                    self.solver.add(z3.Bool(f"{self.release.parts[index].variable} in {value.unit}"))
        for index, earlier in self.world.translator.earlier.items():
            told = (outside or {}).get("earlier", {}).get(self.release.parts[index].variable)
            self.solver.add(same(self.world, earlier, told))
        self.solver.add(*self.world.translator.facts)
        assert self.solver.check() == z3.sat

    def hold_against_the_engine(self, variable: str) -> None:
        """The solver allows what the engine gives for a derived value and, where it has no doubt, nothing else."""
        index = self.release.by_name[variable]
        for row, asked in self.engine.asked[index].items():
            if asked:
                outcome = same(self.world, self.world.values[index, row], self.engine.values[index].get(row))
                assert self.solver.check(outcome) == z3.sat
                if not self.world.doubts[index]:
                    assert self.solver.check(z3.Not(outcome)) == z3.unsat


def _pins(world: World, answer: Answer, given: Any, value: Any) -> Iterator[Any]:
    special = given.get("special") if isinstance(given, dict) else None
    yield answer.dont_know == (special == "dont_know")
    yield answer.refused == (special == "refused")
    yield answer.given == (given is not None and special is None)
    if value is not None:
        yield same(world, answer.value, value)


def same(world: World, symbol: Any, value: Any) -> Any:
    """That a symbol stands for just this value; None for missing."""
    if isinstance(symbol, Truth):
        return z3.And(symbol.yes == (value is True), symbol.no == (value is False))
    if value is None:
        return z3.Not(symbol.there)
    if isinstance(value, Quantity):
        return (
            z3.And(symbol.there, symbol.value == z3.RealVal(str(value.size)))
            if value.size is not None
            else symbol.there
        )
    if isinstance(symbol, Chosen):
        return z3.And(symbol.there, *[on == (code in value) for code, on in symbol.codes.items()])
    if isinstance(value, int | Decimal | Fraction):
        return z3.And(symbol.there, symbol.value == z3.RealVal(str(value)))
    return z3.And(symbol.there, symbol.value == _number(world, value))


def _number(world: World, value: Any) -> int:
    """The number that stands for a value that is none."""
    if isinstance(value, datetime):
        return value.toordinal() * 86400 + value.hour * 3600 + value.minute * 60 + value.second
    if isinstance(value, date):
        return value.toordinal()
    if isinstance(value, time):
        return value.hour * 60 + value.minute
    if isinstance(value, Duration):
        return value.seconds
    return world.translator.texts.number(str(value))


@pytest.fixture(scope="module", params=range(len(ANSWER_SETS)), ids=["everything", "little", "nothing"])
def table(request: pytest.FixtureRequest) -> Pinned:
    return Pinned(conformance_script(), ANSWER_SETS[request.param])


@pytest.mark.parametrize(("number", "rule"), list(enumerate(CASES)))
def test_the_solver_sees_the_conformance_table_as_the_engine_does(table: Pinned, number: int, rule: str) -> None:
    table.hold_against_the_engine(f"r{number}")


@st.composite
def _some_answers(draw: st.DrawFn) -> dict[str, Any]:
    """Some of the answers of the help, a few of them others."""
    kept = {path: value for path, value in EXAMPLE_ANSWERS.items() if draw(st.integers(0, 4))}
    others = {
        "trade": st.sampled_from(["phone", "3"]), "workers": st.integers(0, 3), "paid": st.integers(-1, 4),
        "has_apprentices": st.booleans(), "apprentices": st.integers(0, 2), "staff/1/role": st.just("mender"),
        "best": st.sampled_from(["vice", "drill"]), "tools": st.sampled_from([["drill"], ["saw", "vice", "drill"]]), "opened": st.sampled_from(["2024-02-29", "2026-12-31"]),
    }  # fmt: skip
    answers = {**kept, **{path: draw(choice) for path, choice in others.items() if draw(st.booleans())}}
    if answers.get("best") not in answers.get("tools", []):
        # The solver knows no interview with a code that its filter does not offer.
        answers.pop("best", None)
    return answers


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.lists(st.sampled_from(["number", "yes/no", "text", "date"]).flatmap(random_rules), min_size=3, max_size=6),
    st.lists(random_rules("row yes/no"), max_size=3),
    _some_answers(),
)
def test_the_solver_sees_any_rule_as_the_engine_does(
    rules: list[str], rules_of_rows: list[str], answers: dict[str, Any]
) -> None:
    script = example_script()
    results = [_derived(f"result_{n}", 1, rule) for n, rule in enumerate(rules)]
    in_rows = [_derived(f"row_result_{n}", 2, rule) for n, rule in enumerate(rules_of_rows)]
    # The staff come last, so that rules in their rows may speak of everything.
    staff, tools = (next(n for n, p in enumerate(script.parts) if p.variable == v) for v in ("staff", "each_tool"))
    parts = [*script.parts[:staff], *script.parts[tools:], *script.parts[staff:tools], *in_rows, *results]
    pinned = Pinned(script.model_copy(update={"parts": parts}), answers, EXAMPLE_OUTSIDE)
    for part in [*results, *in_rows]:
        pinned.hold_against_the_engine(part.variable)


def _derived(variable: str, level: int, rule: str) -> Part:
    return Part(id=variable, level=level, kind="derived value", variable=variable, derived=rule)
