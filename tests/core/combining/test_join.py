"""Joining outside tables: what matches by which key, what does not, what is never guessed."""

from __future__ import annotations

from typing import Any

import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.combining.join import join_outside, joined_name, names_taken, suggested_name
from skavo.core.combining.keys import Alike, made_alike
from skavo.core.combining.outside import OutsideColumn, recognised
from skavo.core.combining.sides import Outside
from skavo.core.combining.spec import Join, KeyPair, read_join, renamed_join, variables_named, write_join
from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import DataError
from skavo.core.questionnaire.script import Code, CodeList
from tests.core.test_dataset import data_of
from tests.samples import part, release_of, script

ISLES = {"kesk": "Kesk", "luma": "Luma"}


@pytest.fixture
def data() -> DataSet:
    answers = [{"plate": p} for p in ("KE1", "ke2 ", "LU3", "TA4", "TA4")] + [{}]
    return data_of(release_of(script(part(1, "text", "plate"))), answers)


def table(columns: dict[str, list[str | None]], name: str = "roll") -> Outside:
    frame = pl.DataFrame(columns, schema=dict.fromkeys(columns, pl.String))
    return Outside(name, frame, recognised(frame))


ROLL = table(
    {
        "nr": ["ke1", "KE2", "LU3", "lu3", "ZZ9", None],
        "fee": ["10", "20.5", "1", "2", "3", "4"],
        "zone": ["007", "012", None, "1", "1", "1"],
    }
)


def by_plate(**how: Any) -> Join:
    keys = [KeyPair(ours="plate", theirs="nr", alike=["case"])]
    return Join(**{"keys": keys, "take": ["fee", "zone"], "several": "leave", **how})


def column(joined: DataSet, variable: str, name: str = "interviews") -> list[Any]:
    return joined[name].frame[variable].to_list()


def test_the_report_counts_both_sides_and_keys_in_several_rows_are_left(data: DataSet) -> None:
    joined, report = join_outside(data, ROLL, by_plate())
    assert (report.rows, report.outside_rows, report.matched, report.without_key) == (6, 6, 2, 1)
    assert report.unmatched.rows() == [("0004", "TA4"), ("0005", "TA4"), ("0006", "")]
    assert report.unmatched_rows.rows() == [(5, "ZZ9"), (6, "")]
    assert report.ambiguous.rows() == [("LU3", 2)]
    assert report.repeated.rows() == [("TA4", 2)]
    assert report.otherwise.rows() == [("KE1", "ke1", 1), ("ke2", "KE2", 1)]
    assert column(joined, "roll_fee") == [10.0, 20.5, None, None, None, None]
    assert column(joined, "roll_fee?") == [None, None, *["not_asked"] * 4]


def test_a_figure_with_zeros_in_front_stays_a_text(data: DataSet) -> None:
    joined, _ = join_outside(data, ROLL, by_plate())
    assert column(joined, "roll_zone")[:2] == ["007", "012"]


def test_a_join_that_would_make_more_rows_is_refused_unless_that_was_meant(data: DataSet) -> None:
    with pytest.raises(DataError, match="1 rows more") as raised:
        join_outside(data, ROLL, by_plate(several="refuse"))
    assert raised.value.code == "more_rows"
    first, _ = join_outside(data, ROLL, by_plate(several="first"))
    assert column(first, "roll_fee") == [10.0, 20.5, 1.0, None, None, None]
    below, report = join_outside(data, ROLL, by_plate(several="rows"))
    assert below["interviews"].frame.height == 6 and report.matched == 3
    assert below["roll"].layout.parent == "interviews"
    assert below["roll"].frame.select("interview.key", "roll.row", "roll_fee").rows() == [
        ("0001", "1", 10.0), ("0002", "2", 20.5), ("0003", "3", 1.0), ("0003", "4", 2.0),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("keep", "keys"), [("matched", ["0001", "0002"]), ("without", ["0003", "0004", "0005", "0006"])]
)
def test_which_of_ours_stay_is_said(data: DataSet, keep: Any, keys: list[str]) -> None:
    assert column(join_outside(data, ROLL, by_plate(keep=keep))[0], "interview.key") == keys


def test_every_key_has_to_agree_and_a_code_may_be_its_label() -> None:
    isles = CodeList(name="isle", codes=[Code(code=code, label={"en": label}) for code, label in ISLES.items()])
    parts = [part(1, "single answer", "isle", code_list="isle"), part(1, "text", "trade")]
    answers = [{"isle": i, "trade": t} for i, t in (("kesk", "shoes"), ("luma", "shoes"), ("luma", "sails"))]
    data = data_of(release_of(script(*parts, lists=(isles,))), answers)
    prices = table({"île": ["KESK", "Luma"], "métier": ["Shoes", "shoes"], "prix": ["1,5", "2"]}, "prices")
    keys = [KeyPair(ours="isle", theirs="île", words="en"), KeyPair(ours="trade", theirs="métier")]
    joined, report = join_outside(data, prices, Join(keys=keys, take=["prix"]))
    assert column(joined, "prices_prix") == [1.5, 2.0, None] and report.matched == 2
    by_code, _ = join_outside(data, prices, Join(keys=[KeyPair(ours="isle", theirs="île")], take=["prix"]))
    assert column(by_code, "prices_prix") == [1.5, 2.0, 2.0]


def test_an_unknown_column_or_variable_is_refused_with_the_nearest(data: DataSet) -> None:
    with pytest.raises(DataError, match="Did you mean zone"):
        join_outside(data, ROLL, by_plate(take=["zonn"]))
    with pytest.raises(DataError, match="Did you mean plate"):
        join_outside(data, ROLL, by_plate(keys=[KeyPair(ours="plat", theirs="nr")]))
    with pytest.raises(DataError, match="no table “staf”"):
        join_outside(data, ROLL, by_plate(into="staf"))


