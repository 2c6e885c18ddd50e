"""Raw tables brought forward: the same as made from nothing, through arrivals, decisions, releases and restarts."""

from __future__ import annotations

import json
import time
import uuid
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import polars as pl
import pytest
from polars.testing import assert_frame_equal
from sqlalchemy import select

from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import Script
from skavo.store import raw_frames
from skavo.store.database import Store
from skavo.store.handin import from_device, hand_in, read_arrival
from skavo.store.laying import columns_again, let_count
from skavo.store.models import Device, Event, Interview, Questionnaire, Release, Revision, Study, now
from skavo.store.raw_frames import RawFrames
from tests.samples import part, staff_script


def add_release(store: Store, script: Script, number: int) -> str:
    compiled = compile_script(script).release
    assert compiled is not None
    digest = content_hash(compiled)
    with store.session() as session:
        session.add(
            Release(
                questionnaire_id=1, number=number, hash=digest, compiled=compiled, script=script.model_dump(mode="json")
            )
        )
    return digest


@pytest.fixture
def study(store: Store) -> tuple[Store, str]:
    with store.session() as session:
        session.add(Study(title="Sample"))
        session.flush()
        session.add(Questionnaire(study_id=1, title="Sample", script={}))
        session.add(Device(study_id=1, name="phone", enumerator="Ilse Varn", token_hash="x"))
    return store, add_release(store, staff_script(), 1)


def arrive(store: Store, release: str, count: int, **answers: Any) -> None:
    moment = now().isoformat()
    with store.session() as session:
        device = session.get_one(Device, 1)
        for _ in range(count):
            document = {
                "uuid": str(uuid.uuid4()), "release": release, "answers": {"consent": True, **answers},
                "paradata": {"started": moment, "ended": moment},
            }  # fmt: skip
            arrival = read_arrival(session, from_device(device), document["uuid"], json.dumps(document).encode())
            hand_in(session, from_device(device), arrival)


def tables(store: Store, frames: RawFrames) -> dict[str, pl.DataFrame]:
    with store.reading() as session:
        return {name: table.frame for name, table in frames.data_set(session, 1).data.items()}


def same(left: dict[str, pl.DataFrame], right: dict[str, pl.DataFrame]) -> None:
    assert list(left) == list(right)
    for name, frame in left.items():
        assert_frame_equal(frame, right[name])


def test_brought_forward_is_the_same_as_made_from_nothing(study: tuple[Store, str], tmp_path: Path) -> None:
    store, release = study
    frames = RawFrames(tmp_path / "a")
    for count, workers in ((3, 2), (1, 0), (4, 1)):
        arrive(store, release, count, workers=workers)
        same(tables(store, frames), tables(store, RawFrames(tmp_path / f"b{workers}")))
    assert tables(store, frames)["staff"].height == 3 * 2 + 4


def test_an_interview_set_aside_is_out_and_comes_back(study: tuple[Store, str], tmp_path: Path) -> None:
    store, release = study
    arrive(store, release, 3, workers=1)
    frames = RawFrames(tmp_path)
    before = tables(store, frames)
    for state, height in (("set aside", 2), ("accepted", 3)):
        with store.session() as session:
            interview = session.scalars(select(Interview).where(Interview.number == 2)).one()
            interview.state = state
            session.add(Event(study_id=1, interview_id=interview.id, kind=state, by="x"))
        now_there = tables(store, frames)
        assert (now_there["interviews"].height, now_there["staff"].height) == (height, height)
    assert now_there["interviews"]["interview.state"].to_list() == ["arrived", "accepted", "arrived"]
    assert now_there["interviews"]["interview.key"].to_list() == before["interviews"]["interview.key"].to_list()


def test_practice_never_counts(study: tuple[Store, str], tmp_path: Path) -> None:
    store, release = study
    arrive(store, release, 1)
    with store.session() as session:
        session.scalars(select(Interview)).one().practice = True
    assert tables(store, RawFrames(tmp_path))["interviews"].height == 0


def test_a_new_release_gives_its_variables_to_all(study: tuple[Store, str], tmp_path: Path) -> None:
    store, first = study
    frames = RawFrames(tmp_path)
    arrive(store, first, 2)
    tables(store, frames)
    script = staff_script()
    script.parts.append(part(1, "text", "wish"))
    second = add_release(store, script, 2)
    arrive(store, second, 1, wish="rain")
    interviews = tables(store, frames)["interviews"]
    assert interviews["wish"].to_list() == [None, None, "rain"]
    assert interviews["wish?"].to_list() == ["not_asked", "not_asked", None]
    assert interviews["interview.release"].to_list() == [1, 1, 2]


