"""Files of interviews: in pieces, confirmed only when they were read back, shown without being trusted."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Callable
from io import BytesIO
from typing import Any

import pytest
from PIL import ExifTags, Image
from sqlalchemy import select

from skavo.core.interview.formats import INTERVIEW
from skavo.store import files
from skavo.store.files import hash_on_disk, path_of_file, read_file
from skavo.store.models import Release, StoredFile, Study, now
from tests.web.conftest import Desk

CONTENT = bytes(range(256)) * 40
HASH = hashlib.sha256(CONTENT).hexdigest()


class Device:
    """A paired phone over the test client."""

    def __init__(self, app: Any, desk: Callable[[str], Desk], enumerator: str = "Ilse Varn") -> None:
        person = desk("supervisor")
        code = person.code_for(enumerator)
        self.client = app.test_client()
        paired = self.client.post("/api/field/pair", json={"code": code, "device": f"phone of {enumerator}"})
        self.headers = {"Authorization": f"Bearer {paired.get_json()['token']}"}

    def put(self, interview: str, content: bytes, name: str = HASH, *, span: str = "", kind: str = "file") -> Any:
        headers = {**self.headers, **({"Content-Range": span} if span else {})}
        address = f"/api/field/interviews/{interview}/files/{name}?kind={kind}"
        return self.client.put(address, data=content, headers=headers)

    def received(self, interview: str, name: str = HASH) -> int:
        found = self.client.get(f"/api/field/interviews/{interview}/files/{name}", headers=self.headers)
        return int(found.get_json()["received"])

    def hand_in(self, app: Any, interview: str, **answers: Any) -> None:
        with app.extensions["skavo_store"].reading() as session:
            release = session.scalars(select(Release)).one()
        document = {
            "format": INTERVIEW.newest, "uuid": interview, "release": release.identity, "release_hash": release.hash,
            "answers": answers, "paradata": {"started": now().isoformat(), "ended": now().isoformat(), "enumerator": "Ilse Varn"},
        }  # fmt: skip
        sent = self.client.put(f"/api/field/interviews/{interview}", data=json.dumps(document), headers=self.headers)
        assert sent.status_code == 200, sent.get_json()


@pytest.fixture
def phone(app: Any, desk: Callable[[str], Desk]) -> Device:
    return Device(app, desk)


@pytest.fixture
def interview() -> str:
    return str(uuid.uuid4())


def files_of(app: Any) -> Any:
    return app.extensions["skavo_store"].files


def test_a_file_is_kept_by_its_hash_and_told_once(app: Any, phone: Device, interview: str) -> None:
    assert [phone.put(interview, CONTENT).get_json() for _ in range(2)] == [
        {"received": len(CONTENT), "hash": HASH}
    ] * 2
    assert read_file(files_of(app), HASH) == CONTENT
    with app.extensions["skavo_store"].reading() as session:
        (kept,) = session.scalars(select(StoredFile))
    assert (kept.interview_uuid, kept.bytes, kept.type) == (interview, len(CONTENT), "application/octet-stream")


def test_sending_goes_on_where_it_broke_off(app: Any, phone: Device, interview: str) -> None:
    size = len(CONTENT)
    first = phone.put(interview, CONTENT[:4000], span=f"bytes 0-3999/{size}").get_json()
    assert (first, phone.received(interview)) == ({"received": 4000, "hash": None}, 4000)
    again = phone.put(interview, CONTENT[:4000], span=f"bytes 0-3999/{size}")
    assert (again.status_code, again.get_json()["code"], again.get_json()["details"]) == (
        409,
        "wrong_place",
        {"received": 4000},
    )
    last = phone.put(interview, CONTENT[4000:], span=f"bytes 4000-{size - 1}/{size}").get_json()
    assert last == {"received": size, "hash": HASH}
    assert read_file(files_of(app), HASH) == CONTENT


def test_what_changed_on_its_way_is_forgotten_and_sent_again(app: Any, phone: Device, interview: str) -> None:
    spoiled = phone.put(interview, b"x" + CONTENT[1:])
    assert (spoiled.status_code, spoiled.get_json()["code"], phone.received(interview)) == (422, "wrong_document", 0)
    assert not path_of_file(files_of(app), HASH).exists()
    assert phone.put(interview, CONTENT).get_json()["hash"] == HASH


def test_a_file_that_was_damaged_on_disk_is_not_confirmed_unread(app: Any, phone: Device, interview: str) -> None:
    phone.put(interview, CONTENT)
    path_of_file(files_of(app), HASH).write_bytes(b"damaged")
    other = str(uuid.uuid4())
    begun = phone.put(other, CONTENT[:10], span=f"bytes 0-9/{len(CONTENT)}").get_json()
    assert begun == {"received": 10, "hash": None}
    assert phone.put(other, CONTENT[10:], span=f"bytes 10-{len(CONTENT) - 1}/{len(CONTENT)}").get_json()["hash"] == HASH
    assert hash_on_disk(path_of_file(files_of(app), HASH)) == HASH


def test_a_disk_that_gives_back_other_bytes_gets_no_receipt(
    app: Any, phone: Device, interview: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = files._put_in_place

    def rotting(half: Any, target: Any) -> None:
        real(half, target)
        target.write_bytes(b"rotten")

    monkeypatch.setattr(files, "_put_in_place", rotting)
    sent = phone.put(interview, CONTENT)
    assert (sent.status_code, sent.get_json()["code"]) == (500, "disk_damaged")


def test_a_full_disk_says_so_and_loses_nothing(
    app: Any, phone: Device, interview: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    import errno

    def full(*_: Any) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr(files.os, "fsync", full)
        sent = phone.put(interview, CONTENT)
    assert (sent.status_code, sent.get_json()["code"]) == (507, "disk_full")
    received = phone.received(interview)
    rest = phone.put(interview, CONTENT[received:], span=f"bytes {received}-{len(CONTENT) - 1}/{len(CONTENT)}")
    assert rest.get_json()["hash"] == HASH


def test_too_large_a_file_is_refused_before_it_is_sent(phone: Device, interview: str) -> None:
    sent = phone.put(interview, b"x", span=f"bytes 0-0/{6 << 20}", kind="signature")
    assert (sent.status_code, "larger than 5 MB" in sent.get_json()["title"]) == (413, True)


def test_a_piece_that_goes_beyond_what_was_said_is_refused(phone: Device, interview: str) -> None:
    sent = phone.put(interview, b"x" * 100, span="bytes 0-9/10")
    assert (sent.status_code, phone.received(interview)) == (413, 0)


@pytest.mark.parametrize("span", ["bytes 0-9", "lines 0-9/10", "bytes a-b/c", "bytes 0-9/*"])
def test_a_range_that_cannot_be_read_is_refused(phone: Device, interview: str, span: str) -> None:
    assert phone.put(interview, b"0123456789", span=span).get_json()["code"] == "wrong_request"


def test_a_device_adds_files_to_interviews_of_its_person_only(
    app: Any, desk: Callable[[str], Desk], phone: Device, interview: str
) -> None:
    phone.hand_in(app, interview, consent=False)
    assert Device(app, desk, "Osk Perrin").put(interview, CONTENT).status_code == 404
    assert Device(app, desk, "Ilse Varn").put(interview, CONTENT).status_code == 200


def test_without_its_token_a_device_sends_nothing(app: Any, interview: str) -> None:
    sent = app.test_client().put(f"/api/field/interviews/{interview}/files/{HASH}", data=CONTENT)
    assert sent.status_code == 401


def photo() -> bytes:
    """A JPEG with a place in its metadata."""
    data = Image.Exif()
    data[ExifTags.Base.Make] = "Camera"
    data.get_ifd(ExifTags.IFD.GPSInfo)[ExifTags.GPS.GPSLatitude] = (47.0, 12.0, 9.0)
    out = BytesIO()
    Image.new("RGB", (1200, 900), "#1F5540").save(out, "JPEG", exif=data)
    return out.getvalue()


@pytest.fixture
def photographed(app: Any, desk: Callable[[str], Desk], phone: Device, interview: str) -> str:
    """The address of the photo of an interview at the desk."""
    content = photo()
    name = hashlib.sha256(content).hexdigest()
    phone.put(interview, content, name, kind="photo")
    phone.hand_in(app, interview, consent=False)
    return f"/api/interviews/1/files/{name}"


def test_a_photo_is_taken_out_as_it_was_handed_in_and_runs_nothing(
    desk: Callable[[str], Desk], photographed: str
) -> None:
    answer = desk("data_manager").call("GET", photographed)
    assert (answer.data, answer.mimetype) == (photo(), "image/jpeg")
    assert answer.headers["Content-Security-Policy"].startswith("sandbox; default-src 'none'")
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_ranges_of_it_can_be_asked_for(desk: Callable[[str], Desk], photographed: str) -> None:
    person = desk("data_manager")
    part = person.client.get(photographed, headers={"Range": "bytes=10-19"})
    assert (part.status_code, part.data) == (206, photo()[10:20])


def test_a_preview_is_made_anew_and_small(desk: Callable[[str], Desk], photographed: str) -> None:
    answer = desk("data_manager").call("GET", f"{photographed}/preview")
    with Image.open(BytesIO(answer.data)) as picture:
        assert (picture.size, dict(picture.getexif())) == ((640, 480), {})


def test_the_place_is_stripped_where_the_study_says_so(
    app: Any, desk: Callable[[str], Desk], photographed: str
) -> None:
    with app.extensions["skavo_store"].session() as session:
        session.get_one(Study, 1).strips_location = True
    content = desk("data_manager").call("GET", photographed).data
    with Image.open(BytesIO(content)) as stripped, Image.open(BytesIO(photo())) as taken:
        assert stripped.getexif().get(ExifTags.Base.Make) == "Camera"
        assert not stripped.getexif().get_ifd(ExifTags.IFD.GPSInfo) and taken.getexif().get_ifd(ExifTags.IFD.GPSInfo)
        assert stripped.tobytes() == taken.tobytes()


def test_a_file_that_no_open_question_holds_is_hidden_from_whoever_lacks_the_right(
    desk: Callable[[str], Desk], photographed: str
) -> None:
    assert desk("analyst").call("GET", photographed).status_code == 404
    assert desk("enumerator").call("GET", photographed).status_code == 403


def test_a_page_sent_as_a_photo_is_not_shown_as_one(
    app: Any, desk: Callable[[str], Desk], phone: Device, interview: str
) -> None:
    page = b"<html><script>alert(1)</script></html>"
    name = hashlib.sha256(page).hexdigest()
    phone.put(interview, page, name, kind="photo")
    phone.hand_in(app, interview, consent=False)
    answer = desk("data_manager").call("GET", f"/api/interviews/1/files/{name}")
    assert answer.mimetype == "application/octet-stream"
    assert answer.headers["Content-Disposition"].startswith("attachment")
    assert desk("data_manager").call("GET", f"/api/interviews/1/files/{name}/preview").status_code == 404
