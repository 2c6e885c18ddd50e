"""A phone's sealed file at the desk: opened with the study's key only, once, and answered with receipts for that phone."""

from __future__ import annotations

import base64
import hashlib
import io
import json
import os
import zipfile
from collections.abc import Callable
from typing import Any

from sqlalchemy import select

from skavo.core.interview.formats import INTERVIEW
from skavo.formats.bundle import BUNDLE, RECEIPTS
from skavo.store.models import Event, Interview, Release, Revision
from skavo.store.sealing import check_of, fingerprint, seal, unseal, wrap_for
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone
from tests.web.test_phones import ask

PACKED, IN_HAND = (f"0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a1{n}" for n in range(2))
PHOTO = os.urandom((1 << 20) + 9)
DIGEST = hashlib.sha256(PHOTO).hexdigest()
AT = f"/api/studies/1/bundle-files/{'a' * 64}"
STARTED = "2026-03-14T09:00:00+01:00"


class Carried:
    """What a phone has on it, and the file it saves of it."""

    def __init__(self, app: Any, phone: Phone) -> None:
        self.secret = os.urandom(32)
        self.study_key = ask(phone, key_check=check_of(self.secret)).get_json()["study_key"]
        with app.extensions["skavo_store"].reading() as session:
            self.release = session.scalars(select(Release)).one()

    def sealed(self, value: Any) -> bytes:
        return seal(self.secret, 1, value if isinstance(value, bytes) else json.dumps(value).encode())

    def document(self) -> str:
        paradata = {"started": STARTED, "ended": "2026-03-14T09:20:00+01:00", "enumerator": "Ilse Varn"}
        body = {"uuid": PACKED, "release": self.release.identity, "release_hash": self.release.hash, "answers": {}}
        return json.dumps({"format": INTERVIEW.newest, **body, "paradata": paradata})

    def file(self, **index: Any) -> bytes:
        half = len(PHOTO) - 9
        entries = {
            f"interviews/{PACKED}.sealed": self.sealed({"raw": self.document()}),
            f"interviews/{PACKED}.name": self.sealed({"label": ""}),
            f"interviews/{IN_HAND}.sealed": self.sealed(
                {"path": None, "answers": {"outcome": "open", "workers": 4}, "kept": {}, "events": []}
            ),
            f"interviews/{IN_HAND}.name": self.sealed({"label": "Kettle Corner"}),
            f"files/{PACKED}/photo-{DIGEST}.sealed": self.sealed(PHOTO[:half]) + self.sealed(PHOTO[half:]),
        }
        head = {
            "release": self.release.hash, "releaseIdentity": self.release.identity, "startedAt": STARTED,
            "changedAt": "2026-03-14T08:10:00.000Z", "practice": 0, "language": "en",
        }  # fmt: skip
        whole = {
            "device": "phone of Ilse Varn", "enumerator": "Ilse Varn", "study_key": fingerprint(self.study_key),
            "key": wrap_for(self.study_key, self.secret), "open_key": "", "generation": 1,
            "interviews": {uuid: {"uuid": uuid, **head} for uuid in (PACKED, IN_HAND)},
            "entries": {name: hashlib.sha256(content).hexdigest() for name, content in entries.items()},
        } | index  # fmt: skip
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as packed:
            for name, content in entries.items():
                packed.writestr(name, content)
            packed.writestr("bundle.json", json.dumps(BUNDLE.write(whole)))
        return out.getvalue()


def test_it_is_handed_in_as_if_by_the_phone_and_answered_under_its_key(app: Any, desk: Callable[[str], Desk]) -> None:
    phone, person = Phone(app, desk), desk("supervisor")
    carried = Carried(app, phone)
    told = person.answer("PUT", AT, carried.file())["told"]
    assert (told["arrived"], told["known"], told["files"], told["in_hand"]) == (2, 0, 1, 1)
    with app.extensions["skavo_store"].reading() as session:
        interviews = {i.uuid: i for i in session.scalars(select(Interview))}
        raws = {r.interview_id: r.raw for r in session.scalars(select(Revision))}
    assert raws[interviews[PACKED].id].decode() == carried.document()
    finished = json.loads(raws[interviews[IN_HAND].id])
    assert finished["unfinished"] == "Read in from a file before it was packed"
    assert (interviews[IN_HAND].problem, interviews[IN_HAND].differs) == ("", False)
    assert {i.device_name for i in interviews.values()} <= {"phone of Ilse Varn", ""}

    receipts = told["receipts"]
    opened = json.loads(unseal(carried.secret, base64.b64decode(receipts["sealed"])))
    digest = hashlib.sha256(carried.document().encode()).hexdigest()
    number = interviews[PACKED].number
    assert receipts["format"] == RECEIPTS.newest
    assert opened == {"receipts": [{"uuid": PACKED, "hash": digest, "number": number}]}
    again = person.answer("PUT", AT, carried.file())["told"]
    assert (again["arrived"], again["known"], again["revisions"]) == (0, 2, 0)


