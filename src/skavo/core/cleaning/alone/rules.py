"""Rules over tables of rows, by the engine that ran them in the field."""

from __future__ import annotations

from datetime import UTC, datetime
from decimal import Decimal
from typing import Any

from skavo.core.cleaning.alone.tables import Table, Tables
from skavo.core.rules.evaluate import bind
from skavo.core.rules.values import as_decimal, tidy


class _State:
    """Answers as the engine wants them: by the name of the variable, then by the names of the rows around."""

    def __init__(self, tables: Tables) -> None:
        self.values: dict[str, dict[tuple[Any, ...], Any]] = {}
        self.special: dict[str, dict[tuple[Any, ...], str]] = {}
        self.asked: dict[str, dict[tuple[Any, ...], bool]] = {}
        self.rows: dict[str, dict[tuple[Any, ...], list[Any]]] = {}
        self.outside: dict[str, Any] = {}
        self.labels: dict[str, dict[str, str]] = {}
        for table in tables.values():
            self._load(table)

    def _load(self, table: Table) -> None:
        rows = [(tuple(row[key] for key in table.keys), row) for row in table.rows]
        under = self.rows.setdefault(table.name, {})
        for place, _ in rows:
            under.setdefault(place[:-1], []).append(place[-1])
        for name in [*table.facts, *(column.variable for column in table.columns)]:
            self.values[name] = {place: _given(row[name]) for place, row in rows if row[name] is not None}
            why = f"{name}?"
            self.special[name] = {place: row[why] for place, row in rows if row.get(why) is not None}
            self.asked[name] = {place: row.get(why) != "not_asked" for place, row in rows}

    def label(self, code_list: str, code: str) -> str:
        return self.labels.get(code_list, {}).get(code, code)


def outcomes(tables: Tables, table: Table, rule: dict[str, Any] | None) -> list[Any]:
    """What a rule gives in each row of a table, as its cells hold it; yes everywhere without a rule."""
    if rule is None:
        return [True] * len(table.rows)
    state = _State(tables)
    state.labels = rule["labels"]
    run = bind(rule["tree"])
    return [_kept(run(state, tuple(row[key] for key in table.keys))) for row in table.rows]  # type: ignore[arg-type]


def _given(value: Any) -> Any:
    """A cell as the engine counts with it: exact decimals, moments in UTC."""
    if isinstance(value, float):
        return tidy(Decimal(repr(value)))
    return value.replace(tzinfo=UTC) if isinstance(value, datetime) else value


def _kept(value: Any) -> Any:
    value = as_decimal(value)
    if isinstance(value, datetime):
        return value.astimezone(UTC).replace(tzinfo=None) if value.tzinfo else value
    if isinstance(value, int | Decimal) and not isinstance(value, bool):
        return float(value)
    return list(value) if isinstance(value, tuple | frozenset) else value
