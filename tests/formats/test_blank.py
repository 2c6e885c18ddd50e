"""The blank workbook explains every kind and column there is, with an example that compiles."""

from __future__ import annotations

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Script
from skavo.formats.workbook.blank import _COLUMN_WORDS, KIND_WORDS, example
from skavo.formats.workbook.columns import PLAIN
from skavo.formats.workbook.read import read_workbook
from skavo.formats.workbook.write import write_workbook
from tests.samples import part, script


def test_every_kind_and_column_is_explained_and_shown() -> None:
    assert list(KIND_WORDS) == list(KINDS)
    assert set(_COLUMN_WORDS) == {column.field for column in PLAIN}
    shown = example("en")
    assert {p.kind for p in shown.parts} == set(KINDS)
    assert compile_script(shown).errors == []


def test_the_example_goes_through_a_workbook() -> None:
    read = read_workbook("example.xlsx", write_workbook(example("fr")))
    assert read.faults == []
    assert compile_script(read.script).errors == []


def test_the_phones_words_go_along() -> None:
    sample: Script = script(part(1, "text", "t"))
    sample.languages, sample.phone_words = ["en", "sw"], {"sw": {"interview.next": "Endelea", "interview.back": "Rudi"}}
    read = read_workbook("w.xlsx", write_workbook(sample))
    assert (read.faults, read.script.phone_words) == ([], sample.phone_words)
