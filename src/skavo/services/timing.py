"""How long the questions of a questionnaire took, in the interviews that were held with it last."""

from __future__ import annotations

from pydantic import BaseModel
from sqlalchemy import and_, select

from skavo.core.interview.release import Release as CompiledRelease
from skavo.core.questionnaire.flow import blocks_of
from skavo.core.rehearsal.measured import Measured, measured, seconds_by_path
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.store.interview_document import try_reading
from skavo.store.knowing import compiled_script
from skavo.store.laying import loaded_release
from skavo.store.models import Interview, Release, Revision

MOST_INTERVIEWS = 200


class TimingOut(BaseModel):
    """`interviews` of the newest were timed, `practice` of them in practice; medians by part and by block."""

    interviews: int
    practice: int
    parts: list[Measured]
    blocks: list[Measured]


def show_timing(desk: Desk, questionnaire_id: int) -> TimingOut:
    """Of at most the newest 200 interviews that whoever asks may know of; those of practice too, as a pilot's are."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        counting = and_(Revision.interview_id == Interview.id, Revision.number == Interview.counting)
        wanted = (
            select(Interview.practice, Revision.raw, Release)
            .join(Revision, counting)
            .join(Release, Interview.release_id == Release.id)
            .where(*desk.reach(questionnaire.study_id), Interview.questionnaire_id == questionnaire_id)
            .order_by(Interview.id.desc())
            .limit(MOST_INTERVIEWS)
        )
        timed, practice = [], 0
        for is_practice, raw, release in session.execute(wanted):
            taken = _seconds(raw, loaded_release(release))
            if taken:
                timed.append(taken)
                practice += is_practice
        compiled = compiled_script(session, questionnaire)
    blocks = blocks_of(CompiledRelease(compiled)) if compiled is not None else []
    parts, whole = measured(timed, blocks)
    return TimingOut(interviews=len(timed), practice=practice, parts=parts, blocks=whole)


def _seconds(raw: bytes, release: CompiledRelease) -> dict[str, float]:
    """Seconds by the identity of the part; nothing for a document that cannot be read or was not timed."""
    read = try_reading(raw)
    if isinstance(read, Exception):
        return {}
    found: dict[str, float] = {}
    for path, seconds in seconds_by_path(read.document.paradata.events).items():
        index = release.by_name.get(path.rsplit("/", 1)[-1])
        if index is not None:
            identity = release.parts[index].raw["id"]
            found[identity] = found.get(identity, 0.0) + seconds
    return found
