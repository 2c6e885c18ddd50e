"""Deciding about an interview: accept, send back, set aside, and which of its revisions counts."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from skavo.services.desk import Desk
from skavo.services.filling import Told, fill_units, take_back_filling, told_of_units
from skavo.services.found import the_interview, the_revision
from skavo.services.reading import Reading, show_interview
from skavo.services.refusals import Refused, same_version
from skavo.store.handin import count_revision, desk_edits
from skavo.store.laying import columns_again
from skavo.store.models import Interview, now

State = Literal["arrived", "accepted", "sent back", "set aside"]


class Remark(BaseModel):
    """`path` names the question it is about."""

    model_config = ConfigDict(extra="forbid")

    path: str = Field(min_length=1, max_length=400)
    text: str = Field(min_length=1, max_length=2000)


class Decision(BaseModel):
    """`version` is that of the interview which was decided about; without it the decision is not held against others'."""

    model_config = ConfigDict(extra="forbid")

    version: int | None = None
    state: State
    remark: str = Field(default="", max_length=2000)
    remarks: list[Remark] = Field(default=[], max_length=200)


def decide(desk: Desk, interview_id: int, decision: Decision) -> Reading:
    """Every decision can be taken back by another one."""
    remark, remarks = decision.remark.strip(), [r.model_dump() for r in decision.remarks if r.text.strip()]
    with desk.store.reading() as session:
        told = told_of_units(session, the_interview(session, interview_id)) if decision.state == "accepted" else None
    with desk.store.session() as session:
        interview = the_interview(session, interview_id)
        if decision.version is not None:
            same_version(interview.version, decision.version)
        if decision.state == "sent back":
            _may_go_back(interview, remark, remarks)
        if interview.state != decision.state or remark or remarks:
            detail: dict[str, Any] = {"before": interview.state, "remark": remark, "remarks": remarks}
            if interview.state != decision.state:
                detail |= _told_to_units(desk, session, interview, told)
            session.add(desk.event_of(interview, decision.state, **detail))
            interview.state = decision.state
            interview.version += 1
    return show_interview(desk, interview_id)


def _told_to_units(desk: Desk, session: Session, interview: Interview, told: Told | None) -> dict[str, int]:
    """What a decision makes of the register: what an accepted interview has told of units goes in, and out again."""
    if told is not None:
        return fill_units(desk, session, interview, told)
    taken_back = take_back_filling(desk, session, interview) if interview.state == "accepted" else 0
    return {"taken_back": taken_back} if taken_back else {}


def _may_go_back(interview: Interview, remark: str, remarks: list[dict[str, Any]]) -> None:
    if not remark and not remarks:
        raise Refused("no_remark", "Say what the enumerator should look at again.")
    if interview.problem:
        raise Refused("not_laid_out", "This interview cannot be opened on a phone: its document could not be read.")
    if interview.waiting:
        raise Refused("revision_waits", "A revision waits for a decision. Decide which one counts, then send it back.")


def let_revision_count(desk: Desk, interview_id: int, number: int, *, take_back_edits: bool) -> Reading:
    """Decide which revision counts; the others stay as they are. Can be decided again.

    `take_back_edits` takes back the corrections that the desk made meanwhile.
    """
    with desk.store.reading() as session:
        interview = the_interview(session, interview_id)
        columns = columns_again(session, interview, the_revision(session, interview, number))
    with desk.store.session() as session:
        interview = the_interview(session, interview_id)
        before = interview.counting
        edits = desk_edits(session, interview) if take_back_edits else []
        for step in edits:
            step.removed_at = now()
        count_revision(session, interview, the_revision(session, interview, number), columns)
        if number != before and interview.state in ("sent back", "accepted"):
            _told_to_units(desk, session, interview, None)
            interview.state = "arrived"
        detail: dict[str, Any] = {"number": number, "before": before, "taken_back": [step.id for step in edits]}
        session.add(desk.event_of(interview, "revision decided", **detail))
    return show_interview(desk, interview_id)
