"""What a phone saved to a file: whole, or refused with words that say what to do."""

from __future__ import annotations

import hashlib
import json
import zipfile
from pathlib import Path
from typing import Any, ClassVar

import pytest

from skavo.core.errors import SkavoError
from skavo.formats import bundle
from skavo.formats.bundle import BUNDLE, open_bundle

UUID = "0b9c1c1e-7e2f-4f4e-9a35-d9d5d3f1a001"
PHOTO = "ab" * 32
INTERVIEW = f"interviews/{UUID}.json"
FILES = {
    INTERVIEW: b'{"answers": {}}',
    f"files/{UUID}/signature-{PHOTO}": b"\x89PNG",
    f"files/{UUID}/{'cd' * 32}": b"x",
}


def written(path: Path, files: dict[str, bytes], index: bytes | dict[str, object] | None = None) -> Path:
    """A bundle of these files; its index is made of them unless another one is given."""
    entries = {name: hashlib.sha256(content).hexdigest() for name, content in files.items()}
    whole = (
        BUNDLE.write({"device": "phone 7", "enumerator": "Sela Vann", "entries": entries}) if index is None else index
    )
    with zipfile.ZipFile(path, "w") as packed:
        for name, content in files.items():
            packed.writestr(name, content)
        if whole != b"":
            packed.writestr("bundle.json", whole if isinstance(whole, bytes) else json.dumps(whole))
    return path


def refusal(path: Path) -> tuple[str, str]:
    with pytest.raises(SkavoError) as found:
        open_bundle(path)
    return found.value.code, found.value.message


def test_a_whole_one_tells_whose_it_is_and_what_it_holds(tmp_path: Path) -> None:
    opened = open_bundle(written(tmp_path / "b.zip", {**FILES, "notes.txt": b"?", f"interviews/{UUID}.txt": b"?"}))
    assert (opened.device, opened.enumerator) == ("phone 7", "Sela Vann")
    assert list(opened.interviews()) == [(UUID, FILES[INTERVIEW])]
    held = [(uuid, kind, digest, content.read()) for uuid, kind, digest, content in opened.files()]
    assert held == [(UUID, "signature", PHOTO, b"\x89PNG"), (UUID, "file", "cd" * 32, b"x")]


def test_one_that_names_no_device_is_read_all_the_same(tmp_path: Path) -> None:
    opened = open_bundle(written(tmp_path / "b.zip", {}, BUNDLE.write({"entries": {}})))
    assert (opened.device, opened.enumerator) == ("", "")


def test_what_is_no_bundle(tmp_path: Path) -> None:
    cut = tmp_path / "cut.zip"
    cut.write_bytes(written(tmp_path / "b.zip", FILES).read_bytes()[:-40])
    whole = "This is no whole file from a phone. Copy it from the phone again."
    assert refusal(cut) == ("not_a_bundle", whole)
    none = "This is no file from a phone: it has no list of what it holds."
    assert refusal(written(tmp_path / "none.zip", FILES, b"")) == ("not_a_bundle", none)


@pytest.mark.parametrize(
    "index", [b"{", b"\xff", {"format": "skavo-bundle-1"}, {"format": "skavo-bundle-1", "entries": 3}]
)
def test_a_list_that_cannot_be_read(tmp_path: Path, index: bytes | dict[str, object]) -> None:
    words = "The list of what the file holds cannot be read."
    assert refusal(written(tmp_path / "b.zip", FILES, index)) == ("not_a_bundle", words)


def test_one_of_a_newer_skavo_says_so(tmp_path: Path) -> None:
    assert refusal(written(tmp_path / "b.zip", FILES, {"format": "skavo-bundle-9", "entries": {}}))[0] == "newer_format"


def test_what_is_missing_or_damaged_is_named(tmp_path: Path) -> None:
    words = f"{INTERVIEW} is missing or was damaged on the way. Copy the file again."
    wrong = BUNDLE.write({"entries": {INTERVIEW: "0" * 64}})
    assert refusal(written(tmp_path / "damaged.zip", FILES, wrong)) == ("damaged_bundle", words)
    assert refusal(written(tmp_path / "missing.zip", {}, wrong)) == ("damaged_bundle", words)


def test_a_bad_checksum_within_the_archive_is_damage_too(tmp_path: Path) -> None:
    path = written(tmp_path / "b.zip", {INTERVIEW: b"A" * 64})
    path.write_bytes(path.read_bytes().replace(b"A" * 64, b"A" * 63 + b"B"))
    assert refusal(path)[0] == "damaged_bundle"


