"""Outside tables for tests: sent and brought in as somebody at the desk does it."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any
from uuid import uuid4

from skavo.services.desk import Desk
from skavo.services.outside_tables import BringIn, OutsideOut, bring_in, keep_sent


def sent_file(desk: Desk, questionnaire_id: int, content: bytes) -> str:
    """The name of a file that was sent to a questionnaire."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "sent"
        path.write_bytes(content)
        return keep_sent(desk, questionnaire_id, path)


def brought_in(desk: Desk, questionnaire_id: int, name: str, content: bytes) -> OutsideOut:
    return bring_in(desk, questionnaire_id, BringIn(file=sent_file(desk, questionnaire_id, content), file_name=name))


def sent_over_http(person: Any, content: bytes, questionnaire_id: int = 1) -> str:
    """The same through the interface; `person` is a signed-in desk of `tests.web`."""
    address = f"/api/questionnaires/{questionnaire_id}/sent-tables/{(uuid4().hex + uuid4().hex)[:64]}"
    file: str = person.answer("PUT", address, content)["file"]
    return file


def brought_in_over_http(person: Any, name: str, content: bytes, questionnaire_id: int = 1) -> Any:
    body = {"file": sent_over_http(person, content, questionnaire_id), "file_name": name}
    return person.answer("POST", f"/api/questionnaires/{questionnaire_id}/outside", body)
