"""Two keyings held against each other, and how often keyers were wrong."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.fieldwork.keying import Keyed, agreed_answers, compare_keyings, error_rates
from tests.samples import code_list, part, release_of, script

AT = datetime(2026, 11, 20, 12, tzinfo=UTC)
RELEASE = release_of(
    script(
        part(1, "section", "about", wording={"en": "About"}),
        part(2, "yes/no", "works"),
        part(2, "single answer", "ward", code_list="ward", asked_when="works"),
        part(2, "whole number", "hands"),
        part(1, "roster", "helper", repeated="hands times", wording={"en": "Helper"}),
        part(2, "text", "called"),
        lists=(code_list("ward", "harbour", "hill"),),
    )
)
FIRST = {"works": True, "ward": "hill", "hands": 2, "helper/1/called": "Bo", "helper/2/called": "Cy"}


def open_paths(first: dict[str, Any], second: dict[str, Any], settled: dict[str, Any]) -> list[str]:
    return [d.path for d in compare_keyings(RELEASE, first, second, settled, AT).open]


def test_the_same_keyed_twice_leaves_nothing_to_settle() -> None:
    compared = compare_keyings(RELEASE, FIRST, dict(FIRST), {}, AT)
    assert compared.open == [] and compared.asked == 5


@pytest.mark.parametrize(
    ("change", "settled", "left"),
    [
        ({"works": False, "ward": None}, {}, ["works"]),
        ({"works": False, "ward": None}, {"works": False}, []),
        ({"works": False, "ward": None}, {"works": True}, ["ward"]),
        ({"hands": 1}, {}, ["hands"]),
        ({"hands": 1, "helper/2/called": None}, {"hands": 1}, []),
        ({"hands": 1, "helper/2/called": None}, {"hands": 2}, ["helper/2/called"]),
        ({"helper/1/called": "Bob"}, {}, ["helper/1/called"]),
        ({"helper/1/called": "Bob"}, {"helper/1/called": None}, []),
        ({"nowhere": 1, "helper/x/called": "?"}, {}, []),
    ],
)
def test_what_hangs_on_an_open_difference_is_looked_at_after_it(
    change: dict[str, Any], settled: dict[str, Any], left: list[str]
) -> None:
    second = {path: value for path, value in {**FIRST, **change}.items() if value is not None}
    assert open_paths(FIRST, second, settled) == left


def test_a_difference_is_told_in_words() -> None:
    (found,) = compare_keyings(RELEASE, FIRST, {**FIRST, "ward": "harbour"}, {}, AT).open
    assert (found.wording, found.first_shown, found.second_shown) == ("Wording of ward", "Hill", "Harbour")
    (found,) = compare_keyings(RELEASE, FIRST, {**FIRST, "helper/2/called": "Cyr"}, {}, AT).open
    assert found.around == "Helper 2"


answers = st.fixed_dictionaries(
    {},
    optional={
        "works": st.booleans(), "ward": st.sampled_from(["harbour", "hill"]), "hands": st.integers(0, 3),
        "helper/1/called": st.sampled_from("xy"), "helper/2/called": st.sampled_from("xy"),
    },
)  # fmt: skip


@given(answers, answers, st.data())
def test_settling_one_after_the_other_ends_and_what_counts_is_what_was_keyed_or_settled(
    first: dict[str, Any], second: dict[str, Any], data: st.DataObject
) -> None:
    settled: dict[str, Any] = {}
    while found := compare_keyings(RELEASE, first, second, settled, AT).open:
        assert found[0].path not in settled
        settled[found[0].path] = data.draw(st.sampled_from([found[0].first, found[0].second]))
    for path, value in agreed_answers(RELEASE, first, second, settled).items():
        assert value in (first.get(path), second.get(path))


def test_errors_are_counted_by_keyer_and_by_question() -> None:
    settled = {"ward": "hill", "hands": None}
    by_keyer, by_question = error_rates(
        [
            Keyed("Kip", {"works": True, "ward": "harbour", "hands": 2}, settled),
            Keyed("Lio", {"works": True, "helper/1/called": "x"}, settled),
        ]
    )
    assert [(r.name, r.keyed, r.errors) for r in by_keyer] == [("Kip", 3, 2), ("Lio", 3, 1)]
    assert [(r.name, r.errors) for r in by_question] == [("ward", 2), ("hands", 1), ("called", 0), ("works", 0)]
    assert by_keyer[0].rate == pytest.approx(2 / 3)
