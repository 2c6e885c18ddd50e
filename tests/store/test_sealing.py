"""What a phone wraps for its study: opened with the study's key, and with no other."""

from __future__ import annotations

import base64
import os
from pathlib import Path

import pytest
from cryptography.hazmat.primitives import serialization

from skavo.core.errors import DataError
from skavo.store.database import open_store
from skavo.store.models import Study, StudyKey
from skavo.store.sealing import fingerprint, key_of, seal, unseal, unwrap, wrap_for

SECRET = bytes(range(32))


@pytest.fixture
def keys(tmp_path: Path, own_keys: None) -> tuple[StudyKey, StudyKey]:
    with open_store(tmp_path).session() as session:
        session.add_all([Study(title="A"), Study(title="B")])
        session.flush()
        return key_of(session, 1), key_of(session, 2)


def test_a_study_keeps_its_key(tmp_path: Path) -> None:
    store = open_store(tmp_path)
    with store.session() as session:
        session.add(Study(title="A"))
        session.flush()
        made = key_of(session, 1).public
    with store.session() as session:
        assert key_of(session, 1).public == made
    public = serialization.load_der_public_key(base64.b64decode(made))
    assert public.key_size == 3072  # type: ignore[union-attr]


def test_what_is_wrapped_opens_with_its_study_only(keys: tuple[StudyKey, StudyKey]) -> None:
    mine, theirs = keys
    assert fingerprint(mine.public) != fingerprint(theirs.public)
    wrapped = wrap_for(mine.public, SECRET)
    assert unwrap(mine, wrapped) == SECRET
    with pytest.raises(DataError, match="for another study"):
        unwrap(theirs, wrapped)
    with pytest.raises(DataError, match="base64"):
        unwrap(mine, "é")


def test_nothing_is_wrapped_for_what_is_no_key() -> None:
    for public in ("", "AAAA", base64.b64encode(os.urandom(300)).decode()):
        with pytest.raises(DataError, match="no public key"):
            wrap_for(public, SECRET)


def test_what_is_sealed_opens_whole_or_not_at_all() -> None:
    sealed = seal(SECRET, 3, b"Kettle Corner, 14")
    assert sealed[0] == 3
    assert unseal(SECRET, sealed) == b"Kettle Corner, 14"
    for damaged in (sealed[:-1], sealed[:14] + bytes([sealed[14] ^ 1]) + sealed[15:], b"", sealed[:5]):
        with pytest.raises(DataError, match="damaged"):
            unseal(SECRET, damaged)
    with pytest.raises(DataError, match="damaged"):
        unseal(bytes(32), sealed)
