"""The shelf of a study: saved modules beside the ready ones, changed by one at a time, removed without a trace in scripts."""

from __future__ import annotations

import pytest

from skavo.core.errors import SkavoError
from skavo.core.modules.shelf import READY
from skavo.core.questionnaire.graft import Fragment
from skavo.services import modules
from skavo.services.desk import Desk
from skavo.services.modules import ModuleIn
from tests.samples import code_list, part, script
from tests.store.study import SmallStudy


def boats(wording: str = "How many boats?") -> ModuleIn:
    lines = [
        part(3, "section", "fleet"),
        part(4, "whole number", "boats", wording={"en": wording}, origin="people/age"),
        part(4, "single answer", "kind", code_list="boat"),
    ]
    fragment = Fragment(languages=["en"], parts=lines, code_lists=[code_list("boat", "sail", "oar")])
    return ModuleIn(title="Boats of the isle", measures="What floats.", source="Our harbour count.", fragment=fragment)


def names(desk: Desk, study: SmallStudy) -> list[str]:
    return [entry.module.name for entry in modules.shelf_of(desk, study.study_id)]


def test_saved_ones_stand_before_the_ready_ones(desk: Desk, study: SmallStudy) -> None:
    assert names(desk, study) == [m.name for m in READY]
    made = modules.save_module(desk, study.study_id, boats())
    assert made.module.name == "boats_of_the_isle" and made.created_by == "Dora Maine" and made.findings == 0
    assert names(desk, study)[:2] == ["boats_of_the_isle", READY[0].name]
    again = modules.save_module(desk, study.study_id, boats())
    assert again.module.name == "boats_of_the_isle_2"


def test_its_lines_stand_on_their_own(desk: Desk, study: SmallStudy) -> None:
    lines = modules.save_module(desk, study.study_id, boats()).module.fragment.parts
    assert [(p.level, p.origin) for p in lines] == [(1, ""), (2, ""), (2, "")]


def test_what_is_wrong_with_it_alone_is_counted(desk: Desk, study: SmallStudy) -> None:
    wanted = boats()
    wanted.fragment.parts[1].asked_when = "has_harbour is yes"
    assert modules.save_module(desk, study.study_id, wanted).findings == 1


def test_taken_changed_and_brought_up_to_date(desk: Desk, study: SmallStudy) -> None:
    made = modules.save_module(desk, study.study_id, boats())
    assert made.id is not None
    q, name = study.questionnaire_id, made.module.name
    taken = modules.take_module(desk, q, script(part(1, "text", "kind")), name, 1, 1)
    assert taken.renamed == {"kind": "boats_of_the_isle_kind"[:32]}
    modules.replace_module(desk, made.id, boats("How many boats lie here?"), 1)
    with pytest.raises(SkavoError) as late:
        modules.replace_module(desk, made.id, boats("Mine"), 1)
    assert late.value.code == "changed_meanwhile"
    update = modules.update_module(desk, q, taken.script, name)
    assert [(c.what, c.variable) for c in update.comparison.changes] == [("re-worded", "boats")]
    assert update.script.parts[2].wording["en"] == "How many boats lie here?"


def test_a_removed_one_is_gone_and_its_name_is_not_given_again(desk: Desk, study: SmallStudy) -> None:
    made = modules.save_module(desk, study.study_id, boats())
    assert made.id is not None
    taken = modules.take_module(desk, study.questionnaire_id, script(part(1, "text", "x")), made.module.name, 1, 1)
    modules.remove_module(desk, made.id)
    assert made.module.name not in names(desk, study)
    for act in (
        lambda: modules.update_module(desk, study.questionnaire_id, taken.script, made.module.name),
        lambda: modules.remove_module(desk, made.id or 0),
        lambda: modules.replace_module(desk, made.id or 0, boats(), 1),
    ):
        with pytest.raises(SkavoError) as gone:
            act()
        assert gone.value.code == "not_found"
    assert modules.save_module(desk, study.study_id, boats()).module.name == "boats_of_the_isle_2"


def test_a_module_that_was_not_taken_cannot_be_brought_up_to_date(desk: Desk, study: SmallStudy) -> None:
    with pytest.raises(SkavoError) as refused:
        modules.update_module(desk, study.questionnaire_id, script(part(1, "text", "x")), "people")
    assert refused.value.code == "not_taken"
    wanted = boats()
    wanted.fragment.parts = []
    with pytest.raises(SkavoError) as empty:
        modules.save_module(desk, study.study_id, wanted)
    assert empty.value.code == "empty_module"
