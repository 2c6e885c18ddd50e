"""The package that runs without Skavo gives the same tables, cell by cell; the plan's text says what it does."""

from __future__ import annotations

import csv
import subprocess
import sys
from datetime import UTC, date, datetime
from pathlib import Path

import pytest

from skavo.core.cleaning.alone.tables import written
from skavo.core.cleaning.package import package_of
from skavo.core.cleaning.plan import apply_plan
from skavo.core.cleaning.steps import (
    STEP_KINDS,
    AnyStep,
    Class,
    Classes,
    Convert,
    Correct,
    Derive,
    Dictionary,
    Duplicates,
    Gather,
    Heading,
    Impute,
    InOrder,
    JoinTexts,
    LeaveOut,
    MarkMissing,
    Present,
    ReadAs,
    Recode,
    RowsOut,
    SetValue,
    Shift,
    Split,
    SwapDayMonth,
    Tidy,
)
from skavo.core.cleaning.words import PlanLine, plan_text
from skavo.core.dataset.flatten import DataSet, why
from tests.core.made_tables import DONT_KNOW, NOT_ASKED, REFUSED, column, interviews, table

STEPS: list[AnyStep] = [
    Heading(text="Slips"),
    Correct(variable="workers", interview="0002", value=4, reason="phoned"),
    Correct(variable="trade", interview="0003", missing="refused", reason="phoned"),
    SetValue(variable="earnings", formula="earnings / 100", rule="earnings > 10000", reason="a point was lost"),
    SetValue(variable="trade", formula="phones", rule='said is "Phones"'),
    Recode(variable="trade", mapping={"bikes": "wheels"}, codes={"wheels": "On wheels"}),
    Recode(variable="tools", mapping={"saws": "saw"}),
    MarkMissing(variable="hours", rule="hours > 112 and not (role is owner)"),
    Tidy(variable="said", alike=True, case="lower"),
    Convert(variable="scrap", amount="amount", unit="unit", factors={"sack": "12.5 + workers", "crate": "7.25"}),
    Shift(variable="opened", by=-13, unit="months", rule="day(opened) = 31"),
    SwapDayMonth(variable="opened", rule="month(opened) = 4"),
    Dictionary(variable="said", into="tools", words={"clock": "clocks"}, codes={"clocks": "Clocks"}, replaces="other"),
    Dictionary(variable="said", into="tools", words={"clock": "saw"}, replaces="saw"),
    Derive(into="each", formula="round(earnings / workers, 2) + mean(staff.hours)", label="Each"),
    Derive(into="size", formula='if workers > 2 then "big" else "small"', codes={"big": "Big", "small": "Small"}),
    Derive(into="told", formula="join(label(trade), workers)"),
    Derive(into="paid_hours", formula="sum(staff.hours where role is mender)"),
    Derive(into="share", table="staff", formula="hours / sum(staff.hours) * 100"),
    Classes(variable="earnings", into="class", classes=[Class(code="low", below=200.5), Class(code="high")]),
    ReadAs(variable="price", into="price_read", measure="number", form="decimal_comma"),
    Split(variable="tools"),
    Split(variable="place", separator=",", into=["isle", "ward"]),
    Gather(into="again", codes={"saw": "tools_saw", "vice": "tools_vice"}),
    JoinTexts(into="whole", variables=["ward", "workers", "opened", "tools"], separator=" / "),
    Impute(variable="earnings", way="mean", by=["trade"]),
    Impute(variable="workers", way="donor", by=["size"], seed=4),
    Impute(variable="earnings", way="donor", missing=["unanswered", "not_asked"], seed=9),
    Impute(variable="workers", way="donor", seed=4, missing=["unanswered", "dont_know", "not_asked"]),
    Impute(variable="amount", way="median"),
    Impute(variable="place", way="commonest"),
    Impute(variable="price", way="fixed", value="0"),
    Duplicates(variables=["code"], keep="fullest", by_hand={"0006": "0001"}),
    RowsOut(table="staff", rule="hours < 3", but=[["0002", "1"]]),
    LeaveOut(rule="earnings > 99999999", interviews=["0005"], reason="made up"),
    Present(variable="workers", name="people", label={"en": "People"}, before="trade"),
    InOrder(variable="hours", finding="far_above", count=1, reason="season"),
    MarkMissing(variable="nothing", rule="yes"),
]  # fmt: skip


