"""What is printed: conditions in words, boxes as large as answers, tables for rosters and grids, lists at the end."""

from __future__ import annotations

from dataclasses import asdict

import pytest

from skavo.core.paper.compose import compose
from skavo.core.paper.sheet import Grid, Heading, Line, Paper, Table
from skavo.core.paper.words import SPOKEN, words_in
from skavo.core.questionnaire.script import Code, CodeList, Script, UnitList, UnitOfMeasure
from tests.samples import code_list, part, release_of, script
from tests.workshop import workshop_script


def paper(*parts: object, lists: tuple[CodeList, ...] = (), language: str = "en") -> Paper:
    return compose(release_of(script(*parts, lists=lists)), language)  # type: ignore[arg-type]


def line(made: Paper, number: int) -> Line:
    return next(b for b in made.blocks if isinstance(b, Line) and b.number == str(number))


@pytest.mark.parametrize(
    ("condition", "said"),
    [
        ("n > 3", "1 is more than 3"),
        ("n between 3 and 5", "1 is from 3 to 5"),
        ("n is none of (1, 2)", "1 is none of: 1, 2"),
        ("n is one of (4)", "1 is 4"),
        ("y", "2 is “Yes”"),
        ("not y", "2 is “No”"),
        ("y is missing", "2 is not answered"),
        ("not (y is answered)", "2 is not answered"),
        ("n is not known", "1 is “don’t know”"),
        ("n is refused", "1 is “refused”"),
        ("m includes x", "3 has “X”"),
        ("not (m includes any of (x, z))", "3 has not “X” or “Z”"),
        ("m includes all of (x, z)", "3 has “X” and “Z”"),
        ("c is x and (y or n <= 2)", "4 is “X” and (2 is “Yes” or 1 is 2 or less)"),
        ("d >= today", "5 is not before today"),
        ("n * 2 < 9", "1 × 2 is less than 9"),
    ],
)
def test_conditions_are_said_by_numbers_and_labels(condition: str, said: str) -> None:
    lists = (CodeList(name="l", codes=[Code(code=c, label={"en": c.upper()}) for c in "xz"]),)
    specials = {"special_answers": ["refused", "dont_know"]}
    made = paper(
        part(1, "whole number", "n", **specials), part(1, "yes/no", "y"), part(1, "multiple answer", "m", code_list="l"),
        part(1, "single answer", "c", code_list="l"), part(1, "date", "d"), part(1, "text", "t", asked_when=condition),
        lists=lists,
    )  # fmt: skip
    assert line(made, 6).condition == f"Ask only if {said}."


def test_what_has_no_words_is_said_by_its_message_or_as_it_is_written() -> None:
    sample = script(
        part(1, "text", "t", must=["length(t) > 3"]),
        part(1, "text", "u", asked_when="length(t) > 9", must=["u is not t"]),
    )
    made = compose(release_of(sample), "en")
    assert line(made, 1).checks == ("Check: length(t) > 3",)
    assert line(made, 2).condition == "Ask only if length(t) > 9." and line(made, 2).checks == ("Check: 2 is not 1",)
    sample.parts[0].must_hold[0].message = {"en": "That is too short."}
    assert line(compose(release_of(sample), "en"), 1).checks == ("Check: That is too short.",)


@pytest.mark.parametrize(
    ("kind", "more", "patterns"),
    [
        ("whole number", {"must": ["v between 0 and 365"]}, ["   "]),
        ("whole number", {"most": 12}, ["  "]),
        ("whole number", {}, ["      "]),
        ("decimal", {"must": ["v <= 112"]}, ["   .  "]),
        ("whole number", {"least": -40, "most": 60}, ["   "]),
        ("text", {"mask": "AA-99?9"}, ["  -   "]),
        ("date", {}, ["  ", "  ", "    "]),
        ("time", {}, ["  ", "  "]),
    ],
)
def test_there_is_a_box_for_each_sign(kind: str, more: dict[str, object], patterns: list[str]) -> None:
    made = paper(part(1, kind, "v", **more))  # type: ignore[arg-type]
    assert [boxes.pattern for boxes in line(made, 1).form.boxes] == patterns


def test_a_number_limited_by_another_has_as_many_boxes() -> None:
    made = paper(part(1, "whole number", "n", must=["n <= 40"]), part(1, "whole number", "paid", must=["paid <= n"]))
    assert line(made, 2).form.boxes[0].pattern == "  "


