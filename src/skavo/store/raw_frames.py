"""The raw interviews of a questionnaire as typed tables, brought forward by what is new and kept as Parquet.

The files are a cache: thrown away, they are made again from the interviews.
"""

from __future__ import annotations

import json
import logging
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC
from itertools import islice
from pathlib import Path
from typing import Any

import polars as pl
from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from skavo.core.dataset.flatten import DataSet, Table, build_data_set
from skavo.core.dataset.layout import INTERVIEWS, KEY, TableLayout, layout_of, roster_names, tables_by_now
from skavo.core.dataset.senses import in_their_sense, senses_of
from skavo.store.laying import LAID_BY, loaded_release
from skavo.store.models import Interview, Release

log = logging.getLogger("skavo")
STATE = "interview.state"
BATCH = 5_000
_WRITE_AFTER = 1_000
# Raised by whoever changes how frames are made; frames of another version are not read.
_FRAMES = 6
_Documents = list[dict[str, Any]]


@dataclass
class _Frames:
    """`releases` are those the layout was made of; interviews laid out up to `laid_at` are within.

    `failed` names interviews that do not fit into the tables.
    """

    releases: tuple[str, ...]
    laid_at: int = 0
    frames: dict[str, pl.DataFrame] = field(default_factory=dict)
    failed: set[str] = field(default_factory=set)
    unwritten: int = 0


@dataclass(frozen=True)
class RawDataSet:
    """`data` holds every interview that counts, but those of `failed`, which do not fit into its tables."""

    data: DataSet
    failed: frozenset[str]


