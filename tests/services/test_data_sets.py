"""Data sets at the desk: what questionnaires begin with, recipes kept and changed, what is made of them."""

from __future__ import annotations

import io
import shutil
import zipfile
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.cleaning.steps import Derive, Recode
from skavo.core.combining.spec import Join, KeyPair
from skavo.core.dataset.flatten import FACTS
from skavo.core.errors import DataError
from skavo.core.estimation.tables import TableRequest
from skavo.core.questionnaire.script import Code, CodeList, write_script
from skavo.core.recipes.recipe import LeavesOut, Recipe, Source, Wide, recipe_of
from skavo.jobs.extracts import write_extract
from skavo.jobs.runner import Progress
from skavo.services import combining, data_sets, outside_tables, plans, tables
from skavo.services.combining import JoinChange
from skavo.services.data_sets import DataSetChange, DataSetIn, DataSetOut, ProposeIn, SetRowsQuery
from skavo.services.desk import Desk
from skavo.services.outside_tables import Card
from skavo.services.refusals import Refused
from skavo.services.tables import Figure
from skavo.store.database import open_store
from skavo.store.datasets import DataSets
from skavo.store.files import read_file
from skavo.store.models import Interview, Job, Questionnaire, Study
from tests.outside_files import brought_in
from tests.samples import part, script
from tests.services.conftest import desk_of
from tests.services.test_renamed_release import release_renamed
from tests.store.study import SmallStudy, release_in, small_study

SHOPS = [("kesk", 2), ("luma", 5), ("kesk", 3)]


@pytest.fixture
def q(study: SmallStudy) -> int:
    for island, workers in SHOPS:
        study.arrive(study.document(answers={"consent": True, "island": island, "workers": workers}))
    return study.questionnaire_id


def kept(desk: Desk, study: SmallStudy, title: str = "Mine", **said: Any) -> DataSetOut:
    recipe = Recipe(**{"sources": [Source(questionnaire=study.questionnaire_id)], **said})
    return data_sets.add_data_set(desk, study.study_id, DataSetIn(title=title, recipe=recipe))


def extract(desk: Desk, study: SmallStudy, set_id: int, store: Any = None, **options: Any) -> dict[str, Any]:
    """What the job of an extract makes, in this store or a copy of it."""
    with (store or desk.store).session() as session:
        job = Job(study_id=study.study_id, kind="extract", order={}, created_by="x")
        session.add(job)
        session.flush()
        number = job.id
    order = {"data_set_id": set_id, "options": {"format": "csv", "masked": False, **options}, "cleaned": True}
    held = store or desk.store
    return write_extract(held, DataSets(held.files), order, Progress(held, number))


def files_in(desk: Desk, made: dict[str, Any]) -> dict[str, str]:
    with zipfile.ZipFile(io.BytesIO(read_file(desk.store.files, made["file"]))) as packed:
        return {name: packed.read(name).decode() for name in packed.namelist()}


class TestWhatAQuestionnaireBeginsWith:
    def test_it_is_there_at_once_is_called_like_it_and_stays_as_it_is(
        self, desk: Desk, study: SmallStudy, q: int
    ) -> None:
        (begun,) = data_sets.list_data_sets(desk, study.study_id).sets
        assert (begun.id, begun.title, begun.questionnaire_id, begun.recipe) == (
            study.own_set, "Sample", q, recipe_of(q),
        )  # fmt: skip
        change = DataSetChange(title="Else", recipe=begun.recipe, version=begun.version)
        for act in (
            lambda: data_sets.change_data_set(desk, begun.id, change),
            lambda: data_sets.remove_data_set(desk, begun.id),
        ):
            with pytest.raises(Refused, match="stays as it is"):
                act()

    def test_one_for_units_of_a_register_has_none(self, desk: Desk, study: SmallStudy) -> None:
        with desk.store.session() as session:
            session.add(Questionnaire(study_id=study.study_id, title="Shop", script={}, describes="units"))
        assert len(data_sets.list_data_sets(desk, study.study_id).sets) == 1

    def test_its_tables_are_those_of_the_questionnaire(self, desk: Desk, study: SmallStudy, q: int) -> None:
        plans.keep_step(desk, q, Recode(variable="island", mapping={"luma": "kesk"}))
        found = tables.compute_table(desk, study.own_set, TableRequest(variable="island"))
        assert (found.data_set, found.interviews) == ("Sample", 3)
        assert found.cells[[row.value for row in found.rows].index("kesk")][0].count == 3


