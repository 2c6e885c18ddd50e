"""Outside tables whose rows stand as interviews of their own."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import polars as pl
import pytest

from skavo.core.combining.alone import as_interviews, names_alone, without_rows_of
from skavo.core.combining.outside import OutsideColumn
from skavo.core.combining.sides import Outside
from skavo.core.combining.spec import Compared, Join, KeyPair, Near
from skavo.core.dataset.flatten import FACTS
from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.core.recipes.make import make
from skavo.core.recipes.propose import propose
from skavo.core.recipes.recipe import Recipe, Source
from tests.core.made_tables import cells, column, interviews

ROLL = Outside(
    "roll",
    pl.DataFrame({"Plate": ["KE1", "KE9", "LU3"], "Fee class": ["2", "n/a", "x"], "fee_class": ["a", None, "b"]}),
    [
        OutsideColumn(name="Plate"),
        OutsideColumn(name="Fee class", read_as="number", missing={"n/a": "refused"}),
        OutsideColumn(name="fee_class", read_as="code", codes={"a": "Up to two"}),
    ],
)


def joined(**said: Any) -> Join:
    return Join(**{"keys": [KeyPair(ours="plate", theirs="Plate")], "take": ["Fee class"], **said})


@pytest.mark.parametrize(
    ("join", "names"),
    [
        (None, ["plate", "fee_class", "fee_class_2"]),
        (joined(), ["plate", "roll_fee_class", "fee_class"]),
        (joined(called={"Fee class": "fee"}), ["plate", "fee", "fee_class"]),
        # What is taken over goes by the name that it has there, also where it is the key.
        (joined(take=["Plate"], called={"Plate": "sign"}), ["sign", "fee_class", "fee_class_2"]),
        (joined(keys=[KeyPair(ours="interview.key", theirs="Plate")]), ["plate", "roll_fee_class", "fee_class"]),
        # What goes to the rows of a roster is nothing of an interview.
        (joined(into="staff"), ["plate", "fee_class", "fee_class_2"]),
        (joined(several="rows"), ["plate", "fee_class", "fee_class_2"]),
    ],
)
def test_columns_are_called_as_the_join_calls_them_else_after_their_headings(
    join: Join | None, names: list[str]
) -> None:
    assert list(names_alone(ROLL, join).values()) == names


def test_what_the_join_compares_is_the_same_variable_and_labels_are_its_codes() -> None:
    described = column("trade", "code", codes=["clocks", "wheels", "other"])
    trade = replace(
        described, codes={"clocks": {"en": "Clocks", "fr": "Horloges"}, "wheels": {"en": "Wheels", "fr": "Vélos"}}
    )
    cells_of = pl.DataFrame(
        {"métier": ["HORLOGES ", "velos", "Umbrellas", None], "nom": ["Tern", "Gull", None, "Rook"]}
    )
    roll = Outside("roll", cells_of, [OutsideColumn(name="métier"), OutsideColumn(name="nom")])
    near = Near(compare=[Compared(ours="trade", theirs="métier", how="exact", words="fr"),
                         Compared(ours="called", theirs="nom", how="text")], blocks=[["trade"]])  # fmt: skip
    data = as_interviews(roll, Join(take=["nom"], called={"nom": "sign"}, near=near), ours={"trade": trade})
    assert cells(data, "trade") == ["clocks", "wheels", "Umbrellas", "[unanswered]"]
    assert cells(data, "sign") == ["Tern", "Gull", "[unanswered]", "Rook"]
    found = data[INTERVIEWS].layout.column("trade")
    assert found is not None and list(found.codes) == ["clocks", "wheels", "Umbrellas"]
    # By code, where the join compares codes; without one nothing is known of ours.
    by_code = Join(keys=[KeyPair(ours="trade", theirs="métier", alike=["case"])], take=["nom"])
    codes = Outside("roll", pl.DataFrame({"métier": ["CLOCKS"], "nom": ["Tern"]}), roll.columns)
    assert cells(as_interviews(codes, by_code, ours={"trade": trade}), "trade") == ["clocks"]
    assert cells(as_interviews(codes, None, ours={"trade": trade}), "metier") == ["CLOCKS"]


def test_each_row_is_an_interview_of_which_nothing_else_is_known() -> None:
    data = as_interviews(ROLL, joined(), pl.Series([1, 3]))
    frame = data[INTERVIEWS].frame
    assert frame[KEY].to_list() == ["roll:1", "roll:3"]
    assert {name: frame[name].dtype for name in FACTS} == FACTS
    assert [frame[name].null_count() for name in FACTS if name != KEY] == [2] * (len(FACTS) - 1)
    assert (cells(data, "plate"), cells(data, "fee_class")) == (["KE1", "LU3"], ["a", "b"])
    whole = as_interviews(ROLL, joined())
    assert cells(whole, "roll_fee_class") == [2.0, "[refused]", "[unanswered]"]
    assert as_interviews(ROLL, None, pl.Series([], dtype=pl.Int64))[INTERVIEWS].frame.height == 0


def test_they_stand_under_ours_and_can_be_taken_out_again() -> None:
    ours = interviews(
        plate=(column("plate", "text"), ["KE1", "VI7"]),
        roll_fee_class=(column("roll_fee_class", "number"), [2.0, None]),
    )
    frame = ours[INTERVIEWS].frame
    absent = [pl.lit(None, dtype=kind).alias(name) for name, kind in FACTS.items() if name not in frame.columns]
    ours = {INTERVIEWS: ours[INTERVIEWS].with_frame(frame.with_columns(absent))}
    theirs = as_interviews(ROLL, joined(), pl.Series([2, 3]))
    found = propose(ours, theirs)
    assert {p.theirs: (p.called, p.by) for p in found.pairings} == {
        "plate": ("plate", "name"), "roll_fee_class": ("roll_fee_class", "name"), "fee_class": ("fee_class", "new"),
    }  # fmt: skip
    sources = [Source(questionnaire=1), Source(questionnaire=1, outside=7, only="nobody", names=found.names)]
    made = make(Recipe(sources=sources), {1: ours}, ["Shops", "roll"], alone={(7, "nobody"): theirs})
    assert cells(made.data, "plate") == ["KE1", "VI7", "KE9", "LU3"]
    assert cells(made.data, "fee_class") == ["[not_asked]", "[not_asked]", "[unanswered]", "b"]
    assert cells(made.data, "source") == ["1", "1", "2", "2"]
    assert [(n.interviews, n.kept) for n in made.narrowed] == [(2, 2), (2, 2)]
    assert cells(without_rows_of(made.data, frozenset({"roll"})), "plate") == ["KE1", "VI7"]
    assert without_rows_of(made.data, frozenset({"rol"}))[INTERVIEWS].frame.height == 4
