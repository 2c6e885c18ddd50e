"""What stands out in a variable, with the step that would mend it where there is one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import combinations
from typing import Any, cast

import polars as pl

from skavo.core.cleaning.plain_texts import folded, tidied
from skavo.core.cleaning.profile.alike import spellings
from skavo.core.cleaning.profile.decided import Decided
from skavo.core.cleaning.profile.robust import Fence
from skavo.core.cleaning.profile.shape import counted
from skavo.core.cleaning.steps import AnyStep, Dictionary, Duplicates, MarkMissing, Recode, SetValue, Tidy
from skavo.core.cleaning.texts import still_other
from skavo.core.cleaning.work import as_texts
from skavo.core.dataset.flatten import Table
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column
from skavo.core.questionnaire.variables import suggest_variable
from skavo.core.rules.types import nearest

_SHOWN = 5
# So many rows of a finding are told one by one.
MOST_ROWS = 200
# A tail that holds more of the rows than this is the shape of the thing and not a slip.
_TAIL = 0.06
# A decimal point was lost where a value is so many times the middle one.
_SLIPPED = 12
# A code that so few of so many chose is rare; digits are looked at where there are so many numbers.
_RARE, _OF, _RARE_CODES, _FEWEST_DIGITS = 2, 100, 3, 50
# The code of what none of the codes says; so many texts that are like no other are decided in one step.
_OTHER, _AT_A_TIME = "other", 50
_TIDY: dict[str, Any] = {"trim": True, "blanks": True, "alike": True, "case": ""}


@dataclass(frozen=True)
class FoundRow:
    """One of the rows in which something stands out: its interview, the roster rows around, and what stands there."""

    interview: str
    row: list[str]
    value: str


@dataclass(frozen=True)
class Finding:
    """`kind` says what stands out, in `count` rows; `shown` are examples, `rows` the first of them, `rule` all of them by a
    rule, `step` what would mend them."""

    kind: str
    count: int
    shown: list[str] = field(default_factory=list)
    rows: list[FoundRow] = field(default_factory=list)
    rule: str = ""
    step: AnyStep | None = None


def findings_of(table: Table, column: Column, fence: Fence | None, decided: Decided) -> Iterator[Finding]:
    """What stands out in one variable, what is worst first, but for texts and pairs that are decided."""
    frame = table.frame.select(*table.layout.keys, pl.col(column.variable).alias("value")).drop_nulls("value")
    if frame.is_empty():
        return
    if column.measure == "number":
        yield from _far(column, frame, fence)
        yield from _heaped(column, frame)
    elif column.measure in ("code", "codes"):
        yield from _codes(column, frame)
    elif column.kind == "text":
        yield from _texts(table, column, frame, decided.words.get(column.variable, frozenset()))
    elif column.measure == "date":
        yield from _dates(table, column)
    if table.layout.name == INTERVIEWS and column.kind in ("text", "scanned code"):
        yield from _twice(column, frame, decided.apart)


def _found(kind: str, frame: pl.DataFrame, rule: str = "", step: AnyStep | None = None) -> Finding:
    shown = as_texts(frame["value"].unique(maintain_order=True).head(_SHOWN)).to_list()
    return Finding(kind, frame.height, shown, found_rows(frame.head(MOST_ROWS)), rule, step)


def found_rows(frame: pl.DataFrame) -> list[FoundRow]:
    """The rows of a frame that holds the keys of a table and a `value`."""
    keys = frame.select(pl.exclude("value"))
    values = as_texts(frame["value"]).cast(pl.String).to_list()
    return [FoundRow(key[0], list(key[1:]), value) for key, value in zip(keys.iter_rows(), values, strict=True)]


def _far(column: Column, frame: pl.DataFrame, fence: Fence | None) -> Iterator[Finding]:
    if fence is None:
        return
    for kind, rows, sign in (
        ("far_above", frame.filter(pl.col("value") > fence.high), ">"),
        ("far_below", frame.filter(pl.col("value") < fence.low), "<"),
    ):
        if rows.is_empty() or rows.height > _TAIL * frame.height:
            continue
        near = frame.filter(~fence.beyond(pl.col("value")))["value"]
        ends = (near.max(), rows["value"].min()) if sign == ">" else (rows["value"].max(), near.min())
        rule = f"{column.variable} {sign} {_between(sign, *(cast(float, end) for end in ends))}"
        by = _slipped(rows["value"], near) if sign == ">" and not column.whole else 0
        if by:
            step: AnyStep = SetValue(variable=column.variable, formula=f"{column.variable} / {by}", rule=rule)
            yield _found("hundredfold", rows, rule, step)
        else:
            yield _found(kind, rows, rule, MarkMissing(variable=column.variable, rule=rule))


def _between(sign: str, low: float, high: float) -> str:
    """The plainest number that parts two values, for a rule that people read: from the near one on, short of the far."""
    for digits in range(1, 16):
        found = float(f"{(low + high) / 2:.{digits}g}")
        if (low <= found < high) if sign == ">" else (low < found <= high):
            break
    return f"{found:.10f}".rstrip("0").rstrip(".")


def _slipped(values: pl.Series, near: pl.Series) -> int:
    """100 or 1,000 where every far value lies among the middle ones once divided by it: a decimal point that was lost."""
    if cast(float, values.min()) < _SLIPPED * cast(float, near.median()):
        return 0
    low, high = cast(float, near.quantile(0.05)), cast(float, near.quantile(0.95))
    return next((by for by in (100, 1000) if (values / by).is_between(low, high).all()), 0)


def _heaped(column: Column, frame: pl.DataFrame) -> Iterator[Finding]:
    """Whole numbers of two digits and more that end in 0 or 5 far more often than two in ten do by chance."""
    whole = frame.filter((pl.col("value") == pl.col("value").round()) & (pl.col("value").abs() >= 10))
    if whole.height < _FEWEST_DIGITS or whole["value"].n_unique() < 20:
        return
    heaped = whole.filter(pl.col("value").cast(pl.Int64) % 5 == 0)
    expected, spread = 0.2 * whole.height, (0.2 * 0.8 * whole.height) ** 0.5
    if heaped.height > expected + 4 * spread:
        yield _found("heaped", heaped, f"remainder({column.variable}, 5) = 0")


def _codes(column: Column, frame: pl.DataFrame) -> Iterator[Finding]:
    each = frame.explode("value", empty_as_null=True).drop_nulls("value") if column.measure == "codes" else frame
    unknown = each.filter(~pl.col("value").is_in(list(column.codes)))
    if not unknown.is_empty():
        codes = unknown["value"].unique(maintain_order=True).to_list()
        near = {code: nearest(code, column.codes) for code in codes}
        mapping = {code: to for code, to in near.items() if to}
        yield _found(
            "unknown_codes", unknown, step=Recode(variable=column.variable, mapping=mapping) if mapping else None
        )
    if frame.height >= _OF:
        rare = [code for code, count in counted(each["value"]) if count <= _RARE and code in column.codes]
        if 0 < len(rare) <= _RARE_CODES:
            yield _found("rare_codes", each.filter(pl.col("value").is_in(rare)))


def _texts(table: Table, column: Column, frame: pl.DataFrame, known: frozenset[str]) -> Iterator[Finding]:
    distinct = dict(counted(frame["value"]))
    untidy = [text for text in distinct if tidied(text, **_TIDY) != text]
    if untidy:
        step = Tidy(variable=column.variable, alike=True)
        yield _found("untidy", frame.filter(pl.col("value").is_in(untidy)), step=step)
    into = _specifies(table, column)
    if into is not None:
        texts = pl.col(column.variable).alias("value")
        rows = (
            table.frame.filter(still_other(table, into, _OTHER)).select(*table.layout.keys, texts).drop_nulls("value")
        )
        rows = rows.filter([folded(text) not in known for text in rows["value"]])
        if rows.is_empty():
            return
        words, codes = _dictionary(into, dict(counted(rows["value"])))
        step_into = Dictionary(variable=column.variable, into=into.variable, words=words, codes=codes, replaces=_OTHER)
        yield _found("specified", rows, step=step_into)
        return
    groups = spellings({tidied(text, **_TIDY): count for text, count in distinct.items()})
    mapping = {text: kept for kept, others in groups.items() for text in others}
    if mapping:
        rows = frame.filter(pl.col("value").is_in(list(mapping)))
        yield _found("nearly_alike", rows, step=Recode(variable=column.variable, mapping=mapping))


def _specifies(table: Table, column: Column) -> Column | None:
    """The variable whose *other* a text specifies."""
    asked = table.layout.column(column.variable.removesuffix("_other"))
    is_it = column.variable.endswith("_other") and asked is not None and _OTHER in asked.codes
    return asked if is_it else None


def _dictionary(into: Column, texts: dict[str, int]) -> tuple[dict[str, str], dict[str, str]]:
    """What each spelling would be taken into: a code whose label it is like, or a new code for what is said twice. Where
    there is none of these, what is said once stays *other* until somebody gives it a code."""
    labels = {label.casefold(): code for code, texts_ in into.codes.items() for label in (code, *texts_.values())}
    words: dict[str, str] = {}
    codes: dict[str, str] = {}
    groups = spellings(texts)
    for kept, count in texts.items():
        near = nearest(kept.casefold(), labels)
        if near is not None:
            words[kept] = labels[near]
        elif kept in groups or count > 1:
            code = suggest_variable(kept)
            codes[code] = kept.strip()
            words |= dict.fromkeys([kept, *groups.get(kept, [])], code)
    if not words:
        words = dict.fromkeys(list(texts)[:_AT_A_TIME], _OTHER)
    return words, {code: label for code, label in codes.items() if code not in into.codes}


def _dates(table: Table, column: Column) -> Iterator[Finding]:
    started = table.frame.get_column("interview.started", default=None)
    rows = table.frame.select(*table.layout.keys, pl.col(column.variable).alias("value"))
    if started is not None:
        late = rows.filter(rows["value"] > started.dt.date())
        if not late.is_empty() and late.height < _TAIL * rows["value"].count():
            rule = f"{column.variable} > interview.started"
            yield _found("after_interview", late, rule, MarkMissing(variable=column.variable, rule=rule))
    early = rows.filter(pl.col("value").dt.year() < 1900)
    if not early.is_empty():
        rule = f"{column.variable} < 1900-01-01"
        yield _found("long_ago", early, rule, MarkMissing(variable=column.variable, rule=rule))


def _twice(column: Column, frame: pl.DataFrame, apart: frozenset[frozenset[str]]) -> Iterator[Finding]:
    """What nearly every interview has for itself alone, and a few share: the same one may be there twice, unless all that
    share it are said to be `apart`."""
    counts = frame.group_by("value", maintain_order=True).agg(pl.len().alias("n"))
    shared = counts.filter(pl.col("n") > 1)
    if counts.height < 20 or shared.is_empty() or counts.height < 0.9 * frame.height:
        return
    rows = frame.filter(pl.col("value").is_in(shared["value"].implode()))
    groups = rows.group_by("value", maintain_order=True).agg(KEY)
    open_ = [
        value
        for value, keys in groups.iter_rows()
        if not all(frozenset(pair) in apart for pair in combinations(keys, 2))
    ]
    rows = rows.filter(pl.col("value").is_in(open_))
    if rows.is_empty():
        return
    yield _found("twice", rows, step=Duplicates(variables=[column.variable]))
