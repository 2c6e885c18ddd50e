"""Rules in words: help for the language, and why a rule came out as it did."""

from __future__ import annotations

from skavo.core.questionnaire.help import HELP, Topic
from skavo.services.explaining import ExplainIn, Explanation
from skavo.services.explaining import explain as explain_rule
from skavo.web.routing import Resource, desk
from skavo.web.shapes import QuestionnairePath

api = Resource("rules")


@api.route_for("get", "/rule-help", needs="signed-in", returns=list[Topic])
def rule_help() -> list[Topic]:
    """Every form of the rule language with an example."""
    return HELP


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/explanations", needs="script.read", returns=Explanation)
def explain(path: QuestionnairePath, body: ExplainIn) -> Explanation:
    return explain_rule(desk(), path.questionnaire_id, body)
