"""Outside tables at the desk: looked at, kept, brought in again and gone back to; joins; near matches decided; checks."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import pytest

from skavo.core.cleaning.steps import Correct
from skavo.core.combining.beside import SideBySide
from skavo.core.combining.outside import OutsideColumn
from skavo.core.combining.spec import Compared, Join, KeyPair, Near
from skavo.core.errors import DataError, SkavoError
from skavo.core.linking import link
from skavo.core.linking.link import Rows, Weighed
from skavo.formats.csv_files import as_was
from skavo.formats.tables_in.told import FileReading
from skavo.jobs.extracts import write_extract
from skavo.jobs.runner import Progress
from skavo.services import combining, matches, outside_tables, plans, source_checks
from skavo.services.checks import numbers_breaking, show_checks
from skavo.services.combining import JoinChange
from skavo.services.desk import Desk
from skavo.services.logbook import show_stations
from skavo.services.matches import MatchIn, PairQuery
from skavo.services.outside_tables import AgainIn, BringIn, Card, OutsideOut, RowsQuery
from skavo.services.refusals import Refused
from skavo.services.source_checks import SourceCheckIn
from skavo.store import datasets
from skavo.store.datasets import DataSets
from skavo.store.looking import LookIn
from skavo.store.models import Job
from tests.outside_files import brought_in, sent_file
from tests.services.conftest import desk_of
from tests.store.study import SmallStudy, small_study

SHOPS = [("kesk", 2), ("luma", 5), ("kesk", 3)]
ROLL = b"code,mayor,people\nKESK,Bo,2\nvint,Cael,9\n"
BY_CODE = Join(keys=[KeyPair(ours="island", theirs="code")], take=["mayor", "people"])
BY_LIKENESS = Join(
    take=["mayor"],
    near=Near(
        compare=[
            Compared(ours="island", theirs="code", how="text"),
            Compared(ours="workers", theirs="people", how="whole"),
        ],
        blocks=[["island"], ["workers"]],
    ),
)


@pytest.fixture
def q(study: SmallStudy) -> int:
    for island, workers in SHOPS:
        study.arrive(study.document(answers={"consent": True, "island": island, "workers": workers}))
    return study.questionnaire_id


@pytest.fixture
def roll(desk: Desk, q: int) -> OutsideOut:
    return brought_in(desk, q, "isles roll.csv", ROLL)


def joined(desk: Desk, q: int, roll: OutsideOut, join: Join) -> combining.JoinedOut:
    version = outside_tables.show_table(desk, roll.id).version
    return combining.set_join(desk, q, roll.id, JoinChange(join=join, version=version))


def mayors(desk: Desk, q: int) -> list[Any]:
    with desk.store.reading() as session:
        return desk.data(session, q).data["interviews"].frame["isles_roll_mayor"].to_list()


def test_a_file_is_looked_at_and_nothing_of_it_is_kept(desk: Desk, q: int) -> None:
    file = sent_file(desk, q, b"code;fee\nk;1,5\nl;x\n")
    look = outside_tables.look_at(desk, q, LookIn(file=file, file_name="t.csv"))
    assert (look.kind, look.rows, look.reading.delimiter) == ("csv", 2, ";")
    read = [OutsideColumn(name="fee", read_as="number", decimal=",")]
    again = outside_tables.look_at(desk, q, LookIn(file=file, file_name="t.csv", columns=read))
    assert (again.columns[1].values, again.columns[1].unread_cells) == (1, ["row 2: x"])
    assert outside_tables.list_tables_in(desk, q) == []
    wrong = LookIn(file=file, file_name="t.csv", reading=FileReading(encoding="utf-16"))
    with pytest.raises(DataError, match="not in utf-16"):
        outside_tables.look_at(desk, q, wrong)


def test_only_what_was_sent_to_a_questionnaire_is_read_there(desk: Desk, q: int) -> None:
    other = small_study(desk.store)
    file = sent_file(desk, other.questionnaire_id, ROLL)
    with pytest.raises(Refused, match="not sent here"):
        outside_tables.bring_in(desk, q, BringIn(file=file, file_name="t.csv"))


@pytest.mark.parametrize("name", ["questionnaire", "plan", "interviews", "Isles roll!"])
def test_a_table_is_never_called_what_something_else_is_called(desk: Desk, q: int, name: str) -> None:
    roll = brought_in(desk, q, "isles roll.csv", ROLL)
    renamed = outside_tables.rename_table(desk, roll.id, name, roll.version)
    other = brought_in(desk, q, f"{name}.csv", ROLL)
    assert {renamed.name, other.name}.isdisjoint({"questionnaire", "plan", "interviews"})
    assert renamed.name != other.name


def test_a_table_brought_in_again_tells_what_changed_and_can_be_gone_back_to(
    desk: Desk, q: int, roll: OutsideOut
) -> None:
    joined(desk, q, roll, BY_CODE)
    assert mayors(desk, q) == ["Bo", None, "Bo"]
    file = sent_file(desk, q, b"code,mayor,people\nkesk,Dorrit,2\nKESK2,Edda,1\n")
    version = outside_tables.show_table(desk, roll.id).version
    order = AgainIn(file=file, file_name="newer.csv", key=["code"], version=version)
    told = outside_tables.show_differences(desk, q, roll.id, order)
    assert (told.new, told.gone, told.changed) == (2, 2, 0)
    newer = outside_tables.bring_in_again(desk, q, roll.id, order)
    assert (newer.file_name, newer.rows, [e.file_name for e in newer.earlier]) == ("newer.csv", 2, ["isles roll.csv"])
    assert mayors(desk, q) == ["Dorrit", None, "Dorrit"]
    with pytest.raises(Refused, match="changed"):
        outside_tables.bring_in_again(desk, q, roll.id, order)
    back = outside_tables.go_back(desk, roll.id, newer.version)
    assert (back.file_name, back.earlier) == ("isles roll.csv", [])
    assert mayors(desk, q) == ["Bo", None, "Bo"]


def test_a_newer_file_without_a_column_that_the_join_needs_is_refused(desk: Desk, q: int, roll: OutsideOut) -> None:
    kept = joined(desk, q, roll, BY_CODE)
    file = sent_file(desk, q, b"code,people\nkesk,2\n")
    version = outside_tables.show_table(desk, roll.id).version
    with pytest.raises(Refused, match="needs the column “mayor”"):
        outside_tables.bring_in_again(
            desk, q, roll.id, AgainIn(file=file, file_name="n.csv", key=["code"], version=version)
        )
    assert kept.report is not None and mayors(desk, q) == ["Bo", None, "Bo"]


def test_columns_can_be_read_otherwise_and_rows_found(desk: Desk, q: int, roll: OutsideOut) -> None:
    as_text = OutsideColumn(name="people", read_as="text")
    outside_tables.describe_columns(desk, roll.id, [as_text], roll.version)
    assert [c.column.read_as for c in outside_tables.show_columns(desk, roll.id)] == ["text", "text", "text"]
    found = outside_tables.show_rows(desk, roll.id, RowsQuery(like="CAEL"))
    assert (found.numbers, found.rows) == ([2], [["vint", "Cael", "9"]])
    with pytest.raises(DataError, match="no column “gone”"):
        outside_tables.describe_columns(desk, roll.id, [OutsideColumn(name="gone")], roll.version + 1)


def test_whoever_may_not_see_sensitive_answers_sees_no_row_of_an_outside_table(
    desk: Desk, q: int, roll: OutsideOut
) -> None:
    joined(desk, q, roll, combining.learn_weights(desk, roll.id, BY_LIKENESS))
    analyst = desk_of(desk.store, "analyst")
    for act in (
        lambda: outside_tables.show_rows(analyst, roll.id, RowsQuery()),
        lambda: outside_tables.show_columns(analyst, roll.id),
        lambda: matches.show_matches(analyst, roll.id),
        lambda: combining.compare_by_group(analyst, roll.id, SideBySide(ours="island", theirs="code")),
    ):
        with pytest.raises(Refused) as raised:
            act()
        assert raised.value.code == "forbidden"
    (seen,) = combining.list_joins(analyst, q)
    assert seen.report is not None and all(row.holds == "" for row in seen.report.unmatched_rows)


def test_a_join_is_tried_kept_changed_and_undone(desk: Desk, q: int, roll: OutsideOut) -> None:
    tried = combining.preview_join(desk, roll.id, BY_CODE)
    assert (tried.matched, tried.rows, tried.unmatched_rows[0].holds) == (2, 3, "vint · Cael · 9")
    kept = joined(desk, q, roll, BY_CODE)
    assert kept.report == tried.model_copy(update={"unread": {"mayor": 0, "people": 0}})
    assert (
        combining.unmatched_file(desk, q, roll.id, combining.UnmatchedQuery(side="theirs")).splitlines()[1]
        == "2,vint,Cael,9"
    )
    with pytest.raises(Refused, match="joined"):
        outside_tables.remove_outside(desk, q, roll.id)
    with pytest.raises(Refused, match="changed"):
        combining.set_join(desk, q, roll.id, JoinChange(join=None, version=roll.version))
    version = outside_tables.show_table(desk, roll.id).version
    assert combining.set_join(desk, q, roll.id, JoinChange(join=None, version=version)).join is None
    outside_tables.remove_outside(desk, q, roll.id)
    assert outside_tables.list_tables_in(desk, q) == []


def test_columns_taken_are_called_as_one_likes(desk: Desk, q: int, roll: OutsideOut) -> None:
    assert roll.suggested["mayor"] == "isles_roll_mayor"
    named = BY_CODE.model_copy(update={"called": {"mayor": "heads_it"}})
    kept = joined(desk, q, roll, named)
    assert kept.join is not None and kept.join.called == {"mayor": "heads_it", "people": "isles_roll_people"}
    assert kept.report is not None and kept.report.variables == ["heads_it", "isles_roll_people"]
    with desk.store.reading() as session:
        assert {"heads_it", "heads_it?"} <= set(desk.data(session, q).data["interviews"].frame.columns)
    for name in ("workers", "staff", "interviews"):
        taken = named.model_copy(update={"called": {"mayor": name}})
        with pytest.raises(DataError, match="Call the column of isles_roll otherwise"):
            combining.preview_join(desk, roll.id, taken)


def test_a_join_that_would_make_rows_is_shown_and_not_kept(desk: Desk, q: int) -> None:
    twice = brought_in(desk, q, "twice.csv", b"code,x\nkesk,1\nkesk,2\n")
    join = Join(keys=[KeyPair(ours="island", theirs="code")], take=["x"])
    assert combining.preview_join(desk, twice.id, join).more == 2
    with pytest.raises(DataError, match="2 rows more"):
        joined(desk, q, twice, join)
    below = joined(desk, q, twice, join.model_copy(update={"several": "rows"}))
    assert below.report is not None and below.report.matched == 2
    with desk.store.reading() as session:
        assert desk.data(session, q).data["twice"].frame.height == 4


def test_pairs_are_decided_kept_replayed_and_undone(desk: Desk, study: SmallStudy, q: int, roll: OutsideOut) -> None:
    learnt = combining.learn_weights(desk, roll.id, BY_LIKENESS)
    assert learnt.near is not None and learnt.near.learnt is not None
    wide = learnt.model_copy(update={"near": learnt.near.model_copy(update={"match": 60.0, "apart": -60.0})})
    joined(desk, q, roll, wide)
    found = matches.show_matches(desk, roll.id)
    first = found.doubtful[0]
    assert found.doubtful_count >= 2 and (found.same, found.matched) == (0, 0)
    assert show_stations(desk, study.study_id).stations["combine"].waiting > 0
    read = matches.show_pair(desk, roll.id, PairQuery(place=first.place, row=first.row))
    assert read.score == pytest.approx(first.score) and read.taken == {"mayor": "Bo"}
    matches.decide(desk, roll.id, MatchIn(place=first.place, row=first.row, decided="apart"))
    kept = matches.decide(desk, roll.id, MatchIn(place=first.place, row=first.row, decided="same"))
    after = matches.show_matches(desk, roll.id)
    assert (after.same, [d.id for d in after.decided]) == (1, [kept.id])
    assert mayors(desk, q)[int(first.place) - 1] == "Bo"
    study.arrive(study.document(answers={"consent": True, "island": "luma", "workers": 7}))
    assert matches.show_matches(desk, roll.id).same == 1
    matches.undo_decision(desk, roll.id, kept.id)
    assert matches.show_matches(desk, roll.id).same == 0
    with pytest.raises(SkavoError):
        matches.show_pair(desk, roll.id, PairQuery(place="9999", row=1))


def test_pairs_are_weighed_again_when_the_tables_change_and_not_when_one_is_decided(
    desk: Desk, study: SmallStudy, q: int, roll: OutsideOut, monkeypatch: pytest.MonkeyPatch
) -> None:
    weighed: list[int] = []

    def weigh(left: Rows, right: Rows, *how: Any) -> Weighed:
        weighed.append(len(left))
        return link.weigh(left, right, *how)

    monkeypatch.setattr(datasets, "weigh", weigh)
    learnt = combining.learn_weights(desk, roll.id, BY_LIKENESS)
    assert learnt.near is not None
    wide = learnt.model_copy(update={"near": learnt.near.model_copy(update={"match": 60.0, "apart": -60.0})})
    joined(desk, q, roll, wide)
    first = matches.show_matches(desk, roll.id).doubtful[0]
    matches.decide(desk, roll.id, MatchIn(place=first.place, row=first.row, decided="same"))
    assert (matches.show_matches(desk, roll.id).same, weighed) == (1, [3])
    study.arrive(study.document(answers={"consent": True, "island": "luma", "workers": 7}))
    matches.show_matches(desk, roll.id)
    plans.keep_step(desk, q, Correct(variable="island", interview="0004", value="kesk", reason="asked again"))
    matches.show_matches(desk, roll.id)
    assert weighed == [3, 4, 4]


def test_ours_stand_beside_theirs_by_group(desk: Desk, q: int, roll: OutsideOut) -> None:
    asked = SideBySide(ours="island", theirs="code", our_number="workers", their_number="people")
    found = combining.compare_by_group(desk, roll.id, asked)
    kesk, luma, vint = found.groups
    assert (kesk.name, kesk.ours.count, kesk.ours.mean, kesk.theirs.mean, kesk.apart) == ("kesk", 2, 2.5, 2.0, False)
    assert (luma.ours.count, luma.theirs.count, vint.ours.count, vint.theirs.total) == (1, 0, 0, 9.0)
    assert found.whole is not None and found.whole.ours.total == 10
    with pytest.raises(DataError, match="no column of numbers"):
        combining.compare_by_group(desk, roll.id, asked.model_copy(update={"their_number": "mayor"}))


def test_a_check_across_sources_is_found_with_the_others(
    desk: Desk, study: SmallStudy, q: int, roll: OutsideOut
) -> None:
    joined(desk, q, roll, BY_CODE)
    rule = SourceCheckIn(rule="workers <= isles_roll_people", words="More at work than live there", strength="must")
    tried = source_checks.try_check(desk, q, rule)
    assert (tried.rows, tried.of, tried.unknown, tried.interviews) == (1, 3, 1, ["0003"])
    kept = source_checks.keep_check(desk, q, rule)
    (line,) = [c for c in show_checks(desk, study.study_id).checks if c.code == "across_sources"]
    assert (line.text, line.interviews, line.strength) == ("More at work than live there", 1, "must")
    with desk.store.reading() as session:
        assert numbers_breaking(desk, session, study.study_id, line.id) == [3]
    with pytest.raises(DataError) as raised:
        source_checks.keep_check(desk, q, SourceCheckIn(rule="workers <= nothing_there"))
    assert raised.value.details["field"] == "rule"
    version = outside_tables.show_table(desk, roll.id).version
    combining.set_join(desk, q, roll.id, JoinChange(join=None, version=version))
    assert "isles_roll_people" in source_checks.list_checks(desk, q)[0].problem
    assert [c for c in show_checks(desk, study.study_id).checks if c.code == "across_sources"] == []
    source_checks.remove_check(desk, q, kept.id)
    assert source_checks.list_checks(desk, q) == []


@pytest.mark.parametrize(("handed_over", "holds"), [("yes", True), ("no", False)])
def test_what_must_not_be_handed_over_is_in_no_extract(
    desk: Desk, study: SmallStudy, q: int, roll: OutsideOut, handed_over: Any, holds: bool
) -> None:
    joined(desk, q, roll, BY_CODE)
    version = outside_tables.show_table(desk, roll.id).version
    outside_tables.write_card(desk, roll.id, Card(handed_over=handed_over), version)
    with desk.store.session() as session:
        job = Job(study_id=study.study_id, kind="extract", order={}, created_by="x")
        session.add(job)
        session.flush()
        number = job.id
    order = {"questionnaire_id": q, "options": {"format": "csv", "masked": False}, "cleaned": True}
    made = write_extract(desk.store, DataSets(desk.store.files), order, Progress(desk.store, number))
    content = (desk.store.files / made["file"][:2] / made["file"]).read_bytes()
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        heading = packed.read("interviews.csv").decode("utf-8-sig").splitlines()[0]
    assert ("isles_roll_mayor" in as_was(heading)) is holds
    assert made["kept_back"] == ([] if holds else ["isles_roll"])
