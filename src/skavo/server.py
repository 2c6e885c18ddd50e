"""The server process: the web application behind waitress, and its jobs."""

from __future__ import annotations

import threading
from pathlib import Path

from waitress.server import create_server

from skavo.store.database import Store
from skavo.web.app import create_app, start_jobs


class Server:
    """Serves the store in `folder`; port 0 takes any free one."""

    def __init__(self, folder: Path, host: str, port: int, *, limits: bool = True) -> None:
        self.app = create_app(folder, limits=limits)
        self.store: Store = self.app.extensions["skavo_store"]
        self._server = create_server(self.app, host=host, port=port, threads=8, ident="skavo")
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
        self._server.close()