def test_the_demo_is_printed_with_its_tables_and_skips() -> None:
    made = compose(release_of(workshop_script()), "en", study="Mending Trades Survey", number=1)
    assert (made.title, made.release, made.rtl) == ("Workshop interview", "release 1", False)
    assert [b.title for b in made.blocks if isinstance(b, Heading)][:2] == ["Arrival", "Workshop"]
    (staff,) = [b for b in made.blocks if isinstance(b, Table)]
    assert ([c.number for c in staff.columns], staff.blanks) == (["8", "9", "10", "11"], 8)
    assert [(c.label, c.leads) for c in line(made, 1).form.choices] == [("Yes", ""), ("No", "go to 23")]
    wards = line(made, 3).form.choices
    assert [c.under for c in wards] == sorted([c.under for c in wards]) and {c.under for c in wards} > {"Kesk", "Vint"}
    assert line(made, 3).wording == "Which ward of … (2)?"
    assert line(made, 20).condition == "Ask only if 19 is answered."
    assert not [b for b in made.blocks if isinstance(b, Line) and b.id.endswith("_other")]


def test_what_is_known_beforehand_has_its_own_line_in_a_table() -> None:
    made = paper(
        part(1, "multiple answer", "m", code_list="l"), part(1, "roster", "r", repeated="for each code in m"),
        part(2, "text", "t"), part(2, "roster", "inner", repeated="2 times"), part(3, "text", "u"),
        part(1, "grid", "g", code_list="l"), part(2, "single answer", "g1", code_list="l"),
        part(2, "single answer", "g2", code_list="l"), lists=(code_list("l", "x", "z"),),
    )  # fmt: skip
    outer, inner = (b for b in made.blocks if isinstance(b, Table))
    assert (len(outer.rows), outer.note, outer.outer) == (2, "Only those of 1.", ())
    assert (inner.rows, inner.outer, [c.number for c in inner.columns]) == (("1", "2"), (outer.title,), ["3"])
    (grid,) = (b for b in made.blocks if isinstance(b, Grid))
    assert [entry.number for entry in grid.lines] == ["4", "5"] and len(grid.choices) == 2


def test_long_lists_stand_at_the_end_and_longer_ones_nowhere() -> None:
    def of(size: int) -> Paper:
        codes = [Code(code=f"c{n}", label={"en": f"Village {n}"}) for n in range(size)]
        return paper(part(1, "single answer", "v", code_list="l"), lists=(CodeList(name="l", codes=codes),))

    assert (of(40).lists, len(line(of(40), 1).form.choices)) == ([], 40)
    (kept,) = of(41).lists
    assert (kept.count, len(kept.codes), line(of(41), 1).form.kind) == (41, 41, "long list")
    assert [(sheet.count, sheet.codes) for sheet in of(1001).lists] == [(1001, ())]


def test_it_speaks_each_language_and_reads_from_right_to_left() -> None:
    sample = script(part(1, "yes/no", "y"), part(1, "text", "t", asked_when="y is no"))
    sample.languages = ["en", "ar", "fr-CA", "sw"]
    release = release_of(sample)
    assert [compose(release, tag).rtl for tag in sample.languages] == [False, True, False, False]
    assert line(compose(release, "fr-CA"), 2).condition == "Poser seulement si 1 est “Non”."
    assert line(compose(release, "sw"), 2).condition == "Ask only if 1 is “No”."
    assert "لا" in line(compose(release, "ar"), 2).condition


def test_every_language_has_every_word_with_the_same_gaps() -> None:
    english = words_in("en")
    for tag in SPOKEN:
        words = words_in(tag)
        assert words.keys() == english.keys()
        for key, text in words.items():
            assert {g for g in ("{a}", "{b}", "{c}", "{number}", "{what}", "{name}", "{count}", "{condition}") if g in text} == {
                g for g in ("{a}", "{b}", "{c}", "{number}", "{what}", "{name}", "{count}", "{condition}") if g in english[key]
            }, (tag, key)  # fmt: skip


def test_every_kind_of_question_can_be_answered_with_a_pen() -> None:
    sample: Script = script(
        part(1, "quantity", "milk", unit="volume"), part(1, "ranking", "rank", code_list="l"), part(1, "point", "place"),
        part(1, "photo", "front"), part(1, "signature", "signed"), part(1, "text", "code"),
        part(1, "read-back", "again", reads_back="code"), part(1, "instrument", "noise", unit="kg"),
        part(1, "statement", "said"), lists=(code_list("l", "x", "z"),),
    )  # fmt: skip
    litres = UnitOfMeasure(unit="l", dimension="volume", label={"en": "litres"})
    sample.unit_lists = [
        UnitList(name="volume", units=[litres, UnitOfMeasure(unit="jug", dimension="volume", factor="3")])
    ]
    made = compose(release_of(sample), "en")
    forms = [b.form for b in made.blocks if isinstance(b, Line)]
    assert [f.kind for f in forms] == [
        "amount", "ranking", "boxes", "elsewhere", "signature", "lines", "read-back", "amount", "nothing"
    ]  # fmt: skip
    assert forms[0].units == ("litres", "jug") and forms[6].note.startswith("Read the answer to 6 back")
    assert all(asdict(form) for form in forms)
