"""What leads where, and how many interviews went which way."""

from __future__ import annotations

from skavo.core.dataset.flatten import FACTS, build_data_set, lay_out
from skavo.core.dataset.layout import KEY, layout_of
from skavo.core.dataset.ways import Way, went
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.flow import Dependence, blocks_of, dependences
from skavo.core.rehearsal.rehearse import rehearse
from tests.samples import code_list, part, release_of, script, staff_script


def sample() -> Release:
    return release_of(
        script(
            part(1, "yes/no", "ok"),
            part(1, "statement", "thanks"),
            part(1, "section", "shop", asked_when="ok is yes"),
            part(2, "whole number", "workers", must=["workers < 50"], should=["workers > 0 or ok is no"]),
            part(2, "roster", "staff", repeated="workers times"),
            part(3, "text", "name", wording={"en": "Who of the {workers}?", "fr": "Qui des {workers} ?"}),
            part(1, "section", "empty"),
            part(1, "section", "yard", asked_when="workers > 1"),
            part(2, "single answer", "gate", code_list="gate", answer_needed="workers > 2", default="wide"),
            part(2, "derived value", "load", derived="workers * 2"),
            part(1, "text", "end"),
            lists=(code_list("gate", "wide", "narrow"),),
        )
    )


def test_blocks_are_the_outermost_sections_and_what_stands_between() -> None:
    assert [(block.head, block.parts) for block in blocks_of(sample())] == [
        ("", ["id_ok", "id_thanks"]),
        ("id_shop", ["id_workers", "id_name"]),
        ("id_yard", ["id_gate"]),
        ("", ["id_end"]),
    ]


def test_every_field_that_reads_an_answer_is_told_once() -> None:
    assert set(dependences(sample())) == {
        Dependence("id_shop", "id_ok", "asked when"),
        Dependence("id_workers", "id_ok", "should hold"),
        Dependence("id_staff", "id_workers", "repeated"),
        Dependence("id_name", "id_workers", "wording"),
        Dependence("id_yard", "id_workers", "asked when"),
        Dependence("id_gate", "id_workers", "answer needed"),
        Dependence("id_load", "id_workers", "derived"),
    }
    filtered = [d for d in dependences(release_of(staff_script())) if d.field == "codes"]
    assert filtered == [Dependence("id_ward", "id_island", "codes")]


def collected(*answers: dict[str, object]) -> list[dict[str, object]]:
    facts = dict.fromkeys(FACTS)
    return [
        {"facts": {**facts, KEY: str(number)}, "tables": lay_out(Engine(sample(), answers=given))}
        for number, given in enumerate(answers)
    ]


def test_interviews_go_past_blocks_in_which_nothing_is_asked_of_them() -> None:
    data = build_data_set(
        layout_of([sample()]),
        collected({"ok": False}, {"ok": True, "workers": 1}, {"ok": True, "workers": 3}, {"ok": True}),
    )
    found = went(data, [block.parts for block in blocks_of(sample())])
    assert found.interviews == 4
    assert {part: found.asked[part] for part in ("id_ok", "id_workers", "id_name", "id_gate", "id_end")} == {
        "id_ok": 4, "id_workers": 3, "id_name": 2, "id_gate": 1, "id_end": 4,
    }  # fmt: skip
    assert found.ways == [
        Way(None, 0, 4), Way(0, 1, 3), Way(0, 3, 1), Way(1, 2, 1), Way(1, 3, 2), Way(2, 3, 1), Way(3, None, 4),
    ]  # fmt: skip


def test_no_interviews_go_no_way() -> None:
    data = build_data_set(layout_of([sample()]), [])
    found = went(data, [block.parts for block in blocks_of(sample())])
    assert (found.interviews, found.ways) == (0, []) and set(found.asked.values()) == {0}


def test_every_interview_that_comes_into_a_block_leaves_it() -> None:
    made = rehearse(sample(), 60, 4)
    for block in range(4):
        into = sum(way.interviews for way in made.went.ways if way.end == block)
        assert into == sum(way.interviews for way in made.went.ways if way.start == block)
    assert sum(way.interviews for way in made.went.ways if way.start is None) == made.made > 0
    reach = {r.variable: r.asked for r in made.reach}
    assert made.went.asked["id_gate"] == reach["gate"] and made.went.asked["id_name"] == reach["name"]
