"""Links at the desk: questionnaires answered in a browser, made, changed, closed, and how many have answered."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal, cast

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.links import LinkTexts, check_texts
from skavo.formats.qr import draw_qr
from skavo.services.desk import Desk
from skavo.services.found import the_asked
from skavo.services.refusals import Refused, same_version
from skavo.store.links import Standing, answered_through, standing_of, title_of
from skavo.store.models import Addressee, Answering, Interview, Link, Questionnaire, now
from skavo.store.secrets import new_secret

Entry = Literal["open", "personal", "signed in"]
Language = Annotated[str, Field(min_length=2, max_length=35)]


class LinkChange(BaseModel):
    """`closes_at` and `most` None for no end; `version` is that of the link that was changed, 0 for a new one."""

    model_config = ConfigDict(extra="forbid")

    title: str = Field(min_length=1, max_length=100, pattern=r"\S")
    closes_at: AwareDatetime | None = None
    most: int | None = Field(default=None, ge=1, le=10_000_000)
    once: bool = False
    texts: dict[Language, LinkTexts] = Field(default={}, max_length=100)
    version: int = 0


class LinkIn(LinkChange):
    """Which questionnaire is asked, and who may answer, stay as they were when the link was made."""

    questionnaire_id: int
    entry: Entry


class LinkOut(BaseModel):
    """`address` and its picture are "" for a personal link, whose addressees have one each. `begun` counts those who
    began, `answered` those who finished; `addressees`, `sent`, `troubles` are of letters."""

    id: int
    questionnaire_id: int
    questionnaire: str
    title: str
    entry: Entry
    address: str
    qr: str
    size: int
    standing: Standing
    closes_at: datetime | None
    most: int | None
    once: bool
    texts: dict[str, LinkTexts]
    languages: list[str]
    begun: int
    answered: int
    addressees: int
    sent: int
    troubles: int
    newest_at: datetime | None
    created_at: datetime
    created_by: str
    version: int


def list_links(desk: Desk, study_id: int, address: str) -> list[LinkOut]:
    """The newest first; `address` is that of the server, with a slash at its end. Whoever is limited to some teams sees
    none: what comes through links belongs to no team."""
    if desk.teams is not None:
        return []
    with desk.store.reading() as session:
        links = session.scalars(select(Link).where(Link.study_id == study_id).order_by(Link.id.desc()))
        return [_out(session, link, address) for link in links]


def make_link(desk: Desk, study_id: int, wanted: LinkIn, address: str) -> LinkOut:
    desk.needs_whole_study("Links")
    check_texts(wanted.texts)
    with desk.store.session() as session:
        asked = the_asked(session, study_id, wanted.questionnaire_id)
        link = Link(
            study_id=study_id, questionnaire_id=asked.id, entry=wanted.entry, secret=new_secret(), **desk.signed()
        )
        _write(session, link, wanted)
        session.add(link)
        session.flush()
        session.add(desk.event(study_id, "link made", link=link.title))
        return _out(session, link, address)


def change_link(desk: Desk, link_id: int, wanted: LinkChange, address: str) -> LinkOut:
    desk.needs_whole_study("Links")
    check_texts(wanted.texts)
    with desk.store.session() as session:
        link = session.get_one(Link, link_id)
        same_version(link.version, wanted.version)
        _write(session, link, wanted)
        link.version += 1
        session.add(desk.event(link.study_id, "link changed", link=link.title))
        return _out(session, link, address)


def close_link(desk: Desk, link_id: int, address: str) -> LinkOut:
    """Nobody begins with it any more; whoever has begun may still finish."""
    desk.needs_whole_study("Links")
    with desk.store.session() as session:
        link = session.get_one(Link, link_id)
        if link.closed_at is None:
            link.closed_at = now()
            link.version += 1
            session.add(desk.event(link.study_id, "link closed", link=link.title))
        return _out(session, link, address)


def reopen_link(desk: Desk, link_id: int, address: str) -> LinkOut:
    desk.needs_whole_study("Links")
    with desk.store.session() as session:
        link = session.get_one(Link, link_id)
        if link.closed_at is not None:
            link.closed_at = None
            link.version += 1
            session.add(desk.event(link.study_id, "link opened again", link=link.title))
        return _out(session, link, address)


def _write(session: Session, link: Link, wanted: LinkChange) -> None:
    title = wanted.title.strip()
    same = select(Link.id).where(Link.study_id == link.study_id, Link.title == title)
    taken = session.scalar(same)
    if taken is not None and taken != link.id:
        raise Refused("name_taken", f"This study has a link {title} already. Answers are told apart by it.")
    link.title, link.closes_at, link.most, link.once = title, wanted.closes_at, wanted.most, wanted.once
    link.texts = {language: texts.model_dump() for language, texts in wanted.texts.items()}


def _out(session: Session, link: Link, address: str) -> LinkOut:
    own = "" if link.entry == "personal" else f"{address}answer/{link.secret}"
    qr, size = draw_qr(own) if own else ("", 0)
    to = (Addressee.link_id == link.id, Addressee.withdrawn_at.is_(None))
    addressees, sent, troubles = session.execute(
        select(func.count(), func.count(Addressee.sent_at), func.count().filter(Addressee.trouble != "")).where(*to)
    ).one()
    begun = session.scalar(select(func.count()).where(Answering.link_id == link.id)) or 0
    came = (Interview.study_id == link.study_id, Interview.link_id == link.id)
    return LinkOut(
        id=link.id, questionnaire_id=link.questionnaire_id, questionnaire=title_of(session, link), title=link.title,
        entry=cast(Entry, link.entry), address=own, qr=qr, size=size, standing=standing_of(session, link), closes_at=link.closes_at,
        most=link.most, once=link.once,
        texts={language: LinkTexts.model_validate(texts) for language, texts in link.texts.items()},
        languages=_languages(session, link), begun=begun, answered=answered_through(session, link),
        addressees=addressees, sent=sent, troubles=troubles,
        newest_at=session.scalar(select(func.max(Interview.arrived_at)).where(*came)),
        created_at=link.created_at, created_by=link.created_by, version=link.version,
    )  # fmt: skip


def _languages(session: Session, link: Link) -> list[str]:
    script = select(Questionnaire.script["languages"]).where(Questionnaire.id == link.questionnaire_id)
    return list(session.scalar(script) or [])
