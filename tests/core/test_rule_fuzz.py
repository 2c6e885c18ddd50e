"""Whatever the grammar allows: it is read, checked, formatted, said, computed and proved without an accident."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import cache
from pathlib import Path

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.lark import from_lark
from lark import Lark
from lark.lexer import PatternStr

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import EXAMPLE_ANSWERS, EXAMPLE_OUTSIDE, example_script
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import Part
from skavo.core.rehearsal.proof.world import World
from skavo.core.rules import syntax
from skavo.core.rules.check import check_typed
from skavo.core.rules.check_values import FUNCTION_NAMES
from skavo.core.rules.explain import explain_outcome, explain_rule
from skavo.core.rules.format import format_node, format_rule
from skavo.core.rules.syntax import Node, parse_rule
from tests.core.random_rules import random_rules

SCRIPT = example_script()
ENTRIES = build_outline(SCRIPT)
SCOPE = base_scope(SCRIPT, ENTRIES, symbols_of(SCRIPT, ENTRIES))
CODES = [c.code for entry in SCRIPT.code_lists for c in entry.codes if c.code.isidentifier()]
NAMES = [*SCOPE.symbols, *CODES, "kg", "sack", "days", "months", "earlier", "today", "now", "nobody"]
GRAMMAR = Path(syntax.__file__).with_name("grammar.lark")
NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


TERMINALS = {
    "NAME": [*NAMES, *(name for name in FUNCTION_NAMES if name != "any")],
    "NUMBER": ["0", "3", "7.5", "1000000000000"],
    "STRING": ['""', '"U-12_*9?"', '"[a-z]+[0-9]{2}"', '"(("'],
    "DATE": ["2026-02-28", "2024-02-29"],
    "TIME": ["08:30", "23:59"],
    "COMMENT": ["# why\n"],
}


@cache
def anything_of_the_grammar() -> st.SearchStrategy[str]:
    grammar = Lark(GRAMMAR.read_text(encoding="utf-8"), parser="lalr")
    words = {t.name: [t.pattern.value] for t in grammar.terminals if isinstance(t.pattern, PatternStr)}
    spaced = {name: st.sampled_from([f" {text} " for text in texts]) for name, texts in {**words, **TERMINALS}.items()}
    return from_lark(grammar, explicit=spaced)


def shape(node: Node) -> tuple[object, ...]:
    """A syntax tree without its places in the text."""
    where = shape(node.where) if node.where else ()
    return (node.op, node.text, where, *(shape(arg) for arg in node.args))


def say_and_compute(text: str) -> None:
    """Everything that is done with a rule's text, in whatever state it is."""
    formatted = format_rule(text)
    assert shape(parse_rule(formatted)) == shape(parse_rule(text))
    assert format_rule(formatted) == formatted

    for fault in check_typed(text, SCOPE, None)[2]:
        assert fault.message
        assert 0 <= fault.span.start <= fault.span.end <= len(text)
    assert explain_rule(text, SCOPE, lambda code_list, code: code)

    result = Part(id="r", kind="derived value", variable="result", derived=text)
    compiled = compile_script(SCRIPT.model_copy(update={"parts": [*SCRIPT.parts, result]}))
    if compiled.release is None:
        assert compiled.errors
        return
    release = Release(compiled.release)
    for answers in ({}, EXAMPLE_ANSWERS):
        engine = Engine(release, {"now": NOW, **EXAMPLE_OUTSIDE}, answers)
        steps = explain_outcome(text, SCOPE, lambda code_list, code: code, lambda kind, value: str(value), engine, ())
        assert steps[0].text == format_node(parse_rule(text))
    World(release, NOW, most_rows=2)


@settings(max_examples=8, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.deferred(lambda: anything_of_the_grammar()))
def test_any_rule_of_the_grammar_is_taken_without_an_accident(text: str) -> None:
    say_and_compute(text)


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(["number", "yes/no", "text", "date"]).flatmap(lambda kind: random_rules(kind, astray=True)))
def test_rules_that_nearly_make_sense_are_taken_without_an_accident(text: str) -> None:
    say_and_compute(text)
