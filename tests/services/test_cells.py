"""The history of a cell: asked, handed in twice, cleaned, joined; and nothing of it for whoever may not see it."""

from __future__ import annotations

import pytest

from skavo.core.cleaning.steps import Correct, LeaveOut, Recode
from skavo.core.combining.spec import Join, KeyPair
from skavo.services import cells, combining, matches, plans
from skavo.services.cells import CellHistoryOut, CellQuery
from skavo.services.combining import JoinChange
from skavo.services.desk import Desk
from skavo.services.matches import MatchIn
from skavo.services.refusals import Refused
from tests.outside_files import brought_in
from tests.services.conftest import desk_of
from tests.services.test_combining import BY_LIKENESS
from tests.services.test_desk import asked_names
from tests.store.study import SmallStudy


@pytest.fixture
def answered(study: SmallStudy) -> SmallStudy:
    study.arrive(study.document(answers={"consent": True, "workers": 2, "island": "luma"}))
    study.arrive(study.document(answers={"consent": True, "workers": 5, "island": "kesk"}))
    return study


def cell(desk: Desk, study: SmallStudy, variable: str, interview: str = "0001") -> CellHistoryOut:
    return cells.show_cell(desk, study.questionnaire_id, CellQuery(interview=interview, variable=variable))


def test_a_cell_tells_what_was_answered_and_what_each_step_made_of_it(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    plans.keep_step(desk, q, Recode(variable="island", mapping={"luma": "kesk"}, reason="merged"))
    plans.keep_step(desk, q, Correct(variable="island", interview="0001", value="luma", reason="Asked again"))
    plans.keep_step(desk, q, LeaveOut(rule="workers > 4", reason="too large"))
    found = cell(desk, answered, "island")
    handed, first, second = found.history
    assert (handed.kind, handed.value, handed.counts) == ("handed in", "Luma", True)
    assert [(h.step, h.before, h.value, h.said) for h in (first, second)] == [
        (1, "luma", "kesk", "merged"), (2, "kesk", "luma", "Asked again"),
    ]  # fmt: skip
    assert (found.value, found.wording != "") == ("luma", True)
    other = cell(desk, answered, "island", "0002")
    assert [h.kind for h in other.history] == ["handed in", "left out"] and other.value == ""


def test_a_cell_of_an_outside_table_tells_its_row_and_how_it_was_found(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    roll = brought_in(desk, q, "roll.csv", b"code,mayor,people\nvint,Bo,1\nKESK,Cael,5\n")
    by_key = Join(keys=[KeyPair(ours="island", theirs="code")], take=["mayor"])
    combining.set_join(desk, q, roll.id, JoinChange(join=by_key, version=roll.version))
    (joined,) = cell(desk, answered, "roll_mayor", "0002").history
    assert (joined.kind, joined.value, joined.said) == ("joined", "Cael", "roll.csv, row 2, by key")
    (nobody,) = cell(desk, answered, "roll_mayor").history
    assert nobody.said == "roll.csv: no row was found"
    learnt = combining.learn_weights(desk, roll.id, BY_LIKENESS)
    combining.set_join(desk, q, roll.id, JoinChange(join=learnt, version=roll.version + 1))
    matches.decide(desk, roll.id, MatchIn(place="0001", row=1, decided="same"))
    (decided,) = cell(desk, answered, "roll_mayor").history
    assert (decided.value, decided.said) == ("Bo", "roll.csv, row 1, as Dora Maine decided")


def test_what_is_hidden_and_what_is_not_there_has_no_history(desk: Desk, answered: SmallStudy) -> None:
    with pytest.raises(Refused, match="no variable “nothing”"):
        cell(desk, answered, "nothing")
    with pytest.raises(Refused):
        cell(desk, answered, "island", "0099")
    names = asked_names(desk.store)
    assert cell(desk, names, "name").value == "Bo"
    with pytest.raises(Refused, match="no variable “name”"):
        cell(desk_of(desk.store, "analyst"), names, "name")
    seen = cell(desk_of(desk.store, "analyst"), answered, "island")
    assert seen.place == "" and seen.history[0].value == "Luma"
