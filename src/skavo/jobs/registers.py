"""Jobs over a register: units from a file and into one, and what follows from their answers brought up to date."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Sequence
from datetime import timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import SkavoError
from skavo.core.register.bring_in import Judge, Judged, Known, coming_in
from skavo.core.register.form import UnitForm
from skavo.core.register.narrowing import Narrowing
from skavo.formats.csv_files import safe_text
from skavo.formats.units_in import UnitsFile, read_units
from skavo.formats.units_out import UnitOut, write_units
from skavo.jobs.runner import Progress
from skavo.store.counters import counter, raise_counter
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.files import keep_file, read_file
from skavo.store.models import Event, Study, Unit, now
from skavo.store.registers import By, KindHere, kinds_of, put_rows, reckoned_columns, register_counter

BRINGING_IN, TAKING_OUT = "bringing in units", "taking out units"
RECKONING, RECKONING_DAILY = "reckoning units", "reckoning units daily"
RECKONED_EVERY = timedelta(days=1)
_TOLD = 500
_ATTEMPTS = 3
_BATCH = 2_000


def bring_in_units(store: Store, _sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {study_id, file, name, kind, columns, empties, doubtful, trial, by, by_id}.

    `file` is the hash of the file, `kind` the kind of all rows or 0 where a column names it, `columns` what each column
    is. A trial tells what would become of every row and keeps nothing; else doubtful rows come in if `doubtful` is set.
    The result counts the rows by verdict and tells the first that are not the same as before; the file lists them all.
    """
    progress.say(0.02, "Reading the file")
    file = read_units(order["name"], read_file(store.files, order["file"]))
    for _ in range(_ATTEMPTS):
        with store.reading() as session:
            stands = counter(session, register_counter(order["study_id"]))
            every = kinds_of(session, order["study_id"])
            registered = _registered(session, order["study_id"])
        kinds = [kind for kind in every if kind.id == order["kind"]] if order["kind"] else every
        judge = Judge(kinds, order["columns"], registered, at=now(), empties=order["empties"])
        judged = judge.judge(
            file.rows, lambda at: progress.say(0.1 + 0.6 * at / len(file.rows), "Looking at every row")
        )
        result = _told(store, file, judged, {kind.id: kind for kind in every})
        if order["trial"]:
            return result
        progress.say(0.75, "Writing them down")
        coming = coming_in(judged, doubtful=order["doubtful"])
        with store.session() as session:
            if counter(session, register_counter(order["study_id"])) != stands:
                continue
            by = By(order["by"], order["by_id"], "file", {"file": order["name"]})
            done = put_rows(session, {kind.id: kind for kind in every}, coming, by)
            detail = {"file": order["name"], **done}
            event = Event(
                study_id=order["study_id"], kind="units brought in", by=by.name, by_id=by.person_id, detail=detail
            )
            session.add(event)
        return {**result, **done}
    raise SkavoError(
        "register_busy", "The register kept changing while the rows were looked at. Bring the file in again."
    )


def _registered(session: Session, study_id: int) -> dict[tuple[int, str], Known]:
    columns = (Unit.kind_id, Unit.key, Unit.id, Unit.answers, Unit.above_id, Unit.latitude, Unit.longitude)
    rows = session.execute(select(*columns).where(Unit.study_id == study_id)).tuples()
    return {
        (kind, key): Known(
            unit_id, answers, above, (latitude, longitude) if latitude is not None and longitude is not None else None
        )
        for kind, key, unit_id, answers, above, latitude, longitude in rows
    }


def _told(store: Store, file: UnitsFile, judged: Sequence[Judged], kinds: dict[int, KindHere]) -> dict[str, Any]:
    counts = Counter(one.verdict for one in judged)
    order = {"wrong": 0, "doubtful": 1, "changed": 2, "new": 3}
    worth = sorted((one for one in judged if one.verdict != "same"), key=lambda one: order[one.verdict])
    report = io.StringIO()
    writer = csv.writer(report)
    writer.writerow(["row", "verdict", "column", "found", "what"])
    cells = dict(file.rows)
    for one in judged:
        for doubt in one.doubts:
            found = cells[one.row].get(doubt.column, "")
            writer.writerow([one.row, one.verdict, safe_text(doubt.column), safe_text(found), safe_text(doubt.text)])
    content = ("\ufeff" + report.getvalue()).encode()
    return {
        "rows": len(judged), "counts": dict(counts), "told": [_row(one, kinds) for one in worth[:_TOLD]],
        "untold": max(0, len(worth) - _TOLD), "file": keep_file(store.files, content), "name": "rows to look at.csv",
        "bytes": len(content),
    }  # fmt: skip


