"""Rules in words: help for the language, and why a rule came out as it did."""

from __future__ import annotations

from skavo.core.questionnaire.help import HELP, Topic
from skavo.services.explaining import ExplainIn, Explanation, FunctionWords, Trial, TrialIn, function_words, try_rule_in
from skavo.services.explaining import explain as explain_rule
from skavo.web.routing import Resource, desk
from skavo.web.shapes import QuestionnairePath

api = Resource("rules")


@api.route_for("get", "/rule-help", needs="signed-in", returns=list[Topic])
def rule_help() -> list[Topic]:
    """Every form of the rule language with an example."""
    return HELP


@api.route_for("get", "/rule-words", needs="signed-in", returns=list[FunctionWords])
def rule_words() -> list[FunctionWords]:
    """The functions of the rule language, to be offered while a rule is typed."""
    return function_words()


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/trials", needs="script.read", returns=Trial)
def try_out(path: QuestionnairePath, body: TrialIn) -> Trial:
    return try_rule_in(desk(), path.questionnaire_id, body)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/explanations", needs="script.read", returns=Explanation)
def explain(path: QuestionnairePath, body: ExplainIn) -> Explanation:
    return explain_rule(desk(), path.questionnaire_id, body)