@pytest.fixture
def data() -> DataSet:
    made = interviews(
        code=(column("code", "text"), ["A", "B", "A", None, "C", "D", "E"]),
        workers=(column("workers", "whole"), [2, None, 1, 3, 5, DONT_KNOW, 3]),
        earnings=(column("earnings", "number"), [100.1, 44_560.69, REFUSED, 0.3, 7.0, 1e9, NOT_ASKED]),
        trade=(column("trade", "code", codes=["bikes", "phones"]), ["bikes", "phones", "bikes", None, "phones", "bikes", NOT_ASKED]),
        tools=(column("tools", "codes", codes=["saw", "saws", "vice", "other"]), [["saw", "saws"], [], None, ["other"], ["vice"], ["saws", "other"], ["vice"]]),
        said=(column("said", "text"), ["  Clосk ", None, "Phones", "clock", "", "=cmd", "a\n\"b\",c"]),
        scrap=(column("scrap", "number"), [None, 20.0, None, 4.5, None, None, 1.25]),
        amount=(column("amount", "number"), [3.0, 20.0, 1.0, None, 2.5, 2.0, 1.0]),
        unit=(column("unit", "code", codes=["sack", "kg", "crate"]), ["sack", "kg", "crate", "sack", "sack", None, "crate"]),
        opened=(column("opened", "date"), [date(2020, 3, 31), date(2021, 4, 12), None, date(2020, 12, 31), date(1999, 1, 1), date(2024, 2, 29), date(2000, 4, 30)]),
        seen=(column("seen", "date-time"), [datetime(2027, 3, 1, 9, 30), *[None] * 6]),
        open=(column("open", "yes/no"), [True, False, None, REFUSED, True, True, False]),
        price=(column("price", "text"), ["1.234,5", "0,5", "much", None, "7", "1 000", "-3"]),
        place=(column("place", "text"), ["Luma, Mid", "Kesk", None, "Luma, North, 2", ",", "Luma, Mid", "Tarrow,"]),
    )  # fmt: skip
    rows = [("0001", "1"), ("0001", "2"), ("0002", "1"), ("0004", "1"), ("0004", "2"), ("0007", "1")]
    staff = table(
        "staff", rows,
        [
            (column("hours", "number"), [40.0, 120.5, 2.0, 0.1, 0.2, DONT_KNOW]),
            (column("role", "code", codes=["owner", "mender"]), ["owner", "mender", "mender", "mender", "mender", None]),
        ],
    )  # fmt: skip
    return {**made, "staff": staff}


def test_the_package_gives_the_same_cells_without_skavo(data: DataSet, tmp_path: Path) -> None:
    steps = list(enumerate(STEPS, 1))
    cleaned = apply_plan(data, steps)
    assert {*cleaned.problems} == {len(STEPS)}
    fitting = [(identity, step) for identity, step in steps if identity not in cleaned.problems]
    for name, text in package_of(data, fitting, "Mending", "Revision 7").items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text, encoding="utf-8", newline="")
    # No package of this interpreter can be reached: the standard library and what lies beside the script.
    ran = subprocess.run(
        [sys.executable, "-S", "-E", str(tmp_path / "clean.py")], capture_output=True, text=True, check=False
    )
    assert ran.returncode == 0, ran.stderr
    for name, expected in cleaned.data.items():
        with (tmp_path / "cleaned" / f"{name}.csv").open(encoding="utf-8", newline="") as file:
            found = list(csv.DictReader(file))
        names = [n for c in expected.layout.columns for n in (c.variable, why(c.variable))]
        assert list(found[0]) == [*expected.layout.keys, *names]
        wanted = expected.frame.select([*expected.layout.keys, *names]).rows(named=True)
        assert found == [{n: written(cell) for n, cell in row.items()} for row in wanted]


def test_every_kind_of_step_is_in_the_package(data: DataSet) -> None:
    assert {step.kind for step in STEPS} == set(STEP_KINDS)


def test_the_plan_can_be_read_and_signed(data: DataSet) -> None:
    at = datetime(2027, 3, 1, 9, 30, tzinfo=UTC)
    lines = [PlanLine(step, "Dora Maine", at, cells=n) for n, step in enumerate(STEPS)]
    lines.append(PlanLine(STEPS[1], "Dora Maine", at, off=True, remark="not yet", problem="There is no variable."))
    text = plan_text("Mending Trades", "Data set at revision 7", lines)
    assert "Slips\n-----" in text
    assert "  3. earnings becomes earnings / 100 where earnings > 10000." in text
    assert "Why: a point was lost · 3 cells · Dora Maine, 2027-03-01 09:30 UTC" in text
    assert "[off]" in text and "Remark: not yet" in text and "Does not fit: There is no variable." in text
    assert text.rstrip().endswith("Date: ______________")
