"""Whoever answers through a link: what they are shown, beginning, and handing in. Nobody is trusted here but by the link."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.links import LinkTexts, written
from skavo.core.interview.formats import RELEASE
from skavo.services.refusals import Refused, not_found
from skavo.store.handin import Arrival, Receipt, Source, hand_in, read_arrival
from skavo.store.interview_document import ReadDocument
from skavo.store.links import Standing, newest_release, standing_of
from skavo.store.models import Addressee, Answering, Interview, Link, Membership, Release, Study, now
from skavo.store.secrets import hash_of

WHERE = "a browser"


@dataclass(frozen=True)
class Visitor:
    """Who opened a link: `person_id` where they are signed in, `mark` what their browser was given when it began, ""
    where it never did."""

    person_id: int | None
    mark: str


@dataclass(frozen=True)
class Entrance:
    """A link with whom it lets in; `member` only where it asks for one."""

    link: Link
    addressee: Addressee | None
    member: Membership | None

    @property
    def source(self) -> Source:
        link, member = self.link, self.member
        if member is not None:
            return Source(link.study_id, member.name, WHERE, "link", member.person_id, link_id=link.id)
        return Source(link.study_id, link.title, WHERE, "link", link_id=link.id)


class LinkPage(BaseModel):
    """What a link shows. `standing` says whether one may begin; `answered` that this addressee or this browser has, and
    may not again. `release` is None where none can be begun with."""

    study: str
    title: dict[str, str]
    languages: list[str]
    language: str
    texts: dict[str, dict[str, str]]
    name: str
    enumerator: str
    standing: Standing | Literal["answered"]
    closes_at: datetime | None
    release: str | None


def enter(session: Session, secret: str, visitor: Visitor) -> Entrance:
    """Raise Refused where the secret leads nowhere, or only those who are signed in may answer."""
    link = session.scalar(select(Link).where(Link.secret == secret, Link.entry != "personal"))
    if link is None:
        to = session.scalar(select(Addressee).where(Addressee.secret == secret, Addressee.withdrawn_at.is_(None)))
        if to is None:
            raise not_found("link")
        return Entrance(session.get_one(Link, to.link_id), to, None)
    if link.entry == "open":
        return Entrance(link, None, None)
    if visitor.person_id is None:
        raise Refused("not_signed_in", "Sign in to answer here.")
    mine = select(Membership).where(
        Membership.study_id == link.study_id, Membership.person_id == visitor.person_id, Membership.left_at.is_(None)
    )
    member = session.scalar(mine)
    if member is None:
        raise not_found("link")
    return Entrance(link, None, member)


def show_link(session: Session, secret: str, visitor: Visitor) -> LinkPage:
    entrance = enter(session, secret, visitor)
    link, to = entrance.link, entrance.addressee
    release = newest_release(session, link.questionnaire_id)
    languages: list[str] = [] if release is None else release.compiled["languages"]
    own = {tag: LinkTexts.model_validate(texts) for tag, texts in link.texts.items()}
    # The letters are nobody's business here.
    shown = {tag: written(own, tag).model_dump(include={"welcome", "thanks"}) for tag in languages or ["en"]}
    return LinkPage(
        study=session.get_one(Study, link.study_id).title,
        title={} if release is None else release.compiled["title"], languages=languages,
        language=to.language if to is not None else "", texts=shown, name=to.name if to is not None else "",
        enumerator=entrance.member.name if entrance.member is not None else "",
        standing="answered" if _has_answered(session, entrance, visitor) else standing_of(session, link),
        closes_at=link.closes_at, release=release.identity if release is not None else None,
    )  # fmt: skip


def _has_answered(session: Session, entrance: Entrance, visitor: Visitor) -> bool:
    if entrance.addressee is not None:
        return entrance.addressee.answered_at is not None
    if not entrance.link.once:
        return False
    mine = [Answering.link_id == entrance.link.id, Answering.answered_at.is_not(None)]
    if entrance.member is not None:
        mine.append(Answering.person_id == entrance.member.person_id)
    elif visitor.mark:
        mine.append(Answering.browser_hash == hash_of(visitor.mark))
    else:
        return False
    return session.scalar(select(Answering.id).where(*mine).limit(1)) is not None


def release_of_link(session: Session, secret: str, visitor: Visitor, identity: str) -> dict[str, Any]:
    """A release of the questionnaire that a link asks: the newest, or one that somebody began with."""
    link = enter(session, secret, visitor).link
    wanted = select(Release).where(Release.identity == identity, Release.questionnaire_id == link.questionnaire_id)
    found = session.scalar(wanted)
    if found is None or found.practice or found.awaits:
        raise not_found("release")
    compiled: dict[str, Any] = RELEASE.read(found.compiled)
    return {"identity": found.identity, "hash": found.hash, "compiled": compiled}


def begin_answering(session: Session, secret: str, visitor: Visitor, uuid: str) -> None:
    """Note that an interview is begun; the same one twice is one. Raise Refused where nobody may begin any more."""
    entrance = enter(session, secret, visitor)
    link = entrance.link
    if _begun(session, link, uuid) is not None:
        return
    if _has_answered(session, entrance, visitor):
        raise Refused("answered_already", "You have answered already. Thank you.")
    standing = standing_of(session, link)
    if standing != "open":
        raise Refused("link_not_open", "This link does not take answers any more.", {"standing": standing})
    if session.scalar(select(Interview.id).where(Interview.study_id == link.study_id, Interview.uuid == uuid)):
        raise Refused("answered_already", "This interview is known already. Load the page again.")
    session.add(
        Answering(
            link_id=link.id, addressee_id=None if entrance.addressee is None else entrance.addressee.id,
            person_id=None if entrance.member is None else entrance.member.person_id, uuid=uuid,
            browser_hash=hash_of(visitor.mark) if visitor.mark else "",
        )
    )  # fmt: skip


def _begun(session: Session, link: Link, uuid: str) -> Answering | None:
    return session.scalar(select(Answering).where(Answering.link_id == link.id, Answering.uuid == uuid))


def begun_here(session: Session, secret: str, visitor: Visitor, uuid: str) -> tuple[Entrance, Answering]:
    """An interview begun by whoever asks; whoever has begun may finish, also after the link was closed."""
    entrance = enter(session, secret, visitor)
    answering = _begun(session, entrance.link, uuid)
    is_theirs = answering is not None and (
        (entrance.addressee is None or answering.addressee_id == entrance.addressee.id)
        and (entrance.member is None or answering.person_id == entrance.member.person_id)
    )
    if answering is None or not is_theirs:
        raise not_found("interview begun through this link")
    return entrance, answering


def compute_answers(session: Session, secret: str, visitor: Visitor, uuid: str, raw: bytes) -> Arrival:
    """What arrived, computed before anything is written. Unlike a phone's, what cannot be read is refused: nobody stands
    behind it, and the page that sent it keeps it."""
    entrance, answering = begun_here(session, secret, visitor, uuid)
    arrival = read_arrival(session, entrance.source, uuid, raw)
    if not isinstance(arrival.read, ReadDocument):
        raise arrival.read
    is_new = bool(arrival.columns)
    if is_new and answering.answered_at is not None:
        raise Refused("answered_already", "You have answered already. Thank you.")
    if is_new and arrival.columns.get("questionnaire_id") != entrance.link.questionnaire_id:
        raise Refused("wrong_document", "This is no answer to the questionnaire of this link.")
    return arrival


def take_answers(session: Session, secret: str, visitor: Visitor, arrival: Arrival) -> Receipt:
    """Keep what was computed before."""
    uuid = arrival.uuid
    entrance, answering = begun_here(session, secret, visitor, uuid)
    if arrival.columns and answering.answered_at is not None:
        raise Refused("answered_already", "You have answered already. Thank you.")
    to = entrance.addressee
    if to is not None and to.interview_uuid not in (None, uuid):
        raise Refused("answered_already", "You have answered already, in another browser. Thank you.")
    receipt = hand_in(session, entrance.source, arrival)
    answering.answered_at = answering.answered_at or now()
    answering.browser_hash = hash_of(visitor.mark) if visitor.mark else answering.browser_hash
    if to is not None and to.answered_at is None:
        to.answered_at, to.interview_uuid = now(), uuid
    return receipt
