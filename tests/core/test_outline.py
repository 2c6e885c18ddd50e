"""The outline of a script: what belongs to what, and the questions that come by themselves."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.questionnaire.outline import build_outline, symbols_of
from skavo.core.questionnaire.script import Part
from tests.samples import code_list, part, script


def test_what_is_deeper_belongs_to_what_stands_above_it() -> None:
    entries = build_outline(
        script(
            part(1, "section", "a"),
            part(2, "text", "b"),
            part(2, "roster", "c", repeated="b times"),
            part(3, "text", "d"),
            part(3, "roster", "e", repeated="1 times"),
            part(4, "text", "f"),
            part(2, "text", "g"),
            part(1, "text", "h"),
        )
    )
    found = {e.part.variable: (e.parent, e.rosters, e.end) for e in entries}
    assert found == {
        "a": (None, (), 7),
        "b": (0, (), 2),
        "c": (0, (), 6),
        "d": (2, (2,), 4),
        "e": (2, (2,), 6),
        "f": (4, (2, 4), 6),
        "g": (0, (), 7),
        "h": (None, (), 8),
    }


@pytest.mark.parametrize(
    ("kind", "rule"),
    [("single answer", 'tool is one of ("other")'), ("multiple answer", 'tool includes any of ("other")')],
)
def test_a_code_that_specifies_brings_its_question(kind: str, rule: str) -> None:
    lists = (code_list("tools", "saw", "other", specify="other"),)
    entries = build_outline(script(part(1, kind, "tool", code_list="tools"), part(1, "text", "next"), lists=lists))
    assert [e.part.variable for e in entries] == ["tool", "tool_other", "next"]
    assert (entries[1].part.asked_when, entries[1].source, entries[1].specifies) == (rule, 0, 0)


def test_a_specify_question_is_as_sensitive_as_its_question_and_lasts_with_it() -> None:
    lists = (code_list("tools", "other", specify="other"),)
    entries = build_outline(script(part(1, "single answer", "tool", code_list="tools", sensitive=True), lists=lists))
    assert (entries[1].part.sensitive, entries[1].part.id) == (True, "id_tool.other")


def test_sections_and_statements_are_not_names_for_rules() -> None:
    sample = script(part(1, "section", "a"), part(2, "statement", "b"), part(2, "text", "c"))
    assert list(symbols_of(sample, build_outline(sample))) == ["c"]


@given(st.lists(st.tuples(st.integers(1, 4), st.sampled_from(["section", "roster", "text"])), max_size=12))
def test_any_levels_give_a_sound_tree(lines: list[tuple[int, str]]) -> None:
    parts = [Part(id=str(i), level=level, kind=kind, variable=f"v{i}") for i, (level, kind) in enumerate(lines)]
    entries = build_outline(script(*parts))
    for entry in entries:
        assert entry.index < entry.end <= len(entries)
        if entry.parent is not None:
            parent = entries[entry.parent]
            assert parent.index < entry.index < parent.end and entry.end <= parent.end
            assert parent.part.kind in ("section", "roster")
            inner = (parent.index,) if parent.part.kind == "roster" else ()
            assert entry.rosters == parent.rosters + inner
