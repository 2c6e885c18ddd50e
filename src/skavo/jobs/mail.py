"""Letters that the server sends, by SMTP."""

from __future__ import annotations

import logging
import smtplib
from dataclasses import dataclass
from email.message import EmailMessage

log = logging.getLogger("skavo")
_SECONDS = 10


@dataclass(frozen=True)
class Mail:
    """Where letters go out; without a `host` none do."""

    host: str = ""
    port: int = 25
    sender: str = "skavo@localhost"
    login: str = ""
    password: str = ""
    starttls: bool = False

    def send(self, to: str, subject: str, text: str) -> bool:
        """Whether the letter was taken; why not is logged, without the address."""
        if not self.host:
            return False
        letter = EmailMessage()
        letter["From"], letter["To"], letter["Subject"] = self.sender, to, subject
        letter.set_content(text)
        try:
            with smtplib.SMTP(self.host, self.port, timeout=_SECONDS) as server:
                if self.starttls:
                    server.starttls()
                if self.login:
                    server.login(self.login, self.password)
                server.send_message(letter)
        except (OSError, smtplib.SMTPException) as error:
            log.warning("a letter could not be sent: %s", type(error).__name__)
            return False
        return True
