"""Code lists while a script is written: ready ones, from tables and files, merged; nothing is kept until the script is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from functools import lru_cache

from pydantic import BaseModel

from skavo.core.errors import DataError
from skavo.core.lists.from_table import MOST_CODES, CodeChange, Doubtful, Level, Update, lists_of_levels, update_list
from skavo.core.lists.merge import Becomes, merge_lists, plan_merge
from skavo.core.lists.ready import READY, ready_named
from skavo.core.questionnaire.rename import Followed, rename_codes
from skavo.core.questionnaire.script import CodeList, ListTable, Script
from skavo.formats.read_table import read_table
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found
from skavo.services.writing import RenamedOut
from skavo.store.datasets import outside_tables
from skavo.store.models import OutsideTable

_SHOWN = 6


class ReadyOut(BaseModel):
    """`shown` are the labels of its first codes."""

    name: str
    title: str
    source: str
    codes: int
    shown: list[str]


class MergedOut(BaseModel):
    """What would become of every code of the list that goes, and the script in which it has gone."""

    plan: list[Becomes]
    script: Script
    followed: list[Followed]


class TableOut(BaseModel):
    """All cells of a table, and what its columns are taken for."""

    columns: list[str]
    rows: list[list[str]]
    table: ListTable


class OutsideName(BaseModel):
    name: str
    file_name: str
    rows: int
    columns: list[str]


class ListUpdateOut(BaseModel):
    code_list: CodeList
    added: list[str]
    changed: list[CodeChange]
    missing: list[str]
    doubtful: list[Doubtful]


@lru_cache(maxsize=1)
def ready_lists() -> list[ReadyOut]:
    """The ready lists with a glance of each; told in English, as the desk is."""
    found = []
    for ready in READY:
        codes = ready.codes(["en"])
        shown = [code.label["en"] for code in codes[:_SHOWN]]
        found.append(ReadyOut(name=ready.name, title=ready.title, source=ready.source, codes=len(codes), shown=shown))
    return found


def take_ready(name: str, languages: list[str]) -> CodeList:
    """A ready list in the languages of a script."""
    ready = ready_named(name)
    if ready is None:
        raise not_found("ready list")
    return ready.taken(languages)


def recoded(script: Script, code_list: str, codes: Mapping[str, str]) -> RenamedOut:
    """Codes of a list called otherwise; refused where two of them would be one."""
    listed = _list_of(script, code_list)
    names = [codes.get(code.code, code.code) for code in listed.codes]
    double = next((name for name in names if names.count(name) > 1), None) if len(names) < MOST_CODES else None
    if double is not None:
        raise Refused("double_code", f"The list {code_list} would have the code “{double}” twice.")
    done = rename_codes(script, code_list, codes)
    return RenamedOut(script=done.script, followed=done.followed)


def merged(script: Script, stays: str, goes: str, becomes: Mapping[str, str]) -> MergedOut:
    """One list merged into another; `becomes` overrules what would become of single codes."""
    if stays == goes:
        raise Refused("same_list", "A list cannot be merged with itself. Choose another one.")
    plan = plan_merge(_list_of(script, stays), _list_of(script, goes), script.languages[0])
    names = {row.code: row.becomes for row in plan} | {code: name for code, name in becomes.items() if name.strip()}
    done = merge_lists(script, stays, goes, names)
    return MergedOut(plan=plan, script=done.script, followed=done.followed)


def _list_of(script: Script, name: str) -> CodeList:
    found = script.list_named(name)
    if found is None:
        raise not_found("code list")
    return found


def read_file(file_name: str, content: bytes, languages: list[str]) -> TableOut:
    """A .csv or .xlsx file as rows for a list."""
    frame = read_table(file_name, content)
    return _table(frame.columns, [[cell or "" for cell in row] for row in frame.iter_rows()], languages)


def _table(columns: list[str], rows: list[list[str]], languages: list[str], name: str = "") -> TableOut:
    if len(rows) > MOST_CODES:
        message = f"{len(rows):,} rows are more than the {MOST_CODES:,} codes that a list can have. Bring fewer."
        raise DataError("too_many_codes", message, {"rows": len(rows)})
    return TableOut(columns=columns, rows=rows, table=_guess(columns, languages, name))


def _guess(columns: list[str], languages: list[str], name: str) -> ListTable:
    """What the columns are by their headings: `code`, `label`, `label [fr]`, `name`; the first ones where none says so."""
    plain = {column.strip().lower(): column for column in columns}
    code = next((plain[word] for word in ("code", "id", "key") if word in plain), "")
    labels: dict[str, str] = {}
    for tag in languages:
        words = (f"label [{tag.lower()}]", f"label_{tag.lower()}", f"name_{tag.lower()}", tag.lower())
        if found := next((plain[word] for word in words if word in plain), None):
            labels[tag] = found
    if languages[0] not in labels:
        left = [c for c in columns if c != code and c not in labels.values()]
        named = next((plain[word] for word in ("label", "name", "title") if word in plain), None)
        if named or left:
            labels[languages[0]] = named or left[0]
    return ListTable(name=name, code=code, labels=labels)


def list_tables(desk: Desk, questionnaire_id: int) -> list[OutsideName]:
    """The outside tables of a questionnaire, from which its lists may come."""
    with desk.store.reading() as session:
        the_questionnaire(session, questionnaire_id)
        return [
            OutsideName(name=o.name, file_name=o.file_name, rows=o.rows, columns=o.columns)
            for o in outside_tables(session, questionnaire_id)
        ]


def read_outside(desk: Desk, questionnaire_id: int, name: str, languages: list[str]) -> TableOut:
    """The rows of an outside table; it may hold anything about anybody, and is for those who may see that."""
    with desk.store.reading() as session:
        found: OutsideTable | None = next(
            (o for o in outside_tables(session, questionnaire_id) if o.name == name), None
        )
        if found is None:
            raise not_found("outside table")
        if not desk.sees_sensitive:
            raise Refused("forbidden", "Outside tables are shown to those who may see sensitive answers only.")
        rows = [[cell or "" for cell in row] for row in desk.sets.cells(found.file_hash).rows()]
        return _table(found.columns, rows, languages, name)


def updated(
    present: CodeList, columns: list[str], rows: list[list[str]], table: ListTable, drop: bool
) -> ListUpdateOut:
    """A list brought up to date from rows, with what that changes."""
    _known_columns(columns, [table.code, *table.labels.values(), *table.attributes])
    done: Update = update_list(present, _cells(columns, rows), table, drop_missing=drop)
    told = {**vars(done), "code_list": done.code_list.model_copy(update={"table": table if table.name else None})}
    return ListUpdateOut.model_validate({**told, "changed": [asdict(c) for c in done.changed]}, from_attributes=True)


def levelled(columns: list[str], rows: list[list[str]], levels: list[Level], language: str) -> list[CodeList]:
    """A list for each level of a tree that stands in rows."""
    _known_columns(columns, [name for level in levels for name in (level.label, level.code)])
    return lists_of_levels(_cells(columns, rows), levels, language)


def _known_columns(columns: list[str], wanted: list[str]) -> None:
    unknown = next((name for name in wanted if name and name not in columns), None)
    if unknown is not None:
        message = f"The table has no column “{unknown}” any more. It has: {', '.join(columns[:20])}."
        raise Refused("no_such_column", message, {"column": unknown})


def _cells(columns: list[str], rows: list[list[str]]) -> list[dict[str, str | None]]:
    return [dict(zip(columns, row, strict=False)) for row in rows]
