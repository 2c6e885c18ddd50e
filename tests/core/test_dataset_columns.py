"""Which columns every kind of question gives and what stands in them; tables of rosters within rosters; rules over them."""

from __future__ import annotations

import json
from datetime import date, datetime, time
from decimal import Decimal
from typing import Any

import pytest

from skavo.core.dataset.flatten import build_data_set, lay_out
from skavo.core.dataset.layout import INTERVIEWS, label_in, layout_of, roster_names, tables_by_now
from skavo.core.dataset.pieces import cell, row_value
from skavo.core.dataset.rules import DataRules, table_of
from skavo.core.interview.engine import Engine
from skavo.core.questionnaire.script import UnitList, UnitOfMeasure
from skavo.core.rules.values import Area, Path, Point, Quantity, Reading
from tests.core.test_dataset import data_of
from tests.samples import code_list, part, release_of, script

A, B, C = Point(60.0, 5.0, 8.0), Point(60.0, 5.01, 8.0), Point(60.01, 5.01, 8.0)


def test_a_quantity_is_its_size_its_amount_and_its_unit() -> None:
    row = row_value(Quantity(Decimal("2"), "sack", Decimal("100")))
    assert row == {"amount": "2", "unit": "sack", "size": "100"}
    assert [cell("size", "number", row), cell("amount", "number", row), cell("unit", "code", row)] == [100, 2, "sack"]


def test_a_reading_without_a_unit_is_as_large_as_what_was_read() -> None:
    row = row_value(Reading(Decimal("7.5"), None, "meter", "2027-03-14T09:00:00Z"))
    assert (row["size"], row["instrument"]) == ("7.5", "meter")
    assert row_value(Reading(Decimal("7.5"), Decimal("0.0075")))["size"] == "0.0075"
    unknown = row_value(Quantity(Decimal("2"), "sack", None))
    assert cell("size", "number", unknown) is None and cell("amount", "number", unknown) == 2


def test_paths_and_areas_are_shapes_of_rfc_7946_with_what_they_measure() -> None:
    path = row_value(Path((A, B)))
    assert json.loads(path["shape"]) == {"type": "LineString", "coordinates": [[5.0, 60.0], [5.01, 60.0]]}
    assert cell("length", "number", path) == pytest.approx(Decimal("558"), abs=1)
    area = row_value(Area((A, B, C)))
    ring = [[5.0, 60.0], [5.01, 60.0], [5.01, 60.01], [5.0, 60.0]]
    assert json.loads(area["shape"]) == {"type": "Polygon", "coordinates": [ring]}
    assert cell("size", "number", area) == pytest.approx(Decimal(558 * 1114 / 2), rel=Decimal("0.01"))


@pytest.mark.parametrize(
    ("measure", "value", "expected"),
    [
        ("number", "12.5", Decimal("12.5")), ("number", 3, Decimal(3)), ("number", "many", None),
        ("text", ["a", "b"], "a, b"), ("text", True, "yes"), ("text", False, "no"), ("text", 7, "7"),
        ("date", "2027-03-14T23:10:00", date(2027, 3, 14)), ("date", "soon", None), ("date", 3, None),
        ("time", "09:30", time(9, 30)), ("time", 9, None),
        ("date-time", "2027-03-14T09:00:00+03:00", datetime(2027, 3, 14, 6)), ("date-time", "2027-03-14T09:00:00", None),
        ("yes/no", True, True), ("yes/no", "yes", None),
        ("code", ["saw"], "saw"), ("code", ["saw", "awl"], None), ("code", "saw", "saw"), ("code", 3, None),
        ("codes", "saw", ["saw"]), ("codes", ["saw", "awl"], ["saw", "awl"]), ("codes", 3, None),
        ("text", {"file": "x"}, None), ("number", None, None),
    ],
)  # fmt: skip
def test_a_value_is_brought_into_the_measure_of_its_column_or_is_missing(
    measure: str, value: Any, expected: Any
) -> None:
    assert cell("", measure, value) == expected


def test_an_entry_of_an_answer_that_is_none_is_missing() -> None:
    assert cell("size", "number", "12") is None
    assert cell("size", "number", {"amount": "3"}) is None
    assert cell("", "yes/no", {"confirmed": True}) is None