class RawFrames:
    """Keeps the frames of each questionnaire in memory and in `folder`; whoever asks for the same one takes turns."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._known: dict[int, _Frames] = {}

    def data_set(self, session: Session, questionnaire_id: int) -> RawDataSet:
        """All interviews that are laid out, but practice and those set aside, each with its state as it is now."""
        layouts, held = self._brought_forward(session, questionnaire_id)
        self._keep(questionnaire_id, held)
        held.frames = {name: frame.rechunk() for name, frame in held.frames.items()}
        frames = held.frames or {n: t.frame for n, t in build_data_set(layouts, []).items()}
        counting = _states(session, questionnaire_id)
        return RawDataSet(_with_states(layouts, frames, counting), frozenset(held.failed.intersection(counting[KEY])))

    def waiting(self, session: Session, questionnaire_id: int) -> int:
        """How many interviews are laid out and not in the tables yet."""
        releases = select(Release).where(Release.questionnaire_id == questionnaire_id, Release.practice.is_(False))
        identities = [release.identity for release in session.scalars(releases.order_by(Release.number))]
        held = self._held(questionnaire_id, tuple(identities))
        return session.scalar(_count_new(questionnaire_id, held.laid_at)) or 0

    def bring_forward(self, session: Session, questionnaire_id: int) -> None:
        """Put one batch of interviews that are not there yet into the tables."""
        _, held = self._brought_forward(session, questionnaire_id, batches=1)
        self._keep(questionnaire_id, held)

    def _brought_forward(
        self, session: Session, questionnaire_id: int, batches: int | None = None
    ) -> tuple[dict[str, TableLayout], _Frames]:
        query = (
            select(Release)
            .where(Release.questionnaire_id == questionnaire_id, Release.practice.is_(False))
            .order_by(Release.number)
        )
        releases = list(session.scalars(query))
        loaded = [loaded_release(release) for release in releases]
        layouts, rosters = layout_of(loaded), roster_names(loaded)
        numbers = [release.number for release in releases]
        by_number = dict(zip(numbers, loaded, strict=True))
        senses = dict(zip(numbers, senses_of(loaded), strict=True))
        held = self._held(questionnaire_id, tuple(release.identity for release in releases))
        for documents in islice(_new_documents(session, questionnaire_id, held.laid_at), batches):
            for document in documents:
                number = document["facts"]["interview.release"]
                tables = in_their_sense(document["tables"], senses[number])
                document["tables"] = tables_by_now(by_number[number], rosters, tables)
            _bring_forward(held, layouts, documents)
        return layouts, held

    def _keep(self, questionnaire_id: int, held: _Frames) -> None:
        if held.unwritten >= _WRITE_AFTER:
            try:
                self._write(questionnaire_id, held)
            except (OSError, pl.exceptions.PolarsError) as error:
                # Whoever asks has what they asked for; without the file only a restart takes longer.
                log.warning(
                    "the tables of questionnaire %s could not be kept: %s", questionnaire_id, type(error).__name__
                )

    def _held(self, questionnaire_id: int, releases: tuple[str, ...]) -> _Frames:
        held = self._known.get(questionnaire_id) or self._read(questionnaire_id)
        if held is None or held.releases != releases:
            held = _Frames(releases)
        self._known[questionnaire_id] = held
        return held

    def _read(self, questionnaire_id: int) -> _Frames | None:
        folder = self.folder / str(questionnaire_id)
        try:
            about = json.loads((folder / "about.json").read_text(encoding="utf-8"))
            if about["made_by"] != [_FRAMES, LAID_BY]:
                return None
            frames = {name: read_frame(folder / f"{name}.parquet") for name in about["tables"]}
            return _Frames(tuple(about["releases"]), about["laid_at"], frames, set(about["failed"]))
        except (OSError, ValueError, KeyError, TypeError, pl.exceptions.PolarsError):
            return None

    def _write(self, questionnaire_id: int, held: _Frames) -> None:
        folder = self.folder / str(questionnaire_id)
        folder.mkdir(parents=True, exist_ok=True)
        # Without its description the cache is not read: it goes first and comes back last.
        (folder / "about.json").unlink(missing_ok=True)
        for name, frame in held.frames.items():
            write_frame(frame, folder / f"{name}.parquet")
        about = {
            "made_by": [_FRAMES, LAID_BY], "releases": held.releases, "laid_at": held.laid_at,
            "failed": sorted(held.failed), "tables": list(held.frames),
        }  # fmt: skip
        (folder / "about.json").write_text(json.dumps(about), encoding="utf-8")
        held.unwritten = 0


def write_frame(frame: pl.DataFrame, path: Path) -> None:
    """Keep a frame so that each of its columns is read back in one piece: in pieces, the first step that changes one
    column would copy all of them."""
    frame.rechunk().write_parquet(path, row_group_size=max(frame.height, 1))


def read_frame(path: Path) -> pl.DataFrame:
    """A frame that was kept by `write_frame`; its columns come one after the other, which takes less room than all at
    once."""
    return pl.DataFrame([pl.read_parquet(path, columns=[name])[name] for name in pl.read_parquet_schema(path)])


def _bring_forward(held: _Frames, layouts: dict[str, TableLayout], documents: _Documents) -> None:
    """Put `documents` into the frames: new ones behind the others, those laid out again in their old place."""
    frames, failed = _tabulated(layouts, documents)
    keys = {str(document["facts"][KEY]) for document in documents}
    known = set(held.frames[INTERVIEWS][KEY].to_list()) if held.frames else set()
    merged = {}
    for name, frame in frames.items():
        before = held.frames.get(name)
        if before is not None and known & keys:
            before = before.filter(~pl.col(KEY).is_in(list(keys)))
        merged[name] = frame if before is None else before.vstack(frame)
    # They come in the order they were laid out; the tables are in that of the interviews' numbers.
    numbers = [max(map(int, known), default=0), *(int(document["facts"][KEY]) for document in documents)]
    if numbers != sorted(numbers):
        merged = {n: f.sort(pl.col(KEY).cast(pl.Int64), maintain_order=True) for n, f in merged.items()}
    held.frames = merged
    held.failed = (held.failed - keys) | failed
    held.laid_at = max(document["laid_at"] for document in documents)
    held.unwritten += len(documents)


def _tabulated(layouts: dict[str, TableLayout], documents: _Documents) -> tuple[dict[str, pl.DataFrame], set[str]]:
    """The frames of `documents`; one that does not fit is left out and named, and takes no other down."""
    try:
        return _frames(layouts, documents), set()
    except Exception as error:
        if len(documents) == 1:
            key = str(documents[0]["facts"][KEY])
            log.warning("interview %s does not fit into the data set: %s", key, type(error).__name__)
            return _frames(layouts, []), {key}
    half = len(documents) // 2
    left, failed_left = _tabulated(layouts, documents[:half])
    right, failed_right = _tabulated(layouts, documents[half:])
    return {name: frame.vstack(right[name]) for name, frame in left.items()}, failed_left | failed_right


def _frames(layouts: dict[str, TableLayout], documents: Iterable[dict[str, Any]]) -> dict[str, pl.DataFrame]:
    return {name: table.frame for name, table in build_data_set(layouts, documents).items()}


def _states(session: Session, questionnaire_id: int) -> pl.DataFrame:
    """Key and state of every interview that counts."""
    query = select(Interview.number, Interview.state).where(
        Interview.questionnaire_id == questionnaire_id, Interview.practice.is_(False),
        Interview.state != "set aside", Interview.problem == "",
    )  # fmt: skip
    rows = [(f"{number:04d}", state) for number, state in session.execute(query)]
    return pl.DataFrame(rows, schema={KEY: pl.String, STATE: pl.Categorical}, orient="row")


def _with_states(layouts: dict[str, TableLayout], frames: dict[str, pl.DataFrame], states: pl.DataFrame) -> DataSet:
    kept = {name: _those_of(frame, states) for name, frame in frames.items()}
    interviews = kept[INTERVIEWS]
    now = interviews.select(KEY).join(states, on=KEY, how="left", maintain_order="left")[STATE]
    kept[INTERVIEWS] = interviews.with_columns(now)
    return {name: Table(layout, kept[name]) for name, layout in layouts.items()}


def _those_of(frame: pl.DataFrame, states: pl.DataFrame) -> pl.DataFrame:
    """The rows of interviews that count; the same columns and no copy of them where all do."""
    counts = frame.select(pl.col(KEY).is_in(states[KEY].to_list()))[KEY]
    return frame if counts.all() else frame.filter(counts)


def _count_new(questionnaire_id: int, after: int) -> Select[int]:
    return select(func.count()).where(
        Interview.questionnaire_id == questionnaire_id, Interview.practice.is_(False), Interview.problem == "",
        Interview.laid_at > after,
    )  # fmt: skip


def _new_documents(session: Session, questionnaire_id: int, after: int) -> Iterator[_Documents]:
    """Interviews laid out after `after`, in batches, as build_data_set wants them."""
    columns = (
        Interview.laid_at, Interview.number, Interview.state, Interview.enumerator, Interview.started_at,
        Interview.minutes, Interview.language, Interview.laid_out, Release.number.label("release"),
    )  # fmt: skip
    of_one = (Interview.questionnaire_id == questionnaire_id, Interview.practice.is_(False), Interview.problem == "")
    joined = select(*columns).join(Release, Interview.release_id == Release.id).where(*of_one)
    while batch := session.execute(
        joined.where(Interview.laid_at > after).order_by(Interview.laid_at).limit(BATCH)
    ).all():
        yield [_document(row) for row in batch]
        after = batch[-1].laid_at


def _document(row: Any) -> dict[str, Any]:
    return {
        "laid_at": row.laid_at,
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
