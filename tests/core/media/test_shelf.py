"""What lines and codes show: by language, missing, unlike the others; and what of it goes into a release."""

from __future__ import annotations

import pytest

from skavo.core.media.shelf import MediaFile, answering, media_of_release, odd_ones, resolve, uses_of
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.known import Known
from skavo.core.questionnaire.script import Code, CodeList, Script
from tests.samples import part, script

NAMES = {"consent.opus", "consent.fr.opus", "vice.webp", "only.ar.mp3", "plain"}


@pytest.mark.parametrize(
    ("name", "tag", "shown"),
    [
        ("consent.opus", "fr", "consent.fr.opus"),
        ("consent.opus", "fr-CA", "consent.fr.opus"),
        ("consent.opus", "ar", "consent.opus"),
        ("only.mp3", "fr", "only.ar.mp3"),
        ("plain", "fr", "plain"),
        ("gone.png", "fr", None),
    ],
)
def test_a_name_stands_for_the_file_of_the_language(name: str, tag: str, shown: str | None) -> None:
    assert resolve(name, tag, "ar", NAMES) == shown


def sample() -> Script:
    tools = CodeList(name="tool", codes=[Code(code="vice", label={"en": "Vice", "fr": "Étau"}, media=["vice.webp"])])
    both = {"en": "x", "fr": "x"}
    return script(
        part(1, "statement", "consent", media=["consent.opus", "gone.png"], wording=both),
        part(1, "single answer", "tool", code_list="tool", media=["vice.webp", "only.mp3"], wording=both),
        lists=(tools,),
        languages=("en", "fr"),
    )


def test_every_place_that_names_a_file_is_found() -> None:
    assert [(use.name, use.part_id, use.place) for use in uses_of(sample())] == [
        ("consent.opus", "id_consent", "consent"),
        ("gone.png", "id_consent", "consent"),
        ("vice.webp", "id_tool", "tool"),
        ("only.mp3", "id_tool", "tool"),
        ("vice.webp", "", "tool: vice"),
    ]
    assert answering("consent.opus", NAMES, ["en", "fr"]) == {"consent.opus", "consent.fr.opus"}


def shelf() -> dict[str, MediaFile]:
    return {name: MediaFile(f"{n:064x}", "image/webp", 10, {"en": name}) for n, name in enumerate(sorted(NAMES))}


def test_a_release_holds_the_file_of_each_language_and_a_draft_says_what_is_missing() -> None:
    compiled = compile_script(sample(), Known(media=shelf()))
    assert compiled.release is not None
    media = compiled.release["media"]
    assert set(media) == {"consent.opus", "vice.webp"}
    assert media["consent.opus"]["fr"]["said"] == {"en": "consent.fr.opus"}
    assert media["consent.opus"]["en"]["hash"] != media["consent.opus"]["fr"]["hash"]
    found = [(f.part_id, f.field, f.message) for f in compiled.findings if f.code == "no_such_file"]
    assert found == [
        ("id_consent", "media", "The media shelf has no file “gone.png”."),
        ("id_tool", "media", "The media shelf has no file “only.mp3”."),
    ]


def test_a_file_that_only_one_language_lacks_is_named_with_it() -> None:
    names = {"only.fr.mp3": MediaFile("0" * 64, "audio/mpeg", 1)}
    lacking = script(
        part(1, "statement", "a", media=["only.mp3"], wording={"en": "x", "fr": "x"}), languages=("en", "fr")
    )
    (found,) = [f for f in compile_script(lacking, Known(media=names)).findings if f.code == "no_such_file"]
    assert found.message == "The media shelf has no file “only.mp3” in en."
    assert media_of_release(lacking, names) == {
        "only.mp3": {"fr": {"hash": "0" * 64, "type": "audio/mpeg", "bytes": 1, "said": {}}}
    }


def test_a_code_that_shows_what_is_not_there_is_named() -> None:
    lost = sample()
    lost.code_lists[0].codes[0].media = ["lost.png"]
    found = [f for f in compile_script(lost, Known(media=shelf())).findings if f.code_list == "tool"]
    assert [(f.item, f.message) for f in found] == [("vice", "The media shelf has no file “lost.png”.")]


def test_without_a_shelf_nothing_is_said_and_nothing_taken() -> None:
    compiled = compile_script(sample())
    assert not [f for f in compiled.findings if f.code == "no_such_file"]
    assert compiled.release is not None and "media" not in compiled.release


def test_pictures_unlike_the_others_are_told_with_what_the_others_are() -> None:
    same = {f"{n}.webp": (480, 480) for n in range(4)}
    assert odd_ones(same) == {}
    odd = odd_ones({**same, "large.png": (2400, 1350), "small.png": (200, 200), "near.png": (500, 420)})
    assert odd == {"large.png": "others are 480 × 480", "small.png": "others are 480 × 480"}
    assert odd_ones({**same, "wide.png": (480, 300)}) == {"wide.png": "others are 480 × 480"}
    assert odd_ones({"a": (10, 10), "b": (1000, 10), "c": (3, 3)}) == {}
