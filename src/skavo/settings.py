"""How a server is set up: from flags, else the environment (SKAVO_…), else a file (skavo.toml), else what is good for most."""

from __future__ import annotations

import os
import tomllib
from pathlib import Path
from typing import Any

from pydantic import AnyHttpUrl, Field, ValidationError
from pydantic_settings import BaseSettings, SettingsConfigDict

from skavo.core.errors import SkavoError

FILE = Path("skavo.toml")


class Settings(BaseSettings):
    """`public_address` is where browsers and phones reach the server; with https:// cookies and phones insist on it.
    `trusted_proxies` is how many proxies stand before it whose word on addresses is taken. `mail_*` name an SMTP
    server; without a host no letters go out, and links are shown to be handed on."""

    model_config = SettingsConfigDict(env_prefix="SKAVO_", extra="forbid")

    folder: Path = Path("var")
    host: str = "127.0.0.1"
    port: int = Field(default=8060, ge=0, le=65535)
    public_address: AnyHttpUrl | None = None
    trusted_proxies: int = Field(default=0, ge=0, le=5)
    threads: int = Field(default=8, ge=1, le=64)
    most_connections: int = Field(default=1000, ge=10, le=20_000)
    mail_host: str = ""
    mail_port: int = Field(default=25, ge=1, le=65535)
    mail_sender: str = "skavo@localhost"
    mail_login: str = ""
    mail_password: str = ""
    mail_starttls: bool = False

    @property
    def address(self) -> str:
        """The public address, ending in a slash; "" where none is set."""
        return "" if self.public_address is None else str(self.public_address).rstrip("/") + "/"


def read_settings(file: Path | None = None, **flags: Any) -> Settings:
    """The settings of this server; `flags` that are None were not given.

    Raise SkavoError with the name of the setting that is wrong. A `file` that is named has to be there.
    """
    path = file or FILE
    if file is not None and not file.exists():
        raise SkavoError("no_such_file", f"There is no file {file}.")
    try:
        written = tomllib.loads(path.read_text(encoding="utf-8")) if path.exists() else {}
        # What the environment says goes before what is written down.
        below = {name: value for name, value in written.items() if f"SKAVO_{name.upper()}" not in os.environ}
        given = {name: value for name, value in flags.items() if value is not None}
        return Settings(**{**below, **given})
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise SkavoError("wrong_settings", f"{path} cannot be read: {error}.") from None
    except ValidationError as error:
        first = error.errors(include_input=False, include_url=False)[0]
        name = ".".join(str(piece) for piece in first["loc"])
        raise SkavoError("wrong_settings", f"The setting {name} is wrong: {first['msg']}.") from None