def test_what_an_in_hand_interview_does_not_ask_is_left_out_as_the_phone_would(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    carried, person = Carried(app, Phone(app, desk)), desk("supervisor")
    person.answer("PUT", AT, carried.file())["told"]
    with app.extensions["skavo_store"].reading() as session:
        raw = session.scalars(select(Revision.raw).join(Interview).where(Interview.uuid == IN_HAND)).one()
    # Nobody has consented, so that how many work there was not asked.
    assert "workers" not in json.loads(raw)["answers"]


def test_a_file_of_another_study_or_a_damaged_one_is_kept_out_whole(app: Any, desk: Callable[[str], Desk]) -> None:
    carried, person = Carried(app, Phone(app, desk)), desk("supervisor")
    assert person.problem("PUT", AT, carried.file(study_key="0" * 16))[1] == "other_study"
    assert person.problem("PUT", AT, carried.file(key=wrap_for(carried.study_key, os.urandom(32))))[1] == "damaged"
    assert person.problem("PUT", AT, carried.file(key="AAAA"))[1] == "other_study"
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalars(select(Interview)).all() == []


def test_a_phone_that_never_heard_the_office_brings_its_key_along(app: Any, desk: Callable[[str], Desk]) -> None:
    carried, person = Carried(app, Phone(app, desk)), desk("supervisor")
    plain = base64.b64encode(carried.secret).decode()
    told = person.answer("PUT", AT, carried.file(study_key="", key="", open_key=plain))["told"]
    assert (told["arrived"], told["in_hand"]) == (2, 1)


def carry(phone: Phone, file: bytes, name: str = "c" * 64, start: int = 0, end: int | None = None) -> Any:
    """A piece of a file as the phone that carries it sends it."""
    piece = file[start:end]
    headers = {"Content-Range": f"bytes {start}-{start + len(piece) - 1}/{len(file)}"}
    return phone.client.put(f"/api/field/carried/{name}", data=piece, headers=phone.headers | headers)


def test_another_phone_carries_it_in_pieces_and_brings_the_receipts_back(app: Any, desk: Callable[[str], Desk]) -> None:
    carried, carrier = Carried(app, Phone(app, desk)), Phone(app, desk, "Osk Perrin")
    file = carried.file()
    assert carry(carrier, file, end=1000).get_json() == {"received": 1000, "told": None}
    assert carry(carrier, file, start=900).get_json()["code"] == "wrong_place"
    assert carrier.client.get(f"/api/field/carried/{'c' * 64}", headers=carrier.headers).get_json()["received"] == 1000
    told = carry(carrier, file, start=1000).get_json()["told"]
    assert (told["arrived"], told["in_hand"], told["device"]) == (2, 1, "phone of Ilse Varn")
    opened = json.loads(unseal(carried.secret, base64.b64decode(told["receipts"]["sealed"])))
    assert [receipt["uuid"] for receipt in opened["receipts"]] == [PACKED]
    # The answer to the last piece was lost: it is asked for again, or sent again, and nothing is read in twice.
    assert carrier.client.get(f"/api/field/carried/{'c' * 64}", headers=carrier.headers).get_json()["told"] == told
    assert carry(carrier, file, start=len(file)).get_json()["told"] == told
    assert carry(carrier, file, name="e" * 64).get_json()["told"]["known"] == 2
    with app.extensions["skavo_store"].reading() as session:
        assert {i.enumerator for i in session.scalars(select(Interview))} == {"Ilse Varn"}
        events = session.scalars(select(Event).where(Event.kind == "bundle read in")).all()
        assert [event.by for event in events] == ["Osk Perrin", "Osk Perrin"]


def test_a_phone_carries_nothing_that_it_could_have_made_up(app: Any, desk: Callable[[str], Desk]) -> None:
    carried, carrier = Carried(app, Phone(app, desk)), Phone(app, desk, "Osk Perrin")
    plain = base64.b64encode(carried.secret).decode()
    known = carried.secret
    carried.secret = os.urandom(32)
    forged = carried.file()
    carried.secret = known
    kept_out = {
        "sealed under a key that no phone has": forged,
        "of another study": carried.file(study_key="0" * 16),
        "cut": carried.file()[:-30],
    }
    for number, (what, file) in enumerate(kept_out.items()):
        assert carry(carrier, file, name=f"{number:064x}").status_code >= 400, what
        at = f"/api/field/carried/{number:064x}"
        assert carrier.client.get(at, headers=carrier.headers).get_json()["received"] == 0, what
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalars(select(Interview)).all() == []
    # Under the known key it is believed, though it lies open.
    assert carry(carrier, carried.file(study_key="", key="", open_key=plain)).status_code == 200


def test_what_one_phone_has_sent_of_a_file_is_no_other_phones(app: Any, desk: Callable[[str], Desk]) -> None:
    carried, carrier, other = (
        Carried(app, Phone(app, desk)),
        Phone(app, desk, "Osk Perrin"),
        Phone(app, desk),
    )
    carry(carrier, carried.file(), end=500)
    assert other.client.get(f"/api/field/carried/{'c' * 64}", headers=other.headers).get_json()["received"] == 0
    beside = carrier.headers | {"Content-Range": f"bytes 0-9/{(2 << 30) - 100}"}
    answered = carrier.client.put(f"/api/field/carried/{'e' * 64}", data=b"0123456789", headers=beside)
    assert answered.get_json()["code"] == "file_too_large", "many halves are as large as one that is too large"
    too_large = carrier.headers | {"Content-Range": f"bytes 0-9/{3 << 30}"}
    answered = carrier.client.put(f"/api/field/carried/{'d' * 64}", data=b"0123456789", headers=too_large)
    assert answered.get_json()["code"] == "file_too_large"
