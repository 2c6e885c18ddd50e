"""Handing over: extracts, made as jobs."""

from __future__ import annotations

from skavo.formats.extract import ExtractOptions
from skavo.web.jobs import JobOut, order_job
from skavo.web.problems import Problem
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, happened, sees_sensitive, store
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("extracts")


class ExtractIn(Body):
    options: ExtractOptions
    cleaned: bool = True


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/extracts", needs="extract.make", returns=JobOut, status=202
)
def order(path: QuestionnairePath, body: ExtractIn) -> JobOut:
    if not body.options.masked and not sees_sensitive():
        raise Problem("not_allowed", "Sensitive variables stay out of your extracts. Ask the data manager.")
    with store().session() as session:
        study_id = questionnaire_or_404(session, path.questionnaire_id).study_id
        detail = {"format": body.options.format}
        session.add(happened(study_id, "extract ordered", **detail))
    wanted = {"questionnaire_id": path.questionnaire_id, **body.model_dump(mode="json")}
    return order_job(study_id, "extract", wanted)
