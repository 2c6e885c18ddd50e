"""A forgotten PIN: the office lets in whom it has on the telephone, and nobody else gets anything of the phone's key."""

from __future__ import annotations

import base64
import os
from collections.abc import Callable
from typing import Any

from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import padding, rsa

from skavo.store.sealing import check_of, fingerprint, wrap_for
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone
from tests.web.test_phones import ask, listed

NAME = "phone of Ilse Varn"
OAEP = padding.OAEP(mgf=padding.MGF1(hashes.SHA256()), algorithm=hashes.SHA256(), label=None)


class Locked:
    """A phone that holds its wrapped key and has made a pair for this one time."""

    def __init__(self, app: Any, phone: Phone) -> None:
        self.client = app.test_client()
        self.secret = os.urandom(32)
        study_key = ask(phone, key_check=check_of(self.secret)).get_json()["study_key"]
        self.study_key = fingerprint(study_key)
        self.wrapped = wrap_for(study_key, self.secret)
        self.private = rsa.generate_private_key(65537, 2048)
        der = self.private.public_key().public_bytes(
            serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo
        )
        self.public = base64.b64encode(der).decode()

    def ask(self, **other: str) -> Any:
        body = {"study_key": self.study_key, "wrapped": self.wrapped, "public": self.public, **other}
        return self.client.post("/api/field/rescue", json=body).get_json()


def test_whoever_forgot_the_pin_is_let_in_by_somebody_who_has_compared_the_letters(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    phone, person = Phone(app, desk), desk("supervisor")
    locked = Locked(app, phone)
    asked = locked.ask()
    assert (asked["state"], asked["answer"]) == ("waiting", "")
    (doubt,) = [d for d in listed(person, NAME)["doubts"] if d["kind"] == "locked out"]
    assert doubt["told"] == asked["told"]
    at = f"/api/devices/{listed(person, NAME)['id']}/letting-in"
    assert person.problem("POST", at, {"told": "ffffff"})[1] == "other_phone"
    assert locked.ask()["state"] == "waiting"
    person.answer("POST", at, {"told": asked["told"].upper() + " "})
    answered = locked.ask()
    assert locked.private.decrypt(base64.b64decode(answered["answer"]), OAEP) == locked.secret
    assert [d for d in listed(person, NAME)["doubts"] if d["kind"] == "locked out"] == []
    ask(phone, key_check=check_of(locked.secret))
    assert person.problem("POST", at, {"told": asked["told"]})[1] == "not_found"


def test_another_pair_gets_no_answer_meant_for_the_first_one(app: Any, desk: Callable[[str], Desk]) -> None:
    phone, person = Phone(app, desk), desk("supervisor")
    locked = Locked(app, phone)
    told = locked.ask()["told"]
    person.answer("POST", f"/api/devices/{listed(person, NAME)['id']}/letting-in", {"told": told})
    thief = Locked(app, Phone(app, desk, "Mira Tole"))
    assert locked.ask(public=thief.public)["state"] == "waiting"
    assert locked.ask()["state"] == "waiting"


def test_nobody_is_let_in_without_the_phones_own_wrapped_key(app: Any, desk: Callable[[str], Desk]) -> None:
    phone, person = Phone(app, desk), desk("supervisor")
    locked = Locked(app, phone)
    made_up = wrap_for(ask(phone).get_json()["study_key"], os.urandom(32))
    assert locked.ask(wrapped=made_up)["code"] == "device_unknown"
    assert locked.ask(study_key="0" * 16)["code"] == "device_unknown"
    assert locked.ask(wrapped="AAAA")["code"] == "other_study"
    assert locked.ask(public="AAAA")["code"] == "wrong_request"
    person.answer("POST", f"/api/devices/{listed(person, NAME)['id']}/cut-off")
    assert locked.ask()["code"] == "not_allowed"
    assert listed(person, NAME)["doubts"] == []
