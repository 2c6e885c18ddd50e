"""The job that puts away, once a day, what nobody can use any more. Nothing that was handed in is touched."""

from __future__ import annotations

import time
from datetime import timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import delete, or_

from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.files import ARRIVING
from skavo.store.models import OneTimeLink, PairingCode, SignedInSession, now

# Long enough for somebody to ask why a link or a session has ended.
_KEPT_AFTER = timedelta(days=90)
# A phone may be away for weeks; what it had sent halfway is sent from the beginning after that.
_HALF_FILES_KEPT = timedelta(days=120)


def tidy(store: Store, _data_sets: DataSets, _order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """The result says how many of each were put away."""
    progress.say(0.0, "Putting away what has ended")
    before = now() - _KEPT_AFTER
    ended = {
        "links": delete(OneTimeLink).where(OneTimeLink.expires_at < before),
        "pairing_codes": delete(PairingCode).where(PairingCode.expires_at < before),
        "sessions": delete(SignedInSession).where(
            or_(SignedInSession.ended_at < before, SignedInSession.used_at < before)
        ),
    }
    with store.session() as session:
        gone = {name: session.connection().execute(statement).rowcount for name, statement in ended.items()}
    return {**gone, "half_files": _half_files(store.files / ARRIVING)}


def _half_files(folder: Path) -> int:
    oldest = time.time() - _HALF_FILES_KEPT.total_seconds()
    old = [half for half in folder.glob("*") if half.stat().st_mtime < oldest]
    for half in old:
        half.unlink(missing_ok=True)
    return len(old)
