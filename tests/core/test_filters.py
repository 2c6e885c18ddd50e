"""What code filters come to, told before anybody walks."""

from __future__ import annotations

from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Script
from tests.samples import code_list, part, script
from tests.workshop import workshop_script


def wards(**islands: str) -> CodeList:
    return CodeList(
        name="ward", codes=[Code(code=w, label={"en": w}, attributes={"island": i}) for w, i in islands.items()]
    )


def told(sample: Script) -> list[tuple[str, str, str]]:
    return [(f.code, f.part_id, f.message) for f in compile_script(sample).findings]


def asked(rule: str, lists: tuple[CodeList, ...], kind: str = "single answer") -> Script:
    return script(
        part(1, "single answer", "island", code_list="island"),
        part(1, "yes/no", "rural"),
        part(1, "whole number", "people"),
        part(1, kind, "ward", code_list="ward", code_filter=rule),
        lists=(code_list("island", "kesk", "luma", "vint"), *lists),
    )


def test_a_code_that_no_answer_lets_through_and_an_answer_that_leaves_nothing() -> None:
    sample = asked("ward.island is island", (wards(k1="kesk", l1="luma", x1="tarrow"),))
    assert told(sample) == [
        ("nothing_left", "id_ward", "Nothing is left to choose where island is vint."),
        ("hangs_nowhere", "", "x1 stands under “tarrow”, which is no code of island."),
    ]


def test_a_filter_that_fits_is_not_doubted() -> None:
    assert told(asked("ward.island is island", (wards(k1="kesk", l1="luma", v1="vint"),))) == []
    assert told(workshop_script()) == []


def test_two_answers_at_once_and_many_codes_are_named_in_part() -> None:
    lists = (wards(a="x", b="x", c="x", d="x", e="kesk"),)
    found = told(asked("ward.island is island and rural is yes", lists, "multiple answer"))
    assert found[0][2] == "a, b, c and 1 more can never be chosen here."
    assert found[1][2] == (
        "Nothing is left to choose where island is kesk and rural is no, island is luma and rural is yes, "
        "island is luma and rural is no and 2 more."
    )


def test_nothing_at_all_is_told_once() -> None:
    found = told(asked('ward.island is "nowhere"', (wards(a="kesk", b="luma"),)))
    assert [code for code, _, _ in found] == ["never_offered"]


def test_what_depends_on_numbers_or_is_too_large_is_left_open() -> None:
    assert told(asked("ward.island is island or people > 3", (wards(a="kesk"),))) == []
    for rule in ("ward.island is enumerator.name", "ward.island is earlier.island", "ward.island is unit.island"):
        assert told(asked(rule, (wards(a="kesk"),))) == [], rule
    many = CodeList(name="ward", codes=[Code(code=f"w{n}", label={"en": "x"}) for n in range(20_000)])
    assert told(asked('ward.code is "w1" and rural is yes', (many,))) == []


def test_a_filter_over_several_codes_is_worked_out_too() -> None:
    found = told(asked('ward.island is one of (island, "kesk")', (wards(a="kesk", b="tarrow"),)))
    assert [code for code, _, _ in found] == ["never_offered", "hangs_nowhere"]
