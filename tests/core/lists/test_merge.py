"""Two lists made one: what becomes of every code, and what follows."""

from __future__ import annotations

from skavo.core.lists.merge import merge_lists, plan_merge
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Script
from tests.samples import part, script


def trades(name: str, *codes: tuple[str, str]) -> CodeList:
    return CodeList(name=name, codes=[Code(code=c, label={"en": label}) for c, label in codes])


STAYS = trades("trade", ("smith", "Smith"), ("tailor", "Tailor"), ("1", "Cobbler"))
GOES = trades("craft", ("smith", "smith"), ("sewer", "Tailör"), ("1", "Baker"), ("potter", "Potter"))


def test_what_would_become_of_every_code() -> None:
    plan = {row.code: (row.becomes, row.why, row.label_there) for row in plan_merge(STAYS, GOES, "en")}
    assert plan == {
        "smith": ("smith", "same code", ""),
        "sewer": ("tailor", "same label", "Tailor"),
        "1": ("1_2", "clash", "Cobbler"),
        "potter": ("potter", "new", ""),
    }


def test_a_label_left_empty_is_no_contradiction() -> None:
    (row,) = plan_merge(STAYS, trades("craft", ("smith", "")), "en")
    assert (row.becomes, row.why) == ("smith", "same code")


def _sample() -> Script:
    tools = CodeList(
        name="tool", codes=[Code(code="oven", label={"en": "Oven"}, attributes={"craft": "1", "note": "sewer"})]
    )
    return script(
        part(1, "single answer", "work", code_list="trade"),
        part(1, "single answer", "first", code_list="craft", default="sewer"),
        part(1, "multiple answer", "more", code_list="craft", code_filter='craft.code is not "sewer"'),
        part(
            1, "text", "why",
            asked_when="first is one of (sewer, 1) and more includes potter and work is 1",
            wording={"en": 'Why {if first is sewer then "sewing" else "that"}?'},
        ),
        lists=(STAYS, GOES, tools),
    )  # fmt: skip


def test_questions_rules_defaults_filters_and_lists_below_follow() -> None:
    merged = merge_lists(_sample(), "trade", "craft", {"sewer": "tailor", "1": "baker"})
    after = merged.script
    lists = {entry.name: entry for entry in after.code_lists}
    assert sorted(lists) == ["tool", "trade"]
    assert [c.code for c in lists["trade"].codes] == ["smith", "tailor", "1", "baker", "potter"]
    lines = {p.variable: p for p in after.parts}
    assert (lines["first"].code_list, lines["first"].default) == ("trade", "tailor")
    assert lines["more"].code_filter == 'trade.code is not "sewer"'
    assert lines["why"].asked_when == "first is one of (tailor, baker) and more includes potter and work is 1"
    assert lines["why"].wording["en"] == 'Why {if first is tailor then "sewing" else "that"}?'
    assert lists["tool"].codes[0].attributes == {"craft": "baker", "note": "sewer"}
    assert {f.field for f in merged.followed} == {"default", "asked_when", "wording"}
    assert not compile_script(after).errors


def test_labels_and_attributes_that_were_lacking_come_along() -> None:
    stays = CodeList(name="a", codes=[Code(code="x", label={"en": "Ex", "fr": ""}, attributes={"k": ""})])
    goes = CodeList(
        name="b", codes=[Code(code="x", label={"en": "Other", "fr": "Ixe"}, attributes={"k": "1", "m": "2"})]
    )
    (merged,) = merge_lists(script(lists=(stays, goes), languages=("en", "fr")), "a", "b", {}).script.code_lists
    assert merged.codes == [Code(code="x", label={"en": "Ex", "fr": "Ixe"}, attributes={"k": "1", "m": "2"})]
