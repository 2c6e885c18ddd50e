"""What several tests share: small questionnaires, stores and servers with a study in them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest
from hypothesis import settings

from skavo.demo.build import build_study
from skavo.server import Server
from skavo.store import sealing
from skavo.store.database import Store, open_store
from tests.workshop import workshop_script

# The same examples every time, so that a red run is the change’s own; --hypothesis-profile=fresh looks further. How long one
# takes says nothing: a busy machine is slow.
settings.register_profile("same", derandomize=True, deadline=None)
settings.register_profile("fresh", derandomize=False, deadline=None)
settings.load_profile("same")


new_private_key = sealing.new_private_key
_one_key = cache(new_private_key)


@pytest.fixture(autouse=True)
def _quick_keys(monkeypatch: pytest.MonkeyPatch) -> None:
    """Making a pair of keys takes longer than most tests: studies share one, but where keys are what is tested."""
    monkeypatch.setattr(sealing, "new_private_key", _one_key)


@pytest.fixture
def own_keys(monkeypatch: pytest.MonkeyPatch) -> None:
    """Every study has keys of its own, as it does in earnest."""
    monkeypatch.setattr(sealing, "new_private_key", new_private_key)


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return open_store(tmp_path / "store")


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    """A running server with the demo's people, questionnaire and release, but no interviews."""
    running = Server(tmp_path / "served", "127.0.0.1", 0, limits=False)
    build_study(running.store, workshop_script())
    running.start()
    yield running
    running.stop()
