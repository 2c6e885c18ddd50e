"""The flow of a questionnaire: its blocks, what decides about what, and how many interviews went which way."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel

from skavo.core.dataset.ways import Went, went
from skavo.core.interview.release import Release
from skavo.core.questionnaire.flow import Block, Dependence, blocks_of, dependences
from skavo.services.desk import Desk
from skavo.services.found import newest_job, the_questionnaire
from skavo.store.knowing import compiled_script
from skavo.store.models import Job


class WentOut(BaseModel):
    """`at` is when interviews were made up, None for those collected; `minutes` are then those expected of them."""

    went: Went
    at: datetime | None
    minutes: float | None


class NeverOut(BaseModel):
    """What the proof found never to be asked, or to be a dead end, and why."""

    variable: str
    why: str
    dead_end: bool


class FlowOut(BaseModel):
    """`blocks` is None while the script has errors. `rehearsed` and `proved` are of the newest rehearsal and proof."""

    blocks: list[Block] | None
    dependences: list[Dependence]
    real: WentOut | None
    rehearsed: WentOut | None
    proved: datetime | None
    never: list[NeverOut]


def show_flow(desk: Desk, questionnaire_id: int) -> FlowOut:
    """The flow of the draft as it is kept."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        rehearsal = newest_job(session, questionnaire.study_id, questionnaire_id, "rehearsal")
        proof = newest_job(session, questionnaire.study_id, questionnaire_id, "proof")
        compiled = compiled_script(session, questionnaire)
        data = desk.data(session, questionnaire_id).raw if desk.may("analyse.read") else None
    if compiled is None:
        return FlowOut(blocks=None, dependences=[], real=None, rehearsed=None, proved=None, never=[])
    release = Release(compiled)
    blocks = blocks_of(release)
    real = went(data, [block.parts for block in blocks]) if data else None
    return FlowOut(
        blocks=blocks, dependences=dependences(release),
        real=WentOut(went=real, at=None, minutes=None) if real is not None and real.interviews else None,
        rehearsed=_rehearsed(rehearsal, len(blocks)), proved=proof.ended_at if proof is not None else None,
        never=_never((proof.result or {}) if proof is not None else {}),
    )  # fmt: skip


def _rehearsed(job: Job | None, blocks: int) -> WentOut | None:
    """The ways of a rehearsal; one of a questionnaire with other blocks says nothing about these."""
    result: dict[str, Any] = (job.result or {}) if job is not None else {}
    if job is None or "went" not in result:
        return None
    found = Went(**result["went"])
    ends = [way["end"] if isinstance(way, dict) else way.end for way in found.ways]
    if any(end is not None and end >= blocks for end in ends):
        return None
    minutes = result["minutes"]["median"] if result.get("minutes") else None
    return WentOut.model_validate({"went": result["went"], "at": job.ended_at, "minutes": minutes})


def _never(proof: dict[str, Any]) -> list[NeverOut]:
    told = [NeverOut(variable=t["variable"], why=t["why"], dead_end=False) for t in proof.get("unreachable", [])]
    return told + [NeverOut(variable=t["variable"], why=t["why"], dead_end=True) for t in proof.get("dead_ends", [])]
