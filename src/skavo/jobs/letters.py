"""The job that writes to the addressees of a link: a letter each, with the link that is theirs alone."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from skavo.core.errors import SkavoError
from skavo.core.fieldwork.links import LinkTexts, fill, written
from skavo.jobs.mail import Mail
from skavo.jobs.runner import Progress, Work
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.interview_document import zone_named
from skavo.store.models import Addressee, Link, Questionnaire, Study, now

# Somebody who was written to an hour ago is not reminded because a button was pressed twice.
_NOT_AGAIN_WITHIN = timedelta(hours=1)
_TROUBLE = "The mail server did not take the letter."


def letters_by(mail_now: Callable[[], Mail]) -> Work:
    """The work of a job that sends through what `mail_now` gives when it begins."""

    def write_letters(store: Store, _sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
        """`order` is {link_id, about, ids, address}; the result counts letters sent and those not taken."""
        mail = mail_now()
        if not mail.host:
            raise SkavoError("no_mail", "This server has no mail server. Name one in its settings (docs/server.md).")
        with store.reading() as session:
            chosen = None if order["ids"] is None else {*order["ids"]}
            concerned = session.scalars(_concerned(order).order_by(Addressee.id))
            ids = [one for one in concerned if chosen is None or one in chosen]
        sent = failed = 0
        for done, addressee_id in enumerate(ids):
            progress.say(done / len(ids), f"{done} of {len(ids)} letters")
            outcome = _write_one(store, mail, order, addressee_id)
            sent += outcome is True
            failed += outcome is False
        return {"sent": sent, "failed": failed}

    return write_letters


def _concerned(order: dict[str, Any]) -> Select[int]:
    """Who is to be written to, by number: nobody a second time, and nobody who has answered or does not want to."""
    last = func.coalesce(Addressee.reminded_at, Addressee.sent_at)
    is_due = Addressee.sent_at.is_(None) if order["about"] == "invitation" else last < now() - _NOT_AGAIN_WITHIN
    return select(Addressee.id).where(
        Addressee.link_id == order["link_id"], Addressee.withdrawn_at.is_(None), Addressee.answered_at.is_(None), is_due
    )


def _write_one(store: Store, mail: Mail, order: dict[str, Any], addressee_id: int) -> bool | None:
    """Whether the letter was taken; None where it is not wanted any more. It is noted before the next one is begun, so
    that a job which breaks off goes on where it was."""
    with store.reading() as session:
        if session.scalar(_concerned(order).where(Addressee.id == addressee_id)) is None:
            return None
        to = session.get_one(Addressee, addressee_id)
        email, (subject, text) = to.email, _letter(session, to, order)
    taken = mail.send(email, subject, text)
    with store.session() as session:
        to = session.get_one(Addressee, addressee_id)
        to.trouble = "" if taken else _TROUBLE
        if taken and order["about"] == "invitation":
            to.sent_at = now()
        elif taken:
            to.reminded_at, to.reminders = now(), to.reminders + 1
    return taken


def _letter(session: Session, to: Addressee, order: dict[str, Any]) -> tuple[str, str]:
    link = session.get_one(Link, to.link_id)
    study = session.get_one(Study, link.study_id)
    languages: list[str] = session.get_one(Questionnaire, link.questionnaire_id).script["languages"]
    language = to.language or languages[0]
    texts = written({tag: LinkTexts.model_validate(own) for tag, own in link.texts.items()}, language)
    values = {
        "name": to.name, "link": f"{order['address']}answer/{to.secret}", "study": study.title,
        "until": _day(link.closes_at, study),
    }  # fmt: skip
    text = texts.letter if order["about"] == "invitation" else texts.reminder
    return " ".join(fill(texts.subject, values).split()), fill(_without_end(text, link), values)


def _day(moment: datetime | None, study: Study) -> str:
    return "" if moment is None else moment.astimezone(zone_named(study.time_zone)).strftime("%Y-%m-%d %H:%M")


def _without_end(text: str, link: Link) -> str:
    """A letter about a link that has no end leaves out the sentences that name it."""
    if link.closes_at is not None:
        return text
    return "\n".join(_sentences_without(line) if "{until}" in line else line for line in text.split("\n"))


def _sentences_without(line: str) -> str:
    return " ".join(part + "." for part in line.rstrip(". ").split(". ") if "{until}" not in part)
