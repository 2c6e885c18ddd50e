"""Visits in the store: how attempts end in a study, keeping an attempt once, and what follows from attempts."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import tzinfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.visits.attempts import Attempt, Ways, next_attempt
from skavo.core.visits.outcomes import FIRST_OUTCOMES, AttemptRules, Outcome, counts_as, ways_of
from skavo.store.interview_document import zone_named
from skavo.store.models import Interview, Study, Visit, VisitAttempt, VisitList, now

_AT_ONCE = 500


@dataclass(frozen=True)
class HowItEnds:
    """How attempts end in a study, and its clock."""

    outcomes: dict[str, Outcome]
    ways: Ways
    zone: tzinfo


def how_it_ends(session: Session, study_id: int) -> HowItEnds:
    study = session.get_one(Study, study_id)
    outcomes = [Outcome.model_validate(one) for one in study.outcomes] or list(FIRST_OUTCOMES)
    return HowItEnds({one.code: one for one in outcomes}, ways_of(outcomes), zone_named(study.time_zone))


def attempts_at(session: Session, visit_ids: Sequence[int]) -> dict[int, list[VisitAttempt]]:
    """The attempts of each visit that nobody took back, in the order in which they were made."""
    found: dict[int, list[VisitAttempt]] = {visit_id: [] for visit_id in visit_ids}
    for begin in range(0, len(visit_ids), _AT_ONCE):
        wanted = select(VisitAttempt).where(VisitAttempt.visit_id.in_(visit_ids[begin : begin + _AT_ONCE]))
        # JSON's null is none of SQL's, so that this is asked here.
        for attempt in session.scalars(wanted.order_by(VisitAttempt.at, VisitAttempt.id)):
            if attempt.taken_back is None:
                found[attempt.visit_id].append(attempt)
    return found


def as_tried(attempt: VisitAttempt, visit: Visit, zone: tzinfo) -> Attempt:
    """An attempt as core.visits reads it: by the study's clock."""
    when = attempt.appointment
    return Attempt(
        attempt.outcome, attempt.at.astimezone(zone), None if when is None else when.astimezone(zone),
        own=attempt.by_id == visit.person_id,
    )  # fmt: skip


def reckon(session: Session, visits: Iterable[Visit]) -> None:
    """Write beside visits what follows from their attempts, the rules of their list and the study's outcomes."""
    every = list(visits)
    tried = attempts_at(session, [visit.id for visit in every])
    lists = {
        found.id: found
        for found in session.scalars(select(VisitList).where(VisitList.id.in_({v.list_id for v in every})))
    }
    ends = {study_id: how_it_ends(session, study_id) for study_id in {visit.study_id for visit in every}}
    for visit in every:
        known, rules = ends[visit.study_id], AttemptRules.model_validate(lists[visit.list_id].rules)
        attempts = [as_tried(attempt, visit, known.zone) for attempt in tried[visit.id]]
        following = next_attempt(attempts, known.ways, rules, now().astimezone(known.zone))
        visit.outcome, visit.standing = counts_as(attempts, known.outcomes) or "", following.standing
        visit.tried, visit.last_at = len(attempts), tried[visit.id][-1].at if attempts else None
        visit.appointment = tried[visit.id][-1].appointment if attempts and following.standing == "open" else None


def keep_attempt(session: Session, visit: Visit, attempt: VisitAttempt) -> bool:
    """Keep an attempt at a visit, once: whether it was not here before. What a phone tells of the attempt that an interview
    ended with takes the place of what followed from the interview alone."""
    same = select(VisitAttempt).where(
        VisitAttempt.study_id == visit.study_id, VisitAttempt.identity == attempt.identity
    )
    known = session.scalar(same)
    if known is not None:
        if known.device_id is not None or attempt.device_id is None:
            return False
        session.delete(known)
        session.flush()
    attempt.study_id, attempt.visit_id = visit.study_id, visit.id
    session.add(attempt)
    session.flush()
    reckon(session, [visit])
    return True


def end_visit(session: Session, interview: Interview, unfinished: bool) -> None:
    """Let the visit end that an interview was made on, also where its phone has told no attempt, as when a colleague's
    carried the interview. The attempt has the interview's identity, by which the phone tells it too."""
    visit = None if interview.visit_id is None else session.get(Visit, interview.visit_id)
    if visit is None or interview.practice:
        return
    wanted = "partial" if unfinished else "interview"
    outcomes = how_it_ends(session, visit.study_id).outcomes.values()
    outcome = next((one.code for one in outcomes if one.counts_as == wanted), None)
    if outcome is not None:
        attempt = VisitAttempt(
            identity=interview.uuid, outcome=outcome, at=min(interview.ended_at or now(), now()), by=interview.enumerator,
            by_id=interview.person_id, interview_uuid=interview.uuid,
        )  # fmt: skip
        keep_attempt(session, visit, attempt)
