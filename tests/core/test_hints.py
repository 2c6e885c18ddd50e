"""Hints from practice: what is told of what, and what is left alone."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from skavo.core.questionnaire.aside import key_of, sort_out
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints import Standard, hints
from skavo.core.questionnaire.hints.reading import years_of_school
from skavo.core.questionnaire.script import Code, CodeList, Script, UnitList, UnitOfMeasure
from tests.samples import code_list, part, script

PLACE = part(1, "point", "here", sensitive=True, wording={"en": "Where?"})


def told(sample: Script, standard: Standard | None = None) -> list[tuple[str, str]]:
    return [(f.code, f.part_id or f.code_list) for f in hints(sample, standard or Standard())]


def asked(wording: str | dict[str, str], kind: str = "text", **more: Any) -> list[str]:
    texts = {"en": wording} if isinstance(wording, str) else wording
    lists = more.pop("lists", ())
    sample = script(PLACE, part(1, kind, "q", wording=texts, **more), lists=lists, languages=tuple(texts))
    return [code for code, _ in told(sample)]


@pytest.mark.parametrize(
    ("wording", "kind", "expected"),
    [
        ("What is the name of the owner?", "text", ["not_marked"]),
        ({"fr": "Quel est votre nom ?"}, "text", ["not_marked"]),
        ({"ar": "ما هو رقم الهاتف؟"}, "text", ["not_marked"]),
        ("What is mended here?", "text", []),
        ("Where is the yard?", "point", ["not_marked"]),
        ("The code on the door plate", "text", ["no_read_back"]),
        ("Do you mend radios and phones?", "yes/no", ["two_in_one"]),
        ("We begin now, and it is short. Do you mend radios?", "yes/no", []),
        ("What do you mend and sell?", "text", []),
        ("Do you hand it over?", "yes/no", []),
        ("Don’t you think that it is dear?", "yes/no", ["leading"]),
        ({"fr": "C’est cher, n’est-ce pas ?"}, "yes/no", ["leading"]),
        ("How much did it cost?", "decimal", ["no_unit"]),
        ("How much did it cost, in orins?", "decimal", []),
        ("How many hours did it take?", "decimal", []),
        ({"sw": "Kiasi gani?"}, "decimal", []),
    ],
)  # fmt: skip
def test_a_wording_gives_a_hint_or_none(wording: str | dict[str, str], kind: str, expected: list[str]) -> None:
    assert asked(wording, kind) == expected


def test_what_is_marked_masked_or_read_back_is_left_alone() -> None:
    assert asked("What is the name of the owner?", sensitive=True) == []
    assert asked("The code on the plate", mask="**_99") == []
    back = script(
        PLACE, part(1, "text", "plate", wording={"en": "The code"}),
        part(1, "read-back", "again", reads_back="plate", wording={"en": "Right?"}),
    )  # fmt: skip
    assert told(back) == []


def test_a_long_and_a_heavy_wording() -> None:
    assert asked("We go. " * 21) == ["long_wording"]
    heavy = (
        "Considering the aforementioned institutional arrangements, how satisfactorily would administrative "
        "representatives characterise organisational responsibilities?"
    )
    assert asked(heavy) == ["hard_to_read"]
    assert asked(heavy, read_aloud=False) == []


def test_years_of_school_rise_with_words_and_sentences() -> None:
    easy = "We go to the shop. We buy some bread. Then we go home. It is not far from here."
    hard = (
        "Notwithstanding institutional responsibilities, administrative organisations systematically characterise "
        "infrastructural considerations inadequately and unsatisfactorily nowadays"
    )
    assert (years_of_school(easy, "en") or 99) < 5 < 20 < (years_of_school(hard, "en") or 0)
    assert (years_of_school("Nous allons au marché. Il fait beau. Nous rentrons le soir avec du pain.", "fr") or 99) < 8
    assert years_of_school("Too short to say.", "en") is None
    assert years_of_school(easy, "sw") is None


def test_a_list_without_a_way_out_where_somebody_may_have_another_answer() -> None:
    lists = (code_list("trade", "a", "b", "c", "d"),)
    wording = "What is mainly mended here?"
    assert asked(wording, "single answer", code_list="trade", lists=lists) == ["no_other"]
    other = (code_list("trade", "a", "b", "c", "other", specify="other"),)
    assert asked(wording, "single answer", code_list="trade", lists=other) == []
    assert asked("Is it open?", "single answer", code_list="trade", lists=lists) == []
    few = (code_list("trade", "a", "b"),)
    assert asked(wording, "single answer", code_list="trade", lists=few) == []


def labelled(name: str, *labels: str, **attributes: str) -> CodeList:
    return CodeList(
        name=name, codes=[Code(code=f"c{n}", label={"en": x}, attributes=attributes) for n, x in enumerate(labels)]
    )


def of_list(entry: CodeList) -> list[str]:
    return [
        code for code, _ in told(script(PLACE, part(1, "single answer", "q", code_list=entry.name), lists=(entry,)))
    ]


def test_lists_are_looked_at_by_themselves() -> None:
    assert told(script(PLACE, lists=(code_list("spare", "a"),))) == [("unused_list", "spare")]
    assert of_list(labelled("twice", "Same", "same ", "Other one")) == ["double_label"]
    places = CodeList(
        name="ward",
        codes=[Code(code=c, label={"en": "Centre"}, attributes={"island": c}) for c in ("a", "b")],
    )
    assert of_list(places) == []


def test_a_scale_has_as_many_on_either_side() -> None:
    assert of_list(labelled("s", "Very good", "Good", "Fair", "Bad")) == ["unequal_sides"]
    assert of_list(labelled("s", "Very satisfied", "Satisfied", "Neither", "Dissatisfied", "Very dissatisfied")) == []
    assert of_list(labelled("s", "Agree strongly", "Agree", "Disagree")) == ["unequal_sides"]
    assert of_list(labelled("s", "A good shop", "A bad smell", "A dog", "A good day")) == []


def test_nowhere_a_place_is_told_once() -> None:
    assert told(script(part(1, "yes/no", "q", wording={"en": "Open?"}))) == [("no_place", "")]
    assert told(script(part(1, "statement", "q", wording={"en": "Hello."}))) == []


def named() -> Script:
    sample = script(
        part(1, "section", "shop", wording={"en": "Shop"}),
        part(2, "point", "shop_here", sensitive=True, wording={"en": "Where?"}),
        part(2, "quantity", "scrap_weight", unit="g", wording={"en": "How heavy?"}),
        part(2, "quantity", "shop_scrap", unit="sacks", wording={"en": "How much, in sacks?"}),
    )
    sample.unit_lists = [
        UnitList(
            name="sacks",
            units=[
                UnitOfMeasure(unit="kg", dimension="mass"),
                UnitOfMeasure(unit="sack", dimension="mass", factor="40"),
            ],
        )
    ]
    return sample


def test_the_standard_of_the_study_is_held_against_names_and_units() -> None:
    assert told(named()) == []
    assert told(named(), Standard(by_section=True)) == [("other_name", "id_scrap_weight")]
    assert told(named(), Standard(longest=10)) == [("other_name", "id_scrap_weight")]
    assert told(named(), Standard(pattern="shop_[a-z]+")) == [("other_name", "id_scrap_weight")]
    assert told(named(), Standard(units=["kg"])) == [("other_unit", "id_scrap_weight")]


def test_a_standard_that_cannot_be_is_refused() -> None:
    for wrong in ({"pattern": "(a"}, {"longest": 2}, {"longest": 99}):
        with pytest.raises(ValidationError):
            Standard.model_validate(wrong)


def finding(message: str = "x", severity: str = "doubt") -> Finding:
    return Finding(severity, "c", message, part_id="p", field="f")


def test_what_was_set_aside_comes_back_when_it_says_something_else() -> None:
    kept = {key_of(finding()): {"reason": "so it is", "by": "Dora Maine", "at": "2027-01-01T00:00:00"}}
    standing, aside = sort_out([finding(), finding("y")], kept)
    assert [f.message for f in standing] == ["y"]
    assert [(a.finding.message, a.reason, a.by) for a in aside] == [("x", "so it is", "Dora Maine")]


def test_an_error_is_never_set_aside() -> None:
    error = finding(severity="error")
    assert sort_out([error], {key_of(error): {"reason": "r", "by": "b", "at": ""}}) == ([error], [])
