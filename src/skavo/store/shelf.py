"""The media shelf of a study as it is now."""

from __future__ import annotations

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from skavo.core.media.shelf import MediaFile
from skavo.store.models import ShelfFile


def files_of(study_id: int) -> Select[ShelfFile]:
    """The files that are on the shelf, by name."""
    return (
        select(ShelfFile).where(ShelfFile.study_id == study_id, ShelfFile.removed_at.is_(None)).order_by(ShelfFile.name)
    )


def shelf_of(session: Session, study_id: int) -> dict[str, MediaFile]:
    """What goes into releases: the files by name, as phones get them."""
    return {
        file.name: MediaFile(file.phone_hash, file.phone_type, file.phone_bytes, file.said)
        for file in session.scalars(files_of(study_id))
    }