class TestKept:
    def test_a_recipe_is_made_and_its_rows_are_read(self, desk: Desk, study: SmallStudy, q: int) -> None:
        mine = kept(desk, study, left_out=[LeavesOut(rule="workers > 4", reason="large")], derived=[
            Derive(into="twice", formula="workers * 2"),
        ])  # fmt: skip
        made = data_sets.show_made(desk, mine.id)
        assert (made.left_out, made.narrowed[0].kept, made.tables[0].rows) == ([1], 3, 2)
        rows = data_sets.show_set_rows(desk, mine.id, SetRowsQuery(table="interviews"))
        at = rows.columns.index("twice")
        assert [row[at] for row in rows.rows] == ["4", "6"]
        assert tables.compute_table(desk, mine.id, TableRequest(show="mean", variable="twice")).interviews == 2

    def test_a_recipe_that_cannot_be_made_is_not_kept(self, desk: Desk, study: SmallStudy, q: int) -> None:
        with pytest.raises(DataError, match="Did you mean workers"):
            kept(desk, study, left_out=[LeavesOut(rule="worker > 4")])
        with pytest.raises(Refused, match="a data set “SAMPLE” already"):
            kept(desk, study, title="SAMPLE")
        assert len(data_sets.list_data_sets(desk, study.study_id).sets) == 1

    def test_a_questionnaire_of_another_study_is_none(self, desk: Desk, study: SmallStudy, q: int) -> None:
        other = small_study(desk.store)
        with pytest.raises(Refused, match="questionnaire"):
            kept(desk, study, sources=[Source(questionnaire=other.questionnaire_id)])

    def test_its_revision_rises_with_whatever_it_is_made_from(self, desk: Desk, study: SmallStudy, q: int) -> None:
        def at() -> int:
            return next(s.revision for s in data_sets.list_data_sets(desk, study.study_id).sets if s.id == mine.id)

        mine = kept(desk, study, accepted_only=True)
        seen = [at()]
        mine = data_sets.change_data_set(
            desk, mine.id, DataSetChange(title="Mine", recipe=recipe_of(q), version=mine.version)
        )
        seen.append(at())
        study.arrive(study.document(answers={"consent": True, "island": "kesk", "workers": 1}))
        seen.append(at())
        plans.keep_step(desk, q, Recode(variable="island", mapping={"luma": "kesk"}))
        seen.append(at())
        with desk.store.session() as session:
            session.get_one(Study, study.study_id).time_zone = "Etc/GMT+8"
        seen.append(at())
        assert seen == sorted(set(seen))
        assert tables.compute_table(desk, mine.id, TableRequest(variable="island")).revision == seen[-1]

    def test_two_who_change_it_at_once_do_not_overwrite_each_other(self, desk: Desk, study: SmallStudy, q: int) -> None:
        mine = kept(desk, study)
        change = DataSetChange(title="First", recipe=mine.recipe, version=mine.version)
        data_sets.change_data_set(desk, mine.id, change)
        with pytest.raises(Refused) as refused:
            data_sets.change_data_set(desk, mine.id, change.model_copy(update={"title": "Second"}))
        assert refused.value.code == "changed_meanwhile"

    def test_one_that_tables_are_made_of_is_not_removed_and_one_removed_comes_back(
        self, desk: Desk, study: SmallStudy, q: int
    ) -> None:
        mine = kept(desk, study)
        table = tables.save_table(desk, mine.id, "Isles", TableRequest(variable="island"))
        with pytest.raises(Refused, match="1 saved tables are made"):
            data_sets.remove_data_set(desk, mine.id)
        tables.remove_table(desk, table.id)
        data_sets.remove_data_set(desk, mine.id)
        with pytest.raises(Refused, match="data set"):
            tables.compute_table(desk, mine.id, TableRequest(variable="island"))
        assert data_sets.bring_back_data_set(desk, study.study_id, mine.id).title == "Mine"
        assert tables.compute_table(desk, mine.id, TableRequest(variable="island")).interviews == 3

    def test_a_recipe_that_no_longer_fits_says_so_and_takes_nothing_else_down(
        self, desk: Desk, study: SmallStudy, q: int
    ) -> None:
        plan = plans.keep_step(desk, q, Derive(into="twice", formula="workers * 2"))
        mine = kept(desk, study, left_out=[LeavesOut(rule="twice > 5")])
        plans.take_out(desk, q, plan.steps[0].id)
        with pytest.raises(DataError, match=r"“Mine” cannot be made.*twice.*under Combine"):
            tables.compute_table(desk, mine.id, TableRequest(variable="island"))
        assert len(data_sets.list_data_sets(desk, study.study_id).sets) == 2

    def test_a_release_that_renames_leaves_its_names_as_they_were(self, desk: Desk, study: SmallStudy, q: int) -> None:
        mine = kept(desk, study, left_out=[LeavesOut(rule="workers > 4")])
        release_renamed(desk, study, {"workers": "people"})
        assert tables.compute_table(desk, mine.id, TableRequest(show="mean", variable="workers")).interviews == 2


