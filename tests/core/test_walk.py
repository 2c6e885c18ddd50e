"""The way from screen to screen is the order of asking, whatever is asked, skipped, repeated and shuffled."""

from __future__ import annotations

from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.interview.engine import Engine
from skavo.core.interview.view import steps
from skavo.core.interview.walk import next_screen, previous_screen
from skavo.core.questionnaire.script import Part, Script
from tests.samples import code_list, part, release_of, script, staff_engine


def nested(order: str) -> Script:
    """Sections in sections, rosters in rosters, skips at every level, a question that asks which other."""
    return script(
        part(1, "section", "first", order=order),
        part(2, "yes/no", "sure"),
        part(2, "single answer", "tool", code_list="tool"),
        part(2, "section", "inner", asked_when="", order=order),
        part(3, "text", "a"),
        part(3, "statement", "said"),
        part(3, "text", "b"),
        part(1, "whole number", "count"),
        part(1, "roster", "outer", repeated="count times"),
        part(2, "section", "within", order=order),
        part(3, "text", "c"),
        part(3, "whole number", "more"),
        part(2, "roster", "deep", repeated="more times", order=order),
        part(3, "multiple answer", "tools", code_list="tool"),
        part(3, "text", "d", asked_when="tools includes saw"),
        part(2, "text", "e"),
        part(1, "section", "last", asked_when="count > 1"),
        part(2, "text", "f"),
        lists=(code_list("tool", "saw", "vice", "other", specify="other"),),
    )


def held_to_the_way(engine: Engine) -> None:
    way = list(steps(engine))
    assert [next_screen(engine, place) for place in way] == [*way[1:], None][: len(way)]
    assert [previous_screen(engine, place) for place in way] == [None, *way[:-1]][: len(way)]


ANSWERS = st.fixed_dictionaries(
    {},
    optional={
        "sure": st.booleans(), "tool": st.sampled_from(["saw", "other"]), "count": st.integers(0, 3),
        "outer": st.builds(lambda names: {"removed": names}, st.lists(st.integers(1, 4), max_size=2, unique=True)),
        **{f"outer/{n}/more": st.integers(0, 3) for n in range(1, 5)},
        **{f"outer/{n}/deep/{m}/tools": st.lists(st.sampled_from(["saw", "vice", "other"]), unique=True) for n in range(1, 4) for m in (1, 2)},
    },
)  # fmt: skip


@settings(max_examples=120, deadline=None)
@given(ANSWERS, st.sampled_from(["fixed", "random"]), st.text(max_size=3))
def test_each_screen_knows_the_one_before_and_behind(answers: dict[str, Any], order: str, seed: str) -> None:
    sample = nested(order)
    if order == "random":
        # A rule may not reach into another branch of a random order.
        sample = _without(sample, "asked_when")
    engine = Engine(release_of(sample), {"interview.seed": seed}, answers)
    held_to_the_way(engine)


def _without(sample: Script, field: str) -> Script:
    parts: list[Part] = [p.model_copy(update={field: ""}) for p in sample.parts]
    return sample.model_copy(update={"parts": parts})


def test_after_each_answer_the_way_still_holds() -> None:
    engine = staff_engine({})
    for path, value in (
        ("consent", True), ("workers", 3), ("staff/2/age", 30), ("tools", ["saw", "other"]), ("staff/1/age", 12),
        ("workers", 1), ("consent", False), ("consent", True),
    ):  # fmt: skip
        engine.answer(path, value)
        held_to_the_way(engine)
