"""Opening the database, and bringing its tables up to date."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker

from skavo.core.errors import DataError
from skavo.store.backup import refuse_half_restored


class Store:
    """The database at `url` and the folder of files beside it."""

    def __init__(self, url: str, files: Path) -> None:
        self.url = url
        self.files = files
        self.engine = _open(url)
        self._writers = sessionmaker(self.engine, expire_on_commit=False)
        # SQLite lets one write at a time and has the others sleep and try again; waiting in line is quicker and fair.
        self._turn = threading.RLock()
        self._readers = sessionmaker(self.engine.execution_options(skavo_write=False), expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session that commits at the end, or rolls back when an error passes through."""
        with self._turn, self._writers() as session, session.begin():
            yield session

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that only reads: it never waits for a writer, and what it changes is thrown away."""
        with self._readers() as session:
            yield session

    def migrate(self) -> None:
        """Bring the tables to the newest version; harmless when they are there already."""
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        with self.engine.connect() as connection:
            config.attributes["connection"] = connection
            with _without_foreign_keys(connection):
                command.upgrade(config, "head")


@contextmanager
def _without_foreign_keys(connection: Connection) -> Iterator[None]:
    """SQLite changes a table by copying it, and would take what refers to the old one for dangling meanwhile."""
    if connection.dialect.name != "sqlite":
        yield
        return
    raw = connection.connection.dbapi_connection
    assert raw is not None
    raw.execute("PRAGMA foreign_keys=OFF")
    try:
        yield
        dangling = raw.execute("PRAGMA foreign_key_check").fetchall()
        if dangling:
            raise DataError("dangling_rows", f"{len(dangling)} rows of the database refer to rows that are gone.")
    finally:
        raw.execute("PRAGMA foreign_keys=ON")


def open_store(folder: Path) -> Store:
    """The store in `folder`, made if need be; SKAVO_DATABASE names another database for it."""
    # Whoever sends a file out looks for it from another folder than whoever started the server.
    folder = folder.resolve()
    refuse_half_restored(folder)
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    url = os.environ.get("SKAVO_DATABASE") or f"sqlite:///{folder / 'skavo.db'}"
    store = Store(url, folder / "files")
    store.migrate()
    _keep_private(folder)
    return store


def _keep_private(folder: Path) -> None:
    """Nobody else on this machine reads what is kept; where the file system knows no owners, nothing is done."""
    for path in (folder, *folder.glob("skavo.db*"), *folder.glob("secret")):
        try:
            path.chmod(path.stat().st_mode & ~0o077)
        except OSError:
            continue


def _open(url: str) -> Engine:
    if not url.startswith("sqlite"):
        return create_engine(url, hide_parameters=True)
    engine = create_engine(url, connect_args={"timeout": 30}, hide_parameters=True)

    @event.listens_for(engine, "connect")
    def _configure(connection: Any, _record: Any) -> None:
        connection.isolation_level = None
        for setting in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=30000"):
            connection.execute(f"PRAGMA {setting}")

    @event.listens_for(engine, "begin")
    def _begin(connection: Any) -> None:
        # IMMEDIATE: two writers wait for each other instead of failing halfway.
        writing = connection.get_execution_options().get("skavo_write", True)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writing else "BEGIN")

    return engine
