"""What changed meaning between releases stands apart; what did not is one column."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.cleaning.plan import apply_plan
from skavo.core.cleaning.steps import ReadAs, SetValue
from skavo.core.dataset.flatten import DataSet, build_data_set, lay_out
from skavo.core.dataset.layout import layout_of, roster_names, tables_by_now
from skavo.core.dataset.senses import in_their_sense, senses_of
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.script import Code, CodeList, Part, UnitList, UnitOfMeasure
from tests.core.made_tables import cells
from tests.samples import part, release_of, script


def through(*made: tuple[Release, dict[str, Any]]) -> DataSet:
    """A data set of one interview of each release."""
    releases = [release for release, _ in made]
    names, senses = roster_names(releases), senses_of(releases)
    documents = [
        {
            "facts": {"interview.key": f"{place:04d}"},
            "tables": tables_by_now(
                release, names, in_their_sense(lay_out(Engine(release, answers=answers)), senses[place - 1])
            ),
        }
        for place, (release, answers) in enumerate(made, 1)
    ]  # fmt: skip
    return build_data_set(layout_of(releases), documents)


def asks(kind: str, variable: str = "size", **more: Any) -> Release:
    return release_of(script(part(1, kind, variable, id="p1", **more)))


def choice(codes: dict[str, str], name: str) -> Release:
    entries = [Code(code=code, label={"en": label}) for code, label in codes.items()]
    asked: Part = part(1, "single answer", "trade", id="p1", code_list=name)
    return release_of(script(asked, lists=(CodeList(name=name, codes=entries),)))


def test_answers_of_a_kind_that_cannot_be_taken_over_stand_apart() -> None:
    data = through(
        (asks("text"), {"size": "large"}), (asks("text"), {"size": "small"}), (asks("whole number"), {"size": 4})
    )
    assert cells(data, "size") == ["[not_asked]", "[not_asked]", 4]
    assert cells(data, "size_r2") == ["large", "small", "[not_asked]"]
    column = data["interviews"].layout.column("size_r2")
    assert column is not None
    assert (column.label["en"], column.sources) == ("Wording of size (r2)", frozenset({"p1"}))


def test_a_kind_that_takes_the_answers_over_is_one_column() -> None:
    data = through((asks("whole number"), {"size": 3}), (asks("decimal"), {"size": "4.5"}))
    assert cells(data, "size") == [3.0, 4.5]
    assert data["interviews"].layout.column("size_r1") is None


def test_what_comes_back_to_its_old_kind_is_apart_from_what_lay_between() -> None:
    data = through((asks("text"), {"size": "a"}), (asks("date"), {"size": "2026-03-01"}), (asks("text"), {"size": "b"}))
    # A date becomes a text; a text is no date.
    assert cells(data, "size") == ["[not_asked]", "2026-03-01", "b"]
    assert cells(data, "size_r1") == ["a", "[not_asked]", "[not_asked]"]


@pytest.mark.parametrize(
    ("later", "name", "apart"),
    [
        ({"1": "Cooper", "2": "Baker"}, "other", True),
        ({"1": "baker", "2": "Cooper", "3": "Tanner"}, "other", False),
        # A list that keeps its name is the same list with better words.
        ({"1": "Bread baker", "2": "Cooper"}, "first", False),
    ],
)
def test_codes_of_another_list_stand_apart_where_one_means_something_else(
    later: dict[str, str], name: str, apart: bool
) -> None:
    before, after = choice({"1": "Baker", "2": "Cooper"}, "first"), choice(later, name)
    data = through((before, {"trade": "1"}), (after, {"trade": "2"}))
    assert (data["interviews"].layout.column("trade_r1") is not None) == apart
    assert cells(data, "trade") == (["[not_asked]", "2"] if apart else ["1", "2"])


def weighed(asked_first: tuple[str, ...] = (), **factors: str) -> Release:
    """A harvest in local units, each of so many base units, after some other questions."""
    before = [part(1, "decimal", name, id=name) for name in asked_first]
    made = script(*before, part(1, "quantity", "harvest", id="p1", unit="mass"))
    units = [UnitOfMeasure(unit=unit, dimension="mass", factor=factor) for unit, factor in factors.items()]
    made.unit_lists = [UnitList(name="mass", units=units)]
    return release_of(made)


@pytest.mark.parametrize(
    ("before", "after", "apart"),
    [
        (weighed(kg="1", sack="50"), weighed(kg="1", sack="40"), True),
        (weighed(kg="1", sack="50"), weighed(kg="1", sack="50", cart="600"), False),
        (weighed(bag="1"), weighed(tin="1"), True),
        (weighed(("sack_kg",), kg="1", sack="sack_kg"), weighed(("sack_kg",), kg="1", sack="sack_kg + 1"), True),
        # The same rule over the same answer, which another one stands in front of now.
        (weighed(("sack_kg",), kg="1", sack="sack_kg"), weighed(("rain", "sack_kg"), kg="1", sack="sack_kg"), False),
    ],
)
def test_a_unit_of_another_amount_sets_what_was_measured_in_it_apart(
    before: Release, after: Release, apart: bool
) -> None:
    unit = before.parts[-1].raw["units"][0]["unit"]
    data = through(
        (before, {"harvest": {"amount": "2", "unit": unit}}),
        (after, {"harvest": {"amount": "3", "unit": after.parts[-1].raw["units"][0]["unit"]}}),
    )
    measured = cells(data, "harvest_amount_r1") if apart else cells(data, "harvest_amount")
    assert measured == ([2, "[not_asked]"] if apart else [2, 3])


def test_a_variable_renamed_and_changed_is_called_by_its_old_name() -> None:
    data = through((asks("text", "height"), {"height": "tall"}), (asks("whole number"), {"size": 4}))
    assert [c.variable for c in data["interviews"].layout.columns] == ["size", "height"]


def test_somebody_maps_them_by_the_steps_that_there_are() -> None:
    data = through((asks("text"), {"size": "7"}), (asks("whole number"), {"size": 4}))
    steps = [
        (1, ReadAs(variable="size_r1", measure="number", into="size_before")),
        (2, SetValue(variable="size", formula="size_before", rule="size_before is answered")),
    ]
    cleaned = apply_plan(data, steps)
    assert cleaned.problems == {}
    assert cells(cleaned.data, "size") == [7, 4]


def test_one_of_a_mark_is_as_sensitive_apart() -> None:
    """The mark is found by the part that it is from, whatever identity its answers stand under."""
    data = through((asks("text"), {"size": "x"}), (asks("whole number"), {"size": 4}))
    column = data["interviews"].layout.column("size_r1")
    assert column is not None
    assert "p1" in column.sources
    assert column.part_id != "p1"
