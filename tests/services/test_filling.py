"""Interviews that fill fields of units: at acceptance, with a trace, and out again when that is taken back."""

from __future__ import annotations

from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.questionnaire.script import Script
from skavo.services.deciding import Decision, decide, let_revision_count
from skavo.services.desk import Desk
from skavo.services.drafts import save_script, show_draft
from skavo.services.releases import make_release
from skavo.services.unit_changes import UnitChange, change_unit
from skavo.services.units import UnitOut, show_unit
from skavo.store.models import Event, Unit
from tests.samples import code_list, part, script
from tests.services.plan import Plan
from tests.store.study import Document, SmallStudy

CONDITION = code_list("condition", "good", "fair", "poor", "broken")


def asking() -> Script:
    """Of the visited workshop, of one that is picked, and of each tool of that."""
    return script(
        part(1, "single answer", "state", code_list="condition", fills="unit.condition"),
        part(1, "text", "sign", fills="unit.name"),
        part(1, "unit", "other", register_name="workshop"),
        part(1, "single answer", "other_state", code_list="condition", fills="other.condition"),
        part(1, "roster", "tool", repeated="for each unit under other", register_name="tool"),
        part(2, "single answer", "tool_state", code_list="condition", fills="unit.condition"),
        lists=(CONDITION,),
    )


class Asked:
    """A register, a questionnaire that fills it, and interviews about it."""

    def __init__(self, desk: Desk, study: SmallStudy) -> None:
        self.desk, self.study, self.plan = desk, study, Plan(desk, study.study_id)
        ward = self.plan.make(self.plan.ward, "LM")
        self.shop = self.plan.make(self.plan.shop, "LM-1", ward, name="Tern", condition="good")
        self.other = self.plan.make(self.plan.shop, "LM-2", ward, name="Gull")
        self.lathe = self.plan.make(self.plan.tool, "L1", self.other)
        self.vice = self.plan.make(self.plan.tool, "V1", self.other, condition="good")
        draft = show_draft(desk, study.questionnaire_id)
        saved = save_script(desk, draft.id, asking(), draft.version)
        assert [f for f in saved.findings if f.severity == "error"] == []
        self.release = make_release(desk, draft.id, saved.version, "")

    def identity(self, unit: UnitOut) -> str:
        with self.study.store.reading() as session:
            return session.get_one(Unit, unit.id).identity

    def document(self, answers: dict[str, Any], **more: Any) -> Document:
        units = {
            self.identity(unit): {"label": unit.label, "register": kind, "under": under}
            for unit, kind, under in (
                (self.shop, "workshop", ""), (self.other, "workshop", ""),
                (self.lathe, "tool", self.identity(self.other)), (self.vice, "tool", self.identity(self.other)),
            )
        }  # fmt: skip
        known = {"unit": self.identity(self.shop), "units": units, "earlier": {}}
        return self.study.document(release="", release_hash=self.release.hash, answers=answers, known=known, **more)

    def arrive(self, **answers: Any) -> int:
        self.study.arrive(self.document(answers))
        return self.study.interview().id

    def decide(self, interview_id: int, state: Any) -> dict[str, Any]:
        decide(self.desk, interview_id, Decision(state=state, remark="Look again" if state == "sent back" else ""))
        with self.study.store.reading() as session:
            return session.scalars(select(Event).order_by(Event.id.desc()).limit(1)).one().detail

    def held(self, unit: UnitOut) -> dict[str, Any]:
        with self.study.store.reading() as session:
            return {p.split("_", 1)[1]: v for p, v in session.get_one(Unit, unit.id).answers.items()}


@pytest.fixture
def asked(desk: Desk, study: SmallStudy) -> Asked:
    return Asked(desk, study)


def test_what_is_accepted_fills_the_visited_the_picked_and_those_below(asked: Asked) -> None:
    other = asked.identity(asked.other)
    tools = {
        f"tool/{asked.identity(asked.lathe)}/tool_state": "poor",
        f"tool/{asked.identity(asked.vice)}/tool_state": "fair",
    }
    interview = asked.arrive(state="broken", sign="Old Tern", other=other, other_state="fair", **tools)
    assert asked.held(asked.shop) == {"name": "Tern", "condition": "good"}
    detail = asked.decide(interview, "accepted")
    assert (detail["filled"], detail["left"]) == (5, 0)
    assert asked.held(asked.shop) == {"name": "Old Tern", "condition": "broken"}
    assert asked.held(asked.other)["condition"] == "fair"
    assert [asked.held(tool)["condition"] for tool in (asked.lathe, asked.vice)] == ["poor", "fair"]
    newest = show_unit(asked.desk, asked.shop.id).history[0]
    assert (newest.by, newest.origin, newest.detail["interview"]) == ("Dora Maine", "interview", "0001")


