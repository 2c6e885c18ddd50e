"""Steps of a cleaning plan and what they do. Raw data is never changed: a plan makes a cleaned copy of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated, Any, Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from skavo.core.dataset.flatten import WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import MISSING_WORDS, Column
from skavo.core.dataset.rules import DataRules, table_of
from skavo.core.documents import Format
from skavo.core.errors import DataError
from skavo.core.interview.answers import (
    WrongAnswer,
    read_codes,
    read_date,
    read_date_time,
    read_decimal,
    read_text,
    read_time,
    read_whole,
    read_yes_no,
    write_answer,
)
from skavo.core.rules.types import nearest


class _Step(BaseModel):
    model_config = ConfigDict(extra="forbid")
    variable: str = Field(max_length=64)
    reason: str = Field(default="", max_length=1000)


class Recode(_Step):
    """Codes of a single answer, or values of a text, replaced by others."""

    kind: Literal["recode"] = "recode"
    mapping: dict[str, str]


class Correct(_Step):
    """One value in one row. `row` leads from the interview to the roster row; a reason is needed."""

    kind: Literal["correct"] = "correct"
    interview: str
    row: list[str] = Field(default=[])
    value: Any


class MarkMissing(_Step):
    """Values replaced by a kind of missing in every row where the rule is a definite yes."""

    kind: Literal["mark_missing"] = "mark_missing"
    rule: str = Field(max_length=4000)
    missing: Literal["unanswered", "dont_know", "refused"] = "unanswered"


Step = Annotated[Recode | Correct | MarkMissing, Field(discriminator="kind")]
STEP = Format("step", unmarked=1)
_STEPS: TypeAdapter[Recode | Correct | MarkMissing] = TypeAdapter(Step)


def read_step(document: dict[str, Any]) -> Recode | Correct | MarkMissing:
    """A step as it was kept, of any version."""
    return _STEPS.validate_python(STEP.read_body(document))


def write_step(step: Recode | Correct | MarkMissing) -> dict[str, Any]:
    """A step as it is kept."""
    return STEP.write(step.model_dump(mode="json"))


@dataclass(frozen=True)
class Change:
    """One changed cell: `step` is its number in the plan (0 first), `row` the names of the roster rows around."""

    step: int
    table: str
    interview: str
    row: tuple[str, ...]
    variable: str
    before: Any
    after: Any


@dataclass(frozen=True)
class Cleaned:
    data: DataSet
    changes: list[Change]

    def touched(self, step: int) -> int:
        return sum(1 for change in self.changes if change.step == step)


def apply_plan(data: DataSet, steps: Sequence[Recode | Correct | MarkMissing]) -> Cleaned:
    """Replay `steps` in order over `data`; raise DataError where a step no longer fits the data set."""
    cleaned = Cleaned(dict(data), [])
    for number, step in enumerate(steps):
        cleaned = apply_step(cleaned, step, number)
    return cleaned


def apply_step(cleaned: Cleaned, step: Recode | Correct | MarkMissing, number: int) -> Cleaned:
    """One more step on top of what is cleaned already; `number` is its place in the plan."""
    name = table_of(cleaned.data, step.variable)
    if name is None:
        known = [c.variable for t in cleaned.data.values() for c in t.layout.columns]
        hint = nearest(step.variable, known)
        mend = f" Did you mean {hint}?" if hint else ""
        raise DataError("unknown_variable", f"There is no variable “{step.variable}”.{mend}", {"step": number})
    table = cleaned.data[name]
    column = table.layout.column(step.variable)
    assert column is not None
    edited, changes = _edit(table, column, _APPLIERS[step.kind](cleaned.data, table, column, step), number)
    return Cleaned({**cleaned.data, name: edited}, [*cleaned.changes, *changes])


# What a step wants in which row: row number -> (value, reason it is missing).
_Edits = dict[int, tuple[Any, str | None]]


def _recode(data: DataSet, table: Table, column: Column, step: Recode) -> _Edits:
    if column.measure not in ("code", "text"):
        raise DataError("not_recodable", f"“{column.variable}” holds {column.kind}; only codes and texts are recoded.")
    for target in step.mapping.values():
        if column.measure == "code" and target not in column.codes:
            hint = nearest(target, column.codes)
            mend = f" Did you mean {hint}?" if hint else f" Codes: {', '.join(list(column.codes)[:12])}."
            raise DataError("impossible_code", f"“{column.variable}” has no code “{target}”.{mend}")
    values = table.frame[column.variable].to_list()
    return {i: (step.mapping[v], None) for i, v in enumerate(values) if v in step.mapping and step.mapping[v] != v}


def _correct(data: DataSet, table: Table, column: Column, step: Correct) -> _Edits:
    if not step.reason.strip():
        raise DataError("no_reason", "A corrected value needs a reason.", {"variable": column.variable})
    keys = [step.interview, *step.row]
    if len(keys) != len(table.layout.keys):
        raise DataError("wrong_row", f"“{column.variable}” is asked once per {table.layout.name}: say which row.")
    wanted = pl.all_horizontal([pl.col(k) == v for k, v in zip(table.layout.keys, keys, strict=True)])
    rows = table.frame.with_row_index("#").filter(wanted)["#"].to_list()
    if not rows:
        raise DataError("no_such_row", f"There is no row {' / '.join(keys)} in {table.layout.name}.")
    return {rows[0]: (_read(column, step.value), None)}


def _read(column: Column, value: Any) -> Any:
    try:
        read: Any = read_whole(value) if column.whole else _READERS[column.measure](value)
    except WrongAnswer as error:
        raise DataError(error.code, f"“{column.variable}” holds {column.kind}; this value does not fit.") from None
    for code in (read,) if column.measure == "code" else read if column.measure == "codes" else ():
        if code not in column.codes:
            hint = nearest(code, column.codes)
            raise DataError("impossible_code", f"“{column.variable}” has no code “{code}”. Nearest: {hint or 'none'}.")
    if isinstance(read, datetime):
        return read.astimezone(UTC).replace(tzinfo=None)
    return list(read) if isinstance(read, tuple) else read


_READERS: dict[str, Callable[[Any], Any]] = {
    "text": read_text,
    "number": read_decimal,
    "date": read_date,
    "time": read_time,
    "date-time": read_date_time,
    "yes/no": read_yes_no,
    "code": read_text,
    "codes": read_codes,
}


def _mark_missing(data: DataSet, table: Table, column: Column, step: MarkMissing) -> _Edits:
    rules = DataRules(data)
    tree, faults = rules.check(step.rule, table.layout.name)
    if tree is None:
        fault = faults[0]
        details = {"field": "rule", "start": fault.span.start, "length": fault.span.end - fault.span.start}
        raise DataError(fault.code, f"{fault.message} {fault.mend}".strip(), details)
    outcome = rules.outcome(tree, table.layout.name).values.to_list()
    reasons = table.frame[why(column.variable)].to_list()
    return {i: (None, step.missing) for i, yes in enumerate(outcome) if yes is True and reasons[i] != step.missing}


_APPLIERS: dict[str, Callable[..., _Edits]] = {
    "recode": _recode,
    "correct": _correct,
    "mark_missing": _mark_missing,
}


def _edit(table: Table, column: Column, edits: _Edits, step: int) -> tuple[Table, list[Change]]:
    name, frame = column.variable, table.frame
    values, reasons = frame[name].to_list(), frame[why(name)].to_list()
    keys = frame.select(table.layout.keys).rows()
    changes = []
    for i, (value, reason) in edits.items():
        before, after = _shown(values[i], reasons[i]), _shown(value, reason)
        if before == after:
            continue
        changes.append(Change(step, table.layout.name, keys[i][0], tuple(keys[i][1:]), name, before, after))
        values[i], reasons[i] = (
            (float(value) if column.measure == "number" and not column.whole and value is not None else value),
            reason,
        )
    edited = frame.with_columns(
        pl.Series(name, values, dtype=dtype_of(column)), pl.Series(why(name), reasons, dtype=WHY)
    )
    return table.with_frame(edited), changes


def _shown(value: Any, reason: str | None) -> Any:
    """A cell in JSON form; a missing one as its kind in words."""
    return MISSING_WORDS[reason] if reason is not None else _json(value)


def _json(value: Any) -> Any:
    if isinstance(value, float):
        return int(value) if value == int(value) else value
    written = write_answer(value)
    return (
        float(written) if isinstance(written, str) and not isinstance(value, str) and _is_number(written) else written
    )


def _is_number(text: str) -> bool:
    return text.replace(".", "", 1).lstrip("-").isdecimal()


def history_of(changes: list[Change], interview: str) -> list[Change]:
    """What the plan changed in one interview."""
    return [change for change in changes if change.interview == interview]