def more(desk: Desk, study: SmallStudy) -> int:
    """Another questionnaire of the study: one variable under another name, one with its codes the other way round."""
    isles = [Code(code="luma", label={"en": "Kesk"}), Code(code="kesk", label={"en": "Luma"})]
    asked = script(
        part(1, "single answer", "isle", wording={"en": "Wording of island"}, code_list="isles"),
        part(1, "whole number", "workers", wording={"en": "How many work here?"}),
        lists=(CodeList(name="isles", codes=isles),),
    )
    with desk.store.session() as session:
        made = Questionnaire(study_id=study.study_id, title="Second", script={"parts": []})
        session.add(made)
        session.flush()
        number = made.id
    release_in(desk.store, number, asked, 1)
    return number


class TestRounds:
    def test_rounds_of_a_questionnaire_go_under_each_other_by_their_days(
        self, desk: Desk, study: SmallStudy, q: int
    ) -> None:
        today = date.today()
        early = Source(questionnaire=q, called="Early", until=today - timedelta(days=2))
        late = Source(questionnaire=q, called="Late", since=today - timedelta(days=1))
        made = data_sets.show_made(desk, kept(desk, study, sources=[early, late]).id)
        assert [(one.kept, one.other_day) for one in made.narrowed] == [(0, 3), (3, 0)]
        source = next(v for v in made.variables if v.variable == "source")
        assert (source.codes, source.values) == ({"1": "Early", "2": "Late"}, 3)

    def test_another_questionnaire_is_proposed_a_place_for_each_variable(
        self, desk: Desk, study: SmallStudy, q: int
    ) -> None:
        other = more(desk, study)
        found = data_sets.propose_source(
            desk, study.study_id, ProposeIn(sources=[Source(questionnaire=q), Source(questionnaire=other)])
        )
        assert found.names == {"isle": "island"}
        assert found.codes == {"isle": {"luma": "kesk", "kesk": "luma"}}
        second = Source(questionnaire=other, names=found.names, codes=found.codes)
        mine = kept(desk, study, sources=[Source(questionnaire=q), second])
        assert data_sets.show_made(desk, mine.id).tables[0].rows == 3
        behind = tables.show_behind(
            desk, mine.id, Figure(request=TableRequest(show="mean", variable="workers"), row="*", column="*")
        )
        assert {w["questionnaire"] for w in behind.wordings} == {"Sample", "Second"}


