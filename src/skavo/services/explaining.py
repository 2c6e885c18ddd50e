"""A rule explained in words, and by what each of its parts gave."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.interview.shown import show_value
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import read_script
from skavo.core.rules.explain import Step, explain_outcome, explain_rule
from skavo.core.rules.faults import RuleSyntaxError
from skavo.core.rules.format import format_rule
from skavo.core.rules.types import Type
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found


class ExplainIn(BaseModel):
    """A rule's text as it stands in a line of the script; `answers` are those of the preview, if there are any."""

    model_config = ConfigDict(extra="forbid")

    part_id: str
    text: str = Field(max_length=4000)
    list_filtered: bool = False
    answers: dict[str, Any] | None = None
    row: list[int | str] = Field(default=[])


class Explanation(BaseModel):
    """The rule in plain words, its canonical form, and, given answers, what each of its parts gave."""

    words: str
    canonical: str
    steps: list[Step]


def explain(desk: Desk, questionnaire_id: int, asked: ExplainIn) -> Explanation:
    """Raise Refused where the line is not there or the text is no rule."""
    with desk.store.reading() as session:
        script = read_script(the_questionnaire(session, questionnaire_id).script)
    entries = build_outline(script)
    entry = next((e for e in entries if e.part.id == asked.part_id), None)
    if entry is None:
        raise not_found("line")
    filtered = entry.part.code_list if asked.list_filtered else None
    scope = base_scope(script, entries, symbols_of(script, entries), filtered=filtered).inside(entry.rosters)
    first = script.languages[0]
    labels = {(e.name, c.code): c.label.get(first, c.code) for e in script.code_lists for c in e.codes}

    def label(code_list: str, code: str) -> str:
        return labels.get((code_list, code), code)

    try:
        words, canonical = explain_rule(asked.text, scope, label), format_rule(asked.text)
    except RuleSyntaxError as error:
        raise Refused(error.fault.code, f"{error.fault.message} {error.fault.mend}".strip()) from None
    compiled = compile_script(script).release
    if asked.answers is None or compiled is None or filtered:
        return Explanation(words=words, canonical=canonical, steps=[])
    engine = Engine(Release(compiled), answers=asked.answers)

    def show(kind: Type, value: Any) -> str:
        return show_value(engine, {"type": kind.name, "code_list": kind.code_list}, value)

    row = tuple(asked.row[: len(entry.rosters)])
    return Explanation(
        words=words, canonical=canonical, steps=explain_outcome(asked.text, scope, label, show, engine, row)
    )