def _crops() -> Any:
    sample = script(
        part(1, "section", "start"),
        part(2, "single answer", "craft", code_list="craft", sensitive=True, wording={"en": "Which is it, {interview.language}?"}),
        part(1, "roster", "plot", repeated="2 times", wording={"en": "Plot {row}", "fr": "Champ {row}"}),
        part(2, "whole number", "trees"),
        part(2, "date-time", "seen"),
        part(2, "roster", "harvest", repeated="2 times"),
        part(3, "quantity", "yielded", unit="sacks", wording={"en": "How much?"}),
        part(3, "derived value", "double", derived="yielded * 2"),
        part(1, "point", "place"),
        lists=(code_list("craft", "net", "other", specify="other"),),
    )  # fmt: skip
    sack = UnitOfMeasure(unit="sack", dimension="mass", factor="50", label={"en": "Sack"})
    sample.unit_lists = [UnitList(name="sacks", units=[sack])]
    return release_of(sample)


def test_rosters_within_rosters_are_tables_that_lead_up_to_the_interview() -> None:
    layouts = layout_of([_crops()])
    assert list(layouts) == [INTERVIEWS, "plot", "harvest"]
    assert [(t.parent, t.keys) for t in layouts.values()] == [
        (None, ("interview.key",)),
        (INTERVIEWS, ("interview.key", "plot.row")),
        ("plot", ("interview.key", "plot.row", "harvest.row")),
    ]
    assert layouts["plot"].label == {"en": "Plot …", "fr": "Champ …"}
    assert layouts[INTERVIEWS].label == {}
    assert [[c.variable for c in t.columns] for t in layouts.values()] == [
        ["craft", "craft_other", "place_latitude", "place_longitude", "place_accuracy"],
        ["trees", "seen"],
        ["yielded", "yielded_amount", "yielded_unit", "double"],
    ]


def test_columns_carry_their_labels_codes_and_what_is_sensitive() -> None:
    layouts = layout_of([_crops()])
    craft, other = layouts[INTERVIEWS].columns[:2]
    assert (craft.label, craft.measure, craft.sensitive, craft.whole) == (
        {"en": "Which is it, …?"},
        "code",
        True,
        False,
    )
    assert craft.codes == {"net": {"en": "Net"}, "other": {"en": "Other"}}
    assert (other.label, other.sensitive, other.codes, other.measure) == (craft.label, True, {}, "text")
    trees = layouts["plot"].column("trees")
    assert trees is not None and trees.whole and trees.codes == {} and trees.sensitive is False
    size, amount, unit, double = layouts["harvest"].columns
    assert [c.label["en"] for c in (size, amount, unit)] == [
        "How much? (kg)",
        "How much? (as answered)",
        "How much? (unit)",
    ]
    assert [c.measure for c in (size, amount, unit, double)] == ["number", "number", "code", "number"]
    assert unit.codes == {"sack": {"en": "Sack"}}
    assert [c.piece for c in layouts[INTERVIEWS].columns[2:]] == ["latitude", "longitude", "accuracy"]


def test_a_label_in_another_language_than_wanted_and_none_at_all() -> None:
    assert label_in({"en": "Name", "fr": "Nom"}, "fr") == "Nom"
    assert label_in({"en": "Name"}, "ar") == "Name"
    assert label_in({}, "en", "name") == "name"


ANSWERS: list[dict[str, Any]] = [
    {
        "craft": "net", "plot/1/trees": 3, "plot/1/seen": "2027-03-14T09:00:00+03:00", "plot/2/trees": 5,
        "plot/1/harvest/1/yielded": {"amount": "2", "unit": "sack"},
        "plot/1/harvest/2/yielded": {"amount": "1", "unit": "sack"},
        "plot/2/harvest/1/yielded": {"amount": "4", "unit": "sack"},
    },
    {"craft": "other", "craft_other": "rope", "plot/1/trees": 1},
]  # fmt: skip


