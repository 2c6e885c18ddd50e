"""A server in a process of its own."""

from __future__ import annotations

import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from skavo.web.pages import STATIC


class Served:
    """A server in a process of its own, which can be killed and started again at the same address.

    `pages` is the folder of the built pages that it serves.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.pages = STATIC
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        code = "\n".join(
            [
                "from pathlib import Path",
                "import skavo.web.pages",
                "from skavo.server import Server",
                f"skavo.web.pages.STATIC = Path({str(self.pages)!r})",
                f"Server(Path({str(self.folder)!r}), '127.0.0.1', {self.port}, limits=False).serve()",
            ]
        )
        self.process = subprocess.Popen([sys.executable, "-c", code])
        deadline = time.monotonic() + 60
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(f"{self.address}/api/session", timeout=5).read()
                return
            except OSError:
                time.sleep(0.05)
        raise AssertionError("the server does not answer")

    def kill(self) -> None:
        if self.process is None:
            return
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.process = None