def test_limits_are_those_that_are_told(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bundle, "_MOST_INTERVIEW", len(FILES[INTERVIEW]))
    open_bundle(written(tmp_path / "fits.zip", FILES))
    monkeypatch.setattr(bundle, "_MOST_INTERVIEW", len(FILES[INTERVIEW]) - 1)
    assert refusal(written(tmp_path / "large.zip", FILES))[0] == "damaged_bundle"
    monkeypatch.setattr(bundle, "_MOST_ENTRIES", 0)
    assert refusal(written(tmp_path / "many.zip", {}))[0] == "not_a_bundle"
    monkeypatch.setattr(bundle, "_MOST_ENTRIES", 1)
    open_bundle(written(tmp_path / "few.zip", {}))


def test_large_files_are_read_piece_by_piece(tmp_path: Path) -> None:
    content = bytes(range(256)) * 12_000
    opened = open_bundle(written(tmp_path / "b.zip", {f"files/{UUID}/{PHOTO}": content}))
    assert [held.read() for *_, held in opened.files()] == [content]


class TestSealed:
    """A sealed one is opened with whatever opens it, and says whose key that is."""

    CONTENT = json.dumps({"path": None, "answers": {"owner": "Anselm"}, "kept": {}, "events": []}).encode()
    INDEX: ClassVar[dict[str, Any]] = {
        "device": "phone 7", "enumerator": "Sela Vann", "study_key": "ab" * 8, "key": "d3JhcHBlZA==", "open_key": "",
        "generation": 2, "interviews": {UUID: {"uuid": UUID, "state": "in hand"}},
    }  # fmt: skip

    @staticmethod
    def sealed(plain: bytes) -> bytes:
        """As good as sealed: turned round, behind a byte for the key."""
        return b"\x02" + plain[::-1]

    @staticmethod
    def unseal(sealed: bytes) -> bytes:
        return sealed[:0:-1]

    def written(self, path: Path, **files: bytes) -> Path:
        held = {
            f"interviews/{UUID}.sealed": self.sealed(self.CONTENT),
            f"interviews/{UUID}.name": self.sealed(b'{"label": "Kettle Corner"}'),
            **files,
        }
        entries = {name: hashlib.sha256(content).hexdigest() for name, content in held.items()}
        return written(path, held, BUNDLE.write({**self.INDEX, "entries": entries}))

    def test_an_interview_in_hand_is_told_with_what_there_is_of_it(self, tmp_path: Path) -> None:
        opened = open_bundle(self.written(tmp_path / "b.zip"))
        assert opened.seal == bundle.Seal("ab" * 8, "d3JhcHBlZA==", "", 2)
        ((uuid, found),) = opened.interviews(self.unseal)
        assert isinstance(found, bundle.InHand) and uuid == UUID
        assert (found.name["label"], found.content["answers"]) == ("Kettle Corner", {"owner": "Anselm"})
        assert found.head["state"] == "in hand"

    def test_a_packed_one_is_what_was_packed_word_for_word(self, tmp_path: Path) -> None:
        packed = {f"interviews/{UUID}.sealed": self.sealed(json.dumps({"raw": '{"a":  1}'}).encode())}
        opened = open_bundle(self.written(tmp_path / "b.zip", **packed))
        assert list(opened.interviews(self.unseal)) == [(UUID, b'{"a":  1}')]

    def test_a_file_is_read_piece_by_piece(self, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
        monkeypatch.setattr(bundle, "_PIECE", 5)
        name = f"files/{UUID}/photo-{PHOTO}.sealed"
        pieces = b"".join(self.sealed(piece) for piece in (b"abcd", b"efgh", b"ij"))
        opened = open_bundle(self.written(tmp_path / "b.zip", **{name: pieces}))
        read = [
            (uuid, kind, digest, content.read(3), content.read(), content.read(1))
            for uuid, kind, digest, content in opened.files(self.unseal)
        ]
        assert read == [(UUID, "photo", PHOTO, b"abc", b"defghij", b"")]

    def test_what_cannot_be_read_is_named(self, tmp_path: Path) -> None:
        nonsense = {f"interviews/{UUID}.sealed": self.sealed(b"no JSON")}
        opened = open_bundle(self.written(tmp_path / "b.zip", **nonsense))
        with pytest.raises(SkavoError, match=f"The interview {UUID} cannot be read"):
            list(opened.interviews(self.unseal))
