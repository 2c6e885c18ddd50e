"""A plan that runs without Skavo: a script with the steps, the raw tables, and the engine that its rules need."""

from __future__ import annotations

import csv
import io
from importlib.resources import files
from pprint import pformat
from typing import Any

from skavo.core.cleaning.alone.tables import written
from skavo.core.cleaning.plan import apply_step
from skavo.core.cleaning.steps import AnyStep, Derive, SetValue
from skavo.core.cleaning.words import sentence_of
from skavo.core.cleaning.work import Work
from skavo.core.dataset.flatten import FACTS, DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.core.dataset.rules import DataRules

_RULES = ("values", "functions", "state", "evaluate", "automaton", "check_digits", "geodesy")
_ALONE = ("__init__", "tables", "rules", "steps")
_RENAMED = (
    ("skavo.core.cleaning.alone.", "alone."), ("skavo.core.cleaning.copies", "alone.copies"), ("skavo.core.cleaning.drawn", "alone.drawn"),
    ("skavo.core.cleaning.plain_texts", "alone.plain_texts"), ("skavo.core.rules.", "rules."),
)  # fmt: skip
_SCRIPT = '''"""{title}

{about}

Makes the tables of `cleaned` from those of `raw`, step by step, with Python 3.11 or later and nothing else:

    python clean.py
"""

from __future__ import annotations

from pathlib import Path

from alone.steps import apply_step
from alone.tables import read_tables, write_tables

# The tables of `raw`: their keys, what is known of every interview, their variables.
LAYOUT = {layout}

# Each step with its rules as typed trees beside their text.
STEPS = [
{steps}
]

if __name__ == "__main__":
    here = Path(__file__).parent
    tables = read_tables(here / "raw", LAYOUT)
    for step in STEPS:
        apply_step(tables, step)
    write_tables(here / "cleaned", tables)
    print("Cleaned:", ", ".join(f"{{table.name}} {{len(table.rows)}}" for table in tables.values()))
'''


def package_of(raw: DataSet, steps: list[tuple[int, AnyStep]], title: str, about: str) -> dict[str, str]:
    """The files of the package by name; steps that do not fit are left out, as they are from the data set."""
    found = {f"raw/{name}.csv": _table_text(table) for name, table in raw.items()}
    source = files("skavo.core")
    for name in _RULES:
        found[f"rules/{name}.py"] = _alone(source.joinpath("rules", f"{name}.py").read_text(encoding="utf-8"))
    for name in _ALONE:
        found[f"alone/{name}.py"] = _alone(
            source.joinpath("cleaning", "alone", f"{name}.py").read_text(encoding="utf-8")
        )
    for name in ("copies", "drawn", "plain_texts"):
        found[f"alone/{name}.py"] = _alone(source.joinpath("cleaning", f"{name}.py").read_text(encoding="utf-8"))
    found["rules/__init__.py"] = '"""The rules and the engine that ran them in the field."""\n'
    layout = pformat([_layout(table) for table in raw.values()], width=120, sort_dicts=False)
    safe = {"title": title.replace('"""', "'''").replace("\\", "/"), "about": about}
    found["clean.py"] = _SCRIPT.format(**safe, layout=layout, steps=_written(raw, steps))
    return found


def _alone(source: str) -> str:
    for ours, theirs in _RENAMED:
        source = source.replace(ours, theirs)
    return source


def _layout(table: Table) -> dict[str, Any]:
    columns = [
        {"variable": c.variable, "measure": c.measure, "whole": c.whole, "codes": list(c.codes)}
        for c in table.layout.columns
    ]
    return {"name": table.layout.name, "keys": list(table.layout.keys), "facts": _facts(table), "columns": columns}


def _facts(table: Table) -> dict[str, str]:
    """What is known of every interview besides its answers, with its measure."""
    if table.layout.name != INTERVIEWS:
        return {}
    measures = {"interview.started": "date-time", "interview.minutes": "number"}
    return {fact: measures.get(fact, "text") for fact in FACTS if fact != KEY and fact in table.frame.columns}


def _table_text(table: Table) -> str:
    names = [name for c in table.layout.columns for name in (c.variable, why(c.variable))]
    heading = [*table.layout.keys, *_facts(table), *names]
    rows = ([written(cell) for cell in row] for row in table.frame.select(heading).iter_rows())
    text = io.StringIO(newline="")
    csv.writer(text, lineterminator="\r\n").writerows([heading, *rows])
    return text.getvalue()


def _written(raw: DataSet, steps: list[tuple[int, AnyStep]]) -> str:
    work, lines = Work(raw), []
    for identity, step in steps:
        body = _body(work, step)
        work = apply_step(work, identity, step)
        if isinstance(step, Derive):
            _, made = work.find(step.into)
            body |= {"measure": made.measure, "made_codes": list(made.codes)}
        reason = f"  # {' '.join(step.reason.split())}" if step.reason else ""
        lines += [
            f"    # {' '.join(sentence_of(step).split())}{reason}",
            f"    {pformat(body, width=10_000, sort_dicts=False)},",
        ]
    return "\n".join(lines)


def _body(work: Work, step: AnyStep) -> dict[str, Any]:
    """A step as the script has it: each rule with its tree, and the labels that it reads."""
    body = step.model_dump(mode="json")
    table = _table_of(work, step, body)
    if "rule" in body:
        body["rule"] = _rule(work.rules, body["rule"], table) if body["rule"].strip() else None
    if "formula" in body:
        body["formula"] = _formula(work, step, body["formula"], table)
    if "factors" in body:
        body["factors"] = {
            unit: _rule(work.rules, f"({body['amount']}) * ({factor})", table)
            for unit, factor in body["factors"].items()
        }
    return body


def _table_of(work: Work, step: AnyStep, body: dict[str, Any]) -> str:
    if "table" in body:
        return str(body["table"])
    return work.find(body["variable"])[0].layout.name if "variable" in body else INTERVIEWS


def _formula(work: Work, step: AnyStep, text: str, table: str) -> dict[str, Any]:
    if isinstance(step, SetValue):
        _, column = work.find(step.variable)
        if column.measure == "code" and text.strip() in column.codes:
            return {"text": text, "tree": ["literal", "text", text.strip()], "labels": {}}
    return _rule(work.rules, text, table)


def _rule(rules: DataRules, text: str, table: str) -> dict[str, Any]:
    tree, _, _ = rules.check_typed(text, table)
    named = rules.named(tree)
    lists = _labels_in(named)
    return {"text": text, "tree": named, "labels": {name: rules.labels(name) for name in lists}}


def _labels_in(tree: Any) -> set[str]:
    if not isinstance(tree, list) or not tree or tree[0] == "literal":
        return set()
    own = {tree[1]} if tree[0] == "label" else set()
    return own.union(*[_labels_in(piece) for piece in tree])
