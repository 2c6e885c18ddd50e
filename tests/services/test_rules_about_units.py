"""Rules about units are checked against the kinds of the study wherever a script is compiled."""

from __future__ import annotations

import pytest

from skavo.services.desk import Desk
from skavo.services.drafts import compile_draft, save_script, show_draft
from skavo.services.explaining import ExplainIn, TrialIn, explain, try_rule_in
from skavo.services.flow import show_flow
from skavo.services.kept_tests import show_tests
from skavo.services.logbook import show_logbook
from skavo.services.refusals import Refused
from skavo.services.releases import make_release
from tests.samples import part, script
from tests.services.plan import Plan
from tests.store.study import SmallStudy


def write(desk: Desk, study: SmallStudy, rule: str) -> list[str]:
    """Save a script with a rule about a workshop; the codes of what is wrong."""
    draft = show_draft(desk, study.questionnaire_id)
    written = script(
        part(1, "unit", "shop", register_name="workshop", wording={"en": "Which one?"}),
        part(1, "text", "why", asked_when=rule, wording={"en": "Why is it {shop.condition}?"}),
    )
    saved = save_script(desk, draft.id, written, draft.version)
    return [finding.code for finding in saved.findings if finding.severity == "error"]


def test_fields_and_codes_of_a_kind_are_known_to_every_station(desk: Desk, study: SmallStudy) -> None:
    Plan(desk, study.study_id)
    assert write(desk, study, "shop.condition is pooor") == ["impossible_code"]
    assert {matter.kind: matter.count for matter in show_logbook(desk, study.study_id).matters}["script_errors"] == 1
    assert write(desk, study, "shop.contition is poor") == ["unknown_attribute"]
    assert write(desk, study, "unit.contition is poor") == ["unknown_attribute"]
    assert write(desk, study, "shop.condition is poor") == []
    line = show_draft(desk, study.questionnaire_id).script.parts[1].id
    compiled = compile_draft(desk, study.questionnaire_id).release
    assert compiled is not None and "workshop.condition" in compiled["code_lists"]
    assert show_flow(desk, study.questionnaire_id).blocks
    assert show_tests(desk, study.questionnaire_id).ran
    asked = ExplainIn(part_id=line, text="shop.condition is poor", answers={})
    assert explain(desk, study.questionnaire_id, asked).steps[0].outcome == "unknown"
    written = show_draft(desk, study.questionnaire_id).script
    trial = try_rule_in(
        desk, study.questionnaire_id, TrialIn(script=written, part_id=line, text="shop.condition is poor")
    )
    assert [mentioned.variable for mentioned in trial.mentions] == ["shop"]
    draft = show_draft(desk, study.questionnaire_id)
    made = make_release(desk, draft.id, draft.version, "")
    assert show_draft(desk, draft.id).release_hash == made.hash


def test_a_study_without_a_register_is_not_held_against_one(desk: Desk, study: SmallStudy) -> None:
    assert write(desk, study, 'shop.anything is "x"') == []
    draft = show_draft(desk, study.questionnaire_id)
    make_release(desk, draft.id, draft.version, "")


def test_what_is_wrong_about_a_unit_refuses_a_release(desk: Desk, study: SmallStudy) -> None:
    Plan(desk, study.study_id)
    write(desk, study, "shop.condition is pooor")
    draft = show_draft(desk, study.questionnaire_id)
    with pytest.raises(Refused, match="1 error"):
        make_release(desk, draft.id, draft.version, "")
