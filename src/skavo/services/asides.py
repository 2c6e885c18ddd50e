"""Findings set aside with a reason, and the standard of a study that some of them follow from."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.core.questionnaire.aside import key_of
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints import Standard
from skavo.services.desk import Desk
from skavo.services.drafts import Draft, show_draft
from skavo.services.found import the_questionnaire, the_study
from skavo.services.refusals import Refused
from skavo.store.models import now


class AsideIn(BaseModel):
    """A finding as it was told, and why it is left as it is; an empty reason takes it up again."""

    finding: Finding
    reason: str = Field(max_length=1000)


def set_aside(desk: Desk, questionnaire_id: int, wanted: AsideIn) -> Draft:
    """Set a finding aside, or take it up again."""
    if wanted.finding.severity == "error":
        raise Refused("is_error", "An error cannot be set aside: with it there is no release. Mend it.")
    key, reason = key_of(wanted.finding), wanted.reason.strip()
    with desk.store.session() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        kept = {k: why for k, why in questionnaire.set_aside.items() if k != key}
        if reason:
            kept[key] = {"reason": reason, "by": desk.name, "at": now().isoformat()}
        questionnaire.set_aside = kept
    return show_draft(desk, questionnaire_id)


def show_standard(desk: Desk, study_id: int) -> Standard:
    with desk.store.reading() as session:
        return Standard.model_validate(the_study(session, study_id).standard)


def write_standard(desk: Desk, study_id: int, standard: Standard) -> Standard:
    """How variables of a study are called and what is measured in, from now on, in all its questionnaires."""
    with desk.store.session() as session:
        study = the_study(session, study_id)
        study.standard = standard.model_dump()
        session.add(desk.event(study_id, "standard changed"))
    return standard
