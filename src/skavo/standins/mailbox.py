"""A simulated mail server: takes every letter by SMTP and keeps the newest, so that the demo sends real letters to nobody."""

from __future__ import annotations

import socket
from collections import deque
from dataclasses import dataclass
from datetime import UTC, datetime
from email import message_from_bytes, policy
from email.message import EmailMessage
from typing import Any

from aiosmtpd.controller import Controller

_KEPT = 200


@dataclass(frozen=True)
class Letter:
    at: datetime
    to: str
    subject: str
    text: str


class Mailbox:
    """Listens on `port` of this machine only; `letters` are the newest, the latest first."""

    def __init__(self) -> None:
        self.letters: deque[Letter] = deque(maxlen=_KEPT)
        self.host, self.port = "127.0.0.1", _free_port()
        self._controller = Controller(self, hostname=self.host, port=self.port)
        self._controller.start()

    def stop(self) -> None:
        self._controller.stop()

    async def handle_DATA(self, _server: Any, _session: Any, envelope: Any) -> str:
        read = message_from_bytes(envelope.content, policy=policy.default)
        assert isinstance(read, EmailMessage)
        body = read.get_body(("plain",))
        text = body.get_content() if body is not None else ""
        self.letters.appendleft(
            Letter(datetime.now(UTC), ", ".join(envelope.rcpt_tos), str(read["Subject"] or ""), str(text))
        )
        return "250 OK"


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port
