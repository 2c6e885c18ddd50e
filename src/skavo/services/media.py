"""The media shelf of a study: brought in, replaced everywhere at once, taken out as one zip."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import SkavoError
from skavo.core.media.shelf import answering, odd_ones, uses_of
from skavo.core.questionnaire.script import Script, read_script
from skavo.formats.media import Inspected, checked_name, for_phones, inspect, unpacked
from skavo.formats.packing import pack
from skavo.formats.workbook.sheets import MEDIA_FOLDER, workbook_inside
from skavo.services.desk import Desk
from skavo.services.file_made import FileMade
from skavo.services.found import the_study
from skavo.services.refusals import not_found, same_version
from skavo.store.files import keep_file, read_file
from skavo.store.models import Questionnaire, ShelfFile, now
from skavo.store.shelf import files_of


class UseOut(BaseModel):
    """A place that shows a file; `part_id` is "" for a code of a list."""

    questionnaire_id: int
    questionnaire: str
    part_id: str
    place: str


class ShelfFileOut(BaseModel):
    """`odd` says what the other pictures are like, where this one is unlike them."""

    id: int
    name: str
    type: str
    bytes: int
    phone_bytes: int
    width: int | None
    height: int | None
    seconds: float | None
    said: dict[str, str]
    version: int
    created_at: datetime
    created_by: str
    uses: list[UseOut]
    odd: str


class MissingOut(BaseModel):
    """A name that questionnaires mention and the shelf does not have, in any language or in `languages`."""

    name: str
    languages: list[str]
    uses: list[UseOut]


class ShelfOut(BaseModel):
    files: list[ShelfFileOut]
    missing: list[MissingOut]


class BroughtOut(BaseModel):
    """What came of files that were brought in; `refused` says why of each that was not taken."""

    added: list[str]
    replaced: list[str]
    same: list[str]
    refused: list[str]


class SaidIn(BaseModel):
    """What a file shows in words, by language."""

    said: dict[str, str] = Field(max_length=40)
    version: int


@dataclass(frozen=True)
class _Draft:
    id: int
    title: str
    script: Script


def _drafts(session: Session, study_id: int) -> list[_Draft]:
    query = select(Questionnaire).where(Questionnaire.study_id == study_id).order_by(Questionnaire.id)
    return [_Draft(q.id, q.title, read_script(q.script)) for q in session.scalars(query)]


def show_shelf(desk: Desk, study_id: int) -> ShelfOut:
    """All files with where they are used, and the names that are used without a file."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        files = list(session.scalars(files_of(study_id)))
        drafts = _drafts(session, study_id)
    names = {file.name for file in files}
    uses: dict[str, list[UseOut]] = {}
    missing: dict[str, MissingOut] = {}
    for draft in drafts:
        languages = draft.script.languages
        for use in uses_of(draft.script):
            told = UseOut(questionnaire_id=draft.id, questionnaire=draft.title, part_id=use.part_id, place=use.place)
            for shown in answering(use.name, names, languages):
                uses.setdefault(shown, []).append(told)
            lacking = [tag for tag in languages if not answering(use.name, names, [tag, languages[0]])]
            if lacking:
                entry = missing.setdefault(use.name, MissingOut(name=use.name, languages=lacking, uses=[]))
                entry.uses.append(told)
    odd = odd_ones({f.name: (f.width, f.height) for f in files if f.width and f.height})
    return ShelfOut(
        files=[_told(file, uses.get(file.name, []), odd.get(file.name, "")) for file in files],
        missing=list(missing.values()),
    )


def _told(file: ShelfFile, uses: list[UseOut], odd: str) -> ShelfFileOut:
    return ShelfFileOut(
        id=file.id, name=file.name, type=file.type, bytes=file.bytes, phone_bytes=file.phone_bytes, width=file.width,
        height=file.height, seconds=file.seconds, said=file.said, version=file.version, created_at=file.created_at,
        created_by=file.created_by, uses=uses, odd=odd,
    )  # fmt: skip


@dataclass(frozen=True)
class _Made:
    """A file that was looked at and made small, before anything is written."""

    name: str
    content: bytes
    found: Inspected
    phone: bytes


