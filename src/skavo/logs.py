"""What the server writes down of itself: one line of JSON for each event, without answers.

The words of an unforeseen error may hold an answer; its name and where it happened do not.
"""

from __future__ import annotations

import json
import logging
import sys
import traceback
from datetime import UTC, datetime
from typing import TextIO


class Lines(logging.Formatter):
    """`extra={"told": {…}}` puts facts beside the words of an event."""

    def format(self, record: logging.LogRecord) -> str:
        line = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(), "from": record.name, "event": record.getMessage(),
            **getattr(record, "told", {}),
        }  # fmt: skip
        kind, _, trace = record.exc_info or (None, None, None)
        if kind is not None:
            line["error"] = kind.__name__
            line["where"] = [f"{f.filename}:{f.lineno} {f.name}" for f in traceback.extract_tb(trace)]
        return json.dumps(line, ensure_ascii=False)


def set_up(out: TextIO = sys.stderr) -> None:
    """Write what the server and its parts have to tell to `out`, once, however often this is called."""
    handler = logging.StreamHandler(out)
    handler.setFormatter(Lines())
    root = logging.getLogger()
    root.handlers[:] = [handler]
    logging.getLogger("skavo").setLevel(logging.INFO)
