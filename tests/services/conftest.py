"""A desk over a small study, without a server."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from skavo.core.permissions import granted
from skavo.jobs.mail import Mail
from skavo.jobs.runner import Jobs
from skavo.jobs.works import kinds_of
from skavo.services.desk import Desk
from skavo.store.database import Store, open_store
from skavo.store.datasets import DataSets
from tests.store.study import SmallStudy, small_study


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = open_store(tmp_path / "store")
    yield opened
    opened.engine.dispose()


@pytest.fixture
def study(store: Store) -> SmallStudy:
    return small_study(store)


def desk_of(store: Store, *roles: str) -> Desk:
    """Somebody with these roles; the jobs they order wait."""
    sets = DataSets(store.files)
    return Desk(store, sets, Jobs(store, sets, kinds_of(Mail)), "Dora Maine", None, granted(roles))


@pytest.fixture
def desk(store: Store) -> Desk:
    return desk_of(store, "data_manager")