class TestHandedOver:
    @pytest.mark.parametrize("form", ["csv", "xlsx", "sav", "script"])
    def test_the_same_revision_gives_the_same_bytes_later_and_on_another_machine(
        self, desk: Desk, study: SmallStudy, q: int, form: str, tmp_path: Path
    ) -> None:
        """The other machine has a copy of the store, without what is only kept for speed."""
        # Handed in again: its rows are laid out last, and stand in their old place.
        document = study.document(answers={"consent": True, "island": "kesk", "workers": 1})
        study.arrive(document)
        study.arrive(study.document(answers={"consent": True, "island": "luma", "workers": 4}))
        first = extract(desk, study, study.own_set, format=form)
        number = len(SHOPS) + 1
        with desk.store.session() as session:
            session.scalars(select(Interview).where(Interview.number == number)).one().state = "sent back"
        basis = study.interview(number).hash
        study.arrive({**document, "basis": basis, "answers": {"consent": True, "island": "luma", "workers": 9}})
        before = extract(desk, study, study.own_set, format=form)
        assert before["revision"] > first["revision"]
        assert before["file"] != first["file"]
        copied = tmp_path / "other"
        shutil.copytree(desk.store.files.parent, copied, ignore=shutil.ignore_patterns("cache"))
        again = extract(desk, study, study.own_set, format=form, store=open_store(copied))
        assert (again["file"], again["revision"]) == (before["file"], before["revision"])

    def test_a_file_says_what_it_is_made_of(self, desk: Desk, study: SmallStudy, q: int) -> None:
        mine = kept(desk, study, title="Shops, wide", turned=[Wide(table="staff", variables=["age"], most=2)])
        made = extract(desk, study, mine.id)
        assert (made["name"], made["data_set"]) == ("shops_wide.csv.zip", "Shops, wide")
        assert f"Data set “Shops, wide” at revision {made['revision']}." in files_in(desk, made)["notes.txt"]

    def test_what_must_not_be_handed_over_is_not_by_way_of_a_recipe_either(
        self, desk: Desk, study: SmallStudy, q: int
    ) -> None:
        roll = brought_in(desk, q, "roll.csv", b"code,mayor,people\nKESK,Bo,2\nluma,Cael,9\n")
        join = Join(keys=[KeyPair(ours="island", theirs="code")], take=["mayor", "people"])
        combining.set_join(desk, q, roll.id, JoinChange(join=join, version=roll.version))
        mine = kept(desk, study, derived=[Derive(into="crowd", formula="roll_people + 1")], sources=[
            Source(questionnaire=q, names={"roll_mayor": "head"}),
        ])  # fmt: skip
        assert "crowd" in files_in(desk, extract(desk, study, mine.id))["interviews.csv"]
        held = next(one for one in outside_tables.list_tables_in(desk, q) if one.id == roll.id)
        outside_tables.write_card(desk, roll.id, Card(handed_over="no"), held.version)
        made = extract(desk, study, mine.id)
        heading = files_in(desk, made)["interviews.csv"].splitlines()[0]
        assert made["kept_back"] == ["roll"]
        assert not [name for name in ("crowd", "head", "roll_people") if name in heading]

    def test_a_script_repeats_the_plan_of_one_questionnaire(self, desk: Desk, study: SmallStudy, q: int) -> None:
        with pytest.raises(DataError, match="one questionnaire"):
            extract(desk, study, kept(desk, study).id, format="script")


