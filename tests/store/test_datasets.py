"""Data sets of questionnaires: kept in memory as long as nothing counts anew, joined with outside tables, masked."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import polars as pl
import pytest

from skavo.core.cleaning.steps import STEP
from skavo.store import datasets
from skavo.store.database import Store
from skavo.store.datasets import DataSets, Prepared, masked
from skavo.store.files import keep_file
from skavo.store.models import OutsideTable, PlanStep, Questionnaire
from skavo.store.sensitive import MASK
from tests.samples import staff_script
from tests.store.study import SmallStudy, small_study


@pytest.fixture
def study(store: Store) -> SmallStudy:
    """Two interviews, on Kesk and on Luma, in a questionnaire whose remarks and islands nobody but few may read."""
    script = staff_script()
    for part in script.parts:
        part.sensitive = part.variable == "island"
    made = small_study(store, script)
    for island in ("kesk", "luma"):
        made.arrive(made.document(answers={"consent": True, "island": island, "workers": 1}))
    return made


@pytest.fixture
def sets(store: Store) -> DataSets:
    return DataSets(store.files)


def of(store: Store, sets: DataSets, questionnaire_id: int = 1) -> Prepared:
    with store.reading() as session:
        return sets.of(session, questionnaire_id)


def bring_in(store: Store, joined: dict[str, Any], name: str = "isles", questionnaire_id: int = 1) -> int:
    """An outside table of islands with their mayors, joined at once."""
    packed = BytesIO()
    pl.DataFrame({"code": ["KESK", "vint"], "mayor": ["Bo", "Cael"]}).write_parquet(packed)
    with store.session() as session:
        table = OutsideTable(
            questionnaire_id=questionnaire_id, name=name, file_name=f"{name}.csv", card={}, created_by="Dora Maine",
            file_hash=keep_file(store.files, packed.getvalue()), columns=["code", "mayor"], rows=2, joined=joined,
        )  # fmt: skip
        session.add(table)
        session.flush()
        return table.id


def interviews(prepared: Prepared) -> list[dict[str, Any]]:
    return prepared.data["interviews"].frame.to_dicts()


BY_ISLAND = {"variable": "island", "key": "code", "take": ["mayor"]}


def test_it_is_made_anew_only_where_something_counts_anew(
    study: SmallStudy, store: Store, sets: DataSets, monkeypatch: pytest.MonkeyPatch
) -> None:
    made: list[int] = []
    real = DataSets._prepare

    def counted(self: DataSets, session: Any, questionnaire_id: int, at: int) -> Prepared:
        made.append(questionnaire_id)
        return real(self, session, questionnaire_id, at)

    monkeypatch.setattr(DataSets, "_prepare", counted)
    assert len(interviews(of(store, sets))) == len(interviews(of(store, sets))) == 2
    assert made == [1]
    study.arrive(study.document())
    assert len(interviews(of(store, sets))) == 3 and made == [1, 1]


def test_whoever_began_reading_earlier_does_not_put_an_older_one_in_the_place_of_a_newer(
    study: SmallStudy, store: Store, sets: DataSets
) -> None:
    with store.reading() as earlier:
        # Its view of the store begins here.
        assert sets.raw(earlier, 1).data["interviews"].frame.height == 2
        study.arrive(study.document())
        assert len(interviews(of(store, sets))) == 3
        assert len(sets.of(earlier, 1).data["interviews"].frame) == 2
        assert sets._kept[1][1].data["interviews"].frame.height == 3


def test_those_used_last_stay_in_memory(
    study: SmallStudy, store: Store, sets: DataSets, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(datasets, "_KEPT_IN_MEMORY", 2)
    with store.session() as session:
        session.add_all([Questionnaire(study_id=1, title=title, script={}) for title in ("b", "c")])
    kept = []
    for questionnaire_id in (1, 2, 1, 3):
        of(store, sets, questionnaire_id)
        kept.append(list(sets._kept))
    assert kept == [[1], [1, 2], [2, 1], [1, 3]]


def test_each_questionnaire_has_its_own_turn(study: SmallStudy, store: Store, sets: DataSets) -> None:
    assert sets._turn(1) is sets._turn(1) is not sets._turn(2)
    with sets._turn(2):
        assert len(interviews(of(store, sets, 1))) == 2
        with store.reading() as session:
            assert sets.raw(session, 1).data["interviews"].frame.height == 2


def test_an_outside_table_is_joined_by_its_key(study: SmallStudy, store: Store, sets: DataSets) -> None:
    table = bring_in(store, BY_ISLAND)
    prepared = of(store, sets)
    assert [row["isles_mayor"] for row in interviews(prepared)] == ["Bo", None]
    assert "isles_mayor" not in prepared.cleaned.data["interviews"].frame.columns
    report = prepared.joins[table]
    assert (report.rows, report.outside_rows, report.matched) == (2, 2, 1)
    assert (report.unmatched.rows(), report.unmatched_rows.rows()) == ([("0002", "luma")], [(2, "vint")])
    assert (prepared.keys, prepared.problems, sets.problems(1)) == ({table: {"island"}}, {}, 0)


def test_a_key_is_mended_before_it_is_matched(study: SmallStudy, store: Store, sets: DataSets) -> None:
    body = {"kind": "correct", "variable": "island", "interview": "0002", "row": [], "value": "kesk", "reason": "Asked"}
    with store.session() as session:
        session.add(PlanStep(questionnaire_id=1, body=STEP.write(body), created_by="Dora Maine"))
    bring_in(store, BY_ISLAND)
    prepared = of(store, sets)
    assert [row["isles_mayor"] for row in interviews(prepared)] == ["Bo", "Bo"]
    assert len(prepared.cleaned.told) == 1


def test_a_join_that_no_longer_fits_is_named_and_takes_no_other_down(
    study: SmallStudy, store: Store, sets: DataSets
) -> None:
    assert sets.problems(1) == 0
    broken = bring_in(store, {**BY_ISLAND, "variable": "gone"}, name="gone")
    fits = bring_in(store, BY_ISLAND)
    prepared = of(store, sets)
    assert prepared.problems.keys() == {broken} and "gone" in prepared.problems[broken]
    assert (prepared.joins.keys(), prepared.keys) == ({fits}, {fits: {"island"}})
    assert [row["isles_mayor"] for row in interviews(prepared)] == ["Bo", None]
    assert sets.problems(1) == 1


def test_a_join_that_breaks_as_nobody_thought_of_brings_no_page_down(
    study: SmallStudy, store: Store, sets: DataSets, monkeypatch: pytest.MonkeyPatch
) -> None:
    table = bring_in(store, BY_ISLAND)

    def breaks(*_: Any, **__: Any) -> Any:
        raise ZeroDivisionError

    monkeypatch.setattr(datasets, "join_outside", breaks)
    prepared = of(store, sets)
    assert "ZeroDivisionError" in prepared.problems[table] and len(interviews(prepared)) == 2
    with store.reading() as session:
        assert sets.before_join(session, 1, 99)["interviews"].frame.height == 2


def test_tables_of_another_questionnaire_are_not_joined(study: SmallStudy, store: Store, sets: DataSets) -> None:
    with store.session() as session:
        session.add(Questionnaire(study_id=1, title="Other", script={}))
    bring_in(store, BY_ISLAND, questionnaire_id=2)
    waiting = bring_in(store, {})
    prepared = of(store, sets)
    assert (prepared.joins, prepared.problems, waiting in prepared.keys) == ({}, {}, False)


def test_whoever_lacks_the_right_sees_neither_answers_nor_keys_nor_what_was_changed(
    study: SmallStudy, store: Store, sets: DataSets
) -> None:
    body = {"kind": "correct", "variable": "island", "interview": "0002", "row": [], "value": "kesk", "reason": "Asked"}
    with store.session() as session:
        session.add(PlanStep(questionnaire_id=1, body=STEP.write(body), created_by="Dora Maine"))
    table = bring_in(store, BY_ISLAND)
    whole = of(store, sets)
    hidden = masked(whole)
    assert whole.cleaned.changes.select("before", "after").rows() == [("luma", "kesk")]
    assert hidden.cleaned.changes.select("before", "after").rows() == [(MASK, MASK)]
    assert hidden.joins[table].unmatched_rows.rows() == [(2, MASK)]
    assert whole.joins[table].unmatched_rows.rows() == [(2, "vint")]
    for kept in (hidden.raw, hidden.cleaned.data, hidden.data):
        assert "island" not in kept["interviews"].frame.columns
    assert "island" in whole.data["interviews"].frame.columns


def test_a_join_by_what_everybody_may_read_is_told_whole(study: SmallStudy, store: Store, sets: DataSets) -> None:
    table = bring_in(store, {**BY_ISLAND, "variable": "workers"})
    assert masked(of(store, sets)).joins[table].unmatched_rows.rows() == [(1, "KESK"), (2, "vint")]


def test_it_is_never_made_of_what_a_writer_has_not_committed(study: SmallStudy, store: Store, sets: DataSets) -> None:
    with store.session() as session, pytest.raises(RuntimeError, match=r"read in Store\.reading"):
        sets.of(session, 1)
    with store.session() as session, pytest.raises(RuntimeError, match=r"read in Store\.reading"):
        sets.raw(session, 1)
