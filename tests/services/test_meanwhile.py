"""What is computed before it is written is held against what somebody else did meanwhile."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import func, select

from skavo.core.cleaning.steps import Correct, Recode
from skavo.core.combining.spec import Join, KeyPair
from skavo.core.errors import SkavoError
from skavo.services import combining, deciding, drafts, plans, releases
from skavo.services.combining import JoinChange
from skavo.services.desk import Desk
from skavo.store.models import Event, OutsideTable, PlanStep, Release
from tests.outside_files import brought_in
from tests.samples import part
from tests.store.study import SmallStudy


def meanwhile(monkeypatch: pytest.MonkeyPatch, where: Any, name: str, done: Callable[[], Any]) -> None:
    """Do something, once, just when `name` has been computed."""
    real, left = getattr(where, name), [done]

    def call(*args: Any, **more: Any) -> Any:
        made = real(*args, **more)
        if left:
            left.pop()()
        return made

    monkeypatch.setattr(where, name, call)


def changed(desk: Desk, study: SmallStudy, variable: str) -> int:
    """The version of the script after a line was added to it."""
    draft = drafts.show_draft(desk, study.questionnaire_id)
    script = draft.script.model_copy(update={"parts": [*draft.script.parts, part(1, "text", variable)]})
    return drafts.save_script(desk, study.questionnaire_id, script, draft.version).version


def counted(desk: Desk, model: Any) -> int:
    with desk.store.reading() as session:
        return session.scalar(select(func.count()).select_from(model)) or 0


def test_a_script_that_somebody_else_saved_meanwhile_is_not_overwritten(
    desk: Desk, study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    draft = drafts.show_draft(desk, study.questionnaire_id)
    meanwhile(monkeypatch, drafts, "verdict_on", lambda: changed(desk, study, "theirs"))
    with pytest.raises(SkavoError) as caught:
        drafts.save_script(desk, study.questionnaire_id, draft.script, draft.version)
    assert (caught.value.code, caught.value.details) == ("changed_meanwhile", {"version": draft.version + 1})
    assert drafts.show_draft(desk, study.questionnaire_id).script.parts[-1].variable == "theirs"


def test_a_script_that_changed_while_it_was_compiled_is_not_released(
    desk: Desk, study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    version = changed(desk, study, "mine")
    meanwhile(monkeypatch, releases, "compile_script", lambda: changed(desk, study, "theirs"))
    with pytest.raises(SkavoError) as caught:
        releases.make_release(desk, study.questionnaire_id, version, "")
    assert (caught.value.code, counted(desk, Release)) == ("changed_meanwhile", 1)


def test_two_who_release_the_same_script_at_once_make_one_release(
    desk: Desk, study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    version = changed(desk, study, "mine")
    again = lambda: releases.make_release(desk, study.questionnaire_id, version, "first")  # noqa: E731
    meanwhile(monkeypatch, releases, "replay", again)
    with pytest.raises(SkavoError) as caught:
        releases.make_release(desk, study.questionnaire_id, version, "second")
    assert (caught.value.code, caught.value.message) == ("nothing_changed", "Nothing has changed since release 2.")
    assert [r.remark for r in releases.list_releases(desk, study.questionnaire_id)] == ["first", ""]


def test_a_script_with_errors_is_released_by_nobody_and_says_what_to_mend(desk: Desk, study: SmallStudy) -> None:
    draft = drafts.show_draft(desk, study.questionnaire_id)
    broken = draft.script.model_copy(update={"parts": [*draft.script.parts, part(1, "text", "a b")]})
    saved = drafts.save_script(desk, study.questionnaire_id, broken, draft.version)
    assert saved.release_hash is None and saved.findings
    with pytest.raises(SkavoError) as caught:
        releases.make_release(desk, study.questionnaire_id, saved.version, "")
    assert caught.value.code == "has_errors" and caught.value.message.startswith("The script has 1 error.")
    assert caught.value.details["findings"][0]["part_id"] == "id_a b"


def test_what_does_not_fit_leaves_no_step_no_join_and_no_event(desk: Desk, study: SmallStudy) -> None:
    study.arrive(study.document())
    outside = brought_in(desk, study.questionnaire_id, "wards.csv", b"island,size\nkesk,3\n")
    before = counted(desk, Event)
    for step in (
        Correct(variable="nothing", interview="0001", value="3", reason="x"), Recode(variable="workers", mapping={"x": "y"}),
    ):  # fmt: skip
        with pytest.raises(SkavoError):
            plans.keep_step(desk, study.questionnaire_id, step)
    with pytest.raises(SkavoError):
        join = Join(keys=[KeyPair(ours="x", theirs="island")], take=["size"])
        combining.set_join(desk, study.questionnaire_id, outside.id, JoinChange(join=join, version=outside.version))
    assert (counted(desk, PlanStep), counted(desk, Event)) == (0, before)
    with desk.store.reading() as session:
        assert session.scalars(select(OutsideTable.joined)).one() is None


@pytest.mark.parametrize(
    ("state", "remark", "code"), [("sent back", " ", "no_remark"), ("sent back", "Again", None), ("accepted", "", None)]
)
def test_a_decision_about_what_somebody_else_decided_meanwhile_is_refused(
    desk: Desk, study: SmallStudy, state: Any, remark: str, code: str | None
) -> None:
    study.arrive(study.document())
    decision = deciding.Decision(version=1, state=state, remark=remark)
    if code is not None:
        with pytest.raises(SkavoError) as caught:
            deciding.decide(desk, 1, decision)
        assert (caught.value.code, study.interview().state) == (code, "arrived")
        return
    assert deciding.decide(desk, 1, decision).state == state
    with pytest.raises(SkavoError) as caught:
        deciding.decide(desk, 1, decision.model_copy(update={"state": "set aside"}))
    assert (caught.value.code, caught.value.details, study.interview().state) == (
        "changed_meanwhile",
        {"version": 2},
        state,
    )
