"""What writing asks for: names that are lawful and free, pasted cells completed where they are silent."""

from __future__ import annotations

import pytest

from skavo.core.errors import DataError
from skavo.core.questionnaire.propose import Around
from skavo.services.refusals import Refused
from skavo.services.writing import NewLine, pasted, proposals, renamed
from tests.samples import code_list, part, script


@pytest.mark.parametrize("name", ["", "Two Words", "9lives", "a" * 33, "between", "_x"])
def test_a_variable_that_is_none_is_refused_with_one_that_is(name: str) -> None:
    with pytest.raises(Refused) as refused:
        renamed(script(part(1, "text", "a")), {"id_a": name})
    assert refused.value.code == "wrong_variable"


def test_a_variable_that_is_taken_is_refused_and_a_swap_is_not() -> None:
    sample = script(part(1, "text", "a"), part(1, "text", "b", asked_when='a is "x"'))
    with pytest.raises(Refused) as refused:
        renamed(sample, {"id_a": "b"})
    assert refused.value.code == "double_variable"
    swapped = renamed(sample, {"id_a": "b", "id_b": "a"})
    assert [(p.variable, p.asked_when) for p in swapped.script.parts] == [("b", ""), ("a", 'b is "x"')]


def test_no_two_lines_get_one_name() -> None:
    lines = [NewLine({"en": "How many rooms?"}), NewLine({"en": "Which rooms?"}), NewLine({"en": "Rooms"}, holds=True)]
    found = proposals(Around(["en"], ["rooms"]), lines)
    assert [p.variable for p in found] == ["rooms_2", "rooms_3", "rooms_4"]


def test_cells_are_completed_only_where_they_are_silent() -> None:
    sample = script(part(1, "text", "roof"), lists=(code_list("island", "kesk"),))
    rows = [["", "Is the roof sound?", "", ""], ["x", "How many?", "decimal", ""], ["", "Which island?", "", "no"]]
    made = pasted(sample, rows, ["Variable", "Wording [en]", "Kind", "Answer needed"]).fragment.parts
    assert [(p.variable, p.kind, p.code_list, p.answer_needed) for p in made] == [
        ("roof_sound", "yes/no", "", ""),
        ("x", "decimal", "", ""),
        ("island", "single answer", "island", "no"),
    ]


def test_a_section_pasted_keeps_its_lines_inside() -> None:
    rows = [["Level", "Kind", "Wording"], ["1", "section", "People"], ["2", "", "How many people?"]]
    made = pasted(script(part(1, "text", "a")), rows, []).fragment.parts
    assert [(p.level, p.kind, p.variable, p.answer_needed) for p in made] == [
        (1, "section", "", ""),
        (2, "whole number", "people", "yes"),
    ]


def test_too_many_rows_and_none_at_all_say_what_to_do() -> None:
    with pytest.raises(DataError) as refused:
        pasted(script(part(1, "text", "a")), [["x"]] * 5_001, [])
    assert str(refused.value) == "5,001 rows are more than the 5,000 that are taken at once. Copy them in parts."
    with pytest.raises(DataError) as empty:
        pasted(script(part(1, "text", "a")), [[" ", ""]], [])
    assert empty.value.code == "nothing_pasted"
