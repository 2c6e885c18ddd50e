"""The server process: the web application behind waitress, and its jobs."""

from __future__ import annotations

import os
import threading
from pathlib import Path
from typing import Any

from waitress.server import create_server

from skavo.door import guard_door
from skavo.jobs.mail import Mail
from skavo.settings import Settings
from skavo.standins.mailbox import Mailbox
from skavo.store.database import Store
from skavo.web.app import MOST_BYTES, create_app, start_jobs

# A connection on which nothing comes for so long makes room for others.
_IDLE_SECONDS = 30


class Server:
    """Serves the store in `folder`; port 0 takes any free one. A `mailbox` takes the letters instead of a mail server."""

    def __init__(
        self, folder: Path, host: str, port: int, *, limits: bool = True, settings: Settings | None = None,
        mailbox: Mailbox | None = None,
    ) -> None:  # fmt: skip
        settings = settings or Settings(folder=folder)
        # What is kept is nobody's on this machine but the server's.
        os.umask(0o077)
        self.app = create_app(folder, limits=limits, settings=settings)
        if mailbox is not None:
            self.app.config["MAIL"] = Mail(mailbox.host, mailbox.port)
            self.app.extensions["skavo_mailbox"] = mailbox
        self.mailbox = mailbox
        self.store: Store = self.app.extensions["skavo_store"]
        sockets: dict[Any, Any] = {}
        self._server = create_server(
            self.app, map=sockets, host=host, port=port, threads=settings.threads, ident="skavo",
            connection_limit=settings.most_connections, channel_timeout=_IDLE_SECONDS, cleanup_interval=10,
            max_request_body_size=MOST_BYTES, asyncore_use_poll=True,
        )  # fmt: skip
        guard_door(sockets, self.app)
        self.jobs = start_jobs(self.app)
        self.address = f"http://{host}:{self._server.effective_port}/"
        # With it the first administrator is made on the first visit; "" where there is one.
        self.first_code: str = self.app.config["FIRST_CODE"]
        self._thread: threading.Thread | None = None

    def serve(self) -> None:
        """Serve until interrupted."""
        self.start()
        self.wait()

    def start(self) -> None:
        self._thread = threading.Thread(target=self._server.run, daemon=True)
        self._thread.start()

    def wait(self) -> None:
        try:
            while self._thread is not None and self._thread.is_alive():
                self._thread.join(1.0)
        except KeyboardInterrupt:
            self.stop()

    def stop(self) -> None:
        self.jobs.stop()
        if self.mailbox is not None:
            self.mailbox.stop()
        self._server.close()
