"""Lists from rows: brought up to date, or a tree of them."""

from __future__ import annotations

from skavo.core.lists.from_table import Doubtful, Level, lists_of_levels, update_list
from skavo.core.questionnaire.script import Code, CodeList, ListTable

WARDS = CodeList(
    name="ward",
    codes=[
        Code(
            code="k1", label={"en": "Kesk Harbour", "fr": "Port de Kesk"}, attributes={"island": "kesk"}, specify=True
        ),
        Code(code="k2", label={"en": "Kesk Hill"}, attributes={"island": "kesk"}),
        Code(code="old", label={"en": "Old ward"}),
    ],
)
TABLE = ListTable(name="office", code="id", labels={"en": "ward"}, attributes=["island"])


def test_what_is_new_changed_missing_and_doubtful() -> None:
    rows = [
        {"id": "k2", "ward": "Kesk Hillside", "island": "kesk"},
        {"id": "k1", "ward": "Kesk Harbour", "island": "kesk"},
        {"id": "l1", "ward": "Luma Mid", "island": "luma"},
        {"id": "k2", "ward": "Kesk Hill", "island": "kesk"},
        {"id": None, "ward": "Nowhere", "island": "kesk"},
    ]
    told = update_list(WARDS, rows, TABLE)
    assert [c.code for c in told.code_list.codes] == ["k2", "k1", "l1", "old"]
    assert told.added == ["l1"] and told.missing == ["old"]
    assert [(c.code, c.before, c.after) for c in told.changed] == [
        ("k2", "Kesk Hill (island kesk)", "Kesk Hillside (island kesk)")
    ]
    assert told.doubtful == [Doubtful(5, "“k2” stands in the table twice."), Doubtful(6, "There is no code.")]
    harbour = told.code_list.codes[1]
    assert harbour.specify and harbour.label["fr"] == "Port de Kesk"
    assert WARDS.codes[1].label["en"] == "Kesk Hill"


def test_missing_codes_go_where_that_was_asked_for() -> None:
    told = update_list(WARDS, [{"id": "k1", "ward": ""}], TABLE, drop_missing=True)
    assert [c.code for c in told.code_list.codes] == ["k1"] and told.missing == ["k2", "old"]
    assert told.code_list.codes[0].label["en"] == "Kesk Harbour"


def test_codes_are_made_of_labels_where_there_is_no_column_of_them() -> None:
    by_label = ListTable(name="", code="", labels={"en": "ward"})
    rows = [{"ward": "Kesk Hill"}, {"ward": "Île Ôstrel"}, {"ward": "Île Ôstrel"}, {"ward": "Kesk: Hill"}, {"ward": ""}]
    told = update_list(WARDS, rows, by_label)
    assert [c.code for c in told.code_list.codes[:3]] == ["k2", "ile_ostrel", "kesk_hill"]
    assert told.doubtful == [Doubtful(6, "There is no code.")]


def test_branches_become_lists_that_hang_together() -> None:
    rows: list[dict[str, str | None]] = [
        {"isle": "Kesk", "ward": "Centre", "no": "10"},
        {"isle": "Kesk", "ward": "Centre", "no": "11"},
        {"isle": "Luma", "ward": "Centre", "no": "12"},
        {"isle": "Luma", "ward": None, "no": "13"},
        {"isle": "", "ward": "Lost", "no": "14"},
    ]
    isles, wards, streets = lists_of_levels(
        rows, [Level("island", "isle"), Level("ward", "ward"), Level("street", "no", code="no")], "en"
    )
    assert [c.code for c in isles.codes] == ["kesk", "luma"]
    assert [(c.code, c.label, c.attributes) for c in wards.codes] == [
        ("centre", {"en": "Centre"}, {"island": "kesk"}),
        ("centre_2", {"en": "Centre"}, {"island": "luma"}),
    ]
    assert [(c.code, c.attributes["ward"]) for c in streets.codes] == [
        ("10", "centre"), ("11", "centre"), ("12", "centre_2"),
    ]  # fmt: skip