class TestAnOutsideTableAsASource:
    """Its rows stand under the interviews: all of them, or those of nobody, so that both sides of a join are there."""

    @pytest.fixture
    def roll(self, desk: Desk, q: int) -> int:
        roll = brought_in(desk, q, "roll.csv", b"code,mayor,people\nKESK,Bo,2\nvint,Cael,9\n")
        join = Join(keys=[KeyPair(ours="island", theirs="code")], take=["mayor"])
        combining.set_join(desk, q, roll.id, JoinChange(join=join, version=roll.version))
        return roll.id

    def sources(self, q: int, roll: int, only: Any = "nobody") -> list[Source]:
        return [Source(questionnaire=q), Source(questionnaire=q, outside=roll, only=only, names={"island": "code"})]

    def test_those_of_nobody_make_both_sides_complete(self, desk: Desk, study: SmallStudy, q: int, roll: int) -> None:
        (offered,) = data_sets.list_data_sets(desk, study.study_id).sources
        assert [(one.id, one.name, one.is_joined) for one in offered.outside] == [(roll, "roll", True)]
        mine = kept(desk, study, sources=self.sources(q, roll))
        rows = data_sets.show_set_rows(desk, mine.id, SetRowsQuery(table="interviews"))
        shown = [dict(zip(rows.columns, row, strict=True)) for row in rows.rows]
        assert [(row["interview.key"], row["roll_mayor"], row["people"]) for row in shown] == [
            ("0001", "Bo", "[not asked]"), ("0002", "[not asked]", "[not asked]"), ("0003", "Bo", "[not asked]"),
            ("roll:2", "Cael", "9"),
        ]  # fmt: skip
        study.arrive(study.document(answers={"consent": True, "island": "luma", "workers": 7}))
        changed = kept(desk, study, title="All", sources=self.sources(q, roll, "all"))
        assert data_sets.show_set_rows(desk, changed.id, SetRowsQuery(table="interviews")).total == 6
        whole = TableRequest(variable="roll_mayor")
        assert tables.compute_table(desk, mine.id, whole).interviews == 5
        row = next(r.value for r in tables.compute_table(desk, mine.id, whole).rows if r.value == "Cael")
        figure = Figure(request=whole, row=row, column="")
        assert tables.show_behind(desk, mine.id, figure).interviews == 1

    def test_what_the_join_compares_is_one_variable_with_our_codes(
        self, desk: Desk, study: SmallStudy, q: int, roll: int
    ) -> None:
        sources = [Source(questionnaire=q), Source(questionnaire=q, outside=roll, only="all")]
        mine = kept(desk, study, sources=sources)
        found = tables.compute_table(desk, mine.id, TableRequest(variable="island"))
        assert {row.value: cell[0].count for row, cell in zip(found.rows, found.cells, strict=True) if row.value} == {
            "kesk": 3, "luma": 1, "vint": 1,
        }  # fmt: skip

    def test_what_is_which_is_proposed(self, desk: Desk, study: SmallStudy, q: int, roll: int) -> None:
        found = data_sets.propose_source(desk, study.study_id, ProposeIn(sources=self.sources(q, roll)))
        by = {pairing.theirs: (pairing.called, pairing.by) for pairing in found.pairings}
        assert by["roll_mayor"] == ("roll_mayor", "identity") and by["people"] == ("people", "new")

    def test_it_is_no_table_of_another_questionnaire_and_is_not_taken_away(
        self, desk: Desk, study: SmallStudy, q: int, roll: int
    ) -> None:
        other = small_study(desk.store, script(part(1, "whole number", "age")))
        with pytest.raises(Refused):
            data_sets.try_recipe(
                desk, other.study_id, Recipe(sources=[Source(questionnaire=other.questionnaire_id, outside=roll)])
            )
        kept(desk, study, sources=self.sources(q, roll))
        version = next(one.version for one in outside_tables.list_tables_in(desk, q) if one.id == roll)
        combining.set_join(desk, q, roll, JoinChange(join=None, version=version))
        with pytest.raises(Refused, match="source of the data set “Mine”"):
            outside_tables.remove_outside(desk, q, roll)

    def test_tables_called_the_same_and_one_taken_twice_are_told_with_what_to_do(
        self, desk: Desk, study: SmallStudy, q: int, roll: int
    ) -> None:
        asked = script(part(1, "whole number", "age"))
        with desk.store.session() as session:
            other = Questionnaire(study_id=study.study_id, title="By letter", script=write_script(asked))
            session.add(other)
            session.flush()
            number = other.id
        release_in(desk.store, number, asked, 1)
        same = brought_in(desk, number, "roll.csv", b"code\n1\n")
        both = [Source(questionnaire=q, outside=roll), Source(questionnaire=number, outside=same.id)]
        with pytest.raises(DataError, match="Bring one of them in under another name"):
            data_sets.try_recipe(desk, study.study_id, Recipe(sources=both))
        twice = [Source(questionnaire=q, outside=roll), Source(questionnaire=q, outside=roll, only="nobody")]
        with pytest.raises(DataError, match=r"roll:2 is in two sources .* taken out once"):
            data_sets.try_recipe(desk, study.study_id, Recipe(sources=twice))

    def test_its_rows_are_not_handed_over_where_its_card_says_so(
        self, desk: Desk, study: SmallStudy, q: int, roll: int
    ) -> None:
        mine = kept(desk, study, sources=self.sources(q, roll))
        assert "roll:2" in files_in(desk, extract(desk, study, mine.id))["interviews.csv"]
        version = next(one.version for one in outside_tables.list_tables_in(desk, q) if one.id == roll)
        outside_tables.write_card(desk, roll, Card(handed_over="no"), version)
        made = extract(desk, study, mine.id)
        text = files_in(desk, made)["interviews.csv"]
        assert made["kept_back"] == ["roll"]
        assert not [word for word in ("roll:2", "Cael", "Bo", "mayor") if word in text] and "0003" in text


def test_whoever_may_not_see_sensitive_answers_sees_no_rule_about_them(desk: Desk, study: SmallStudy, q: int) -> None:
    asked = script(part(1, "text", "name", sensitive=True), part(1, "whole number", "age"))
    hidden = small_study(desk.store, asked)
    hidden.arrive(hidden.document(answers={"name": "Bo", "age": 30}))
    mine = kept(desk, hidden, left_out=[LeavesOut(rule='name is "Cael"'), LeavesOut(rule="age > 90")])
    seen = data_sets.list_data_sets(desk_of(desk.store, "analyst"), hidden.study_id).sets[-1]
    assert [left.rule for left in seen.recipe.left_out] == ["•••", "age > 90"]
    rows = data_sets.show_set_rows(desk_of(desk.store, "analyst"), mine.id, SetRowsQuery(table="interviews"))
    assert rows.columns == [*FACTS, "age"]