@pytest.mark.parametrize("state", ["arrived", "sent back", "set aside"])
def test_taking_it_back_puts_back_what_nobody_has_changed_since(asked: Asked, state: str) -> None:
    interview = asked.arrive(state="broken", sign="Old Tern", other=asked.identity(asked.other), other_state="poor")
    asked.decide(interview, "accepted")
    change_unit(asked.desk, asked.shop.id, UnitChange(changes={"workshop_name": ["Old Tern", "The Tern"]}))
    assert asked.decide(interview, state)["taken_back"] == 2
    assert asked.held(asked.shop) == {"name": "The Tern", "condition": "good"}
    assert asked.held(asked.other) == {"name": "Gull"}
    # Accepted again, it fills what is still as it was then.
    asked.decide(interview, "accepted")
    assert asked.held(asked.shop) == {"name": "The Tern", "condition": "broken"}
    asked.decide(interview, state)
    assert asked.held(asked.shop)["condition"] == "good"


def test_what_somebody_learnt_after_the_interview_stays(asked: Asked) -> None:
    interview = asked.arrive(state="broken", sign="Old Tern")
    change_unit(asked.desk, asked.shop.id, UnitChange(changes={"workshop_condition": ["good", "fair"]}))
    detail = asked.decide(interview, "accepted")
    assert (detail["filled"], detail["left"]) == (1, 1)
    assert asked.held(asked.shop) == {"name": "Old Tern", "condition": "fair"}


def test_nothing_said_fills_nothing_and_a_unit_that_is_gone_stops_nobody(asked: Asked) -> None:
    document = asked.document({"state": {"special": "refused"}, "other": "0" * 32, "other_state": "poor"})
    document["known"]["units"]["0" * 32] = {"register": "workshop"}
    asked.study.arrive(document)
    detail = asked.decide(asked.study.interview().id, "accepted")
    assert (detail["filled"], detail["left"]) == (0, 1)
    assert asked.held(asked.shop) == {"name": "Tern", "condition": "good"}


def test_practice_fills_nothing(asked: Asked) -> None:
    asked.study.arrive(asked.document({"state": "broken"}, practice=True))
    asked.decide(asked.study.interview().id, "accepted")
    assert asked.held(asked.shop)["condition"] == "good"


def test_another_revision_takes_back_what_the_first_one_filled(asked: Asked) -> None:
    first = asked.document({"state": "broken"})
    asked.study.arrive(first)
    interview = asked.study.interview()
    asked.decide(interview.id, "accepted")
    asked.study.arrive({**first, "basis": interview.hash, "answers": {"state": "poor"}})
    let_revision_count(asked.desk, interview.id, 2, take_back_edits=False)
    assert asked.held(asked.shop)["condition"] == "good"
    asked.decide(interview.id, "accepted")
    assert asked.held(asked.shop)["condition"] == "poor"


@pytest.mark.parametrize(
    ("fills", "code"),
    [
        ("unit.contition", "unknown_attribute"), ("unit.label", "no_field"), ("state", "no_field"),
        ("unit.name", "wrong_type"), ("unit.", "syntax"),
    ],
)  # fmt: skip
def test_what_cannot_be_filled_is_said_while_it_is_written(asked: Asked, fills: str, code: str) -> None:
    draft = show_draft(asked.desk, asked.study.questionnaire_id)
    written = asking()
    written.parts[3].fills = fills
    found = save_script(asked.desk, draft.id, written, draft.version).findings
    assert [(f.code, f.field) for f in found if f.severity == "error"] == [(code, "fills")] or code == "syntax"
    assert any(f.severity == "error" and f.field == "fills" for f in found)


def test_codes_that_a_field_does_not_have_are_told(asked: Asked) -> None:
    draft = show_draft(asked.desk, asked.study.questionnaire_id)
    written = asking()
    written.code_lists[0].codes[0].code = "splendid"
    found = save_script(asked.desk, draft.id, written, draft.version).findings
    assert {(f.severity, f.code) for f in found if f.field == "fills"} == {("doubt", "other_codes")}
