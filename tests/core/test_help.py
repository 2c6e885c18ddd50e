"""The help says what is so: every example is run, and the page in docs is the one the application shows."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import (
    EXAMPLE_ANSWERS,
    EXAMPLE_OUTSIDE,
    HELP,
    PLACES,
    Example,
    example_script,
    help_as_markdown,
)
from skavo.core.questionnaire.script import Part
from skavo.core.rules.check_values import FUNCTION_NAMES
from skavo.core.rules.syntax import parse_rule

EXAMPLES = [example for topic in HELP for example in topic.examples]


@pytest.mark.parametrize("example", EXAMPLES, ids=[e.rule for e in EXAMPLES])
def test_every_example_gives_what_it_says(example: Example) -> None:
    script = example_script()
    script.parts.append(Part(id="r", kind="derived value", variable="result", derived=example.rule))
    compiled = compile_script(script)
    assert compiled.release is not None, compiled.errors
    now = datetime(2027, 3, 14, 10, tzinfo=UTC)
    engine = Engine(Release(compiled.release), {"now": now, **EXAMPLE_OUTSIDE}, EXAMPLE_ANSWERS)
    assert told(engine.values[-1].get(())) == example.gives


def told(value: Any) -> str:
    if value is None:
        return "missing"
    return ("yes" if value else "no") if isinstance(value, bool) else str(write_answer(value))


def test_every_function_has_an_example() -> None:
    used = " ".join(e.rule for e in EXAMPLES)
    assert [name for name in FUNCTION_NAMES if f"{name}(" not in used] == []


def test_the_forms_of_single_places_are_rules() -> None:
    for where, rule, _ in PLACES:
        if where not in ("repeated", "wording"):
            parse_rule(rule)


def test_the_page_in_docs_is_up_to_date() -> None:
    page = Path(__file__).parents[2] / "docs" / "rules.md"
    assert page.read_text(encoding="utf-8") == help_as_markdown()
