"""The steps of a cleaning plan over tables of rows, one function for each kind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any

from skavo.core.cleaning.alone.rules import outcomes
from skavo.core.cleaning.alone.tables import MOMENTS, Column, Row, Table, Tables, written
from skavo.core.cleaning.copies import end_of_chain
from skavo.core.cleaning.drawn import draw, figure
from skavo.core.cleaning.plain_texts import folded, read_text_as, swapped, tidied, variable_of
from skavo.core.rules.functions import shift_date
from skavo.core.rules.values import Duration

INTERVIEWS, KEY = "interviews", "interview.key"
Step = dict[str, Any]


def apply_step(tables: Tables, step: Step) -> None:
    """Do one step to `tables`. Its rules stand in it as {text, tree, labels}."""
    _STEPS[step["kind"]](tables, step)


def _of(tables: Tables, variable: str) -> Table:
    return next(table for table in tables.values() if any(c.variable == variable for c in table.columns))


def _put(row: Row, variable: str, value: Any, missing: str = "unanswered") -> None:
    row[variable] = value
    row[f"{variable}?"] = missing if value is None else None


def _make(table: Table, column: Column, cells: Sequence[tuple[Any, str | None]]) -> None:
    """A new column; each cell is a value, or None with its kind of missing."""
    table.columns.append(column)
    for row, (value, missing) in zip(table.rows, cells, strict=True):
        _put(row, column.variable, value, missing or "unanswered")


def _where(tables: Tables, table: Table, step: Step) -> list[Row]:
    found = outcomes(tables, table, step.get("rule"))
    return [row for row, yes in zip(table.rows, found, strict=True) if yes is True]


def _drop(tables: Tables, table: Table, rows: list[Row]) -> None:
    gone = {tuple(row[key] for key in table.keys) for row in rows}
    for other in tables.values():
        if other.keys[: len(table.keys)] == table.keys:
            other.rows = [row for row in other.rows if tuple(row[key] for key in table.keys) not in gone]


def _as(column: Column, value: Any) -> Any:
    """A value as the cells of a column hold it."""
    return None if value is None else int(value) if column.whole else value


def _correct(tables: Tables, step: Step) -> None:
    table = _of(tables, step["variable"])
    for row in table.rows:
        if [row[key] for key in table.keys] == [step["interview"], *step["row"]]:
            value = None if step["missing"] else _typed(table.column(step["variable"]), step["value"])
            _put(row, step["variable"], value, step["missing"] or "unanswered")


def _typed(column: Column, value: Any) -> Any:
    if column.measure == "number":
        return int(value) if column.whole else float(value)
    return MOMENTS[column.measure](value) if column.measure in MOMENTS else value


def _set(tables: Tables, step: Step) -> None:
    table = _of(tables, step["variable"])
    values = outcomes(tables, table, step["formula"])
    here = {id(row) for row in _where(tables, table, step)}
    for row, value in zip(table.rows, values, strict=True):
        if id(row) in here:
            _put(row, step["variable"], _as(table.column(step["variable"]), value))


def _recode(tables: Tables, step: Step) -> None:
    table, name = _of(tables, step["variable"]), step["variable"]
    table.column(name).codes += [code for code in step["codes"] if code not in table.column(name).codes]
    to = step["mapping"]
    for row in table.rows:
        value = row[name]
        if isinstance(value, list):
            row[name] = list(dict.fromkeys(to.get(code, code) for code in value))
        elif value is not None:
            row[name] = to.get(value, value)


def _mark_missing(tables: Tables, step: Step) -> None:
    for row in _where(tables, _of(tables, step["variable"]), step):
        _put(row, step["variable"], None, step["missing"])


def _tidy(tables: Tables, step: Step) -> None:
    how = {name: step[name] for name in ("trim", "blanks", "alike", "case")}
    for row in _of(tables, step["variable"]).rows:
        if row[step["variable"]] is not None:
            _put(row, step["variable"], tidied(row[step["variable"]], **how) or None)


def _convert(tables: Tables, step: Step) -> None:
    table = _of(tables, step["variable"])
    found = {unit: outcomes(tables, table, rule) for unit, rule in step["factors"].items()}
    for number, row in enumerate(table.rows):
        if row[step["unit"]] in found and row[step["amount"]] is not None:
            value = found[row[step["unit"]]][number]
            _put(row, step["variable"], _as(table.column(step["variable"]), value))


_SECONDS = {"minutes": 60, "hours": 3600, "days": 86400}
_MONTHS = {"months": 1, "years": 12}


def _shift(tables: Tables, step: Step) -> None:
    by = Duration(step["by"] * _MONTHS.get(step["unit"], 0), step["by"] * _SECONDS.get(step["unit"], 0))
    for row in _where(tables, _of(tables, step["variable"]), step):
        if row[step["variable"]] is not None:
            _put(row, step["variable"], shift_date(row[step["variable"]], by, 1))


def _swap_day_month(tables: Tables, step: Step) -> None:
    for row in _where(tables, _of(tables, step["variable"]), step):
        found = swapped(row[step["variable"]])
        if found is not None:
            _put(row, step["variable"], found)


def _dictionary(tables: Tables, step: Step) -> None:
    table, into = _of(tables, step["variable"]), step["into"]
    table.column(into).codes += [code for code in step["codes"] if code not in table.column(into).codes]
    words = {folded(text): code for text, code in step["words"].items()}
    for row in table.rows:
        code = words.get(folded(row[step["variable"]] or ""))
        if row[step["variable"]] is None or code in (None, step["replaces"]):
            continue
        if table.column(into).measure == "codes":
            kept = [one for one in row[into] or [] if one != step["replaces"]]
            _put(row, into, list(dict.fromkeys([*kept, code])))
        else:
            _put(row, into, code)


def _derive(tables: Tables, step: Step) -> None:
    table = tables[step["table"]]
    cells = [(value, None) for value in outcomes(tables, table, step["formula"])]
    _make(table, Column(step["into"], step["measure"], codes=list(step["made_codes"])), cells)


def _classes(tables: Tables, step: Step) -> None:
    table, name = _of(tables, step["variable"]), step["variable"]

    def of(row: Row) -> tuple[Any, str | None]:
        value = row[name]
        inside = (
            one["code"]
            for one in step["classes"]
            if value is not None and (one["below"] is None or value < one["below"])
        )
        return next(inside, None), row[f"{name}?"]

    _make(
        table, Column(step["into"], "code", codes=[one["code"] for one in step["classes"]]), [of(r) for r in table.rows]
    )


def _read_as(tables: Tables, step: Step) -> None:
    table, name = _of(tables, step["variable"]), step["variable"]
    cells = [
        (None if row[name] is None else read_text_as(row[name], step["measure"], step["form"]), row[f"{name}?"])
        for row in table.rows
    ]
    _make(table, Column(step["into"], step["measure"]), cells)


def _split(tables: Tables, step: Step) -> None:
    table, name = _of(tables, step["variable"]), step["variable"]
    whys = [row[f"{name}?"] for row in table.rows]
    if table.column(name).measure == "codes":
        for code in table.column(name).codes:
            has = [None if row[name] is None else code in row[name] for row in table.rows]
            _make(table, Column(variable_of(name, code), "yes/no"), list(zip(has, whys, strict=True)))
        return
    for place, into in enumerate(step["into"]):
        parts = [(row[name] or "").split(step["separator"], len(step["into"]) - 1) for row in table.rows]
        values = [(part[place].strip() or None) if place < len(part) else None for part in parts]
        _make(table, Column(into, "text"), list(zip(values, whys, strict=True)))


def _gather(tables: Tables, step: Step) -> None:
    named = step["codes"]
    first = next(iter(named.values()))
    table = _of(tables, first)

    def of(row: Row) -> tuple[Any, str | None]:
        if all(row[variable] is None for variable in named.values()):
            return None, row[f"{first}?"]
        return [code for code, variable in named.items() if row[variable] is True], None

    _make(table, Column(step["into"], "codes", codes=list(named)), [of(row) for row in table.rows])


def _join_texts(tables: Tables, step: Step) -> None:
    table = _of(tables, step["variables"][0])

    def of(row: Row) -> tuple[Any, str | None]:
        return step["separator"].join(
            _shown(row[name]) for name in step["variables"] if row[name] is not None
        ) or None, None

    _make(table, Column(step["into"], "text"), [of(row) for row in table.rows])


def _shown(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(value)
    return value.strftime("%Y-%m-%d %H:%M:%S") if isinstance(value, datetime) else written(value)


def _present(tables: Tables, step: Step) -> None:
    table, name = _of(tables, step["variable"]), step["variable"]
    column, called = table.column(name), step["name"] or name
    column.variable = called
    for row in table.rows:
        row[called], row[f"{called}?"] = row.pop(name), row.pop(f"{name}?")
    if step["before"]:
        table.columns.remove(column)
        table.columns.insert(table.columns.index(table.column(step["before"])), column)


def _duplicates(tables: Tables, step: Step) -> None:
    table = tables[INTERVIEWS]
    kept_by = _same(table, step) if step["variables"] else {}
    for one, other in step["apart"]:
        for copy, kept in ((one, other), (other, one)):
            if kept_by.get(copy) == kept:
                del kept_by[copy]
    kept_by |= step["by_hand"]
    known = {row[KEY] for row in table.rows}
    ends = {copy: end_of_chain(kept_by, kept) for copy, kept in kept_by.items() if copy in known}
    gone = {copy for copy, kept in ends.items() if kept in known and kept != copy}
    _drop(tables, table, [row for row in table.rows if row[KEY] in gone])


def _same(table: Table, step: Step) -> dict[str, str]:
    groups: dict[tuple[Any, ...], list[Row]] = {}
    for row in table.rows:
        if all(row[name] is not None for name in step["variables"]):
            groups.setdefault(tuple(written(row[name]) for name in step["variables"]), []).append(row)

    def filled(row: Row) -> int:
        return sum(1 for column in table.columns if row[column.variable] is not None)

    best: dict[str, Callable[[list[Row]], Row]] = {
        "first": lambda rows: rows[0], "last": lambda rows: rows[-1], "fullest": lambda rows: max(rows, key=filled),
    }  # fmt: skip
    kept: dict[str, str] = {}
    for rows in groups.values():
        one = best[step["keep"]](rows)
        kept |= {row[KEY]: one[KEY] for row in rows if row is not one}
    return kept


def _rows_out(tables: Tables, step: Step) -> None:
    table = tables[step["table"]]
    by_rule = {id(row) for row in _where(tables, table, step)} if step["rule"] else set()

    def named(row: Row, rows: list[list[str]]) -> bool:
        return [row[key] for key in table.keys] in rows

    out = [r for r in table.rows if (id(r) in by_rule or named(r, step["rows"])) and not named(r, step["but"])]
    _drop(tables, table, out)


def _leave_out(tables: Tables, step: Step) -> None:
    table = tables[INTERVIEWS]
    out = _where(tables, table, step) if step["rule"] else []
    _drop(tables, table, [*out, *(row for row in table.rows if row[KEY] in step["interviews"])])


def _impute(tables: Tables, step: Step) -> None:
    table, name = _of(tables, step["variable"]), step["variable"]
    column, donors = table.column(name), step["way"] == "donor"
    groups: dict[tuple[Any, ...], list[Row]] = {}
    for row in table.rows:
        groups.setdefault(tuple(written(row[by]) if row[by] is not None else None for by in step["by"]), []).append(row)
    from_row: dict[int, str] = {}
    for rows in groups.values():
        givers = sorted((row for row in rows if row[name] is not None), key=lambda row: _place(table, row))
        values = [row[name] for row in givers]
        for row in rows:
            if row[f"{name}?"] not in step["missing"]:
                continue
            giver = givers[draw(step["seed"], _place(table, row), len(givers))] if donors and givers else None
            value = giver[name] if giver else _filler(step, column, values)
            if value is not None:
                # Those filled in give nothing to those that follow: the givers were chosen before.
                from_row[id(row)] = _place(table, giver) if giver else ""
                row["#filled"] = value
    for row in table.rows:
        if "#filled" in row:
            _put(row, name, row.pop("#filled"))
    filled = [id(row) in from_row for row in table.rows]
    _note(table, Column(f"{name[:25]}_filled", "yes/no"), [(yes, None) for yes in filled], filled)
    if donors:
        places = [(from_row.get(id(row)), "not_asked") for row in table.rows]
        _note(table, Column(f"{name[:26]}_donor", "text"), places, filled)


def _note(table: Table, made: Column, cells: Sequence[tuple[Any, str | None]], filled: list[bool]) -> None:
    """What is noted of filled rows, in a new variable or in the one that an earlier step made for it."""
    if all(column.variable != made.variable for column in table.columns):
        _make(table, made, cells)
        return
    for row, (value, _), yes in zip(table.rows, cells, filled, strict=True):
        if yes:
            _put(row, made.variable, value)


def _filler(step: Step, column: Column, values: list[Any]) -> Any:
    if step["way"] == "donor":
        return None
    return _typed(column, step["value"]) if step["way"] == "fixed" else figure(step["way"], values, whole=column.whole)


def _place(table: Table, row: Row) -> str:
    return "/".join(row[key] for key in table.keys)


def _nothing(tables: Tables, step: Step) -> None:
    """A heading, or a finding that is in order."""


_STEPS: dict[str, Callable[[Tables, Step], None]] = {
    "correct": _correct,
    "set": _set,
    "recode": _recode,
    "mark_missing": _mark_missing,
    "tidy": _tidy,
    "convert": _convert,
    "shift": _shift,
    "swap_day_month": _swap_day_month,
    "dictionary": _dictionary,
    "derive": _derive,
    "classes": _classes,
    "read_as": _read_as,
    "split": _split,
    "gather": _gather,
    "join_texts": _join_texts,
    "present": _present,
    "duplicates": _duplicates,
    "rows_out": _rows_out,
    "leave_out": _leave_out,
    "impute": _impute,
    "heading": _nothing,
    "in_order": _nothing,
}
