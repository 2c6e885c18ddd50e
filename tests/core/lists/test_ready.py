"""Ready lists: sound in every language they claim, and those of the world as the standards have them.

The numbers of codes are those of the standards: 249 countries in ISO 3166-1 and 184 languages with two letters in ISO
639 as pycountry carries them; 10 major groups in ISCO-08, 21 sections in ISIC Rev. 4, levels 0 to 8 and 9 for the rest
in ISCED 2011 (written down from memory).
"""

from __future__ import annotations

import pytest

from skavo.core.lists.ready import READY, ReadyList, ready_named
from skavo.core.questionnaire.compile import compile_script
from tests.samples import part, script


@pytest.mark.parametrize("ready", READY, ids=lambda ready: ready.name)
def test_each_compiles_in_three_languages_without_a_finding(ready: ReadyList) -> None:
    taken = ready.taken(["en", "fr", "ar"])
    asked = part(1, "single answer", "answer", code_list=ready.name, wording=dict.fromkeys(("en", "fr", "ar"), "?"))
    compiled = compile_script(script(asked, lists=(taken,), languages=("en", "fr", "ar")))
    assert [f.message for f in compiled.findings if f.code_list] == []
    assert taken.source == ready.source != ""
    labels = [code.label["en"] for code in taken.codes]
    assert len(set(labels)) == len(labels)


@pytest.mark.parametrize(
    ("name", "codes"), [("country", 249), ("language", 184), ("occupation", 10), ("activity", 21), ("education", 10)]
)
def test_numbers_of_codes(name: str, codes: int) -> None:
    ready = ready_named(name)
    assert ready is not None and len(ready.taken(["en"]).codes) == codes


def label(name: str, code: str, *languages: str) -> dict[str, str]:
    ready = ready_named(name)
    assert ready is not None
    return next(c.label for c in ready.taken(languages).codes if c.code == code)


def test_names_of_the_world_come_in_the_languages_of_the_script() -> None:
    assert label("country", "DE", "en", "fr-CA", "es") == {"en": "Germany", "fr-CA": "Allemagne", "es": "Alemania"}
    assert label("country", "AF", "en", "fr") == {"en": "Afghanistan", "fr": "Afghanistan"}
    assert label("currency", "EUR", "ar")["ar"] == "اليورو"


def test_the_first_language_is_never_without_a_label() -> None:
    assert label("agreement", "agree", "sw", "fr") == {"sw": "Agree", "fr": "Plutôt d’accord"}
    assert label("country", "DE", "xx")["xx"] == "Germany"
    assert ready_named("nothing") is None


def test_attributes_and_codes_are_those_of_the_standard() -> None:
    countries = ready_named("country")
    assert countries is not None
    germany = next(c for c in countries.taken(["en"]).codes if c.code == "DE")
    assert germany.attributes == {"alpha_3": "DEU", "numeric": "276"}