def test_a_name_that_is_taken_is_refused() -> None:
    parts = [part(1, "text", "plate"), part(1, "text", "roll_fee")]
    data = data_of(release_of(script(*parts)), [{"plate": "KE1"}])
    with pytest.raises(DataError, match="variable “roll_fee” already"):
        join_outside(data, ROLL, by_plate())
    with pytest.raises(DataError, match="table interviews already"):
        join_outside(data, Outside("interviews", ROLL.frame, ROLL.columns), by_plate(several="rows"))


def test_cells_that_cannot_be_read_are_counted_and_kinds_of_nothing_kept(data: DataSet) -> None:
    frame = pl.DataFrame({"nr": ["ke1", "ke2", "lu3"], "fee": ["ten", "99", "2"]})
    columns = [OutsideColumn(name="nr"), OutsideColumn(name="fee", read_as="number", missing={"99": "refused"})]
    joined, report = join_outside(data, Outside("roll", frame, columns), by_plate(take=["fee"]))
    assert report.unread == {"fee": 1}
    assert column(joined, "roll_fee")[:3] == [None, None, 2.0]
    assert column(joined, "roll_fee?")[:3] == ["unanswered", "refused", None]


@pytest.mark.parametrize(
    ("ways", "ours", "theirs"),
    [
        (["case"], "Ke1", "kE1"), (["blanks"], "KE 1", "KE1"), (["accents"], "Élan", "Elan"),
        (["zeros"], "007", "7"), (["signs"], "KE1X_O0I", "KEIX_001"), ([], " KE1 ", "KE1"),
    ],
)  # fmt: skip
def test_keys_are_made_alike_in_named_ways_only(ways: list[Alike], ours: str, theirs: str) -> None:
    assert made_alike(ours, ways) == made_alike(theirs, ways)
    if ways:
        assert made_alike(ours, []) != made_alike(theirs, [])


@settings(deadline=None)
@given(st.text(), st.lists(st.sampled_from(["case", "blanks", "accents", "zeros"])))
def test_a_key_made_alike_is_made_alike_once(text: str, ways: list[Any]) -> None:
    once = made_alike(text, ways)
    assert made_alike(once, ways) == once


@settings(deadline=None)
@given(st.lists(st.text(max_size=40), max_size=12), st.text(max_size=30))
def test_no_two_columns_taken_become_the_same_variable(take: list[str], source: str) -> None:
    join = Join.model_construct(take=take, called={take[0]: "mine"} if take else {})
    names = names_taken(source, join)
    assert len(set(names.values())) == len(set(take))
    assert not take or names[take[0]] == "mine"
    assert all(len(name) <= 32 for name in names.values())


def test_a_name_of_a_column_is_made_a_variable() -> None:
    assert joined_name("licence", "Fee class (old)") == "licence_fee_class__old"


@pytest.mark.parametrize(
    ("source", "column", "name"),
    [
        ("licence", "Fee class (old)", "licence_fee_class_old"),
        ("prix_des_reparations", "prix habituel", "prix_des_prix_habituel"),
        ("towns", "المدينة", "towns_lmdynh"),
        ("towns", "the number of all who live in it by night", "the_number_of_all_who_live_in_it"),
        ("towns", "2024", "towns_q_2024"),
    ],
)
def test_a_name_is_suggested_that_leaves_the_columns_own_whole(source: str, column: str, name: str) -> None:
    assert suggested_name(source, column) == name


@pytest.mark.parametrize("called", [{"fee": "Fee"}, {"fee": "today"}, {"fee": "x" * 33}, {"fee": "a", "since": "a"}])
def test_columns_are_called_as_no_variable_can_be(called: dict[str, str]) -> None:
    with pytest.raises(ValueError, match=r"no name of a variable|the same name"):
        Join(keys=[KeyPair(ours="plate", theirs="nr")], take=["fee", "since"], called=called)


def test_a_join_of_the_first_version_means_the_same() -> None:
    join = read_join({"variable": "plate", "key": "nr", "take": ["fee"]})
    assert (join.keys, join.take, join.several) == ([KeyPair(ours="plate", theirs="nr")], ["fee"], "leave")
    assert read_join(write_join(join)) == join
    assert renamed_join(join, {"plate": "sign"}).keys[0].ours == "sign"
    assert variables_named(join) == {"plate"}


@settings(deadline=None)
@given(
    st.lists(st.sampled_from(["a", "A", "b", "c", "", None]), max_size=8),
    st.lists(st.sampled_from(["a", "A", "b", "d", None]), max_size=8),
    st.sampled_from(["leave", "first"]),
)
def test_a_join_is_what_looking_row_by_row_gives(
    ours: list[str | None], theirs: list[str | None], several: Any
) -> None:
    """Against a plain loop over both tables."""
    data = data_of(release_of(script(part(1, "text", "plate"))), [{"plate": o} if o else {} for o in ours])
    outside = table({"nr": theirs, "at": [f"r{n}" for n in range(len(theirs))]})
    joined, report = join_outside(data, outside, by_plate(take=["at"], several=several))
    places: dict[str, list[int]] = {}
    for at, key in enumerate(theirs):
        if key:
            places.setdefault(key.lower(), []).append(at)
    expected = []
    for key in ours:
        found = places.get(key.lower(), []) if key else []
        expected.append(f"r{found[0]}" if found and (len(found) == 1 or several == "first") else None)
    assert column(joined, "roll_at") == expected
    assert report.matched == sum(e is not None for e in expected)
