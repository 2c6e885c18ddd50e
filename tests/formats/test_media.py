"""Files of the shelf: what they are by their content; made small; zipped and unzipped."""

from __future__ import annotations

import io
import wave
import zipfile

import pytest
from PIL import Image

from skavo.core.errors import SkavoError
from skavo.formats import media
from skavo.formats.media import Inspected, checked_name, for_phones, inspect, unpacked
from skavo.formats.packing import pack


def picture(kind: str = "JPEG", size: tuple[int, int] = (2400, 1200), **more: object) -> bytes:
    out = io.BytesIO()
    made = Image.effect_noise(size, 60).convert("RGB")
    made.save(out, kind, **more)
    return out.getvalue()


def sound(seconds: float = 1.5) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as written:
        written.setnchannels(1)
        written.setsampwidth(2)
        written.setframerate(8000)
        written.writeframes(b"\x01\x02" * int(8000 * seconds))
    return out.getvalue()


def refusal(name: str, content: bytes) -> tuple[str, str]:
    with pytest.raises(SkavoError) as found:
        inspect(name, content)
    return found.value.code, found.value.message


def test_what_a_file_is_follows_from_its_content() -> None:
    assert inspect("a.txt", picture("PNG", (40, 30))) == Inspected("image/png", 40, 30)
    assert inspect("a.png", sound()) == Inspected("audio/x-wav", seconds=1.5)
    turned = Image.Exif()
    turned[0x0112] = 6
    assert inspect("a.jpg", picture(size=(40, 30), exif=turned)) == Inspected("image/jpeg", 30, 40)


def test_what_phones_do_not_show_is_refused_in_words() -> None:
    code, message = refusal("plan.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>")
    assert code == "wrong_media" and message.startswith("plan.svg is no picture, sound or film that phones show.")
    assert refusal("plan.pdf", b"%PDF-1.7 x")[0] == "wrong_media"
    assert refusal("cut.jpg", picture()[:3000]) == ("broken_picture", "cut.jpg is damaged and cannot be shown.")


def test_limits_are_told(monkeypatch: pytest.MonkeyPatch) -> None:
    content = picture("PNG", (40, 30))
    monkeypatch.setattr(media, "_MOST_POINTS", 40 * 30 - 1)
    assert refusal("a.png", content) == ("picture_too_large", "a.png has 40 × 30 points. Make it smaller.")
    monkeypatch.setattr(media, "MOST_BYTES", 1 << 20)
    assert refusal("a.png", b"x" * ((1 << 20) + 1)) == ("file_too_large", "a.png has 1 MB; 1 MB is the most.")


def test_a_sound_of_unknown_length_is_taken_all_the_same() -> None:
    assert inspect("a.mp3", b"ID3\x04\x00\x00\x00\x00\x00\x00" + b"\xff\xfb\x90\x00" * 3).type == "audio/mpeg"


def test_pictures_are_made_small_and_freed_of_what_they_tell_besides() -> None:
    place = Image.Exif()
    place[0x010E] = "by the harbour"
    whole = picture(exif=place)
    small = for_phones(whole, "image/jpeg")
    with Image.open(io.BytesIO(small)) as made:
        assert (made.format, made.size) == ("WEBP", (1280, 640))
    assert len(small) < len(whole) and b"harbour" in whole and b"harbour" not in small
    clear = io.BytesIO()
    Image.new("RGBA", (1600, 1600), (10, 20, 30, 0)).save(clear, "PNG", compress_level=0)
    with Image.open(io.BytesIO(for_phones(clear.getvalue(), "image/png"))) as made:
        assert made.mode == "RGBA"


def test_what_would_not_get_smaller_stays_as_it_is() -> None:
    coarse = picture("WEBP", (300, 200), quality=5)
    assert for_phones(coarse, "image/webp") == coarse
    assert for_phones(sound(), "audio/x-wav") == sound()


@pytest.mark.parametrize("name", ["", ".hidden", "a;b.png", "{a}.png", "x" * 130, "a\nb.png"])
def test_names_that_scripts_could_not_name(name: str) -> None:
    with pytest.raises(SkavoError) as found:
        checked_name(name)
    assert found.value.code == "wrong_media_name"


def test_folders_are_no_part_of_a_name() -> None:
    assert checked_name("C:\\photos\\Étau 1.webp") == checked_name("../Étau 1.webp") == "Étau 1.webp"


def test_a_shelf_goes_through_a_zip() -> None:
    files = {"a.png": b"one", "é b.mp3": b"two"}
    assert dict(unpacked("x.zip", pack(files))) == files
    odd = io.BytesIO()
    with zipfile.ZipFile(odd, "w") as archive:
        archive.writestr("folder/", b"")
        archive.writestr("folder/.DS_Store", b"x")
        archive.writestr("__MACOSX/a.png", b"x")
        archive.writestr("folder/a.png", b"one")
    assert dict(unpacked("x.zip", odd.getvalue())) == {"folder/a.png": b"one"}


def test_archives_that_are_broken_or_unfold_without_end(monkeypatch: pytest.MonkeyPatch) -> None:
    stored = io.BytesIO()
    with zipfile.ZipFile(stored, "w", zipfile.ZIP_STORED) as archive:
        archive.writestr("a.png", b"A" * 100)
    whole = stored.getvalue()
    for broken in (whole[:-20], whole.replace(b"A" * 100, b"A" * 99 + b"B")):
        with pytest.raises(SkavoError) as found:
            list(unpacked("x.zip", broken))
        assert found.value.code == "not_a_zip"
    monkeypatch.setattr(media, "_MOST_UNPACKED", 99)
    with pytest.raises(SkavoError) as found:
        list(unpacked("x.zip", whole))
    assert found.value.code == "file_too_large"
