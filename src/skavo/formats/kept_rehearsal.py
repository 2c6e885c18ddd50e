"""A rehearsal as it is kept: its interviews, to be tabulated and opened again without making them up anew."""

from __future__ import annotations

import gzip
import json
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from skavo.core.dataset.flatten import DataSet, build_data_set
from skavo.core.dataset.layout import layout_of
from skavo.core.interview.release import Release
from skavo.core.rehearsal.rehearse import MadeUpInterview, Rehearsal

_STARTED = "interview.started"


@dataclass(frozen=True)
class KeptRehearsal:
    """`release` is the compiled questionnaire that was rehearsed; moments in `interviews` are ISO 8601."""

    release: dict[str, Any]
    data: DataSet
    interviews: list[MadeUpInterview]


def write_kept(release: Release, rehearsal: Rehearsal) -> bytes:
    """Compressed JSON {release, documents, interviews}."""
    kept = {
        "release": release.raw,
        "documents": rehearsal.documents,
        "interviews": [asdict(interview) for interview in rehearsal.interviews],
    }
    return gzip.compress(json.dumps(kept, ensure_ascii=False, default=_moment).encode(), mtime=0)


def read_kept(content: bytes) -> KeptRehearsal:
    kept = json.loads(gzip.decompress(content))
    for document in kept["documents"]:
        document["facts"][_STARTED] = datetime.fromisoformat(document["facts"][_STARTED])
    data = build_data_set(layout_of([Release(kept["release"])]), kept["documents"])
    return KeptRehearsal(kept["release"], data, [MadeUpInterview(**interview) for interview in kept["interviews"]])


def _moment(value: Any) -> str:
    if isinstance(value, datetime):
        return value.isoformat()
    raise TypeError(f"{type(value).__name__} is no part of a rehearsal")
