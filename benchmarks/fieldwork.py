"""A fleet's day over HTTP, with real photos and recordings, against the same bytes written down durably."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy import func, select

from benchmarks.result import Result
from skavo.demo.build import build_study
from skavo.demo.fieldwork import send_out
from skavo.server import Server
from skavo.store.models import Revision, StoredFile

PHONES, A_DAY = 10, 4


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "store", "127.0.0.1", 0, limits=False)
        build_study(server.store)
        server.start()
        done = send_out(server.store, 1, server.address, phones=PHONES, days=1, a_day=A_DAY, seed=5, say=lambda _: None)
        with server.store.reading() as session:
            sizes = [len(raw) for raw in session.scalars(select(Revision.raw))]
            sizes += list(session.scalars(select(StoredFile.bytes)))
            assert session.scalar(select(func.count()).select_from(Revision)) == done.interviews == PHONES * A_DAY
        server.stop()
        began = time.perf_counter()
        for number, size in enumerate(sizes):
            with (Path(folder) / f"bare {number}").open("wb") as bare:
                bare.write(os.urandom(size))
                bare.flush()
                os.fsync(bare.fileno())
        bare_seconds = time.perf_counter() - began
    detail = (
        f"{done.interviews} interviews with {len(sizes) - done.interviews} files, {sum(sizes) / 1e6:.1f} MB, of {PHONES} phones; "
        f"{done.seconds:.1f} s of handing in, {bare_seconds:.2f} s of writing"
    )
    yield Result(
        "an interview of the fleet handed in, its files included", done.seconds / done.interviews, 2, detail, "s"
    )
