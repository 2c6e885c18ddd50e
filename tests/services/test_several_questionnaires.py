"""A study with several questionnaires: each station says which one it is about, and none takes one for another."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.services import checks, drafts, ledger, logbook
from skavo.services.desk import Desk
from skavo.services.releases import make_release
from skavo.store.models import Release
from tests.samples import staff_script
from tests.store.study import SmallStudy

BROKEN = {"consent": True, "workers": -1}


@pytest.fixture
def second(desk: Desk, study: SmallStudy) -> int:
    """A second questionnaire with the same questions, with one interview that breaks the same rule; the first has two."""
    made = drafts.make_questionnaire(desk, study.study_id, "Village", ["en"])
    saved = drafts.save_script(desk, made.id, staff_script(), made.version)
    release = make_release(desk, made.id, saved.version, "")
    with desk.store.reading() as session:
        identity = session.get_one(Release, release.id).identity
    for _ in range(2):
        study.arrive(study.document(answers=BROKEN))
    study.arrive(study.document(answers=BROKEN, release=identity, release_hash=release.hash))
    return made.id


def numbers(desk: Desk, study: SmallStudy, **query: Any) -> list[tuple[str, int | None]]:
    found = ledger.show_ledger(desk, study.study_id, ledger.LedgerQuery(sort="number", descending=False, **query))
    return [(line.key, line.questionnaire_id) for line in found.lines]


def test_the_ledger_holds_all_of_them_and_is_narrowed_to_one(desk: Desk, study: SmallStudy, second: int) -> None:
    first = study.questionnaire_id
    assert numbers(desk, study) == [("0001", first), ("0002", first), ("0003", second)]
    assert numbers(desk, study, questionnaire=second) == [("0003", second)]
    assert numbers(desk, study, questionnaire=first) == [("0001", first), ("0002", first)]
    assert numbers(desk, study, questionnaire=99) == []


def test_the_same_rule_in_two_questionnaires_is_two_checks(desk: Desk, study: SmallStudy, second: int) -> None:
    lines = checks.show_checks(desk, study.study_id).checks
    same = {(line.code, line.variable) for line in lines}
    assert len(lines) == 2 * len(same)
    for line in lines:
        behind = numbers(desk, study, check=line.id)
        assert {of for _, of in behind} == {line.questionnaire_id}
        assert len(behind) == line.interviews == (1 if line.questionnaire_id == second else 2)


def test_each_has_a_data_set_of_its_own(desk: Desk, study: SmallStudy, second: int) -> None:
    with desk.store.reading() as session:
        heights = [desk.data(session, q).data["interviews"].frame.height for q in (study.questionnaire_id, second)]
    assert heights == [2, 1]
    assert logbook.show_logbook(desk, study.study_id).account.in_data_set == 3


def test_an_empty_page_is_nothing_that_waits(desk: Desk, study: SmallStudy) -> None:
    drafts.make_questionnaire(desk, study.study_id, "Village", ["en"])
    assert logbook.show_stations(desk, study.study_id).stations["questionnaire"].waiting == 0
