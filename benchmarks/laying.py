"""Laying interviews out again after an update, and bringing the tables forward."""

from __future__ import annotations

import json
import os
import tempfile
import time
import uuid
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy import update

from benchmarks.handin import script
from benchmarks.result import Result
from skavo.core.interview.formats import INTERVIEW
from skavo.jobs.laying import lay_out_again
from skavo.jobs.runner import Progress
from skavo.store.database import Store, open_store
from skavo.store.datasets import DataSets
from skavo.store.handin import from_device, hand_in, read_arrival
from skavo.store.models import Device, Interview, Job, Questionnaire, Study
from tests.store.study import release_in

# 50,000 for the figure of a closing note: SKAVO_BENCH_INTERVIEWS=50000 python -m benchmarks
INTERVIEWS = int(os.environ.get("SKAVO_BENCH_INTERVIEWS", "2000"))


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        store = open_store(Path(folder))
        arriving = _arrive(store)
        with store.session() as session:
            session.execute(update(Interview).values(laid_by=0))
            session.add(Job(study_id=1, kind="laying out", order={}, created_by="x"))
        began = time.perf_counter()
        lay_out_again(store, DataSets(store.files), {"study_id": 1}, Progress(store, 1))
        again = time.perf_counter() - began
        began = time.perf_counter()
        with store.reading() as session:
            DataSets(store.files).of(session, 1)
        tables = time.perf_counter() - began
    detail = f"{INTERVIEWS} interviews in {again:.1f} s, {1e3 * again / INTERVIEWS:.1f} ms each; their tables in {tables:.1f} s"
    yield Result("laying out again / taking in, without HTTP", again / arriving, 1.5, detail)


def _arrive(store: Store) -> float:
    with store.session() as session:
        session.add(Study(title="Bench"))
        session.flush()
        session.add(Questionnaire(study_id=1, title="Bench", script={"name": "bench", "parts": []}))
        session.add(Device(study_id=1, name="phone", enumerator="x", token_hash="x"))
    release, digest = release_in(store, 1, script(), 1)
    began = time.perf_counter()
    for start in range(0, INTERVIEWS, 500):
        with store.session() as session:
            phone = from_device(session.get_one(Device, 1))
            for number in range(start, min(start + 500, INTERVIEWS)):
                identity = str(uuid.uuid4())
                document = {
                    "format": INTERVIEW.newest, "uuid": identity, "release": release, "release_hash": digest,
                    "answers": {f"q{i}": (i + number) % 900 for i in range(100)},
                    "paradata": {"started": "2026-11-14T09:00:00+01:00", "ended": "2026-11-14T09:20:30+01:00"},
                }  # fmt: skip
                raw = json.dumps(document).encode()
                hand_in(session, phone, read_arrival(session, phone, identity, raw))
    return time.perf_counter() - began