@pytest.mark.parametrize(
    ("rule", "table", "expected"),
    [
        ("seen < 2027-03-15", "plot", [True, None, None, None]),
        ("year(seen) = 2027", "plot", [True, None, None, None]),
        ("sum(harvest.yielded) = 150", "plot", [True, False, None, None]),
        ("count(harvest where yielded > 60) = 1", "plot", [True, True, False, False]),
        ("yielded = 100 and trees = 3 and craft is net", "harvest", [True, *[False] * 7]),
        ("craft is one of (net, other)", INTERVIEWS, [True, True]),
        ("highest(plot.trees) = 5", INTERVIEWS, [True, False]),
    ],
)  # fmt: skip
def test_rules_go_over_nested_tables(rule: str, table: str, expected: list[Any]) -> None:
    data = data_of(_crops(), ANSWERS)
    rules = DataRules(data)
    tree, faults = rules.check(rule, table)
    assert tree is not None, faults
    assert rules.outcome(tree, table).values.to_list() == expected


def test_a_rule_has_its_faults_in_the_words_of_the_tables() -> None:
    rules = DataRules(data_of(_crops(), ANSWERS))
    _, faults = rules.check("trees > 2", INTERVIEWS)
    assert "every row of plot" in faults[0].message and "sum(plot.trees)" in faults[0].mend
    _, faults = rules.check("craft is nett", INTERVIEWS)
    assert "net" in faults[0].mend
    _, faults = rules.check("trees + 1", "plot")
    assert faults[0].code == "wrong_type"
    assert rules.check("trees + 1", "plot", None)[0] is not None


def test_the_table_of_a_variable() -> None:
    data = data_of(_crops(), ANSWERS)
    assert [table_of(data, v) for v in ("craft", "yielded", "nothing")] == [INTERVIEWS, "harvest", None]


def _two_releases() -> tuple[Any, Any]:
    old = release_of(
        script(
            part(1, "whole number", "age", id="first age"),
            part(1, "roster", "staff", id="people", repeated="1 times"),
            part(2, "text", "name", id="name"),
            part(1, "roster", "tools", id="old tools", repeated="1 times"),
            part(2, "text", "tool", id="tool"),
        )
    )
    new = release_of(
        script(
            part(1, "text", "age", id="second age"),
            part(1, "roster", "tools", id="people", repeated="1 times"),
            part(2, "text", "called", id="name"),
        )
    )
    return old, new


def test_what_is_called_otherwise_or_asked_anew_under_an_old_name_is_kept_apart() -> None:
    old, new = _two_releases()
    layouts = layout_of([old, new])
    assert {name: [c.variable for c in t.columns] for name, t in layouts.items()} == {
        INTERVIEWS: ["age", "age_r1"], "tools": ["called"], "tools_r1": ["tool"],
    }  # fmt: skip
    documents = [
        (old, {"age": 31, "staff/1/name": "Bo", "tools/1/tool": "awl"}),
        (new, {"age": "old", "tools/1/called": "Edda"}),
    ]
    names = roster_names([old, new])
    data = build_data_set(
        layouts,
        [
            {"facts": {"interview.key": str(i)}, "tables": tables_by_now(r, names, lay_out(Engine(r, answers=a)))}
            for i, (r, a) in enumerate(documents)
        ],
    )
    assert data[INTERVIEWS].frame["age"].to_list() == [None, "old"]
    assert data[INTERVIEWS].frame["age_r1"].to_list() == [31, None]
    assert data["tools"].frame["called"].to_list() == ["Bo", "Edda"]
    assert data["tools_r1"].frame["tool"].to_list() == ["awl"]


def test_pieces_and_long_names_are_kept_apart_too() -> None:
    long = "a" * 32
    old = release_of(script(part(1, "text", long, id="x"), part(1, "photo", "door", id="y")))
    new = release_of(
        script(part(1, "text", long, id="z"), part(1, "text", "door_name", id="w"), part(1, "photo", "door", id="y"))
    )
    columns = [c.variable for c in layout_of([old, new])[INTERVIEWS].columns]
    assert columns == [long, "door_name", "door", "door_name_r2", "a" * 29 + "_r1"]
    assert all(len(c) <= 32 for c in columns)
