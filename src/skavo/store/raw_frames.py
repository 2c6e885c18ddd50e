"""The raw interviews of a questionnaire as typed tables, brought forward by what is new and kept as Parquet.

The files are a cache: thrown away, they are made again from the interviews.
"""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC
from pathlib import Path
from typing import Any

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from skavo.core.dataset.flatten import DataSet, Table, build_data_set
from skavo.core.dataset.layout import INTERVIEWS, KEY, TableLayout, layout_of
from skavo.store.handin import loaded_release
from skavo.store.models import Interview, Release

STATE = "interview.state"
BATCH = 5_000
_WRITE_AFTER = 1_000


@dataclass
class _Frames:
    """`releases` are those the layout was made of, `last_id` the newest interview within."""

    releases: tuple[str, ...]
    last_id: int = 0
    frames: dict[str, pl.DataFrame] = field(default_factory=dict)
    written: int = 0


class RawFrames:
    """Keeps the frames of each questionnaire in memory and in `folder`."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._known: dict[int, _Frames] = {}
        self._lock = threading.Lock()

    def data_set(self, session: Session, questionnaire_id: int) -> DataSet:
        """All interviews but practice and those set aside, each with its state as it is now."""
        query = select(Release).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number)
        releases = list(session.scalars(query.options(defer(Release.compiled), defer(Release.script))))
        layouts = layout_of([loaded_release(release) for release in releases])
        with self._lock:
            held = self._held(questionnaire_id, tuple(release.hash for release in releases))
            for documents in _new_documents(session, questionnaire_id, held.last_id):
                self._append(held, layouts, documents)
            if held.last_id - held.written >= _WRITE_AFTER:
                self._write(questionnaire_id, held)
            frames = held.frames or {n: t.frame for n, t in build_data_set(layouts, []).items()}
            return _with_states(session, questionnaire_id, layouts, frames)

    def _held(self, questionnaire_id: int, releases: tuple[str, ...]) -> _Frames:
        held = self._known.get(questionnaire_id) or self._read(questionnaire_id)
        if held is None or held.releases != releases:
            held = _Frames(releases)
        self._known[questionnaire_id] = held
        return held

    def _append(self, held: _Frames, layouts: dict[str, TableLayout], documents: list[dict[str, Any]]) -> None:
        held.last_id = max(document["id"] for document in documents)
        for name, table in build_data_set(layouts, documents).items():
            known = held.frames.get(name)
            held.frames[name] = table.frame if known is None else known.vstack(table.frame)

    def _read(self, questionnaire_id: int) -> _Frames | None:
        folder = self.folder / str(questionnaire_id)
        try:
            about = json.loads((folder / "about.json").read_text(encoding="utf-8"))
            frames = {name: pl.read_parquet(folder / f"{name}.parquet") for name in about["tables"]}
        except (OSError, ValueError, KeyError, pl.exceptions.PolarsError):
            return None
        return _Frames(tuple(about["releases"]), about["last_id"], frames, about["last_id"])

    def _write(self, questionnaire_id: int, held: _Frames) -> None:
        folder = self.folder / str(questionnaire_id)
        folder.mkdir(parents=True, exist_ok=True)
        # Without its description the cache is not read: it goes first and comes back last.
        (folder / "about.json").unlink(missing_ok=True)
        for name, frame in held.frames.items():
            frame.rechunk().write_parquet(folder / f"{name}.parquet")
        about = {"releases": held.releases, "last_id": held.last_id, "tables": list(held.frames)}
        (folder / "about.json").write_text(json.dumps(about), encoding="utf-8")
        held.written = held.last_id


def _with_states(
    session: Session, questionnaire_id: int, layouts: dict[str, TableLayout], frames: dict[str, pl.DataFrame]
) -> DataSet:
    query = select(Interview.number, Interview.state).where(
        Interview.questionnaire_id == questionnaire_id, Interview.practice.is_(False), Interview.state != "set aside"
    )
    rows = [(f"{number:04d}", state) for number, state in session.execute(query)]
    states = pl.DataFrame(rows, schema={KEY: pl.String, STATE: pl.String}, orient="row")
    kept = {name: frame.join(states.select(KEY), on=KEY, how="semi") for name, frame in frames.items()}
    interviews = kept[INTERVIEWS]
    order = interviews.columns
    kept[INTERVIEWS] = interviews.drop(STATE).join(states, on=KEY, how="left", maintain_order="left").select(order)
    return {name: Table(layout, kept[name]) for name, layout in layouts.items()}


def _new_documents(session: Session, questionnaire_id: int, after: int) -> Iterator[list[dict[str, Any]]]:
    """Interviews with an id above `after`, in batches, as build_data_set wants them."""
    columns = (
        Interview.id, Interview.number, Interview.state, Interview.enumerator, Interview.started_at,
        Interview.minutes, Interview.language, Interview.laid_out, Release.number.label("release"),
    )  # fmt: skip
    of_one = (Interview.questionnaire_id == questionnaire_id, Interview.practice.is_(False))
    joined = select(*columns).join(Release, Interview.release_id == Release.id).where(*of_one)
    while batch := session.execute(joined.where(Interview.id > after).order_by(Interview.id).limit(BATCH)).all():
        yield [_document(row) for row in batch]
        after = batch[-1].id


def _document(row: Any) -> dict[str, Any]:
    return {
        "id": row.id,
        "facts": {
            KEY: f"{row.number:04d}",
            STATE: row.state,
            "interview.release": row.release,
            "interview.enumerator": row.enumerator,
            "interview.started": row.started_at.astimezone(UTC).replace(tzinfo=None) if row.started_at else None,
            "interview.minutes": row.minutes,
            "interview.language": row.language,
        },
        "tables": row.laid_out,
    }
