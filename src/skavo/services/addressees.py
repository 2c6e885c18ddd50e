"""Whom personal links are sent to: brought in from a file, written to, reminded, and who has answered."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import ColumnElement, func, or_, select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError
from skavo.services.desk import Desk
from skavo.services.jobs import JobOut, order_job
from skavo.services.refusals import Refused
from skavo.store.links import standing_of
from skavo.store.models import Addressee, Answering, Interview, Link, now
from skavo.store.secrets import new_secret

_MOST_ROWS = 50_000
_HEADINGS = {"name": "name", "email": "email", "mail": "email", "language": "language"}
Doing = Literal["not written to", "waiting", "begun", "answered", "not reached", "withdrawn"]


class AddresseesQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    find: str = Field(default="", max_length=200)
    doing: Doing | Literal[""] = ""
    offset: int = Field(default=0, ge=0, le=10**9)
    limit: int = Field(default=50, ge=1, le=500)


class AddresseeOut(BaseModel):
    """`doing` is what is known of them; `interview_id` is what they answered, where whoever asks may read it."""

    id: int
    name: str
    email: str
    language: str
    address: str
    doing: Doing
    sent_at: datetime | None
    reminded_at: datetime | None
    reminders: int
    trouble: str
    answered_at: datetime | None
    interview_id: int | None


class Addressees(BaseModel):
    """`counts` are of all, whatever was looked for; `total` of what was found."""

    lines: list[AddresseeOut]
    total: int
    counts: dict[Doing, int]


@dataclass(frozen=True)
class AddresseeRow:
    """A row of a file; `why` says what is doubtful."""

    row: int
    name: str
    email: str
    language: str
    judged: Literal["new", "known", "doubtful"]
    why: str


class LettersIn(BaseModel):
    """`about` is whether they are the first letters or reminders; `ids` None writes to everyone that it concerns."""

    model_config = ConfigDict(extra="forbid")
    about: Literal["invitation", "reminder"]
    ids: list[int] | None = Field(default=None, max_length=_MOST_ROWS)


def list_addressees(desk: Desk, link_id: int, query: AddresseesQuery, address: str) -> Addressees:
    desk.needs_whole_study("Links")
    with desk.store.reading() as session:
        of_link = [Addressee.link_id == link_id]
        found = [*of_link]
        if query.doing:
            found.append(_doing(query.doing))
        if query.find.strip():
            like = f"%{_plain(query.find.strip())}%"
            found.append(or_(Addressee.name.ilike(like, escape="\\"), Addressee.email.ilike(like, escape="\\")))
        rows = session.scalars(
            select(Addressee).where(*found).order_by(Addressee.id).offset(query.offset).limit(query.limit)
        )
        link = session.get_one(Link, link_id)
        counts = {
            doing: session.scalar(select(func.count()).where(*of_link, _doing(doing))) or 0 for doing in _CONDITIONS
        }
        return Addressees(
            lines=[_out(session, link, to, address) for to in rows],
            total=session.scalar(select(func.count()).select_from(Addressee).where(*found)) or 0,
            counts=counts,
        )


def _plain(text: str) -> str:
    """Text to be found as it stands, whatever signs it holds."""
    return re.sub(r"([\\%_])", r"\\\1", text)


_has_begun = select(Answering.id).where(Answering.addressee_id == Addressee.id).exists()
_here = Addressee.withdrawn_at.is_(None)
_silent = (_here, Addressee.answered_at.is_(None))
# Each addressee is in one of these.
_CONDITIONS: dict[Doing, tuple[ColumnElement[bool], ...]] = {
    "not written to": (*_silent, ~_has_begun, Addressee.sent_at.is_(None), Addressee.trouble == ""),
    "not reached": (*_silent, ~_has_begun, Addressee.trouble != ""),
    "waiting": (*_silent, ~_has_begun, Addressee.sent_at.is_not(None), Addressee.trouble == ""),
    "begun": (*_silent, _has_begun),
    "answered": (_here, Addressee.answered_at.is_not(None)),
    "withdrawn": (Addressee.withdrawn_at.is_not(None),),
}


def _doing(doing: Doing) -> ColumnElement[bool]:
    first, *more = _CONDITIONS[doing]
    for condition in more:
        first = first & condition
    return first


def _doing_of(session: Session, to: Addressee) -> Doing:
    if to.withdrawn_at is not None:
        return "withdrawn"
    if to.answered_at is not None:
        return "answered"
    if session.scalar(select(Answering.id).where(Answering.addressee_id == to.id).limit(1)) is not None:
        return "begun"
    if to.trouble:
        return "not reached"
    return "waiting" if to.sent_at is not None else "not written to"


def _out(session: Session, link: Link, to: Addressee, address: str) -> AddresseeOut:
    answered = select(Interview.id).where(Interview.study_id == link.study_id, Interview.uuid == to.interview_uuid)
    return AddresseeOut(
        id=to.id, name=to.name, email=to.email, language=to.language, address=f"{address}answer/{to.secret}",
        doing=_doing_of(session, to), sent_at=to.sent_at, reminded_at=to.reminded_at, reminders=to.reminders,
        trouble=to.trouble, answered_at=to.answered_at,
        interview_id=session.scalar(answered) if to.interview_uuid else None,
    )  # fmt: skip


def judge_addressees(desk: Desk, link_id: int, frame: pl.DataFrame) -> list[AddresseeRow]:
    """Every row of a file with the columns name, e-mail and, if wished, language; nothing is kept."""
    desk.needs_whole_study("Links")
    with desk.store.reading() as session:
        return _judged(session, link_id, frame)


def bring_in_addressees(desk: Desk, link_id: int, frame: pl.DataFrame) -> tuple[list[AddresseeRow], int]:
    """Keep the rows that are new; doubtful ones are left out. Return all rows, and how many were kept."""
    desk.needs_whole_study("Links")
    with desk.store.session() as session:
        link = session.get_one(Link, link_id)
        _is_personal(link)
        rows = _judged(session, link_id, frame)
        new = [row for row in rows if row.judged == "new"]
        session.add_all(
            Addressee(link_id=link_id, name=row.name, email=row.email, language=row.language, secret=new_secret())
            for row in new
        )
        if new:
            session.add(desk.event(link.study_id, "addressees brought in", link=link.title, people=len(new)))
        return rows, len(new)


def _is_personal(link: Link) -> None:
    if link.entry != "personal":
        raise Refused("not_personal", "Only a personal link is sent to people one by one. Make one for that.")


def _judged(session: Session, link_id: int, frame: pl.DataFrame) -> list[AddresseeRow]:
    headings = [_HEADINGS.get(re.sub(r"[^a-z]", "", name.lower()), "") for name in frame.columns]
    if "email" not in headings or "name" not in headings:
        raise DataError(
            "wrong_headings", "The first row has to name the columns: name, e-mail and, if wished, language. Found "
            f"instead: {', '.join(frame.columns)}.",
        )  # fmt: skip
    if frame.height > _MOST_ROWS:
        raise DataError("too_many_rows", f"A list of addressees has at most {_MOST_ROWS} rows.")
    known = {email.lower() for email in session.scalars(select(Addressee.email).where(Addressee.link_id == link_id))}
    seen: set[str] = set()
    rows: list[AddresseeRow] = []
    for number, cells in enumerate(frame.rows(), start=2):
        row = {h: " ".join(str(c or "").split()) for h, c in zip(headings, cells, strict=True) if h}
        email = row["email"].lower()
        why = _doubt(row, email, seen)
        judged: Literal["new", "known", "doubtful"] = "doubtful" if why else "known" if email in known else "new"
        seen.add(email)
        rows.append(AddresseeRow(number, row["name"], email, row.get("language", ""), judged, why))
    return rows


def _doubt(row: dict[str, str], email: str, seen: set[str]) -> str:
    if not row["name"]:
        return "There is no name."
    if len(row["name"]) > 128:
        return "The name is too long."
    if not re.fullmatch(r"[^@\s,;<>]+@[^@\s,;<>]+", email) or len(email) > 254:
        return "This is no e-mail address."
    if len(row.get("language", "")) > 35:
        return "This is no language."
    return "The address stands in the file twice." if email in seen else ""


def withdraw_addressee(desk: Desk, addressee_id: int, *, back: bool) -> None:
    """Somebody who does not want to be asked gets no letter, and their address leads nowhere; `back` undoes that."""
    desk.needs_whole_study("Links")
    with desk.store.session() as session:
        to = session.get_one(Addressee, addressee_id)
        to.withdrawn_at = None if back else now()


def order_letters(desk: Desk, link_id: int, letters: LettersIn, address: str) -> JobOut:
    """Letters are sent by a job, one after the other; nobody gets a second first letter, or a reminder after answering."""
    desk.needs_whole_study("Links")
    with desk.store.reading() as session:
        link = session.get_one(Link, link_id)
        _is_personal(link)
        standing, study_id = standing_of(session, link), link.study_id
    if standing != "open":
        raise Refused(
            "link_not_open", "Nobody could answer: the link is not open. Open it, or release the questionnaire."
        )
    return order_job(desk, study_id, "letters", {"link_id": link_id, "address": address, **letters.model_dump()})
