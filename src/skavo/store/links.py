"""What a link lets in: whether somebody may begin, and with which release."""

from __future__ import annotations

from typing import Literal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.store.models import Interview, Link, Questionnaire, Release, now

# Whether a link can be begun with: open, or why not.
Standing = Literal["open", "closed", "ended", "full", "not released"]


def newest_release(session: Session, questionnaire_id: int) -> Release | None:
    """What a new interview is made with: the newest release that counts and was neither withdrawn nor awaits a signature."""
    wanted = select(Release).where(
        Release.questionnaire_id == questionnaire_id, Release.practice.is_(False), Release.awaits.is_(False)
    )
    return next((r for r in session.scalars(wanted.order_by(Release.number.desc())) if r.withdrawn is None), None)


def answered_through(session: Session, link: Link) -> int:
    """How many interviews have arrived through a link."""
    counted = select(func.count()).where(Interview.study_id == link.study_id, Interview.link_id == link.id)
    return session.scalar(counted) or 0


def standing_of(session: Session, link: Link) -> Standing:
    if link.closed_at is not None:
        return "closed"
    if link.closes_at is not None and link.closes_at <= now():
        return "ended"
    if link.most is not None and answered_through(session, link) >= link.most:
        return "full"
    if newest_release(session, link.questionnaire_id) is None:
        return "not released"
    return "open"


def title_of(session: Session, link: Link) -> str:
    """The title of the questionnaire that a link asks."""
    return session.get_one(Questionnaire, link.questionnaire_id).title
