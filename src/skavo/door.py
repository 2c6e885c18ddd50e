"""The door of the server: what a stranger sends is refused by its size before it is read."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from flask import Flask
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.utilities import RequestEntityTooLarge
from werkzeug.test import EnvironBuilder

from skavo.web.guard import is_device
from skavo.web.sessions import is_signed_in

# Signing in, pairing and choosing a passphrase need no more.
STRANGERS_BYTES = 64 << 10


def channel_for(app: Flask) -> type[HTTPChannel]:
    """Connections whose large requests are read only where `app` knows who sends them."""
    return type("Channel", (HTTPChannel,), {"parser_class": _parser_for(_knows(app))})


def _knows(app: Flask) -> Callable[[Mapping[str, str]], bool]:
    def knows(headers: Mapping[str, str]) -> bool:
        told = [(name, headers[name.upper()]) for name in ("Authorization", "Cookie") if name.upper() in headers]
        with app.request_context(EnvironBuilder(headers=told).get_environ()):
            # Only read: this runs where all connections are served, and must not wait for a writer.
            return is_device() or is_signed_in()

    return knows


def _parser_for(knows: Callable[[Mapping[str, str]], bool]) -> type[HTTPRequestParser]:
    class Parser(HTTPRequestParser):  # type: ignore[misc]
        error: Any
        completed: bool

        def received(self, data: bytes) -> int:
            was_in_header = self.body_rcv is None
            consumed: int = super().received(data)
            is_body_next = was_in_header and self.body_rcv is not None and not self.completed
            is_large = self.chunked or self.content_length > STRANGERS_BYTES
            if is_body_next and is_large and not knows(self.headers):
                self.error = RequestEntityTooLarge("sign in before sending so much")
                self.completed = True
            return consumed

    return Parser


def guard_door(sockets: dict[Any, Any], app: Flask) -> None:
    """Let every listening socket of a server make connections of `channel_for`."""
    channel = channel_for(app)
    for listening in sockets.values():
        if hasattr(listening, "channel_class"):
            listening.channel_class = channel
