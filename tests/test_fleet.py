"""Simulated phones: days of fieldwork through the real interface, in any study, and the demo's that go on by themselves."""

from __future__ import annotations

import time
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from sqlalchemy import func, select

from skavo.core.errors import DataError
from skavo.demo.build import build_study
from skavo.demo.fieldwork import go_live, send_out
from skavo.server import Server
from skavo.store.files import path_of_file
from skavo.store.models import Device, Interview, Release, StoredFile


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    made = Server(tmp_path, "127.0.0.1", 0, limits=False)
    build_study(made.store)
    made.start()
    yield made
    made.stop()


def count(server: Server) -> int:
    with server.store.reading() as session:
        return session.scalar(select(func.count()).select_from(Interview)) or 0


def test_every_interview_of_every_phone_arrives_once_with_its_files_and_in_order(server: Server) -> None:
    told: list[str] = []
    size: dict[str, int] = {"phones": 3, "days": 2, "a_day": 2, "seed": 7}
    done = send_out(
        server.store, 1, server.address, **size, last=datetime(2026, 11, 20, 20, tzinfo=UTC), say=told.append
    )
    assert done.interviews == count(server) == 12
    assert told[-1] == "  3 of 3 phones are back, 12 interviews handed in"
    with server.store.reading() as session:
        interviews = session.scalars(select(Interview)).all()
        assert {i.problem for i in interviews} == {""} and not any(i.differs or i.hard_findings for i in interviews)
        assert len({i.started_at.date() for i in interviews if i.started_at}) >= 2
        assert session.scalar(select(func.count()).select_from(Device)) == 3
        files = session.scalars(select(StoredFile)).all()
        uuids = {i.uuid for i in interviews}
    assert files and all(f.interview_uuid in uuids for f in files)
    assert all(path_of_file(server.store.files, f.hash).stat().st_size == f.bytes for f in files)


def test_there_is_nothing_to_do_without_a_study_or_a_release(server: Server) -> None:
    size = {"phones": 1, "days": 1, "a_day": 1, "seed": 1}
    with pytest.raises(DataError, match="no study 9"):
        send_out(server.store, 9, server.address, **size)
    with server.store.session() as session:
        for release in session.scalars(select(Release)):
            release.withdrawn = {"at": "", "by": "", "why": ""}
    with pytest.raises(DataError, match="nothing to ask"):
        send_out(server.store, 1, server.address, **size)


def test_the_demos_phones_go_on_handing_in(server: Server) -> None:
    end = go_live(server.store, server.address, every_seconds=0.05)
    for _ in range(400):
        if count(server) >= 3:
            break
        time.sleep(0.1)
    end()
    done = count(server)
    assert done >= 3
    time.sleep(0.3)
    assert count(server) == done
