"""The door through which answers leave: masked whole, narrowed to the study and its teams, put on record."""

from __future__ import annotations

from dataclasses import replace

import polars as pl
from sqlalchemy import select

from skavo.core.cleaning.steps import Correct, write_step
from skavo.core.combining.join import JoinReport
from skavo.services.desk import detail_seen
from skavo.store.database import Store
from skavo.store.datasets import masked
from skavo.store.models import Access, Device, PlanStep
from skavo.store.sensitive import MASK, Hidden
from tests.samples import part, script
from tests.services.conftest import desk_of
from tests.store.study import SmallStudy, small_study


def asked_names(store: Store) -> SmallStudy:
    sample = script(part(1, "text", "name", sensitive=True), part(1, "whole number", "workers"))
    study = small_study(store, sample)
    study.arrive(study.document(answers={"name": "Bo", "workers": 3}))
    return study


def test_an_analyst_gets_neither_raw_nor_cleaned_values_of_what_is_hidden(store: Store) -> None:
    study = asked_names(store)
    for roles, seen in ((("analyst",), ["workers"]), (("data_manager",), ["name", "workers"])):
        with store.reading() as session:
            prepared = desk_of(store, *roles).data(session, study.questionnaire_id)
        for data in (prepared.raw, prepared.data, prepared.cleaned.data):
            assert [c.variable for c in data["interviews"].layout.columns] == seen, roles
            assert ("name" in data["interviews"].frame.columns) == ("name" in seen)


def report(value: str) -> JoinReport:
    one = pl.DataFrame(
        {"place": ["0001"], "row": [1], "value": [value], "count": [2], "ours": [value], "theirs": [value]}
    )
    return JoinReport(
        rows=1, outside_rows=2, matched=1, without_key=0, unmatched=one.select("place", "value"),
        unmatched_rows=one.select("row", "value"), ambiguous=one.select("value", "count"),
        repeated=one.select("value", "count"), otherwise=one.select("ours", "theirs", "count"), more=0, unread={},
    )  # fmt: skip


def test_only_joins_by_what_is_hidden_are_masked(store: Store) -> None:
    study = asked_names(store)
    with store.reading() as session:
        prepared = desk_of(store, "data_manager").data(session, study.questionnaire_id)
    reports = {1: report("a"), 2: report("b"), 3: report("c")}
    joined = replace(prepared, joins=reports, keys={1: frozenset({"name"}), 2: frozenset({"workers"})})
    found = masked(joined).joins
    assert found[1].unmatched.rows() == [("0001", MASK)]
    assert found[2] is reports[2] and found[3] is reports[3]


def test_steps_that_no_longer_fit_are_counted_once_the_data_set_was_made(store: Store, study: SmallStudy) -> None:
    desk = desk_of(store, "data_manager")
    assert desk.sets.problems(study.questionnaire_id) == 0
    step = write_step(Correct(variable="gone", interview="9999", value="1", reason="x"))
    with store.session() as session:
        session.add(PlanStep(questionnaire_id=study.questionnaire_id, body=step, created_by="x"))
    study.arrive(study.document())
    with store.reading() as session:
        prepared = desk.data(session, study.questionnaire_id)
    assert desk.sets.problems(study.questionnaire_id) == len(prepared.cleaned.problems) == 1


def test_devices_are_those_of_the_study(store: Store, study: SmallStudy) -> None:
    other = small_study(store)
    for desk in (desk_of(store, "supervisor"), replace(desk_of(store, "supervisor"), teams=frozenset({1}))):
        with store.reading() as session:
            found = session.scalars(select(Device.study_id).where(*desk.reach_devices(study.study_id))).all()
        assert set(found) <= {study.study_id} and other.study_id not in found


def test_what_was_taken_out_is_on_record_with_what_it_was(store: Store, study: SmallStudy) -> None:
    study.arrive(study.document())
    desk_of(store, "analyst").note("file", study.study_id, 1, file="abc")
    with store.reading() as session:
        noted = session.scalars(select(Access)).one()
    assert (noted.what, noted.interview_id, noted.detail) == ("file", 1, {"file": "abc"})


def test_remarks_at_hidden_questions_are_masked_wherever_they_stand() -> None:
    hidden = Hidden(frozenset(), frozenset({"name"}), frozenset())
    remarks = [{"path": path, "text": "Who?"} for path in ("name", "staff/2/name", "workers", "")]
    told = detail_seen({"remarks": remarks, "remark": "all"}, hidden)
    assert [r["text"] for r in told["remarks"]] == [MASK, MASK, "Who?", "Who?"] and told["remark"] == "all"
    assert detail_seen({"remark": "all"}, hidden) == {"remark": "all"}
