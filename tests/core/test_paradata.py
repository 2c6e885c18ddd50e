"""What the phone notes of itself: chosen in the script, told to respondents, taken along in workbook and release."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.compare import compare_scripts, keep_identities
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.hints import Standard, hints
from skavo.core.questionnaire.script import NotedByPhone, Script, read_script, write_script
from skavo.core.questionnaire.telling import telling
from skavo.formats.workbook.read import read_workbook
from skavo.formats.workbook.write import write_workbook
from tests.samples import part, script


def sample(**chosen: object) -> Script:
    made = script(part(1, "statement", "note"), part(1, "yes/no", "y"))
    made.paradata = NotedByPhone.model_validate(chosen)
    return made


def released(made: Script) -> dict[str, object]:
    found = compile_script(made).release
    assert found is not None
    return found


def test_a_release_says_it_only_where_it_is_not_what_a_phone_notes_anyway() -> None:
    plain, placed = released(sample()), released(sample(place=True, timing=False))
    assert "paradata" not in plain
    assert placed["paradata"] == {"device": True, "place": True, "timing": False}
    assert content_hash(released(sample(told_by="id_note"))) == content_hash(plain)


def test_a_script_of_an_earlier_version_notes_what_it_always_did() -> None:
    kept = write_script(sample())
    del kept["paradata"]
    assert read_script({**kept, "format": "skavo-script-2"}).paradata == NotedByPhone()


@pytest.mark.parametrize("chosen", [{}, {"place": True, "device": False}, {"device": False, "timing": False}])
def test_it_goes_through_a_workbook(chosen: dict[str, bool]) -> None:
    made = sample(**chosen, told_by="id_note")
    read = read_workbook("w.xlsx", write_workbook(made))
    assert read.faults == []
    keep_identities(made, read.script)
    assert read.script.paradata == made.paradata


def test_a_statement_that_nobody_told_of_is_hinted_at_while_places_are_noted() -> None:
    codes = {h.code for h in hints(sample(place=True), Standard())}
    assert "not_told" in codes and "no_place" not in codes
    assert "not_told" not in {h.code for h in hints(sample(place=True, told_by="id_note"), Standard())}
    assert "not_told" in {h.code for h in hints(sample(place=True, told_by="gone"), Standard())}
    assert "not_told" not in {h.code for h in hints(sample(), Standard())}


def test_respondents_are_told_what_is_chosen_and_nothing_else() -> None:
    told = telling(NotedByPhone(device=False, place=True, timing=False), ["en", "fr-CA", "ar", "sw"])
    assert told["en"].endswith("who asks, where it begins. It serves to check the quality of our work.")
    assert "téléphone note" in told["fr-CA"] and "أين تبدأ" in told["ar"] and told["sw"] == ""
    for tag in ("en", "fr", "es", "pt", "ar"):
        every = telling(NotedByPhone(place=True), [tag])[tag]
        fewest = telling(NotedByPhone(device=False, timing=False), [tag])[tag]
        assert len(every) > len(fewest) > 60


def test_a_comparison_tells_what_is_noted_from_now_on() -> None:
    changes = compare_scripts(sample(), sample(place=True, timing=False, told_by="id_note")).changes
    assert [(c.variable, c.before, c.after, c.effect) for c in changes] == [
        ("place", "not noted", "noted by the phone", "none"), ("timing", "noted by the phone", "not noted", "none"),
    ]  # fmt: skip
