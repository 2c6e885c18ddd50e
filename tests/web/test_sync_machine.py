"""Phones and the office over a network that loses, doubles, reorders and truncates, and a server that is killed and
started again: every interview with a receipt is there exactly once, byte for byte, and no phone lets go of one without."""

from __future__ import annotations

import hashlib
import json
import shutil
import tempfile
import uuid
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)
from sqlalchemy import select

from skavo.core.interview.formats import INTERVIEW
from skavo.demo.build import build_study, pairing_code
from skavo.store.files import path_of_file
from skavo.store.models import Interview, Release, Revision, StoredFile, now
from skavo.web.app import create_app
from tests.workshop import workshop_script

FAULT = st.sampled_from(["none", "request lost", "answer lost", "sent twice", "cut short", "delayed"])
PIECE = 700


@pytest.fixture(scope="module")
def template(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """A study with a release and two paired phones, copied for each run."""
    folder = tmp_path_factory.mktemp("template") / "store"
    app = create_app(folder, limits=False)
    store = app.extensions["skavo_store"]
    build_study(store, workshop_script())
    tokens = []
    for name in ("phone 01", "phone 02"):
        code = pairing_code(store, 1, "Ilse Varn")
        paired = app.test_client().post("/api/field/pair", json={"code": code, "device": name}).get_json()
        tokens.append(paired["token"])
    store.engine.dispose()
    (folder / "tokens.json").write_text(json.dumps(tokens))
    yield folder


@dataclass
class Packed:
    """An interview on a phone: what is handed in, word for word, and its files; `receipt` once the office has it."""

    raw: bytes
    files: dict[str, bytes] = field(default_factory=dict)
    receipt: dict[str, Any] | None = None

    @property
    def uuid(self) -> str:
        return str(json.loads(self.raw)["uuid"])

    @property
    def hash(self) -> str:
        return hashlib.sha256(self.raw).hexdigest()


class Sync(RuleBasedStateMachine):
    template: Path

    @initialize()
    def start(self) -> None:
        self.scratch = Path(tempfile.mkdtemp())
        self.folder = self.scratch / "store"
        shutil.copytree(self.template, self.folder)
        self.tokens: list[str] = json.loads((self.folder / "tokens.json").read_text())
        self.packed: list[Packed] = []
        self.delayed: list[tuple[int, Packed]] = []
        self.open()

    def open(self) -> None:
        self.app = create_app(self.folder, limits=False)
        self.store = self.app.extensions["skavo_store"]
        with self.store.reading() as session:
            self.release = session.scalars(select(Release)).one()

    @rule(files=st.integers(0, 2), size=st.sampled_from([0, 600, 900, 1600]), phone=st.integers(0, 1), fault=FAULT)
    def pack_and_hand_in(self, files: int, size: int, phone: int, fault: str) -> None:
        """An interview is packed on a phone, with the files that it refers to, and handed in at once."""
        workers = 1 + len(self.packed) % 9
        # No piece of a file is like another one.
        contents = [hashlib.shake_256(uuid.uuid4().bytes).digest(size + 1) for _ in range(files)]
        named = {hashlib.sha256(content).hexdigest(): content for content in contents}
        document = {
            "format": INTERVIEW.newest, "uuid": str(uuid.uuid4()), "release": self.release.identity,
            "release_hash": self.release.hash, "answers": {"consent": True, "workers": workers},
            "remarks": {"workers": ", ".join(named)}, "paradata": {"started": now().isoformat(), "ended": now().isoformat()},
        }  # fmt: skip
        self.packed.append(Packed(json.dumps(document).encode(), named))
        self.hand_in(self.packed[-1], phone, fault)

    @precondition(lambda self: any(one.receipt is None for one in getattr(self, "packed", [])))
    @rule(number=st.integers(0, 9), phone=st.integers(0, 1), fault=FAULT)
    def hand_in_again(self, number: int, phone: int, fault: str) -> None:
        waiting = [one for one in self.packed if one.receipt is None]
        self.hand_in(waiting[number % len(waiting)], phone, fault)

    def hand_in(self, interview: Packed, phone: int, fault: str) -> None:
        """A phone hands in what has no receipt yet, files first; it believes nothing but a receipt for its own bytes."""
        if interview.receipt is not None:
            return
        for digest, content in interview.files.items():
            if not self.send_file(phone, interview, digest, content, fault):
                return
        self.deliver(phone, interview, fault)

    def send_file(self, phone: int, interview: Packed, digest: str, content: bytes, fault: str) -> bool:
        """Whether the office has confirmed the file; the next try goes on where this one broke off."""
        address = f"/api/field/interviews/{interview.uuid}/files/{digest}"
        received = self.ask(phone, "GET", address).get_json()["received"]
        while True:
            piece = content[received : received + PIECE]
            if fault == "cut short" and len(piece) > 1:
                # What arrives is shorter than its range says: the office counts what it has.
                piece = piece[: len(piece) // 2]
            span = f"bytes {received}-{received + len(piece) - 1}/{len(content)}"
            if fault == "request lost":
                return False
            answer = self.ask(phone, "PUT", f"{address}?kind=file", piece, span)
            if fault == "sent twice":
                self.ask(phone, "PUT", f"{address}?kind=file", piece, span)
            if fault in ("answer lost", "cut short"):
                return False
            told = answer.get_json()
            if told.get("hash") is not None:
                assert told["hash"] == digest
                return True
            received = told["received"] if "received" in told else told["details"]["received"]
            if fault == "sent twice":
                received = self.ask(phone, "GET", address).get_json()["received"]
                if received == 0:
                    continue

    def deliver(self, phone: int, interview: Packed, fault: str) -> None:
        if fault == "request lost":
            return
        if fault == "delayed":
            self.delayed.append((phone, interview))
            return
        raw = interview.raw[: len(interview.raw) // 2] if fault == "cut short" else interview.raw
        if fault == "cut short":
            # A body that is shorter than it was announced does not reach the office at all.
            return
        for _ in range(2 if fault == "sent twice" else 1):
            answer = self.ask(phone, "PUT", f"/api/field/interviews/{interview.uuid}", raw)
            assert answer.status_code == 200, answer.get_json()
        if fault == "answer lost":
            return
        receipt = answer.get_json()
        assert receipt["hash"] == interview.hash
        interview.receipt = receipt

    @rule()
    def late_messages_arrive(self) -> None:
        """What was under way for long arrives in another order; nobody hears the answer."""
        for phone, interview in reversed(self.delayed):
            self.ask(phone, "PUT", f"/api/field/interviews/{interview.uuid}", interview.raw)
        self.delayed.clear()

    @rule()
    def server_is_started_again(self) -> None:
        self.store.engine.dispose()
        self.open()

    def ask(self, phone: int, method: str, address: str, body: bytes | None = None, span: str = "") -> Any:
        headers = {"Authorization": f"Bearer {self.tokens[phone]}", **({"Content-Range": span} if span else {})}
        return self.app.test_client().open(address, method=method, data=body, headers=headers)

    @invariant()
    def every_receipt_is_true(self) -> None:
        if not hasattr(self, "store"):
            return
        with self.store.reading() as session:
            kept = dict(session.execute(select(Revision.hash, Revision.raw)).tuples().all())
            uuids = session.scalars(select(Interview.uuid)).all()
            numbers = session.scalars(select(Interview.number)).all()
            told = {(f.interview_uuid, f.hash) for f in session.scalars(select(StoredFile))}
        assert len(uuids) == len(set(uuids)) == len(kept)
        assert sorted(numbers) == list(range(1, len(numbers) + 1))
        for interview in self.packed:
            if interview.receipt is None:
                continue
            assert kept[interview.hash] == interview.raw
            for digest, content in interview.files.items():
                assert path_of_file(self.store.files, digest).read_bytes() == content
                assert (interview.uuid, digest) in told

    def teardown(self) -> None:
        """In the end the network is there: whatever is still on a phone arrives, and nothing twice."""
        if not hasattr(self, "store"):
            return
        self.late_messages_arrive()
        for interview in self.packed:
            self.hand_in(interview, 0, "none")
            assert interview.receipt is not None
        self.every_receipt_is_true()
        with self.store.reading() as session:
            assert set(session.scalars(select(Interview.uuid))) == {interview.uuid for interview in self.packed}
            assert set(session.scalars(select(Interview.revisions))) <= {1}
        self.store.engine.dispose()
        shutil.rmtree(self.scratch)


def test_nothing_with_a_receipt_is_lost_and_nothing_comes_twice(template: Path) -> None:
    Sync.template = template
    run_state_machine_as_test(Sync, settings=settings(max_examples=24, stateful_step_count=16, deadline=None))
