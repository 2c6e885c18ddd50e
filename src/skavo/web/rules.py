"""Rules in words: help for the language, and why a rule came out as it did."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.interview.shown import show_value
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import HELP, Topic
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import read_script
from skavo.core.rules.explain import Step, explain_outcome, explain_rule
from skavo.core.rules.faults import RuleSyntaxError
from skavo.core.rules.format import format_rule
from skavo.core.rules.types import Type
from skavo.web.problems import Problem, not_found
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, store
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("rules")


class ExplainIn(Body):
    """A rule's text as it stands in a line of the script; `answers` are those of the preview, if there are any."""

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


@api.route_for("get", "/rule-help", needs="signed-in", returns=list[Topic])
def rule_help() -> list[Topic]:
    """Every form of the rule language with an example."""
    return HELP


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/explanations", needs="script.read", returns=Explanation)
def explain(path: QuestionnairePath, body: ExplainIn) -> Explanation:
    with store().reading() as session:
        script = read_script(questionnaire_or_404(session, path.questionnaire_id).script)
    entries = build_outline(script)
    entry = next((e for e in entries if e.part.id == body.part_id), None)
    if entry is None:
        raise not_found("line")
    filtered = entry.part.code_list if body.list_filtered else None
    scope = base_scope(script, entries, symbols_of(script, entries), filtered=filtered).inside(entry.rosters)
    first = script.languages[0]
    labels = {(e.name, c.code): c.label.get(first, c.code) for e in script.code_lists for c in e.codes}

    def label(code_list: str, code: str) -> str:
        return labels.get((code_list, code), code)

    try:
        words, canonical = explain_rule(body.text, scope, label), format_rule(body.text)
    except RuleSyntaxError as error:
        raise Problem(error.fault.code, f"{error.fault.message} {error.fault.mend}".strip()) from None
    compiled = compile_script(script).release
    if body.answers is None or compiled is None or filtered:
        return Explanation(words=words, canonical=canonical, steps=[])
    engine = Engine(Release(compiled), answers=body.answers)

    def show(kind: Type, value: Any) -> str:
        return show_value(engine, {"type": kind.name, "code_list": kind.code_list}, value)

    row = tuple(body.row[: len(entry.rosters)])
    return Explanation(
        words=words, canonical=canonical, steps=explain_outcome(body.text, scope, label, show, engine, row)
    )
