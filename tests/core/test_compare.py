"""What has changed between two scripts, and what that means for data already collected."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from skavo.core.dataset.flatten import build_data_set, lay_out
from skavo.core.dataset.layout import layout_of
from skavo.core.interview.engine import Engine
from skavo.core.questionnaire.compare import compare_scripts, keep_identities
from skavo.core.questionnaire.script import Code, Script, ScriptCheck, UnitList, UnitOfMeasure
from skavo.core.rehearsal.proof.changed import judge_change
from tests.samples import part, release_of, staff_script


def named(script: Script, variable: str) -> int:
    return [p.variable for p in script.parts].index(variable)


def changed(edit: Callable[[Script], object]) -> list[tuple[str, str, str, str]]:
    after = staff_script()
    edit(after)
    found = compare_scripts(staff_script(), after, judge_change).changes
    assert all(c.words or c.field in ("read_aloud", "media", "reads_back") for c in found)
    return [(c.what, c.variable, c.field, c.effect) for c in found]


def set_on(variable: str, **fields: object) -> Callable[[Script], None]:
    def edit(script: Script) -> None:
        for field, value in fields.items():
            setattr(script.parts[named(script, variable)], field, value)

    return edit


def rename(script: Script, before: str, after: str) -> None:
    for p in script.parts:
        p.variable = after if p.variable == before else p.variable
        for field in ("asked_when", "repeated", "derived"):
            setattr(p, field, getattr(p, field).replace(before, after))
        for check in p.must_hold:
            check.rule = check.rule.replace(before, after)


@pytest.mark.parametrize(
    ("edit", "expected"),
    [
        (lambda s: None, []),
        (lambda s: s.parts.insert(4, part(2, "text", "new")), [("added", "new", "", "none")]),
        (lambda s: s.parts.pop(), [("removed", "remarks", "", "none")]),
        (lambda s: rename(s, "workers", "people"), [("renamed", "people", "variable", "none")]),
        (lambda s: s.parts.insert(3, s.parts.pop(5)), [("moved", "workers", "", "none")]),
        (set_on("age", level=2), [("moved", "age", "level", "breaks"), ("moved", "hours", "level", "breaks"), ("rule", "hours", "asked_when", "none")][:0] or None),
        (set_on("name", wording={"en": "Who?"}), [("re-worded", "name", "wording.en", "none")]),
        (set_on("hours", kind="whole number"), [("kind", "hours", "kind", "narrower")]),
        (set_on("workers", kind="decimal"), [("kind", "workers", "kind", "wider")]),
        (set_on("island", kind="multiple answer"), [("kind", "island", "kind", "wider"), ("rule", "ward", "code_filter", "none")][:1]),
        (set_on("name", kind="date"), [("kind", "name", "kind", "breaks")]),
        (set_on("hours", asked_when="age >= 12"), [("rule", "hours", "asked_when", "wider")]),
        (set_on("hours", asked_when="age >= 18"), [("rule", "hours", "asked_when", "narrower")]),
        (set_on("hours", asked_when=""), [("rule", "hours", "asked_when", "wider")]),
        (set_on("hours", asked_when="age>=14"), []),
        (set_on("hours", asked_when="not age < 14"), [("rule", "hours", "asked_when", "none")]),
        (set_on("name", asked_when="row > 1"), [("rule", "name", "asked_when", "narrower")]),
        (set_on("workers", must_hold=[]), [("rule", "workers", "must_hold", "wider")]),
        (set_on("workers", must_hold=[ScriptCheck(rule="workers between 1 and 60")]), [("rule", "workers", "must_hold", "wider")]),
        (set_on("workers", must_hold=[ScriptCheck(rule="workers between 2 and 40")]), [("rule", "workers", "must_hold", "narrower")]),
        (set_on("name", must_hold=[ScriptCheck(rule="length(name) < 9")]), [("rule", "name", "must_hold", "narrower")]),
        (set_on("age", should_hold=[]), [("rule", "age", "should_hold", "none")]),
        (set_on("posts", derived="sum(staff.hours)"), [("rule", "posts", "derived", "breaks")]),
        (set_on("staff", repeated="3 times"), [("rule", "staff", "repeated", "breaks")]),
        (set_on("consent", answer_needed=""), [("rule", "consent", "answer_needed", "wider")]),
        (set_on("name", answer_needed="yes"), [("rule", "name", "answer_needed", "narrower")]),
        (set_on("workers", special_answers=["refused"]), [("property", "workers", "special_answers", "narrower")]),
        (set_on("name", special_answers=["refused"]), [("property", "name", "special_answers", "wider")]),
        (set_on("hours", most=60), [("limit", "hours", "most", "narrower")]),
        (set_on("name", mask="AAA"), [("limit", "name", "mask", "narrower")]),
        (set_on("name", sensitive=True), [("property", "name", "sensitive", "none")]),
        (lambda s: s.code_lists[2].codes.append(Code(code="lathe", label={"en": "Lathe"})), [("codes", "tool", "added", "wider")]),
        (lambda s: s.code_lists[0].codes.pop(), [("codes", "island", "removed", "narrower")]),
        (lambda s: s.code_lists[0].codes[0].label.update(en="Kesk island"), [("codes", "island", "kesk.en", "none")]),
        (lambda s: setattr(s.code_lists[2].codes[3], "exclusive", False), [("codes", "tool", "none.exclusive", "wider")]),
        (lambda s: s.code_lists[1].codes[0].attributes.update(island="luma"), [("codes", "ward", "k1.attributes", "none")]),
    ],
)  # fmt: skip
def test_each_change_is_told_with_its_effect(
    edit: Callable[[Script], object], expected: list[tuple[str, ...]] | None
) -> None:
    if expected is not None:
        assert changed(edit) == expected


def test_out_of_a_roster_breaks_what_was_collected() -> None:
    def edit(script: Script) -> None:
        script.parts[named(script, "age")].level = 2
        script.parts.insert(named(script, "staff"), script.parts.pop(named(script, "age")))

    assert ("moved", "age", "level", "breaks") in changed(edit)


def test_units_that_weigh_something_else_break_what_was_collected() -> None:
    def script(factor: str) -> Script:
        sample = staff_script()
        sample.parts.append(part(2, "quantity", "scrap", unit="u"))
        units = [
            UnitOfMeasure(unit="kg", dimension="mass"),
            UnitOfMeasure(unit="sack", dimension="mass", factor=factor),
        ]
        sample.unit_lists = [UnitList(name="u", units=units)]
        return sample

    found = compare_scripts(script("40"), script("50")).changes
    assert [(c.what, c.variable, c.field, c.effect) for c in found] == [("units", "u", "sack", "breaks")]


def test_both_releases_come_into_one_data_set_as_the_mapping_says() -> None:
    before, after = staff_script(), staff_script()
    rename(after, "workers", "people")
    after.parts[named(after, "island")].kind = "multiple answer"
    after.parts[named(after, "ward")].code_filter = ""
    after.parts.pop()
    mapping = {m.part_id: m for m in compare_scripts(before, after).mapping}
    assert (mapping["id_workers"].before, mapping["id_workers"].after) == ("workers", "people")
    assert mapping["id_island"].conversion == "One code becomes a list of one."
    assert mapping["id_remarks"].conversion == "kept, no longer asked"
    old, new = release_of(before), release_of(after)
    engines = [
        Engine(old, answers={"consent": True, "workers": 2, "island": "kesk", "tools": ["saw"], "remarks": "x"}),
        Engine(new, answers={"consent": True, "people": 3, "island": ["kesk", "luma"]}),
    ]
    documents = [{"facts": {"interview.key": str(i)}, "tables": lay_out(e)} for i, e in enumerate(engines)]
    frame = build_data_set(layout_of([old, new]), documents)["interviews"].frame
    assert frame["people"].to_list() == [2, 3]
    assert frame["island"].to_list() == [["kesk"], ["kesk", "luma"]]
    assert (frame["remarks"].to_list(), frame["remarks?"].to_list()) == (["x", None], [None, "not_asked"])


def test_a_workbook_s_parts_keep_the_identities_of_the_script_they_replace() -> None:
    present, script = staff_script(), staff_script()
    for i, p in enumerate(script.parts):
        p.id = f"w_{i}"
    rename(script, "workers", "people")
    script.parts.insert(0, part(1, "text", "workers", id="w_5"))
    keep_identities(present, script)
    identities = {p.variable: p.id for p in script.parts}
    assert identities["consent"] == "id_consent"
    assert identities["workers"] == "id_workers"
    assert len({p.id for p in script.parts}) == len(script.parts)
    script = staff_script()
    rename(script, "workers", "people")
    script.parts[named(script, "people")].id = "w_people"
    keep_identities(present, script)
    assert script.parts[named(script, "people")].id == "id_workers"