def test_a_folder_that_takes_no_files_keeps_nobody_from_the_data(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As on a full disk: what was decided is decided, and the answer to it comes."""
    store, release = study
    monkeypatch.setattr(raw_frames, "_WRITE_AFTER", 1)
    (tmp_path / "1").write_bytes(b"")
    arrive(store, release, 2, workers=2)
    assert tables(store, RawFrames(tmp_path))["interviews"].height == 2


def test_the_files_are_a_cache_that_is_used_and_may_be_lost(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    monkeypatch.setattr(raw_frames, "_WRITE_AFTER", 1)
    arrive(store, release, 4, workers=2)
    before = tables(store, RawFrames(tmp_path))
    read: list[int] = []
    real = raw_frames._new_documents

    def counted(session: Any, questionnaire_id: int, after: int) -> Any:
        for batch in real(session, questionnaire_id, after):
            read.append(len(batch))
            yield batch

    monkeypatch.setattr(raw_frames, "_new_documents", counted)
    same(tables(store, RawFrames(tmp_path)), before)
    assert read == []
    arrive(store, release, 1, workers=1)
    assert tables(store, RawFrames(tmp_path))["interviews"].height == 5
    assert read == [1]
    (tmp_path / "1" / "about.json").write_text("{", encoding="utf-8")
    assert tables(store, RawFrames(tmp_path))["interviews"].height == 5
    assert read == [1, 5]


def test_many_interviews_are_read_in_batches(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    arrive(store, release, 7)
    monkeypatch.setattr(raw_frames, "BATCH", 3)
    keys = tables(store, RawFrames(tmp_path))["interviews"]["interview.key"].to_list()
    assert keys == [f"{n:04d}" for n in range(1, 8)]


def laid_out_again(store: Store, number: int) -> None:
    with store.session() as session:
        interview = session.scalars(select(Interview).where(Interview.number == number)).one()
        revision = session.scalars(select(Revision).where(Revision.interview_id == interview.id)).one()
        let_count(session, interview, revision, columns_again(session, interview, revision))


def test_one_that_was_laid_out_again_stays_in_its_place(study: tuple[Store, str], tmp_path: Path) -> None:
    store, release = study
    arrive(store, release, 4, workers=1)
    frames = RawFrames(tmp_path / "kept")
    tables(store, frames)
    laid_out_again(store, 2)
    kept, made = tables(store, frames), tables(store, RawFrames(tmp_path / "made"))
    same(kept, made)
    assert made["interviews"]["interview.key"].to_list() == ["0001", "0002", "0003", "0004"]
    assert made["staff"]["interview.key"].to_list() == ["0001", "0002", "0003", "0004"]


def test_frames_of_another_version_are_made_again(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    monkeypatch.setattr(raw_frames, "_WRITE_AFTER", 1)
    arrive(store, release, 2, workers=1)
    tables(store, RawFrames(tmp_path))
    monkeypatch.setattr(raw_frames, "_FRAMES", raw_frames._FRAMES + 1)
    pl.DataFrame({"spoiled": [1]}).write_parquet(tmp_path / "1" / "staff.parquet")
    assert tables(store, RawFrames(tmp_path))["staff"].height == 2


def test_an_interview_is_told_by_who_made_it_when_and_in_which_language(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    arrive(store, release, 2)
    with store.session() as session:
        first, second = session.scalars(select(Interview).order_by(Interview.number))
        first.started_at = datetime(2027, 3, 14, 23, 30, tzinfo=UTC)
        first.minutes, first.language, first.enumerator = 12.5, "fr", "Mira Tole"
        second.started_at = second.minutes = None
    # The clock of the machine that serves has no part in it.
    monkeypatch.setenv("TZ", "Etc/GMT-9")
    time.tzset()
    try:
        rows = tables(store, RawFrames(tmp_path))["interviews"].to_dicts()
    finally:
        monkeypatch.delenv("TZ")
        time.tzset()
    told = [
        {name: row[f"interview.{name}"] for name in ("enumerator", "started", "minutes", "language")} for row in rows
    ]
    assert told == [
        {"enumerator": "Mira Tole", "started": datetime(2027, 3, 14, 23, 30), "minutes": 12.5, "language": "fr"},
        {"enumerator": "Ilse Varn", "started": None, "minutes": None, "language": "en"},
    ]


def test_interviews_of_another_questionnaire_are_of_no_account(study: tuple[Store, str], tmp_path: Path) -> None:
    store, release = study
    arrive(store, release, 2, workers=1)
    script = staff_script()
    script.name = "other"
    compiled = compile_script(script).release
    assert compiled is not None
    with store.session() as session:
        session.add(Questionnaire(study_id=1, title="Other", script={}))
        session.flush()
        other = Release(questionnaire_id=2, number=1, hash="ef" * 32, compiled=compiled, script={})
        session.add(other)
        session.flush()
        moved = session.scalars(select(Interview).where(Interview.number == 2)).one()
        moved.questionnaire_id, moved.release_id = 2, other.id
    frames = RawFrames(tmp_path)
    with store.reading() as session:
        one, two = (frames.data_set(session, number).data["interviews"].frame for number in (1, 2))
    assert (one["interview.key"].to_list(), two["interview.key"].to_list()) == (["0001"], ["0002"])


def test_what_cannot_be_read_is_left_out_until_it_can(study: tuple[Store, str], tmp_path: Path) -> None:
    store, release = study
    arrive(store, release, 2)
    with store.session() as session:
        session.scalars(select(Interview).where(Interview.number == 1)).one().problem = "no_json"
    assert tables(store, RawFrames(tmp_path))["interviews"]["interview.key"].to_list() == ["0002"]


@pytest.fixture
def misfit(monkeypatch: pytest.MonkeyPatch) -> set[str]:
    """The keys of interviews that no table takes."""
    keys: set[str] = set()
    real = raw_frames.build_data_set

    def strict(layouts: Any, documents: Any) -> Any:
        held = list(documents)
        if any(document["facts"]["interview.key"] in keys for document in held):
            raise ValueError("does not fit")
        return real(layouts, held)

    monkeypatch.setattr(raw_frames, "build_data_set", strict)
    return keys


def failed(store: Store, frames: RawFrames) -> set[str]:
    with store.reading() as session:
        return set(frames.data_set(session, 1).failed)


def test_one_that_does_not_fit_takes_no_other_down(
    study: tuple[Store, str], tmp_path: Path, misfit: set[str], caplog: pytest.LogCaptureFixture
) -> None:
    store, release = study
    misfit |= {"0002", "0005"}
    arrive(store, release, 5, workers=1)
    frames = RawFrames(tmp_path)
    found = tables(store, frames)
    for table in ("interviews", "staff"):
        assert found[table]["interview.key"].to_list() == ["0001", "0003", "0004"]
    assert failed(store, frames) == {"0002", "0005"}
    assert [record.getMessage() for record in caplog.records if record.name == "skavo"] == [
        "interview 0002 does not fit into the data set: ValueError",
        "interview 0005 does not fit into the data set: ValueError",
    ]
    arrive(store, release, 1)
    assert tables(store, frames)["interviews"].height == 4 and failed(store, frames) == {"0002", "0005"}
    misfit.clear()
    laid_out_again(store, 5)
    assert tables(store, frames)["interviews"]["interview.key"].to_list() == ["0001", "0003", "0004", "0005", "0006"]
    assert failed(store, frames) == {"0002"}


def test_one_that_does_not_fit_is_still_named_after_a_restart(
    study: tuple[Store, str], tmp_path: Path, misfit: set[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    monkeypatch.setattr(raw_frames, "_WRITE_AFTER", 2)
    misfit.add("0001")
    arrive(store, release, 2)
    assert failed(store, RawFrames(tmp_path / "new" / "cache")) == {"0001"}
    assert failed(store, RawFrames(tmp_path / "new" / "cache")) == {"0001"}
    with store.session() as session:
        session.scalars(select(Interview).where(Interview.number == 1)).one().state = "set aside"
    assert failed(store, RawFrames(tmp_path / "new" / "cache")) == set()


def test_tables_are_written_once_enough_is_new(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    monkeypatch.setattr(raw_frames, "_WRITE_AFTER", 3)
    about = tmp_path / "1" / "about.json"
    frames = RawFrames(tmp_path)
    written = []
    for count in (1, 1, 1, 2, 1):
        arrive(store, release, count)
        tables(store, frames)
        written.append(json.loads(about.read_text())["laid_at"] if about.exists() else None)
    assert written[:2] == [None, None] and written[2] is not None
    assert written[3] == written[2] and written[4] > written[3]


def test_a_cache_that_broke_off_while_it_was_written_is_not_read(
    study: tuple[Store, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store, release = study
    monkeypatch.setattr(raw_frames, "_WRITE_AFTER", 1)
    arrive(store, release, 2, workers=1)
    frames = RawFrames(tmp_path)
    tables(store, frames)

    def breaks_off(self: pl.DataFrame, path: Path, **how: Any) -> None:
        raise OSError("no space left")

    arrive(store, release, 1, workers=1)
    with monkeypatch.context() as broken:
        broken.setattr(pl.DataFrame, "write_parquet", breaks_off)
        assert tables(store, frames)["interviews"].height == 3
    assert not (tmp_path / "1" / "about.json").exists()
    assert tables(store, RawFrames(tmp_path))["interviews"].height == 3
