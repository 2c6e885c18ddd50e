"""A small study in a store, and documents made with its releases, for tests of what arrives."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass
from typing import Any

from skavo.core.interview.formats import INTERVIEW
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import Script, write_script
from skavo.store.database import Store
from skavo.store.handin import Receipt, from_device, hand_in, read_arrival
from skavo.store.models import Device, Interview, Questionnaire, Release, Study, now
from skavo.store.recipes import own_set
from tests.samples import staff_script

Document = dict[str, Any]


@dataclass(frozen=True)
class SmallStudy:
    """A study with one questionnaire, a release of `script`, and a device of Ilse Varn."""

    store: Store
    study_id: int
    questionnaire_id: int
    device_id: int
    release: str
    release_hash: str

    def document(self, **more: Any) -> Document:
        moment = now().isoformat()
        return {
            "format": INTERVIEW.newest, "uuid": str(uuid.uuid4()), "release": self.release,
            "release_hash": self.release_hash, "basis": "", "answers": {"consent": True},
            "paradata": {"started": moment, "ended": moment, "enumerator": "Ilse Varn"}, **more,
        }  # fmt: skip

    def arrive(self, document: Document, *, device_id: int | None = None) -> Receipt:
        return self.arrive_raw(document["uuid"], json.dumps(document).encode(), device_id=device_id)

    def arrive_raw(self, identity: str, raw: bytes, *, device_id: int | None = None) -> Receipt:
        with self.store.session() as session:
            device = session.get_one(Device, device_id or self.device_id)
            return hand_in(session, from_device(device), read_arrival(session, from_device(device), identity, raw))

    @property
    def own_set(self) -> int:
        """The data set that its questionnaire began with."""
        with self.store.reading() as session:
            return own_set(session, self.questionnaire_id).id

    def interview(self, number: int = 1) -> Interview:
        with self.store.reading() as session:
            return session.query(Interview).filter_by(study_id=self.study_id, number=number).one()


def small_study(store: Store, script: Script | None = None) -> SmallStudy:
    with store.session() as session:
        study = Study(title="Sample")
        session.add(study)
        session.flush()
        questionnaire = Questionnaire(study_id=study.id, title="Sample", script=write_script(script or staff_script()))
        device = Device(study_id=study.id, name="phone 01", enumerator="Ilse Varn", token_hash=uuid.uuid4().hex)
        session.add_all([questionnaire, device])
        session.flush()
        ids = (study.id, questionnaire.id, device.id)
    return SmallStudy(store, *ids, *release_in(store, ids[1], script or staff_script(), 1))


def release_in(store: Store, questionnaire_id: int, script: Script, number: int) -> tuple[str, str]:
    """Release `script`; return identity and hash."""
    compiled = compile_script(script).release
    assert compiled is not None
    with store.session() as session:
        release = Release(
            questionnaire_id=questionnaire_id, number=number, hash=content_hash(compiled), compiled=compiled,
            script=write_script(script),
        )  # fmt: skip
        session.add(release)
        session.flush()
        return release.identity, release.hash