def _row(one: Judged, kinds: dict[int, KindHere]) -> dict[str, Any]:
    kind = kinds.get(one.kind_id)
    return {
        "row": one.row, "verdict": one.verdict, "key": one.key, "label": one.label,
        "kind": kind.title if kind is not None else "", "moves": one.moves,
        "doubts": [{"column": doubt.column, "text": doubt.text} for doubt in one.doubts],
        "changes": [] if kind is None else _changes(kind.form, one),
    }  # fmt: skip


def _changes(form: UnitForm, one: Judged) -> list[dict[str, str]]:
    """What changes in a unit that is there already, in words."""
    if one.unit_id is None:
        return []
    at = now()
    return [
        {"field": part.variable, "before": form.words(part, before, at), "after": form.words(part, after, at)}
        for part_id, (before, after) in one.changes.items()
        if (part := form.by_id.get(part_id)) is not None
    ]


def take_out_units(store: Store, data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {study_id, narrowing, format, masked}; the result names the file in the store."""
    narrowing = Narrowing.model_validate(order["narrowing"])
    with store.reading() as session:
        register = data_sets.registers.of(session, order["study_id"], held=True)
        title = session.get_one(Study, order["study_id"]).title
    kinds = list(register.kinds.values())
    hidden = frozenset(part_id for kind in kinds for part_id in kind.hidden) if order["masked"] else frozenset()
    meant = register.meant(narrowing, hidden)
    keys = {unit.id: unit.key for unit in register.units}
    progress.say(0.2, "Writing the file")
    held = register.held or {}
    units = [
        UnitOut(unit.kind_id, unit.key, keys.get(unit.above_id or 0, ""), unit.closed_at is not None, held[unit.id])
        for unit, wanted in zip(register.units, meant, strict=True)
        if wanted
    ]
    used = {unit.kind_id for unit in units}
    content = write_units(order["format"], [kind for kind in kinds if kind.id in used], hidden, units)
    progress.say(0.9, "Keeping it")
    digest = keep_file(store.files, content)
    name = f"{title} register.{order['format']}"
    return {"file": digest, "name": name, "bytes": len(content), "rows": {"units": len(units)}}


def reckon_units(store: Store, _sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """What follows from units' answers by fields released since, or by another day, is worked out again.

    `order` is {study_id} or empty for all studies, as it comes round every day.
    """
    with store.reading() as session:
        wanted = [order["study_id"]] if order else list(session.scalars(select(Study.id)))
        kinds = [kind for study_id in wanted for kind in kinds_of(session, study_id)]
    reckoned = 0
    for number, kind in enumerate(kinds):
        progress.say(number / len(kinds), kind.title)
        reckoned += _reckon(store, kind)
    return {"units": reckoned}


def _reckon(store: Store, kind: KindHere) -> int:
    """Bring the units of a kind up to date; how many had changed."""
    changed, last = 0, 0
    while True:
        wanted = select(Unit).where(Unit.kind_id == kind.id, Unit.id > last).order_by(Unit.id).limit(_BATCH)
        if not kind.form.asks_for_the_day:
            wanted = wanted.where(Unit.release_id.is_distinct_from(kind.release_id))
        with store.reading() as session:
            units = list(session.scalars(wanted))
        if not units:
            return changed
        last = units[-1].id
        at = now()
        found = {
            unit.id: (unit.version, reckoned_columns(kind, unit.answers, kind.form.reckon(unit.answers, at)))
            for unit in units
        }
        different = [
            unit.id for unit in units if any(getattr(unit, name) != value for name, value in found[unit.id][1].items())
        ]
        if not different:
            continue
        with store.session() as session:
            stands = raise_counter(session, register_counter(kind.study_id))
            for unit in session.scalars(select(Unit).where(Unit.id.in_(different))):
                version, columns = found[unit.id]
                # One that somebody has changed meanwhile was reckoned then.
                if unit.version == version:
                    for name, value in columns.items():
                        setattr(unit, name, value)
                    unit.changed = stands
                    changed += 1
