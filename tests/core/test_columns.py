"""Rules over whole columns mean what the engine means, form by form, and say where the engine had to go through rows."""

from __future__ import annotations

import gc
import weakref
from collections.abc import Iterator
from datetime import date, datetime, time
from decimal import Decimal
from typing import Any

import polars as pl
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from skavo.core.columns import numbers
from skavo.core.columns.numbers import Digits, RowByRow, digits_of
from skavo.core.dataset import rules as rules_of_data
from skavo.core.dataset.flatten import FACTS, WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout
from skavo.core.dataset.rules import DataRules
from skavo.core.rules.types import UNKNOWN
from tests.core import random_rules

_WITHOUT = ("earlier", "kg", "sack", "door", "yard", "way", "workshop", "each_tool", "today", "now", "gate", "occurs")
FORMS = {
    kind: [form for form in forms if not any(word in form.replace("interview.started", "") for word in _WITHOUT)]
    for kind, forms in random_rules.FORMS.items()
}
FORMS["number"] += ["workers / 7", "sum(staff.hours) / count(staff)", "mean(interviews.paid)", "round({number}, 2)"]
FORMS["yes/no"] += ["sum(staff.hours) is 0.3", "paid / 3 * 3 is paid", "{number} / {number} < {number}"]
CODES = {code: {"en": code.title()} for code in ("bicycle", "phone", "radio", "saw", "drill", "vice", "k1", "l1")}
COLUMNS = {
    INTERVIEWS: {
        "workers": "whole", "paid": "number", "days_open": "number", "apprentices": "whole", "has_apprentices": "yes/no",
        "trade": "code", "ward": "code", "tools": "codes", "phone": "text", "unit_code": "text", "opened": "date",
        "closes": "time", "visited": "date-time",
    },
    "staff": {"name": "text", "age": "whole", "hours": "number", "role": "code"},
}  # fmt: skip
_HARD_NUMBERS = [0.1, 0.2, 0.3, 1 / 3, 1e15, 12345.678, -7.5, 0.0, 1e-9, 123456789.123456, 2.5, 1.005, 1e300]
_VALUES: dict[str, st.SearchStrategy[Any]] = {
    "whole": st.one_of(st.integers(-5, 12), st.sampled_from([10**9, 2**53 + 1])),
    "number": st.one_of(st.decimals(-100, 1000, places=2).map(float), st.sampled_from(_HARD_NUMBERS)),
    "yes/no": st.booleans(),
    "text": st.sampled_from(["KE4X_123456", "", " ŉ ", "ß", "İx", "bo", "79927398713", "  "]),
    "date": st.dates(date(2020, 1, 1), date(2030, 12, 31)) | st.sampled_from([date(2024, 2, 29), date(9999, 12, 31)]),
    "time": st.sampled_from([time(8), time(18, 30), time(23, 59)]),
    "date-time": st.datetimes(datetime(2026, 1, 1), datetime(2027, 12, 31)).map(lambda t: t.replace(microsecond=0)),
    "code": st.sampled_from(list(CODES)),
    "codes": st.lists(st.sampled_from(list(CODES)), unique=True),
}
_MISSING = st.sampled_from(["unanswered", "not_asked", "dont_know", "refused"])


