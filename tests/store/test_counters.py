"""What is kept from before is what would be made from nothing, after any sequence of acts."""

from __future__ import annotations

import io
from pathlib import Path
from tempfile import mkdtemp

import polars as pl
import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule
from polars.testing import assert_frame_equal
from sqlalchemy import select

from skavo.core.cleaning.steps import STEP
from skavo.store.counters import counter, data_counter
from skavo.store.database import Store, open_store
from skavo.store.datasets import DataSets, Prepared
from skavo.store.files import keep_file
from skavo.store.models import Interview, OutsideTable, PlanStep, now
from tests.samples import part, staff_script
from tests.store.study import SmallStudy, release_in, small_study

STATES = ("arrived", "accepted", "sent back", "set aside")


def same(left: Prepared, right: Prepared) -> None:
    for kept, made in ((left.raw, right.raw), (left.cleaned.data, right.cleaned.data), (left.data, right.data)):
        assert list(kept) == list(made)
        for name, table in kept.items():
            assert table.layout == made[name].layout
            assert_frame_equal(table.frame, made[name].frame)
    assert (left.cleaned.told, left.problems, left.failed) == (right.cleaned.told, right.problems, right.failed)
    assert_frame_equal(left.cleaned.changes, right.cleaned.changes)
    assert left.cleaned.problems == right.cleaned.problems


class Desk(RuleBasedStateMachine):
    """A study that is worked on in any order, with the same data sets open all the while."""

    def __init__(self) -> None:
        super().__init__()
        self.study: SmallStudy = small_study(open_store(Path(mkdtemp())))
        self.store = self.study.store
        self.sets = DataSets(self.store.files)
        self.documents: list[dict[str, object]] = []
        self.releases = 1
        self.steps = 0

    @rule(workers=st.integers(0, 3), practice=st.booleans())
    def arrives(self, workers: int, practice: bool) -> None:
        document = self.study.document(answers={"consent": True, "workers": workers}, practice=practice)
        self.study.arrive(document)
        self.documents.append(document)

    @precondition(lambda self: self.documents)
    @rule(data=st.data(), workers=st.integers(0, 3))
    def is_corrected(self, data: st.DataObject, workers: int) -> None:
        document = data.draw(st.sampled_from(self.documents))
        with self.store.reading() as session:
            basis = session.scalar(select(Interview.hash).where(Interview.uuid == document["uuid"]))
        self.study.arrive(
            {**document, "basis": basis, "answers": {"consent": True, "workers": workers, "remarks": "x"}}
        )

    @precondition(lambda self: self.documents)
    @rule(data=st.data(), state=st.sampled_from(STATES))
    def is_decided(self, data: st.DataObject, state: str) -> None:
        document = data.draw(st.sampled_from(self.documents))
        with self.store.session() as session:
            session.scalars(select(Interview).where(Interview.uuid == document["uuid"])).one().state = state

    @rule(kind=st.sampled_from(["mark", "recode", "gone"]))
    def a_step_is_kept(self, kind: str) -> None:
        bodies = {
            "mark": {"kind": "mark_missing", "variable": "workers", "rule": "workers > 1", "missing": "refused"},
            "recode": {"kind": "recode", "variable": "remarks", "mapping": {"x": "y"}},
            "gone": {"kind": "recode", "variable": "no_such", "mapping": {"x": "y"}},
        }
        with self.store.session() as session:
            session.add(PlanStep(questionnaire_id=1, body=STEP.write(bodies[kind]), created_by="x"))
        self.steps += 1

    @precondition(lambda self: self.steps)
    @rule(data=st.data(), back=st.booleans())
    def a_step_is_taken_back_or_put_back(self, data: st.DataObject, back: bool) -> None:
        number = data.draw(st.integers(1, self.steps))
        with self.store.session() as session:
            session.get_one(PlanStep, number).removed_at = now() if back else None

    @rule(joined=st.booleans())
    def a_table_is_joined_or_not(self, joined: bool) -> None:
        cells = io.BytesIO()
        pl.DataFrame({"count": ["1", "2"], "size": ["small", "large"]}).write_parquet(cells)
        how = {"variable": "workers", "key": "count", "take": ["size"]} if joined else None
        with self.store.session() as session:
            table = session.scalars(select(OutsideTable)).first() or OutsideTable(
                questionnaire_id=1, name="sizes", file_name="sizes.csv", columns=["count", "size"], rows=2, created_by="x",
                file_hash=keep_file(self.store.files, cells.getvalue()),
            )  # fmt: skip
            table.joined = how
            session.add(table)

    @precondition(lambda self: self.releases < 3)
    @rule()
    def is_released_again(self) -> None:
        self.releases += 1
        script = staff_script()
        script.parts.append(part(1, "text", f"wish_{self.releases}"))
        release_in(self.store, 1, script, self.releases)

    @rule()
    def the_server_is_started_again(self) -> None:
        self.sets = DataSets(self.store.files)

    @invariant()
    def what_is_kept_is_what_would_be_made_from_nothing(self) -> None:
        with self.store.reading() as session:
            kept = self.sets.of(session, 1)
            made = DataSets(Path(mkdtemp()) / "files")
            made.files = self.store.files
            same(kept, made.of(session, 1))


Desk.TestCase.settings = settings(max_examples=25, stateful_step_count=14, deadline=None)
test_any_sequence_of_acts = Desk.TestCase


def test_taking_back_two_steps_and_putting_one_back_gives_the_plan_that_stands(store: Store) -> None:
    study = small_study(store)
    study.arrive(study.document(answers={"consent": True, "workers": 3}))
    sets = DataSets(store.files)

    def ids() -> list[int]:
        with store.reading() as session:
            return [*sets.of(session, 1).cleaned.told]

    def switch(number: int, back: bool) -> None:
        with store.session() as session:
            session.get_one(PlanStep, number).removed_at = now() if back else None

    body = {"kind": "mark_missing", "variable": "workers", "rule": "workers > 1", "missing": "refused"}
    for _ in range(2):
        with store.session() as session:
            session.add(PlanStep(questionnaire_id=1, body=STEP.write(body), created_by="x"))
    seen = [ids()]
    for number, back in ((1, True), (2, True), (1, False)):
        switch(number, back)
        seen.append(ids())
    assert seen == [[1, 2], [2], [], [1]]


def test_reading_an_interview_raises_no_counter(store: Store) -> None:
    study = small_study(store)
    study.arrive(study.document())
    with store.session() as session:
        before = counter(session, data_counter(1))
        session.scalars(select(Interview)).one().read_at = now()
        session.flush()
        assert counter(session, data_counter(1)) == before > 0


def test_a_change_that_is_rolled_back_leaves_nothing_behind(store: Store) -> None:
    study = small_study(store)
    study.arrive(study.document())
    sets = DataSets(store.files)
    with pytest.raises(RuntimeError, match=r"Store\.reading"), store.session() as session:
        session.scalars(select(Interview)).one().state = "set aside"
        session.flush()
        sets.of(session, 1)
    with store.reading() as session:
        assert sets.of(session, 1).raw["interviews"].frame.height == 1
