"""Which list hangs under which, as filters say it and as attributes do."""

from __future__ import annotations

from skavo.core.lists.hanging import FilterLink, Hanging, hanging, read_link
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Part, Script
from tests.samples import code_list, part, script


def listed(name: str, attribute: str, **under: str) -> CodeList:
    codes = [Code(code=c, label={"en": c}, attributes={attribute: u} if attribute else {}) for c, u in under.items()]
    return CodeList(name=name, codes=codes)


def places(*more: Part, streets: CodeList | None = None) -> Script:
    wards = listed("ward", "isle", k1="kesk", l1="luma")
    return script(
        part(1, "single answer", "home_isle", code_list="island"),
        part(1, "single answer", "home_ward", code_list="ward", code_filter="ward.isle is home_isle"),
        *more,
        lists=(code_list("island", "kesk", "luma"), wards, *([streets] if streets else [])),
    )


def test_a_filter_says_which_attribute_it_is() -> None:
    assert hanging(places()) == [Hanging("ward", "isle", "island")]


def test_before_there_is_a_question_the_name_of_the_attribute_does() -> None:
    streets = listed("street", "ward", a="k1", b="l1")
    assert hanging(places(streets=streets)) == [Hanging("ward", "isle", "island"), Hanging("street", "ward", "ward")]
    assert hanging(script(lists=(listed("ward", "isle", k1="kesk"), code_list("island", "kesk")))) == []


def test_of_two_lists_above_it_hangs_under_the_nearer_one() -> None:
    streets = CodeList(
        name="street", codes=[Code(code="a", label={"en": "a"}, attributes={"island": "kesk", "ward": "k1"})]
    )
    assert hanging(places(streets=streets))[1] == Hanging("street", "ward", "ward")


def test_lists_never_hang_in_a_ring() -> None:
    one, other = listed("one", "other", a="b"), listed("other", "one", b="a")
    assert hanging(script(lists=(one, other))) == [Hanging("one", "other", "other")]
    assert hanging(script(lists=(listed("self", "self", a="a"),))) == []


def test_a_link_joined_with_more_is_a_link_and_one_of_several_is_none() -> None:
    both = part(1, "single answer", "s", code_list="street", code_filter='street.w is home_ward and street.big is "y"')
    either = part(1, "single answer", "s", code_list="street", code_filter="street.w is home_ward or home_isle is kesk")
    streets = listed("street", "w", a="k1", b="l1")
    assert Hanging("street", "w", "ward") in hanging(places(both, streets=streets))
    assert len(hanging(places(either, streets=streets))) == 1


def test_reading_a_link() -> None:
    assert read_link("ward.island is island", "ward") == FilterLink("island", "island")
    assert read_link("island = ward.island", "ward") == FilterLink("island", "island")
    for rule in ("ward.island is not island", "other.island is island", 'ward.island is "kesk"', "", "ward.island is"):
        assert read_link(rule, "ward") is None, rule


def doubts(sample: Script) -> list[tuple[str, str, str]]:
    return [(f.code, f.item, f.message) for f in compile_script(sample).findings]


def test_codes_that_belong_nowhere_are_told_once() -> None:
    lost = places(streets=listed("street", "ward", a="k1", b="k9", c="", d="zz"))
    assert doubts(lost) == [
        ("hangs_nowhere", "b", "b stands under “k9”, which is no code of ward, and 2 more of this list.")
    ]
    nowhere = places(streets=listed("street", "ward", c=""))
    assert doubts(nowhere) == [("hangs_nowhere", "c", "c stands under no code of ward.")]


def test_a_filter_of_20_000_codes_is_worked_out_all_the_same() -> None:
    many = CodeList(
        name="street",
        codes=[Code(code=f"s{n}", label={"en": "x"}, attributes={"ward": "k1"}) for n in range(20_000)],
    )
    asked = part(1, "single answer", "street", code_list="street", code_filter="street.ward is home_ward")
    assert doubts(places(asked, streets=many)) == [
        ("nothing_left", "", "Nothing is left to choose where home_ward is l1.")
    ]
