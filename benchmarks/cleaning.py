"""Rules, steps and whole plans over 100,000 interviews, against the same written by hand for polars."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
import polars as pl

from benchmarks.result import Result
from skavo.core.cleaning.plan import apply_plan
from skavo.core.cleaning.profile.variables import profile_of
from skavo.core.cleaning.steps import AnyStep, Correct, Derive, MarkMissing, Recode, SetValue
from skavo.core.dataset.flatten import WHY, DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout
from skavo.core.dataset.rules import DataRules

ROWS, VARIABLES, STEPS = 100_000, 100, 30
_CODES = {code: {"en": code} for code in ("kesk", "luma", "tarrow", "vint")}


def run() -> Iterator[Result]:
    data = made_data()
    frame = data[INTERVIEWS].frame
    rule = "n1 > 500 and n2 + n3 <= 900 or c1 is kesk"
    rules = DataRules(data)
    tree, _ = rules.check(rule, INTERVIEWS)
    by_hand = (pl.col("n1") > 500) & (pl.col("n2") + pl.col("n3") <= 900) | (pl.col("c1") == "kesk")
    ours, theirs = _best(lambda: rules.outcome(tree, INTERVIEWS)), _best(lambda: frame.select(by_hand))
    yield Result("rule over 100,000 rows / polars by hand", ours / theirs, 5, f"{1e3 * ours:.1f} ms")

    recode = Recode(variable="c1", mapping={"luma": "kesk", "vint": "tarrow"})
    by_polars = pl.col("c1").replace({"luma": "kesk", "vint": "tarrow"})
    ours, theirs = _best(lambda: apply_plan(data, [(1, recode)])), _best(lambda: _recoded(frame, by_polars))
    yield Result("recode of 100,000 rows with its changes / polars by hand", ours / theirs, 3, f"{1e3 * ours:.1f} ms")

    steps = list(enumerate(made_steps(), 1))
    apply_plan(data, steps)
    again = _best(lambda: apply_plan(data, steps), times=3)
    detail = f"{apply_plan(data, steps).changes.height:,} cells changed"
    yield Result("replay of 30 steps over 100,000 × 100", again, 1, detail, unit="s")
    profiled = _best(lambda: profile_of(data), times=1)
    yield Result("profile of 100 variables over 100,000 interviews", profiled, 10, "what stands out included", unit="s")


def _recoded(frame: pl.DataFrame, by_polars: pl.Expr) -> pl.DataFrame:
    """What a careful person would write: the new column, and the rows that differ with both values."""
    recoded = frame.with_columns(by_polars.alias("new"))
    changed = recoded.filter(pl.col("new").ne_missing(pl.col("c1"))).select(KEY, "c1", "new")
    return recoded.with_columns(c1="new").drop("new") if changed.height else frame


def made_steps() -> list[AnyStep]:
    steps: list[AnyStep] = []
    for n in range(STEPS // 5):
        steps += [
            MarkMissing(variable=f"n{n}", rule=f"n{n} > 990"),
            SetValue(variable=f"n{n + 10}", formula=f"n{n + 10} / 100", rule=f"n{n + 10} > 995"),
            Recode(variable=f"c{n}", mapping={"luma": "kesk"}),
            Derive(into=f"made_{n}", formula=f"round(n{n} / n{n + 20}, 2)"),
            Correct(variable=f"n{n + 30}", interview=f"{n + 1:06d}", value=1, reason="phoned"),
        ]
    return steps


def made_data(rows: int = ROWS) -> DataSet:
    """Interviews with half of their variables numbers and half codes, one in twenty without an answer."""
    rng = np.random.default_rng(7)
    columns: list[pl.Series] = [pl.Series(KEY, [f"{n:06d}" for n in range(1, rows + 1)])]
    made: list[Column] = []
    for n in range(VARIABLES):
        missing = rng.random(rows) < 0.05
        if n < VARIABLES // 2:
            name, measure = f"n{n}", "number"
            values = pl.Series(name, np.round(rng.random(rows) * 1000, 1))
        else:
            name, measure = f"c{n - VARIABLES // 2}", "code"
            values = pl.Series(name, rng.choice(list(_CODES), rows), dtype=pl.Categorical)
        given = pl.select(pl.when(~pl.Series(missing)).then(values)).to_series().alias(name)
        reasons = pl.select(pl.when(pl.Series(missing)).then(pl.lit("unanswered", dtype=WHY))).to_series()
        columns += [given, reasons.alias(why(name))]
        made.append(Column(name, name, measure, measure, codes=_CODES if measure == "code" else {}))
    frame = pl.DataFrame(columns)
    return {INTERVIEWS: Table(TableLayout(INTERVIEWS, None, (KEY,), tuple(made)), frame)}


def _best(act: Callable[[], Any], times: int = 7) -> float:
    found = []
    for _ in range(times):
        began = time.perf_counter()
        act()
        found.append(time.perf_counter() - began)
    return min(found)