def bring_in(desk: Desk, study_id: int, file_name: str, content: bytes) -> BroughtOut:
    """Put a file, or all files of a zip, on the shelf; one of the same name is replaced wherever it is used.

    Of a zip, what can be taken is taken; of a single file the refusal is raised.
    """
    is_zip = content[:4] == b"PK\x03\x04"
    told = BroughtOut(added=[], replaced=[], same=[], refused=[])
    files = unpacked(file_name, content) if is_zip else [(file_name, content)]
    if is_zip and workbook_inside(content) is not None:
        # A whole questionnaire: beside its media lies the workbook, which is none.
        files = ((name, held) for name, held in files if MEDIA_FOLDER in name)
    for name, held in files:
        try:
            made = _made(name, held)
        except SkavoError as error:
            if not is_zip:
                raise
            told.refused.append(error.message)
            continue
        getattr(told, _put(desk, study_id, made)).append(made.name)
    return told


def _made(name: str, content: bytes) -> _Made:
    plain = checked_name(name)
    found = inspect(plain, content)
    return _Made(plain, content, found, for_phones(content, found.type))


def _put(desk: Desk, study_id: int, made: _Made) -> str:
    digest, phone_hash = keep_file(desk.store.files, made.content), keep_file(desk.store.files, made.phone)
    with desk.store.session() as session:
        the_study(session, study_id)
        before = session.scalar(files_of(study_id).where(ShelfFile.name == made.name))
        if before is not None and before.hash == digest:
            return "same"
        if before is not None:
            before.removed_at = now()
            session.flush()
        session.add(
            ShelfFile(
                study_id=study_id, name=made.name, hash=digest, type=made.found.type, bytes=len(made.content),
                phone_hash=phone_hash, phone_bytes=len(made.phone), width=made.found.width, height=made.found.height,
                phone_type=made.found.type if phone_hash == digest else "image/webp",
                seconds=made.found.seconds, said=before.said if before is not None else {}, **desk.signed(),
            )
        )  # fmt: skip
        kind = "media replaced" if before is not None else "media brought in"
        session.add(desk.event(study_id, kind, name=made.name))
    return "replaced" if before is not None else "added"


def say(desk: Desk, file_id: int, wanted: SaidIn) -> None:
    """Write what a file shows, for those who cannot see or hear it."""
    with desk.store.session() as session:
        file = _the_file(session, file_id)
        same_version(file.version, wanted.version)
        file.said = {tag: text.strip() for tag, text in wanted.said.items() if text.strip()}
        file.version += 1


def remove(desk: Desk, file_id: int) -> None:
    """Take a file off the shelf; releases that hold it keep it."""
    with desk.store.session() as session:
        file = _the_file(session, file_id)
        file.removed_at = now()
        session.add(desk.event(file.study_id, "media removed", name=file.name))


def _the_file(session: Session, file_id: int) -> ShelfFile:
    file = session.get(ShelfFile, file_id)
    if file is None or file.removed_at is not None:
        raise not_found("file")
    return file


def content_of(desk: Desk, file_id: int, *, as_on_phones: bool) -> FileMade:
    """A file of the shelf, whole or as phones get it."""
    with desk.store.reading() as session:
        file = _the_file(session, file_id)
    digest, kind = (file.phone_hash, file.phone_type) if as_on_phones else (file.hash, file.type)
    return FileMade(file.name, kind, read_file(desk.store.files, digest))


def phone_content(desk: Desk, study_id: int, digest: str) -> FileMade:
    """A file as phones get it, by its hash: one that the shelf has or had."""
    with desk.store.reading() as session:
        wanted = select(ShelfFile).where(ShelfFile.study_id == study_id, ShelfFile.phone_hash == digest)
        file = session.scalars(wanted.limit(1)).first()
    if file is None:
        raise not_found("file")
    return FileMade(file.name, file.phone_type, read_file(desk.store.files, digest))


def take_out_all(desk: Desk, study_id: int) -> FileMade:
    """The whole shelf as one zip, every file as it was brought in."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        files = list(session.scalars(files_of(study_id)))
    content = pack({file.name: read_file(desk.store.files, file.hash) for file in files})
    return FileMade("media.zip", "application/zip", content)
