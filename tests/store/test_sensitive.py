"""What is masked, and that everything else stays as it is."""

from __future__ import annotations

from typing import Any

import polars as pl
import pytest

from skavo.core.cleaning.plan import Cleaned
from skavo.core.cleaning.steps import Correct, MarkMissing, Recode, write_step
from skavo.core.cleaning.work import CHANGES
from skavo.core.combining.join import JoinReport
from skavo.core.dataset.flatten import without_sensitive
from skavo.store.sensitive import MASK, Hidden, masked_changes, masked_report, masked_step
from tests.core.test_dataset import data_of
from tests.samples import part, release_of, script

HIDDEN = Hidden(frozenset({"id_name"}), frozenset({"name", "home_latitude"}), frozenset())


def data() -> Any:
    sample = script(
        part(1, "text", "name", sensitive=True),
        part(1, "whole number", "workers"),
        part(1, "roster", "staff", repeated="workers times"),
        part(2, "whole number", "age", sensitive=True),
        part(2, "whole number", "hours"),
    )
    return data_of(release_of(sample), [{"name": "Bo", "workers": 1, "staff/1/age": 30, "staff/1/hours": 8}])


def test_sensitive_columns_go_with_their_kinds_of_missing_and_the_others_stay() -> None:
    seen = without_sensitive(data())
    assert {name: [c.variable for c in table.layout.columns] for name, table in seen.items()} == {
        "interviews": ["workers"], "staff": ["hours"],
    }  # fmt: skip
    columns = seen["interviews"].frame.columns
    assert {"workers", "workers?", "interview.key"} <= {*columns} and not {"name", "name?"} & {*columns}
    assert seen["staff"].frame.select("interview.key", "staff.row", "hours").rows() == [("0001", "1", 8)]
    assert seen["staff"].layout.keys == ("interview.key", "staff.row")


def test_changes_of_sensitive_variables_are_masked_and_the_others_are_not() -> None:
    cells = [
        {"step": 0, "table": "interviews", "interview": "0001", "row": [], "variable": v, "before": "a", "after": "b"}
        for v in ("name", "workers")
    ]
    changes = pl.DataFrame(cells, schema=CHANGES)
    masked = masked_changes(Cleaned(data(), changes), HIDDEN)
    assert masked.changes.select("variable", "before", "after").rows() == [("name", MASK, MASK), ("workers", "a", "b")]
    assert [c.variable for c in masked.data["interviews"].layout.columns] == ["workers"]


def test_a_report_of_a_join_keeps_how_many_and_where_and_none_of_the_keys() -> None:
    def keys(**columns: list[Any]) -> pl.DataFrame:
        return pl.DataFrame(columns)

    report = JoinReport(
        rows=9, outside_rows=8, matched=5, without_key=1, more=0, unread={},
        unmatched=keys(place=["0003"], value=["Bo"]), unmatched_rows=keys(row=[4], value=["Edda"]),
        ambiguous=keys(value=["Fenn"], count=[2]), repeated=keys(value=["Greta"], count=[3]),
        otherwise=keys(ours=["Hollis"], theirs=["hollis"], count=[1]),
    )  # fmt: skip
    masked = masked_report(report)
    assert (masked.rows, masked.outside_rows, masked.matched, masked.without_key) == (9, 8, 5, 1)
    assert masked.unmatched.rows() == [("0003", MASK)] and masked.unmatched_rows.rows() == [(4, MASK)]
    assert masked.ambiguous.rows() == [(MASK, 2)] and masked.repeated.rows() == [(MASK, 3)]
    assert masked.otherwise.rows() == [] and masked.found.pairs == []


@pytest.mark.parametrize(
    ("rule", "reads"),
    [
        ("name is known", True),
        ("NAME is known", True),
        ("staff.name is known", True),
        ("count(staff where name is known) > 0", True),
        ("home_latitude > 1", True),
        ('said is "name"', True),
        ("names > 1", False),
        ("workers > 1 and staff.hours > 2", False),
        ("", False),
    ],
)
def test_a_rule_that_speaks_of_anything_hidden_is_found(rule: str, reads: bool) -> None:
    assert HIDDEN.is_read_by(rule) is reads


def test_a_step_about_a_sensitive_variable_is_told_without_what_it_says_of_answers() -> None:
    about = write_step(Recode(variable="name", mapping={"Bo": "Bob"}, reason="His full name"))
    other = write_step(Recode(variable="workers", mapping={"1": "2"}, reason="Counted again"))
    reads = write_step(MarkMissing(variable="workers", rule='name is "Bo"', missing="refused", reason="He said so"))
    plain = write_step(MarkMissing(variable="workers", rule="workers > 90", missing="refused", reason="A slip"))
    assert masked_step(about, HIDDEN) == {**about, "mapping": {MASK: MASK}, "reason": MASK}
    assert masked_step(reads, HIDDEN) == {**reads, "rule": MASK, "reason": MASK}
    given = write_step(Correct(variable="name", interview="0001", value="Bob", reason="Asked again"))
    assert masked_step(given, HIDDEN) == {**given, "value": MASK, "reason": MASK}
    assert (masked_step(other, HIDDEN), masked_step(plain, HIDDEN)) == (other, plain)
    assert masked_step(about, Hidden()) == about
