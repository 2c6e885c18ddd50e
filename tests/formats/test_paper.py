"""The PDF read back by another program: its words, its pages, its fonts; nothing is fetched from outside."""

from __future__ import annotations

import unicodedata

import pypdfium2
import pytest

from skavo.core.paper.compose import compose
from skavo.core.questionnaire.script import Script
from skavo.formats.paper.write import write_html, write_pdf
from tests.samples import part, release_of, script
from tests.workshop import workshop_script

PIXEL = bytes.fromhex(
    "89504e470d0a1a0a0000000d4948445200000001000000010802000000907753de0000000c49444154789c63606060000000040001f61738550000000049454e44ae426082"
)


def read(content: bytes) -> list[str]:
    return [page.get_textpage().get_text_bounded() for page in pypdfium2.PdfDocument(content)]


def test_the_demo_is_read_back_page_by_page() -> None:
    pages = read(write_pdf(compose(release_of(workshop_script()), "en", study="Mending Trades Survey", number=1)))
    assert len(pages) in (3, 4)
    assert "Workshop interview" in pages[0] and "go to 23" in pages[0]
    for number, page in enumerate(pages, start=1):
        assert f"{number} / {len(pages)}" in page and "Questionnaire no." in page and "release 1" in page
    assert "Supervisor" in pages[-1] and "Signature" in pages[-1]


def test_arabic_is_joined_and_kept_as_text() -> None:
    sample: Script = script(part(1, "text", "t", wording={"ar": "ما اسم الورشة؟"}))
    sample.languages, sample.title = ["ar"], {"ar": "مقابلة الورشة"}
    (page,) = read(write_pdf(compose(release_of(sample), "ar")))
    letters = unicodedata.normalize("NFKC", page)
    assert "الورشة" in letters or "ةشرولا" in letters


@pytest.mark.parametrize("text", ["<script>alert(1)</script>", "#} $x %raw", "a & b < c", "‮reversed"])
def test_hostile_words_are_words(text: str) -> None:
    html = write_html(compose(release_of(script(part(1, "text", "t", wording={"en": text}))), "en"))
    assert "<script>" not in html
    assert write_pdf(compose(release_of(script(part(1, "text", "t", wording={"en": text}))), "en")).startswith(b"%PDF")


def test_pictures_of_the_shelf_stand_in_it_and_missing_ones_do_not() -> None:
    made = compose(release_of(script(part(1, "text", "t", media=["map.png", "gone.png"]))), "en")
    html = write_html(made, lambda name: ("image/png", PIXEL) if name == "map.png" else None)
    assert html.count('<img class="picture"') == 1 and "data:image/png;base64," in html
    assert write_pdf(made, lambda name: ("image/png", PIXEL)).startswith(b"%PDF")


def test_a_wide_roster_is_split_into_tables_of_a_page() -> None:
    parts = [part(1, "whole number", "n"), part(1, "roster", "r", repeated="n times")]
    parts += [part(2, "text", f"v{number}") for number in range(13)]
    html = write_html(compose(release_of(script(*parts)), "en", rows=3))
    assert html.count("<thead>") == 3
