"""Nothing is computed while something is written: whoever hands in meanwhile does not wait for the engine."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy.orm import Session

from skavo.core.cleaning.steps import Correct
from skavo.core.combining.spec import Compared, Join, KeyPair, Near
from skavo.core.estimation.tables import TableRequest
from skavo.core.interview.engine import Engine
from skavo.services import (
    bundles,
    cleaning,
    combining,
    deciding,
    drafts,
    kept_tests,
    logbook,
    outside_tables,
    plans,
    releases,
    tables,
    verdicts,
    workbooks,
)
from skavo.services.combining import JoinChange
from skavo.services.desk import Desk
from skavo.store import datasets, knowing, laying, looking, raw_frames
from skavo.store.database import Store
from skavo.store.handin import from_device, hand_in, read_arrival
from skavo.store.models import Device, now
from tests.outside_files import brought_in
from tests.samples import part, staff_script
from tests.store.study import SmallStudy, small_study

MUSEUM = Path(__file__).parents[1] / "museum" / "bundles"
# Each of them takes long where a questionnaire or a study is large.
SLOW: list[tuple[Any, str]] = [
    (Engine, "__init__"), (knowing, "compile_script"), (releases, "compile_script"), (releases, "replay"),
    (kept_tests, "replay"), (kept_tests, "written_test"),
    (drafts, "compare_scripts"), (workbooks, "read_workbook"), (looking, "read_table_in"), (looking, "recognised"), (looking, "look_at_column"), (combining, "learn_near"), (plans, "apply_step"), (plans, "apply_plan"), (cleaning, "apply_step"),
    (datasets, "apply_plan"), (datasets, "join_outside"), (tables, "make_table"), (raw_frames, "build_data_set"),
    (laying, "all_findings"), (bundles, "open_bundle"), (bundles, "read_arrival"), (verdicts, "compile_script"),
]  # fmt: skip


@pytest.fixture
def computed(monkeypatch: pytest.MonkeyPatch) -> set[str]:
    """The names of what was computed; what is computed inside a write transaction fails."""
    writing, found = threading.local(), set()
    opened = Store.session

    @contextmanager
    def session(store: Store) -> Iterator[Session]:
        with opened(store) as inner:
            writing.now = True
            try:
                yield inner
            finally:
                writing.now = False

    monkeypatch.setattr(Store, "session", session)

    def watched(name: str, real: Callable[..., Any]) -> Callable[..., Any]:
        def call(*args: Any, **more: Any) -> Any:
            assert not getattr(writing, "now", False), f"{name} inside a write transaction"
            found.add(name)
            return real(*args, **more)

        return call

    for where, name in SLOW:
        monkeypatch.setattr(where, name, watched(name, getattr(where, name)))
    return found


def arrive(study: SmallStudy, document: dict[str, Any]) -> None:
    with study.store.reading() as session:
        device = session.get_one(Device, study.device_id)
        arrival = read_arrival(session, from_device(device), document["uuid"], json.dumps(document).encode())
    with study.store.session() as session:
        hand_in(session, from_device(session.get_one(Device, study.device_id)), arrival)


def test_what_the_stations_compute_is_computed_before_anything_is_written(
    desk: Desk, study: SmallStudy, computed: set[str]
) -> None:
    q = study.questionnaire_id
    first = study.document()
    arrive(study, first)
    arrive(study, {**first, "answers": {"consent": False}, "basis": "0" * 64})
    deciding.let_revision_count(desk, 1, 2, take_back_edits=True)
    deciding.decide(desk, 1, deciding.Decision(state="sent back", remark="Again, please"))

    draft = drafts.make_questionnaire(desk, study.study_id, "Second", ["en"])
    script = staff_script()
    script.parts.append(part(1, "text", "more"))
    saved = drafts.save_script(desk, q, script, drafts.show_draft(desk, q).version)
    releases.make_release(desk, q, saved.version, "")
    workbooks.read_in_workbook(desk, draft.id, workbooks.workbook_of(desk, q, "xlsx").content)
    drafts.compare_draft(desk, q)
    trial = kept_tests.TestIn(name="a", answers={"consent": True}, language="en", now=now(), started=now())
    kept_tests.keep_test(desk, q, trial)
    kept_tests.accept_test(desk, q, "a")
    kept_tests.remove_test(desk, q, "a")

    step = Correct(variable="workers", interview="0001", value="3", reason="Asked again")
    cleaning.preview_step(desk, q, step)
    plans.keep_step(desk, q, step)
    plans.switch_step(desk, q, 1, off=True)
    plans.compare_states(desk, q, 0, 2)
    outside = brought_in(desk, q, "wards.csv", b"island,size\nkesk,3\n")
    outside_tables.show_columns(desk, outside.id)
    near = Near(compare=[Compared(ours="island", theirs="island", how="text")], blocks=[["island"]])
    join = Join(keys=[KeyPair(ours="island", theirs="island")], take=["size"], near=near)
    combining.preview_join(desk, outside.id, join)
    join = combining.learn_weights(desk, outside.id, join)
    combining.set_join(desk, q, outside.id, JoinChange(join=join, version=outside.version))
    tables.save_table(desk, study.own_set, "Consent", TableRequest(variable="consent"))
    bundles.read_in_bundle(desk, study.study_id, MUSEUM / "bundle-1.skavo.zip")
    logbook.show_logbook(desk, study.study_id)
    assert {name for _, name in SLOW} == computed


def test_one_study_does_not_wait_for_the_data_set_of_another(
    store: Store, study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    other, sets = small_study(store), datasets.DataSets(store.files)
    study.arrive(study.document())
    other.arrive(other.document())
    begun, go_on = threading.Event(), threading.Event()
    real = raw_frames.RawFrames.data_set

    def slow(frames: raw_frames.RawFrames, session: Session, questionnaire_id: int) -> Any:
        if questionnaire_id == study.questionnaire_id:
            begun.set()
            assert go_on.wait(60)
        return real(frames, session, questionnaire_id)

    monkeypatch.setattr(raw_frames.RawFrames, "data_set", slow)

    def ask(questionnaire_id: int) -> int:
        with store.reading() as session:
            return sets.of(session, questionnaire_id).data["interviews"].frame.height

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(ask, study.questionnaire_id)
        assert begun.wait(60)
        try:
            assert pool.submit(ask, other.questionnaire_id).result(60) == 1
        finally:
            go_on.set()
        assert first.result(60) == 1