@pytest.fixture(autouse=True, scope="module")
def in_slices() -> Iterator[None]:
    """Rules are worked out in slices, which a few interviews have only where a slice is short."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(rules_of_data, "_SLICE", 3)
        patch.setattr(numbers, "_AT_ONCE", 3)
        yield


def _column(name: str, measure: str) -> Column:
    whole = measure == "whole"
    codes = {**CODES, "owner": {}, "mender": {}} if measure in ("code", "codes") else {}
    return Column(name, name, measure, "number" if whole else measure, codes=codes, whole=whole)


@st.composite
def data_sets(draw: st.DrawFn, tame: bool = False) -> DataSet:
    """A few interviews with their staff; `tame` numbers are such as people answer."""
    interviews = [f"{n:04d}" for n in range(1, draw(st.integers(1, 5)) + 1)]
    rows = {
        INTERVIEWS: [(key,) for key in interviews],
        "staff": [(key, str(n)) for key in interviews for n in range(1, draw(st.integers(0, 4)) + 1)],
    }
    return {name: _table(draw, name, rows[name], tame) for name in COLUMNS}


def _table(draw: st.DrawFn, name: str, rows: list[tuple[str, ...]], tame: bool) -> Table:
    keys = (KEY,) if name == INTERVIEWS else (KEY, f"{name}.row")
    frame = pl.DataFrame(rows, schema=dict.fromkeys(keys, pl.String), orient="row")
    if name == INTERVIEWS:
        started = [datetime(2027, 3, day, 9, 30) for day in range(1, len(rows) + 1)]
        frame = frame.with_columns(
            pl.Series("interview.started", started, pl.Datetime("ms")),
            pl.lit("fr").alias("interview.language"), pl.lit("Ann Ox").alias("interview.enumerator"),
        )  # fmt: skip
    columns = [_column(variable, measure) for variable, measure in COLUMNS[name].items()]
    for column in columns:
        kind = "whole" if column.whole else column.measure
        values = st.decimals(-9, 99, places=1).map(float) if tame and kind == "number" else _VALUES[kind]
        values = st.integers(-5, 12) if tame and kind == "whole" else values
        found = [draw(st.none() | values) for _ in rows]
        reasons = [None if value is not None else draw(_MISSING) for value in found]
        frame = frame.with_columns(
            pl.Series(column.variable, found, dtype=dtype_of(column)),
            pl.Series(why(column.variable), reasons, dtype=WHY),
        )
    return Table(TableLayout(name, None if name == INTERVIEWS else INTERVIEWS, keys, tuple(columns)), frame)


def _by_engine(rules: DataRules, tree: Any, table: str) -> pl.Series:
    """The same through the engine alone, row by row."""
    compiler = "skavo.core.dataset.rules.Compiler"
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(compiler, _nothing)
        return rules.outcome(tree, table).values


def _nothing(*_: Any) -> Any:
    raise RowByRow


@settings(max_examples=700, deadline=None)
@given(st.data(), st.sampled_from(["number", "yes/no", "text", "date", "moment", "row yes/no"]), st.booleans())
def test_every_form_means_what_the_engine_means(draws: st.DataObject, kind: str, tame: bool) -> None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(random_rules, "FORMS", FORMS)
        rule = draws.draw(random_rules.random_rules(kind))
    table = "staff" if kind == "row yes/no" else INTERVIEWS
    rules = DataRules(draws.draw(data_sets(tame)))
    tree, type_, _ = rules.check_typed(rule, table)
    assume(tree is not None and type_ != UNKNOWN)
    assert rules.outcome(tree, table).values.to_list() == _by_engine(rules, tree, table).to_list(), rule


def _data(columns: dict[str, tuple[str, list[Any]]]) -> DataSet:
    rows = len(next(iter(columns.values()))[1])
    frame = pl.DataFrame({KEY: [str(n) for n in range(rows)]})
    made = [_column(name, measure) for name, (measure, _) in columns.items()]
    for column in made:
        values = columns[column.variable][1]
        reasons = [None if value is not None else "unanswered" for value in values]
        frame = frame.with_columns(
            pl.Series(column.variable, values, dtype=dtype_of(column)),
            pl.Series(why(column.variable), reasons, dtype=WHY),
        )
    return {INTERVIEWS: Table(TableLayout(INTERVIEWS, None, (KEY,), tuple(made)), frame)}


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        ("a + b is c", [True, True, None, False]),
        ("(a + b) / 3 * 3 is c", [True, True, None, False]),
        ("round(a, 1)", [0.1, 1.1, None, -7.5]),
        ("remainder(b, 0.3)", [0.2, 0.1, 0.2, 0.0]),
        ("floor(a / b)", [0.0, 0.0, None, None]),
        ("smallest(a, b, c)", [0.1, 1.1, 0.2, -7.5]),
    ],
)
def test_numbers_are_exact_without_going_through_rows(rule: str, expected: list[Any]) -> None:
    """0.1 + 0.2 is 0.3 in the rule language, and is not in binary floating point."""
    numbers = {"a": [0.1, 1.1, None, -7.5], "b": [0.2, 2.2, 0.2, 0.0], "c": [0.3, 3.3, 1.0, 1.0]}
    rules = DataRules(_data({name: ("number", values) for name, values in numbers.items()}))
    tree, _, faults = rules.check_typed(rule, INTERVIEWS)
    assert tree is not None, faults
    found = rules.outcome(tree, INTERVIEWS)
    assert (found.values.to_list(), found.by_rows) == (expected, 0)


def test_only_rows_whose_digits_run_over_go_through_the_engine() -> None:
    rules = DataRules(_data({"a": ("number", [0.5, 123456.789012, 2.0]), "b": ("number", [3.0, 999999.123456, 7.0])}))
    tree, _, _ = rules.check_typed("a * b", INTERVIEWS)
    found = rules.outcome(tree, INTERVIEWS)
    exact = float(Decimal("123456.789012") * Decimal("999999.123456"))
    assert found.values.to_list() == [1.5, exact, 14.0]
    assert found.by_rows == 1


def test_a_form_without_columns_says_that_it_goes_row_by_row() -> None:
    rules = DataRules(_data({"x": ("number", [1 / 3, 2.0])}))
    tree, _, _ = rules.check_typed("x + 1 > 2", INTERVIEWS)
    found = rules.outcome(tree, INTERVIEWS)
    assert (found.values.to_list(), found.by_rows) == ([False, True], 2)


@pytest.mark.parametrize("word", ["today", "now", "unit.name", "earlier.a"])
def test_what_is_another_thing_tomorrow_is_no_rule_over_data(word: str) -> None:
    rules = DataRules(_data({"a": ("text", ["x"]), "d": ("date", [date(2026, 1, 1)])}))
    tree, faults = rules.check(f"{word} is answered" if "." in word else f"d < {word}", INTERVIEWS)
    assert tree is None
    assert [fault.code for fault in faults][-1] in ("not_in_data", "unknown_name")


def test_facts_of_an_interview_are_read_by_rules() -> None:
    data = _data({"a": ("text", ["x", "y"])})
    moments = [datetime(2027, 3, 1, 8), None]
    frame = data[INTERVIEWS].frame.with_columns(
        pl.Series("interview.started", moments, FACTS["interview.started"]),
        pl.Series("interview.enumerator", ["Ann Ox", "Bo Elm"]), pl.Series("interview.language", ["fr", "en"]),
    )  # fmt: skip
    rules = DataRules({INTERVIEWS: data[INTERVIEWS].with_frame(frame)})
    for rule, expected in (
        ("interview.started < 2027-03-02", [True, None]),
        ('enumerator.name is "Bo Elm"', [False, True]),
        ('interview.language is "fr" and a is "x"', [True, False]),
    ):
        tree, faults = rules.check(rule, INTERVIEWS)
        assert tree is not None, faults
        assert rules.outcome(tree, INTERVIEWS).values.to_list() == expected


@pytest.mark.parametrize(
    ("values", "expected"),
    [
        ([1.0, 2.0, 3.0, 0.25, -1000.5], Digits(2, 100_050)),
        ([1.0, None, -3.0], Digits(0, 3)),
        ([0.5, 1.0, 2.0, 1 / 3], None),
        ([1.0, 1.0, 1.0, float("inf")], None),
        ([0.1, 1.0, 1.0, -1e14], None),
        ([], Digits(0, 0)),
    ],
)
def test_the_digits_of_a_column_are_those_that_its_longest_number_needs(
    values: list[float | None], expected: Digits | None
) -> None:
    assert digits_of(pl.Series(values, dtype=pl.Float64)) == expected


def test_rules_let_go_of_their_tables_when_they_are_done() -> None:
    rules = DataRules(_data({"a": ("number", [1.0, 2.5]), "b": ("code", ["saw", None])}))
    tree, _ = rules.check("round(a / 3, 2) > 0.5 or b is saw", INTERVIEWS)
    assert tree is not None
    rules.outcome(tree, INTERVIEWS)
    held = weakref.ref(rules)
    gc.disable()
    try:
        del rules, tree
        assert held() is None
    finally:
        gc.enable()
