"""What the engine says of an interview, all of it, as one text; run as it stands in CPython and in Pyodide."""

import json
from typing import Any

from skavo.core.interview.session import Session, load_release


def everything_said(release: str, interview: str, outside: str) -> str:
    """Every answer of the session's window, joined line by line: JSON as the engine wrote it."""
    load_release("it", release)
    session = Session("it", interview, outside)
    told: list[Any] = [session.way(), session.overview(), session.findings(), session.saved(), session.packed()]
    told += [session.show(path) for path in json.loads(session.way())]
    return "\n".join(told)
