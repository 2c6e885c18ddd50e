"""Which files belong to which interview: told when they arrive, or found when an interview refers to them."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import filetype
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.store.files import path_of_file
from skavo.store.laying import loaded_release
from skavo.store.models import Interview, StoredFile

# Sent by a phone of an earlier build, which did not say to which interview a file belongs.
UNCLAIMED = ""


def tell_file(
    session: Session, files: Path, *, study_id: int, interview_uuid: str, digest: str, kind: str, device_id: int | None
) -> None:
    """Note once that a file, which is on the disk, belongs to an interview; its type is what its content shows."""
    where = path_of_file(files, digest)
    known = select(StoredFile.id).where(
        StoredFile.study_id == study_id, StoredFile.interview_uuid == interview_uuid, StoredFile.hash == digest
    )
    if session.scalar(known) is not None:
        return
    found = filetype.guess(str(where))
    session.add(
        StoredFile(
            study_id=study_id, interview_uuid=interview_uuid, hash=digest, bytes=where.stat().st_size, kind=kind,
            type=found.mime if found is not None else "application/octet-stream", device_id=device_id,
        )
    )  # fmt: skip


def claim_files(session: Session, files: Path, interview: Interview) -> None:
    """Give an interview the files its answers refer to that no interview has been told of.

    Those are what phones of earlier builds sent to the same study, and what lies in the store from before files were
    told at all.
    """
    for digest, kind in _referred(interview):
        of_hash = select(StoredFile.study_id, StoredFile.interview_uuid).where(StoredFile.hash == digest)
        told = set(session.execute(of_hash).tuples())
        is_free = not told or (interview.study_id, UNCLAIMED) in told
        if is_free and (interview.study_id, interview.uuid) not in told and path_of_file(files, digest).exists():
            tell_file(
                session, files, study_id=interview.study_id, interview_uuid=interview.uuid, digest=digest, kind=kind,
                device_id=interview.device_id,
            )  # fmt: skip


def _referred(interview: Interview) -> Iterator[tuple[str, str]]:
    """Hash and kind of question of each file that the laid-out answers refer to."""
    parts = loaded_release(interview.release).parts if interview.release is not None else []
    media = {part.raw["id"]: part.kind.name for part in parts if part.kind.type == "media"}
    if not media:
        return
    for rows in interview.laid_out.values():
        for row in rows:
            for identity, value in row["values"].items():
                if identity in media and isinstance(value, dict):
                    yield value["file"], media[identity]
